"""A real MariaDB for the whole run, a fresh project for each test."""

from __future__ import annotations

import csv
import itertools
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import hypothesis
import pytest
from argon2 import PasswordHasher

from tests.at_work import alone, begin_next, carried_out
from winnower.jobs.importing import ImportRun
from winnower.jobs.report import ImportReport
from winnower.jobs.runner import Runner
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Mapping, Target
from winnower.settings import Settings, load_settings
from winnower.store import accounts
from winnower.store.accounts import make_account, make_project
from winnower.store.corpus import open_corpus
from winnower.store.database import Database
from winnower.store.jobs import make_job
from winnower.store.models import Account, Project
from winnower.store.opened import OpenCorpus
from winnower.store.server import Server

# how long making examples takes says something of the machine, nothing of the code
hypothesis.settings.register_profile(
    "any machine", deadline=None, suppress_health_check=[hypothesis.HealthCheck.too_slow]
)
hypothesis.settings.load_profile("any machine")
_numbers = itertools.count(1)
NEWS_MAPPING = Mapping(
    (
        Target("id", "key"),
        Target("title", "title"),
        Target("source", "source"),
        Target("date", "date"),
        Target("text", "text"),
        Target("tags", "variable", "Tags", "several", ";"),
        Target("age", "variable", "Age", "number"),
    )
)
NEWS_HEADER = ["id", "title", "source", "date", "text", "tags", "age"]
NEWS_ROWS = [
    [
        "1",
        "Nine pages",
        "Hill Farmer",
        "2031-06-03",
        "The lambs are gone. “We lost forty lambs,” she said. A flock is a flock.",
        "north; coast",
        "31",
    ],
    [
        "2",
        "Deer",
        "Orrin Courier",
        "2031-06-05",
        "Deer fell on the slope.\n\nBirch is back, and the deer are wary.",
        "coast",
        "40",
    ],
    ["3", "Kittens", "Valley Wire", "2031-10-01", "Three kittens 🐾 on camera. The flock slept.", "", ""],
    [
        "4",
        "Claims",
        "Hill Farmer",
        "2031-09-09",
        "Compensation for flocks and lambs. The market price fell.",
        "north",
        "52",
    ],
    ["5", "Wood", "Orrin Courier", "", "The wood is quiet and the birch grows.", "hill", "28"],
]


@pytest.fixture(scope="session", autouse=True)
def quick_passwords() -> Iterator[None]:
    """Hundreds of accounts are made here; nothing tested depends on what a hash costs."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(accounts, "_hasher", PasswordHasher(time_cost=1, memory_cost=64, parallelism=1))
        yield


@pytest.fixture(scope="session", autouse=True)
def quiet_runner() -> Iterator[None]:
    """Jobs that a test does itself are not begun by the application beside it."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(Runner, "_begin_next", begin_next)
        yield


@pytest.fixture(scope="session")
def settings() -> Iterator[Settings]:
    with tempfile.TemporaryDirectory(prefix="winnower-test-") as folder:
        yield replace(
            load_settings(), data=Path(folder), database_url=None, hosts=("127.0.0.1", "testserver")
        )


@pytest.fixture(scope="session")
def server(settings: Settings) -> Iterator[Server]:
    server = Server(settings)
    with server.in_use():
        yield server
    server.remove()


@pytest.fixture(scope="session")
def database(server: Server) -> Iterator[Database]:
    url = server.url
    assert url is not None
    database = Database(url)
    database.migrate()
    yield database
    database.close()


@pytest.fixture
def account(database: Database) -> Account:
    number = next(_numbers)
    with database.session() as session:
        return make_account(session, f"tester{number}", f"Tester {number}", "a long password")


@pytest.fixture
def project(database: Database, account: Account) -> Project:
    with database.session() as session:
        project = make_project(session, account, f"Project {next(_numbers)}")
        session.refresh(project)
        return project


Deliver = Callable[..., ImportReport]


@pytest.fixture
def deliver(database: Database, settings: Settings, account: Account, project: Project) -> Deliver:
    """Import a file or folder into the project."""

    def run(path: Path, mapping: Mapping = NEWS_MAPPING, **params: object) -> ImportReport:
        def told(result: dict[str, object]) -> ImportReport:
            known = ImportReport.__dataclass_fields__
            return ImportReport.from_plain({name: value for name, value in result.items() if name in known})

        plain = mapping_to_plain(mapping)
        all_params = {
            "name": path.name,
            "paths": [(path.name, str(path))],
            "mapping": plain,
            **params,
        }
        with alone():
            with database.session() as session:
                job = make_job(session, project.id, account.id, "import", all_params)
            run = ImportRun(database, settings, job.id)
            return carried_out(run, database, job.id, told)

    return run


@pytest.fixture
def opened(database: Database, settings: Settings, project: Project) -> Callable[[], OpenCorpus]:
    """The project's corpus as it is now."""

    def run() -> OpenCorpus:
        with database.session() as session:
            return open_corpus(
                session, session.get_one(Project, project.id), settings.index / str(project.id)
            )

    return run


def write_table(
    path: Path, rows: list[list[str]], header: list[str] = NEWS_HEADER, **options: object
) -> Path:
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, **options)  # type: ignore[arg-type]
        writer.writerow(header)
        writer.writerows(rows)
    return path


@pytest.fixture
def news(tmp_path: Path) -> Path:
    return write_table(tmp_path / "news.csv", NEWS_ROWS)
