"""The application on a real database, and a member at work in it."""

import os
import subprocess
import sys

import pytest

from tests.api.coding_work import Coding
from tests.api.just_looked import JustLooked
from tests.api.making_runs import Runs
from tests.api.station import Station
from tests.at_work import alone
from winnower.api.app import make_app
from winnower.store.accounts import make_account, share
from winnower.store.models import Project


@pytest.fixture(scope="module")
def app(database, settings):
    return make_app(settings, database)


@pytest.fixture
def client(app, account):
    with JustLooked(app, base_url="http://testserver") as client:
        answer = client.post("/api/v1/sign-in", json={"name": account.name, "password": "a long password"})
        assert answer.status_code == 200, answer.text
        yield client


@pytest.fixture
def at(project):
    return f"/api/v1/projects/{project.id}"


@pytest.fixture
def filled(client, at, deliver, news):
    """A project with texts and a dictionary; the dictionary's id."""
    deliver(news)
    content = b"category,term\nLivelihood,lamb*\nLivelihood,flock*\nEcology,deer\nEcology,birch\nEcology > Trees,wood\n"
    assert (
        client.post(f"{at}/dictionaries/import", files={"file": ("Frames.csv", content)}).status_code == 201
    )
    return client.get(f"{at}/dictionaries").json()[0]["id"]


@pytest.fixture
def station(client, at, filled):
    return Station(client, at, filled)


@pytest.fixture
def coding(client, at, filled):
    return Coding(client, at)


@pytest.fixture
def colleague(app, at, database, project):
    """Somebody else at work in the same project."""
    with database.session() as session:
        account = make_account(session, f"orla-{project.id}", "Orla Venn", "a long password")
        share(session, session.get_one(Project, project.id), account.name, "coder")
    with JustLooked(app, base_url="http://testserver") as client:
        given = {"name": f"orla-{project.id}", "password": "a long password"}
        assert client.post("/api/v1/sign-in", json=given).status_code == 200
        yield Coding(client, at)


@pytest.fixture
def runs(client, at, database, settings, filled):
    with alone():
        yield Runs(client, at, database, settings, filled)


@pytest.fixture(scope="module")
def winnower(tmp_path_factory):
    """The command line, each command a process of its own, over a database of the module."""
    data = tmp_path_factory.mktemp("data")

    def run(*arguments, code=0):
        environment = {**os.environ, "WINNOWER_DATA": str(data)}
        environment.pop("WINNOWER_DATABASE_URL", None)
        done = subprocess.run(
            [sys.executable, "-m", "winnower", *map(str, arguments)],
            capture_output=True,
            text=True,
            env=environment,
        )
        assert done.returncode == code, done.stdout + done.stderr
        return done

    run.data = data
    run("db", "start")
    yield run
    run("db", "stop")
