"""What every request has at hand: settings, database, open corpora, and who is asking."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated

from fastapi import Cookie, Depends, Request

from winnower.settings import Settings
from winnower.store.accounts import account_of, project_for
from winnower.store.corpus import CorpusCache, with_new_values
from winnower.store.database import Database, Session
from winnower.store.fields import lock_project
from winnower.store.history import Recorder
from winnower.store.models import Account, Project
from winnower.store.opened import OpenCorpus

COOKIE = "winnower_session"


@dataclass
class House:
    """What the application holds for as long as it runs."""

    settings: Settings
    database: Database
    corpora: CorpusCache


def house(request: Request) -> House:
    return request.app.state.house


HouseDep = Annotated[House, Depends(house)]


def session(at: HouseDep) -> Iterator[Session]:
    """One transaction a request: committed at its end, rolled back on an error."""
    with at.database.session() as opened:
        yield opened


SessionDep = Annotated[Session, Depends(session, scope="function")]


def account(session: SessionDep, winnower_session: Annotated[str | None, Cookie()] = None) -> Account:
    return account_of(session, winnower_session)


AccountDep = Annotated[Account, Depends(account)]


@dataclass
class Desk:
    """A project with the member who is at work in it."""

    house: House
    session: Session
    account: Account
    project: Project

    @property
    def corpus(self) -> OpenCorpus:
        return self.house.corpora.open(self.session, self.project)

    @property
    def folder(self) -> Path:
        return self.house.corpora.folder(self.project)

    def corpus_to_change(self) -> OpenCorpus:
        """The corpus with the project held for changing: nobody else changes values until the end."""
        lock_project(self.session, self.project)
        return self.corpus

    def corpus_within(self) -> OpenCorpus:
        """The corpus as it is within this transaction; never kept, since it may be rolled back."""
        base = self.house.corpora.last(self.project) or self.corpus
        return with_new_values(self.session, self.project, base)

    def recorder(self, label: str) -> Recorder:
        return Recorder(self.session, self.project.id, self.account.id, label)


def reading_desk(project_id: int, at: HouseDep, session: SessionDep, account: AccountDep) -> Desk:
    return Desk(at, session, account, project_for(session, account, project_id))


def writing_desk(project_id: int, at: HouseDep, session: SessionDep, account: AccountDep) -> Desk:
    return Desk(at, session, account, project_for(session, account, project_id, write=True))


Reading = Annotated[Desk, Depends(reading_desk)]
Writing = Annotated[Desk, Depends(writing_desk)]
