"""Runs of automatic coding whose processes are killed or whose database goes: nothing half is there, and it says so."""

import json
import os
import random
import signal
import time
from dataclasses import replace

import pytest
from sqlalchemy import func, select

from tests.faults.driver import Fault, killed_until_it_ends, table
from winnower.core.runs import BySearch, Recipe
from winnower.jobs.importing import ImportRun
from winnower.settings import load_settings
from winnower.store import jobs
from winnower.store.accounts import make_account, make_project
from winnower.store.database import Database
from winnower.store.models import CodingRun, Job, RunPlace, RunTarget
from winnower.store.runs import begin_run, clear_abandoned
from winnower.store.server import Server

ROWS = 60_000


def with_a_run(fault, tmp_path):
    """A job that codes a passage in each of very many texts, and its run."""
    ImportRun(fault.database, fault.settings, fault.make_import(table(tmp_path / "a.csv", ROWS))).run()
    with fault.database.session() as session:
        recipe = Recipe(BySearch("lamb"))
        run = begin_run(session, fault.project_id, fault.account_id, "Lambs", recipe).id
        params = {"name": "Lambs", "run": run, "state": "proposals", "codes": {}, "parent": None}
        job = jobs.make_job(session, fault.project_id, fault.account_id, "coding", params).id
    return job, run


def agree(fault, job_id, run_id):
    """The job's state; what it says and what is there agree, once a server has started again."""
    job = fault.job(job_id)
    with fault.database.session() as session:
        clear_abandoned(session)
    with fault.database.session() as session:
        run = session.get(CodingRun, run_id)
        counted = [
            session.scalar(select(func.count()).select_from(table).where(table.run_id == run_id))
            for table in (RunPlace, RunTarget)
        ]
        if job.state == "done":
            assert run is not None and (run.state, run.places) == ("proposals", ROWS)
            assert counted == [ROWS, 1]
        else:
            assert run is None and counted == [0, 0]
            assert "Nothing of it was kept" in job.message or "at the next start" in job.message
    return job.state


@pytest.mark.parametrize("seed", [3, 4])
def test_a_killed_run_ends_as_it_says(database, settings, account, project, tmp_path, seed):
    fault = Fault(database, settings, account.id, project.id)
    job, run = with_a_run(fault, tmp_path)
    killed = killed_until_it_ends(fault, job, random.Random(seed), 1 if seed == 3 else 10)
    assert killed, "the run was over before anything happened"
    assert agree(fault, job, run) == ("done" if seed == 3 else fault.job(job).state)


def test_what_a_run_left_is_removed_at_the_next_start(database, settings, account, project, tmp_path):
    fault = Fault(database, settings, account.id, project.id)
    job, run = with_a_run(fault, tmp_path)
    worker = fault.worker(job)
    while not fault.job(job).batches_done and worker.poll() is None:
        time.sleep(0.01)
    worker.kill()
    worker.wait()
    with database.session() as session:
        row = session.get_one(Job, job)
        row.state, row.message = "failed", "Nothing of it was kept."
    assert agree(fault, job, run) == "failed"


def test_a_run_goes_on_after_the_database_was_away(tmp_path):
    settings = replace(load_settings(), data=tmp_path / "data", database_url=None)
    server = Server(settings)
    try:
        with server.in_use() as url:
            database = Database(url)
            database.migrate()
            with database.session() as session:
                account = make_account(session, "ada", "Ada", "a long password")
                project = make_project(session, account, "Away")
            fault = Fault(database, settings, account.id, project.id)
            job, run = with_a_run(fault, tmp_path)
            worker = fault.worker(job)
            fault.wait_until_begun(job, worker)
            time.sleep(0.5)
            os.kill(json.loads((server.folder / "running.json").read_text())["pid"], signal.SIGKILL)
            assert worker.wait(120) == 0
            assert agree(fault, job, run) == "done"
            database.close()
    finally:
        server.remove()
