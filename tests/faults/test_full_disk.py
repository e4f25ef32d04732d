"""A disk without room: said with its folder before anything is read, and whatever needs no room goes on.

The disk is a small file system in a file of its own; where the system does not let one be mounted, the free space is
what a stand-in for the system says.
"""

from __future__ import annotations

import json
import os
import signal
import subprocess
import tempfile
import time
from collections import namedtuple
from contextlib import suppress
from dataclasses import replace
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.at_work import HANG_S
from winnower.api.app import make_app
from winnower.settings import load_settings
from winnower.store import disk_space
from winnower.store.accounts import make_account
from winnower.store.database import Database
from winnower.store.server import Server

Usage = namedtuple("Usage", "total used free")
ROWS = "title,text\n" + "".join(f"t{n},A lamb and a wolf {n}\n" for n in range(200))


@pytest.fixture
def disk(tmp_path):
    """The folder of a disk of 600 MB."""
    # the database's own user must be able to come to it, which it is not in the test's folder
    image, folder = tmp_path / "image", Path(tempfile.mkdtemp(prefix="winnower-disk-"))
    folder.chmod(0o755)
    with image.open("wb") as file:
        file.truncate(600 * 2**20)
    try:
        subprocess.run(["mkfs.ext4", "-q", "-F", image], check=True, capture_output=True)
        subprocess.run(["mount", "-o", "loop", image, folder], check=True, capture_output=True)
    except (OSError, subprocess.CalledProcessError):
        folder.rmdir()
        pytest.skip("no disk of one's own can be mounted here")
    folder.chmod(0o755)
    yield folder
    subprocess.run(["umount", "-l", folder], check=True)
    folder.rmdir()


def fill(folder):
    """Take all room there is."""
    with (folder / "filled").open("wb", buffering=0) as file:
        for size in (1 << 20, 4096):
            with suppress(OSError):
                while True:
                    file.write(b"\0" * size)
        os.fsync(file.fileno())


@pytest.fixture
def work(disk, monkeypatch):
    """(client, project's path) of an application whose data lie on the small disk."""
    monkeypatch.setenv("WINNOWER_RESERVE_BYTES", str(16 * 2**20))
    settings = replace(load_settings(), data=disk / "data", database_url=None)
    server = Server(settings)
    try:
        with server.in_use() as url:
            database = Database(url)
            database.migrate()
            with database.session() as session:
                make_account(session, "ada", "Ada", "a long password")
            with TestClient(make_app(settings, database), base_url="http://127.0.0.1") as client:
                assert sign_in(client).status_code == 200
                project = client.post("/api/v1/projects", json={"name": "Full"}).json()["id"]
                yield client, f"/api/v1/projects/{project}"
            (disk / "filled").unlink(missing_ok=True)
            database.close()
    finally:
        server.remove()


def sign_in(client):
    return client.post("/api/v1/sign-in", json={"name": "ada", "password": "a long password"})


def send(client, at, content=ROWS):
    return client.post(f"{at}/uploads", files=[("files", ("a.csv", content.encode(), "text/csv"))])


def bring_in(client, at, content=ROWS):
    """Import a table as the interface does; how many texts came in."""
    upload = send(client, at, content).json()["id"]
    looked = client.post(f"{at}/uploads/{upload}/preview", json={"lots": {}}).json()
    lots = {lot["key"]: lot["choice"] for lot in looked["lots"]}
    job = client.post(f"{at}/imports", json={"upload_id": upload, "lots": lots})
    assert job.status_code == 201, job.text
    deadline = time.monotonic() + HANG_S
    while (now := client.get(f"{at}/jobs/{job.json()['id']}").json())["state"] in ("queued", "running"):
        assert time.monotonic() < deadline
        time.sleep(0.1)
    assert now["state"] == "done", now["message"]
    return now["result"]["new"]


def test_reading_and_signing_in_go_on_and_uploads_are_refused_with_the_folder(work, disk):
    client, at = work
    assert bring_in(client, at) == 200
    fill(disk)
    refused = send(client, at)
    assert refused.status_code == 507
    assert refused.json()["title"] == "Disk full"
    assert str(disk / "data") in refused.json()["detail"] and "MB" in refused.json()["detail"]
    asked = client.get(f"{at}/uploads/room", params={"size": 1_000})
    assert (asked.status_code, asked.json()["title"]) == (507, "Disk full")
    assert sign_in(client).status_code == 200
    for call, asked in (
        ("texts/page", {"sort": "words"}),
        ("words", {}),
        ("compare", {"target": {"kind": "search", "query": "lamb"}}),
        ("evidence", {"comparison": {"target": {"kind": "search", "query": "wolf"}}}),
    ):
        answer = client.post(f"{at}/{call}", json=asked)
        assert answer.status_code == 200, (call, answer.text)
    assert not list((disk / "data" / "index").rglob("*.draft")), "half a file is left"
    (disk / "filled").unlink()
    assert bring_in(client, at, ROWS.replace("wolf", "deer")) == 200


def test_changes_are_refused_before_the_database_runs_into_the_end(work, disk):
    client, at = work
    assert bring_in(client, at) == 200
    note = {"body": "x" * 60_000}
    assert client.post(f"{at}/notes", json=note).status_code == 201
    fill(disk)
    refused = client.post(f"{at}/notes", json=note)
    assert refused.status_code == 507
    assert str(disk / "data" / "mariadb") in refused.json()["detail"]
    for _ in range(60):
        assert sign_in(client).status_code == 200
    assert client.get(at).status_code == 200
    (disk / "filled").unlink()
    assert client.post(f"{at}/notes", json={"body": "There is room again."}).status_code == 201


def test_a_database_that_dies_on_a_full_disk_comes_up_again(work, disk):
    client, at = work
    assert bring_in(client, at) == 200
    fill(disk)
    os.kill(json.loads((disk / "data" / "mariadb" / "running.json").read_text())["pid"], signal.SIGKILL)
    deadline, seen = time.monotonic() + HANG_S, set()
    while (answer := client.get(at)).status_code != 200 and time.monotonic() < deadline:
        seen.add(answer.status_code)
        time.sleep(0.2)
    assert answer.status_code == 200 and seen <= {503}
    assert sign_in(client).status_code == 200


def test_an_import_that_would_not_fit_is_refused_before_it_begins(client, at, monkeypatch):
    upload = send(client, at).json()["id"]
    monkeypatch.setattr(disk_space.shutil, "disk_usage", lambda folder: Usage(10**9, 10**9 - 9_000, 9_000))
    answer = client.post(f"{at}/imports", json={"upload_id": upload, "lots": {}})
    assert answer.status_code == 507
    assert "has 9 kB left; this needs about" in answer.json()["detail"]
    assert client.get(f"{at}/jobs").json() == []
