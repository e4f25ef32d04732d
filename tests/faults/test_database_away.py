"""Every kind of job while the database is away again and again: each transaction is refused once before it is let in."""

from contextlib import contextmanager

import pytest

from tests.faults.driver import Fault, table
from winnower.core.errors import Unavailable
from winnower.core.runs import BySearch, Recipe
from winnower.jobs import run as running
from winnower.jobs.importing import ImportRun
from winnower.jobs.worker import RUNS
from winnower.store import jobs
from winnower.store.database import NOT_THERE, Database
from winnower.store.runs import begin_run

ROWS = 60


class Flickering(Database):
    """A database that is away at every other question."""

    away, refused = False, 0

    @contextmanager
    def session(self):
        self.away = not self.away
        if self.away:
            self.refused += 1
            raise Unavailable(NOT_THERE)
        with super().session() as session:
            yield session


@pytest.fixture
def fault(database, settings, account, project):
    return Fault(database, settings, account.id, project.id)


def job_of(fault, kind, tmp_path):
    """A job of a kind, over some texts where it is no import itself."""
    first = fault.make_import(table(tmp_path / "a.csv", ROWS))
    if kind == "import":
        return first
    ImportRun(fault.database, fault.settings, first).run()
    with fault.database.session() as session:
        params = {"threshold": 0.8}
        if kind == "coding":
            run = begin_run(session, fault.project_id, fault.account_id, "Lambs", Recipe(BySearch("lamb"))).id
            params = {"name": "Lambs", "run": run, "state": "proposals", "codes": {}, "parent": None}
        return jobs.make_job(session, fault.project_id, fault.account_id, kind, params).id


@pytest.mark.parametrize("kind", RUNS)
def test_a_job_ends_as_if_the_database_had_never_been_away(fault, kind, tmp_path, monkeypatch):
    job = job_of(fault, kind, tmp_path)
    monkeypatch.setattr(running.time, "sleep", lambda _: None)
    flickering = Flickering(fault.database.url)
    try:
        RUNS[kind](flickering, fault.settings, job).run()
    finally:
        flickering.close()
    assert fault.job(job).state == "done"
    assert flickering.refused >= 4, "hardly anything was asked of it"
