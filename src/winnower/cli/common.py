"""What all commands share: the database in use, one clear line on error, progress on stderr."""

from __future__ import annotations

import logging
import resource
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

import typer

from winnower.core.errors import WinnowerError
from winnower.settings import Settings, load_settings
from winnower.store.accounts import local_account, project_named
from winnower.store.corpus import open_corpus
from winnower.store.database import Database, DatabaseRefused
from winnower.store.models import Account, Project
from winnower.store.opened import OpenCorpus
from winnower.store.server import Server

MANY_FILES = 65_536
log = logging.getLogger("winnower")


@dataclass
class Desk:
    """A database at work, with the account the command line acts as."""

    settings: Settings
    database: Database
    account: Account

    def project(self, name: str) -> Project:
        with self.database.session() as session:
            return project_named(session, self.account, name)

    def corpus(self, project: Project) -> OpenCorpus:
        with self.database.session() as session:
            mine = session.get_one(Project, project.id)
            return open_corpus(session, mine, self.settings.index / str(project.id))


@contextmanager
def desk() -> Iterator[Desk]:
    """The database, started when none runs; errors end the command with one line and code 1."""
    settings = load_settings()
    with told(), database_in_use(settings) as database:
        with database.session() as session:
            account = local_account(session)
        yield Desk(settings, database, account)


@contextmanager
def told() -> Iterator[None]:
    """Whatever goes wrong ends the command with one line for people, and code 1."""
    try:
        yield
    except WinnowerError as error:
        say(f"winnower: {error.message}")
        raise typer.Exit(1) from error
    except OSError as error:
        where = f" ({error.filename})" if error.filename else ""
        say(f"winnower: {error.strerror or error}{where}. Nothing more was done.")
        raise typer.Exit(1) from error
    except DatabaseRefused as error:
        log.error("database", exc_info=error)
        say("winnower: The database refused it; its log says why.")
        raise typer.Exit(1) from error


def _allow_many_files() -> None:
    """Every array of an open index is a mapped file: a few large projects need more than the usual 1,024."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = MANY_FILES if hard == resource.RLIM_INFINITY else min(hard, MANY_FILES)
    if soft != resource.RLIM_INFINITY and soft < wanted:
        resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))


@contextmanager
def database_in_use(settings: Settings) -> Iterator[Database]:
    """The database with the newest schema; an own server is started, and stopped by the last user."""
    _allow_many_files()
    if settings.database_url:
        database = Database(settings.database_url)
        try:
            database.migrate()
            yield database
        finally:
            database.close()
        return
    with Server(settings).in_use() as url:
        database = Database(url)
        try:
            database.migrate()
            yield database
        finally:
            database.close()


def say(line: str) -> None:
    """A line for people, beside the output."""
    print(line, file=sys.stderr, flush=True)
