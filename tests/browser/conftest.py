"""The application served to a browser, and a person signed in."""

import os
import signal
import subprocess
import sys
import time
import urllib.request

import pytest

from tests.chromium import Page, chromium
from tests.conftest import NEWS_MAPPING
from winnower.store.accounts import make_account, share
from winnower.store.models import Project
from winnower.store.server import free_port

#: Machines that do much else take long to start it.
STARTED_WITHIN_S = 240


@pytest.fixture(scope="package")  # not longer: it would take the jobs of tests elsewhere
def address(database, settings):
    """The application served by a process of its own."""
    port = free_port(8510)
    environment = {**os.environ, "WINNOWER_DATA": str(settings.data), "WINNOWER_DATABASE_URL": database.url}
    server = subprocess.Popen(
        [sys.executable, "-m", "winnower", "serve", "--port", str(port)], env=environment
    )
    address = f"http://127.0.0.1:{port}"
    until = time.monotonic() + STARTED_WITHIN_S
    while True:
        assert server.poll() is None and time.monotonic() < until, "the application did not start"
        try:
            urllib.request.urlopen(f"{address}/api/v1/openapi.json", timeout=STARTED_WITHIN_S)
            break
        except OSError:
            time.sleep(0.1)
    yield address
    server.send_signal(signal.SIGINT)
    assert server.wait(60) == 0


@pytest.fixture
def downloads(tmp_path):
    folder = tmp_path / "downloads"
    folder.mkdir()
    return folder


@pytest.fixture
def page(address, database, downloads, tmp_path):
    name = f"browser{int(time.time() * 1000)}"
    with database.session() as session:
        make_account(session, name, "Browser Person", "a long password")
    with chromium(downloads=downloads) as driver:
        page = Page(driver, address)
        page.open("/")
        page.sign_in(name, "a long password")
        yield page
        assert page.errors() == []
        assert page.barriers() == [], "where the journey ended"


@pytest.fixture
def desk(page, deliver, news, account, project, database):
    """The first text of a project of the person in the browser, to code."""
    deliver(news, NEWS_MAPPING)
    name = page.driver.execute_script("return fetch('/api/v1/me').then((r) => r.json()).then((r) => r.name)")
    with database.session() as session:
        share(session, session.get_one(Project, project.id), name, "coder")
    page.open(f"/projects/{project.id}/coding")
    page.says("[data-testid=body]", "lambs")
    return page


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_makereport(item):
    """A test that fails tells what was on the page: a run elsewhere cannot be looked at."""
    report = (yield).get_result()
    page = item.funcargs.get("page")
    if report.when == "call" and report.failed and page is not None:
        report.sections.append(("page", page.described()))
