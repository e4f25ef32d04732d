"""Runs whose process ends, that are cancelled, or whose job died: nothing half made counts."""

import pytest

from tests.api.test_api import problem
from tests.api.test_corpus_station import done
from winnower.jobs.coding import CodingJob
from winnower.jobs.run import Stopped
from winnower.store import runs as store
from winnower.store.jobs import Cancelled
from winnower.store.models import CodingRun, Job, RunPlace


def begun(runs, **given):
    return done(runs.client.post(f"{runs.at}/runs", json={"recipe": runs.recipe, **given}), 201)


def left(database):
    with database.session() as session:
        return session.query(RunPlace).count(), session.query(CodingRun).count()


def test_a_run_whose_process_ends_half_way_is_made_anew_and_whole(
    runs, client, at, coding, database, monkeypatch
):
    monkeypatch.setattr(store, "ROWS_AT_ONCE", 2)
    before = left(database)
    job = begun(runs, state="applied", name="Frames")
    stored = []

    def add(self, session, part, plain=CodingJob._add):
        if len(stored) == 2:
            raise Stopped
        stored.append(part)
        plain(self, session, part)

    with monkeypatch.context() as patched, pytest.raises(Stopped):
        patched.setattr(CodingJob, "_add", add)
        runs.finish(job)
    # nothing of it counts, and it says that it is being made
    assert coding.find()["total"] == 0
    assert [one["state"] for one in client.get(f"{at}/runs").json()] == ["making"]
    run = client.get(f"{at}/runs").json()[0]["id"]
    problem(client.patch(f"{at}/runs/{run}", json={"state": "applied"}), 409, "not done yet")
    with database.session() as session:
        store.clear_abandoned(session)  # its job goes on: it is not swept away
    assert runs.finish(job)["result"]["places"] == 9
    assert left(database) == (before[0] + 9, before[1] + 1)
    assert coding.find()["total"] == 9


def test_a_run_that_is_cancelled_leaves_nothing(runs, client, at, coding, database, monkeypatch):
    monkeypatch.setattr(store, "ROWS_AT_ONCE", 2)
    before = left(database)
    job = begun(runs)

    def add(self, session, part, plain=CodingJob._add):
        done(client.post(f"{at}/jobs/{job['id']}/cancel"))
        plain(self, session, part)

    monkeypatch.setattr(CodingJob, "_add", add)
    with pytest.raises(Cancelled):
        runs.finish(job)
    assert done(client.get(f"{at}/jobs/{job['id']}"))["state"] == "cancelled"
    assert left(database) == before
    assert coding.codes() == {}


def test_what_a_job_that_died_left_is_swept_away(runs, client, at, database):
    before = left(database)
    job = begun(runs)
    with database.session() as session:
        session.get_one(Job, job["id"]).state = "failed"
    with database.session() as session:
        store.clear_abandoned(session)
    assert left(database) == before
    assert client.get(f"{at}/runs").json() == []
