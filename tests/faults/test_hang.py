"""A database that is there and says nothing."""

from __future__ import annotations

import json
import os
import signal
import threading
import time
from dataclasses import replace

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text

from tests.at_work import HANG_S
from winnower.api.app import make_app
from winnower.core.errors import Unavailable
from winnower.settings import load_settings
from winnower.store.accounts import make_account
from winnower.store.database import Database
from winnower.store.server import Server


@pytest.fixture
def served(tmp_path):
    """(database, client of the application, the database's process) on a database of its own."""
    settings = replace(load_settings(), data=tmp_path / "data", database_url=None)
    server = Server(settings)
    try:
        with server.in_use() as url:
            database = Database(url)
            database.migrate()
            with database.session() as session:
                make_account(session, "ada", "Ada", "a long password")
            pid = json.loads((server.folder / "running.json").read_text())["pid"]
            with TestClient(
                make_app(settings, database, run_jobs=False), base_url="http://127.0.0.1"
            ) as client:
                yield database, client, pid
            database.close()
    finally:
        server.remove()


def _sign_in(client):
    return client.post("/api/v1/sign-in", json={"name": "ada", "password": "a long password"})


def test_nobody_waits_for_a_database_that_hangs(served):
    """One is in the middle of a statement, others come while it hangs: all are told; afterwards all goes on."""
    database, client, pid = served
    assert _sign_in(client).status_code == 200
    told = []

    def wait_in_a_statement():
        try:
            with database.session() as session:
                session.execute(text("select sleep(100)"))
        except Unavailable as error:
            told.append(error.message)

    waiting = threading.Thread(target=wait_in_a_statement)
    waiting.start()
    time.sleep(0.5)
    os.kill(pid, signal.SIGSTOP)
    try:
        answer = client.get("/api/v1/projects")
        assert answer.status_code == 503
        assert "database" in answer.json()["detail"]
        waiting.join(HANG_S)
        assert len(told) == 1 and "fell silent" in told[0]
        assert client.get("/api/v1/projects").status_code == 503
    finally:
        os.kill(pid, signal.SIGCONT)
    deadline = time.monotonic() + HANG_S
    while (answer := client.get("/api/v1/projects")).status_code == 503 and time.monotonic() < deadline:
        time.sleep(0.2)
    assert answer.status_code == 200


def test_a_long_statement_is_let_be(served):
    database, _, _ = served
    with database.session() as session:
        assert session.execute(text("select sleep(12)")).scalar() == 0
    assert not database.watch.hangs


def ask_for_ever(client, over, seen):
    """Ask until told to end; notes (status, detail, seconds)."""
    while not over.is_set():
        began = time.monotonic()
        answer = client.get("/api/v1/projects")
        detail = "" if answer.status_code == 200 else answer.json()["detail"]
        seen.append((answer.status_code, detail, time.monotonic() - began))


@pytest.fixture
def askers(served):
    """Starts eight who ask without pause; the list of what they saw."""
    _, client, _ = served
    assert _sign_in(client).status_code == 200
    over, seen = threading.Event(), []
    threads = [threading.Thread(target=ask_for_ever, args=(client, over, seen)) for _ in range(8)]
    for thread in threads:
        thread.start()
    yield seen
    over.set()
    for thread in threads:
        thread.join(HANG_S)


def until(seen, status, since=0, seconds=HANG_S):
    deadline = time.monotonic() + seconds
    while not any(one[0] == status for one in seen[since:]) and time.monotonic() < deadline:
        time.sleep(0.05)
    assert any(one[0] == status for one in seen[since:]), seen[-5:]


def test_everybody_is_answered_within_seven_seconds_of_a_stop(served, askers):
    _, _, pid = served
    until(askers, 200)
    os.kill(pid, signal.SIGSTOP)
    try:
        until(askers, 503)
        time.sleep(1)
    finally:
        os.kill(pid, signal.SIGCONT)
    until(askers, 200, len(askers))
    assert {status for status, _, _ in askers} == {200, 503}
    assert max(seconds for _, _, seconds in askers) < 7


def test_a_database_that_comes_up_again_is_said_to_be_starting(served, askers):
    _, _, pid = served
    until(askers, 200)
    os.kill(pid, signal.SIGKILL)
    until(askers, 503)
    until(askers, 200, len(askers))
    assert {status for status, _, _ in askers} == {200, 503}
    assert any("is starting" in detail for _, detail, _ in askers)
