"""The application on a real database, and a member at work in it."""

import pytest
from fastapi.testclient import TestClient

from tests.api.station import Station
from winnower.api.app import make_app


@pytest.fixture(scope="module")
def app(database, settings):
    return make_app(settings, database)


@pytest.fixture
def client(app, account):
    with TestClient(app, base_url="http://testserver") as client:
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
