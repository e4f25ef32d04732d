"""Workers that are killed, paused and doubled while they are at a job, and what must hold afterwards."""

from __future__ import annotations

import random
import signal
import time
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from sqlalchemy import func, select

from tests.at_work import HANG_S
from winnower.jobs.forking import Forked, forks
from winnower.jobs.runner import Runner
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Mapping, Target
from winnower.settings import Settings
from winnower.store import jobs
from winnower.store.corpus import open_corpus
from winnower.store.database import Database, DatabaseRefused, is_busy
from winnower.store.models import Delivery, Job, Project, TextBody, TextRow

ENDED = ("done", "failed", "cancelled")
MAPPING = Mapping((Target("id", "key"), Target("source", "source"), Target("text", "text")))


def table(path: Path, rows: int, first: int = 0) -> Path:
    """A table of short texts with keys."""
    lines = [
        f"{i},Source {i % 7},the lamb number {i} was counted on the hill" for i in range(first, first + rows)
    ]
    path.write_text("id,source,text\n" + "\n".join(lines) + "\n", encoding="utf-8")
    return path


@dataclass
class Fault:
    """A project whose job is worked on by processes that come to harm."""

    database: Database
    settings: Settings
    account_id: int
    project_id: int

    def make_import(self, path: Path) -> int:
        params = {
            "name": path.name,
            "paths": [(path.name, str(path))],
            "mapping": mapping_to_plain(MAPPING),
        }
        with self.database.session() as session:
            return jobs.make_job(session, self.project_id, self.account_id, "import", params).id

    def worker(self, job_id: int) -> Forked:
        environment = {"WINNOWER_DATA": str(self.settings.data), "WINNOWER_DATABASE_URL": self.database.url}
        return forks.begin("winnower.jobs.worker", job_id, may_begin=True, environment=environment)

    def job(self, job_id: int) -> Job:
        with self.database.session() as session:
            return session.get_one(Job, job_id)

    def lease_over(self, job_id: int) -> None:
        """As if the holder had not been heard of for long."""
        with self.database.session() as session:
            session.get_one(Job, job_id).lease_until = None

    def wait_until_begun(self, job_id: int, process: Forked) -> None:
        before = self.job(job_id).attempts
        while self.job(job_id).attempts == before and process.poll() is None:
            time.sleep(0.02)

    def agree(self, job_id: int, rows: int) -> str:
        """The job's state; what it says and what is there agree, in the database and in the index."""
        job = self.job(job_id)
        assert job.state in ENDED, job.state
        if job.deaths >= jobs.MOST_TRIES:  # the server's own process removes what no worker lived to remove
            Runner(self.database, self.settings).sweep()
        with self.database.session() as session:
            project = session.get_one(Project, self.project_id)
            mine = select(func.count()).select_from(TextRow).where(TextRow.project_id == project.id)
            texts = session.scalar(mine)
            bodies = session.scalar(
                select(func.count())
                .select_from(TextBody)
                .join(TextRow)
                .where(TextRow.project_id == project.id)
            )
            deliveries = list(session.scalars(select(Delivery).where(Delivery.project_id == project.id)))
            corpus = open_corpus(session, project, self.settings.index / str(project.id))
            ids = np.sort(corpus.columns.text_id)
            stored = np.sort(
                session.scalars(select(TextRow.id).where(TextRow.project_id == project.id)).all()
            )
        expected = rows if job.state == "done" else 0
        assert texts == bodies == len(ids) == expected, (job.state, job.message, texts, bodies, len(ids))
        assert np.array_equal(ids, stored)
        assert [one.state for one in deliveries] == (["done"] if expected else [])
        if expected:
            assert (job.result or {})["new"] == rows
        return job.state


def _reached(at: Fault, job_id: int) -> tuple[object, ...]:
    job = at.job(job_id)
    return job.stage, job.batches_done, job.done, job.state


def wait_for_steps(at: Fault, job_id: int, process: Forked, steps: int) -> None:
    """Until a job has told of so many steps (a stage, a batch, rows written), or its process is over: a fault that
    waits for a clock comes too late on a quick machine."""
    told = _reached(at, job_id)
    while steps and process.poll() is None:
        now = _reached(at, job_id)
        if now == told:
            time.sleep(0.004)
            continue
        told, steps = now, steps - 1


def killed_until_it_ends(at: Fault, job_id: int, chance: random.Random, most: int) -> int:
    """Kill the worker at random moments, begin another one each time; how often."""
    killed = 0
    while at.job(job_id).state not in ENDED:
        process = at.worker(job_id)
        if killed >= most:
            process.wait(HANG_S)
            continue
        at.wait_until_begun(job_id, process)
        wait_for_steps(at, job_id, process, chance.randrange(3))
        if process.poll() is None:
            process.kill()
            killed += 1
        process.wait(HANG_S)
    return killed


def _paused_outside_a_change(at: Fault, process: Forked, job_id: int) -> bool:
    """Pause a process and end its lease; False, with the process going on, where it holds the job's row: until
    the database ends its transaction nobody else can take the job."""
    process.send_signal(signal.SIGSTOP)
    try:
        at.lease_over(job_id)
    except DatabaseRefused as error:
        if not is_busy(error):
            raise
        process.send_signal(signal.SIGCONT)
        return False
    return True


def paused_and_replaced(at: Fault, job_id: int, chance: random.Random) -> None:
    """Pause a worker at a random moment until another one has ended its job, then let it go on."""
    first = at.worker(job_id)
    at.wait_until_begun(job_id, first)
    wait_for_steps(at, job_id, first, chance.randrange(4))
    try:
        while not _paused_outside_a_change(at, first, job_id):
            time.sleep(chance.random() * 0.2)
        if at.job(job_id).state in ENDED:
            return
        second = at.worker(job_id)
        assert second.wait(HANG_S) == 0
    finally:
        first.send_signal(signal.SIGCONT)
        first.wait(HANG_S)
