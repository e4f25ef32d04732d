"""Jobs whose processes are killed, paused and doubled at random moments."""

import json
import os
import random
import signal
import time
from dataclasses import replace

import pytest

from tests.at_work import HANG_S
from tests.faults.driver import Fault, killed_until_it_ends, paused_and_replaced, table
from winnower.jobs.runner import Runner
from winnower.settings import load_settings
from winnower.store import jobs
from winnower.store.accounts import make_account, make_project
from winnower.store.database import Database
from winnower.store.models import Delivery, Job
from winnower.store.rollback import remove_abandoned
from winnower.store.server import Server

ROWS = 24_000


@pytest.fixture
def fault(database, settings, account, project):
    return Fault(database, settings, account.id, project.id)


@pytest.mark.parametrize("seed", [1, 2])
def test_a_killed_import_ends_as_it_says(fault, tmp_path, seed):
    job = fault.make_import(table(tmp_path / "a.csv", ROWS))
    killed = killed_until_it_ends(fault, job, random.Random(seed), 10)
    assert killed >= 2, "the import was over before anything happened"
    fault.agree(job, ROWS)


@pytest.mark.parametrize("seed", [11, 12, 13])
def test_who_was_taken_for_dead_touches_nothing(fault, tmp_path, seed):
    job = fault.make_import(table(tmp_path / "a.csv", ROWS))
    paused_and_replaced(fault, job, random.Random(seed))
    assert fault.agree(job, ROWS) == "done"


def test_two_servers_on_one_database_do_not_take_a_job_twice(fault, tmp_path):
    job = fault.make_import(table(tmp_path / "a.csv", ROWS))
    runners = [Runner(fault.database, fault.settings) for _ in range(2)]
    for runner in runners:
        runner.start()
    try:
        for _ in range(600):
            if fault.job(job).state not in jobs.UNFINISHED:
                break
            time.sleep(0.1)
    finally:
        for runner in runners:
            runner.stop()
    assert fault.agree(job, ROWS) == "done"
    assert fault.job(job).attempts == 1


def test_a_server_that_stops_hands_its_job_to_the_next(fault, tmp_path):
    job = fault.make_import(table(tmp_path / "a.csv", ROWS))
    first = Runner(fault.database, fault.settings)
    first.start()
    while not fault.job(job).attempts:
        time.sleep(0.02)
    first.stop()
    assert fault.job(job).state in ("queued", "done")
    second = Runner(fault.database, fault.settings)
    second.start()
    while fault.job(job).state in jobs.UNFINISHED:
        time.sleep(0.05)
    second.stop()
    assert fault.agree(job, ROWS) == "done"
    assert not fault.job(job).deaths


def test_a_job_whose_workers_die_is_taken_back_and_says_so(fault, tmp_path, database):
    job = fault.make_import(table(tmp_path / "a.csv", 50))
    with database.session() as session:
        row = session.get_one(Job, job)
        row.state, row.deaths, row.attempts = "running", jobs.MOST_DEATHS - 1, 2
        session.add(Delivery(project_id=fault.project_id, job_id=job, name="a", made_by=fault.account_id))
    fault.worker(job).wait(HANG_S)
    assert fault.agree(job, 50) == "failed"
    assert "each time its process died. Nothing of this delivery was kept" in fault.job(job).message


def test_what_no_worker_lives_to_remove_is_removed_by_the_server(fault, tmp_path, database):
    job = fault.make_import(table(tmp_path / "a.csv", 50))
    with database.session() as session:
        row = session.get_one(Job, job)
        row.state, row.deaths, row.attempts = "running", jobs.MOST_TRIES - 1, 4
        session.add(Delivery(project_id=fault.project_id, job_id=job, name="a", made_by=fault.account_id))
    runner = Runner(fault.database, fault.settings)
    runner.start()
    try:
        for _ in range(600):
            with database.session() as session:
                left = session.query(Delivery).filter_by(job_id=job).count()
            if not left:
                break
            time.sleep(0.05)
    finally:
        runner.stop()
    assert fault.agree(job, 50) == "failed"
    assert "died again and again" in fault.job(job).message


def test_what_ended_jobs_left_is_removed_at_the_next_start(fault, tmp_path, database):
    job = fault.make_import(table(tmp_path / "a.csv", ROWS))
    worker = fault.worker(job)
    while not fault.job(job).batches_done and worker.poll() is None:
        time.sleep(0.01)
    worker.kill()
    worker.wait()
    with database.session() as session:
        row = session.get_one(Job, job)
        row.state, row.message = "failed", "Nothing was kept."
    with database.session() as session:
        remove_abandoned(session)
    assert fault.agree(job, ROWS) == "failed"


def test_an_import_goes_on_after_the_database_was_away(tmp_path):
    """The database dies twice while a worker stores; it is started again, and the import ends as if nothing had
    been."""
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
            job = fault.make_import(table(tmp_path / "a.csv", ROWS))
            worker = fault.worker(job)
            fault.wait_until_begun(job, worker)
            for _ in range(2):
                time.sleep(0.4)
                os.kill(json.loads((server.folder / "running.json").read_text())["pid"], signal.SIGKILL)
                time.sleep(4)
            assert worker.wait(HANG_S) == 0
            assert fault.agree(job, ROWS) == "done"
            database.close()
    finally:
        server.remove()
