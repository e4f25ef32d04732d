"""What every request has at hand: settings, database, open corpora, and who is asking."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated

from fastapi import Depends, Query, Request

from winnower.api.gate import BODY_VALUE, session_token
from winnower.api.schemas.base import MOST_INT
from winnower.api.signing_in import LoginThrottle
from winnower.api.wall import hold, named_in
from winnower.core.scope import Scope, Split
from winnower.jobs.apart import Apart
from winnower.settings import Settings
from winnower.store.accounts import NotAllowed, account_of, project_for
from winnower.store.coding_fields import with_coding
from winnower.store.corpus import CorpusCache, with_new_values
from winnower.store.database import Database, Session
from winnower.store.fields import lock_project
from winnower.store.history import AlreadyDone, Recorder, is_done
from winnower.store.inside import looked_at
from winnower.store.models import Account, Project
from winnower.store.opened import OpenCorpus
from winnower.store.overview import role_of
from winnower.store.reading_passages import PassageCache
from winnower.store.reindex import clear_after
from winnower.store.work_of_others import Others


@dataclass
class House:
    """What the application holds for as long as it runs."""

    settings: Settings
    database: Database
    corpora: CorpusCache
    apart: Apart
    passages: PassageCache
    throttle: LoginThrottle


def house(request: Request) -> House:
    return request.app.state.house


HouseDep = Annotated[House, Depends(house)]


def session(at: HouseDep) -> Iterator[Session]:
    """One transaction a request: committed at its end, rolled back on an error."""
    with at.database.session() as opened:
        yield opened


SessionDep = Annotated[Session, Depends(session, scope="function")]


def account(session: SessionDep, request: Request) -> Account:
    return account_of(session, session_token(request.scope))


AccountDep = Annotated[Account, Depends(account)]


@dataclass
class Desk:
    """A project with the member who is at work in it."""

    house: House
    session: Session
    account: Account
    project: Project
    scope: Scope = Scope()
    split: Split = Split()
    #: what the browser calls this request, so that it is carried out once however often it comes
    request_key: str | None = None

    def look_at(self, scope: Scope, split: Split | None = None) -> None:
        """From now on only the words that a scope lets be counted are in the corpus, laid out as a split wants it."""
        self.scope, self.split = scope, split or Split()

    @property
    def corpus(self) -> OpenCorpus:
        opened = self.house.corpora.open(self.session, self.project)
        return looked_at(self.session, self.project, opened, self.scope, self.split)

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
        found = with_new_values(self.session, self.project, base)
        return with_coding(self.session, self.project, found) if self.project.coding_revision else found

    def clear_up(self) -> None:
        """Commit, and remove what only older states of the index needed."""
        self.session.commit()  # nothing can be asked in this session afterwards
        with self.house.database.session() as session:
            clear_after(session, session.get_one(Project, self.project.id), self.folder)

    def may_take(self, others: Others) -> None:
        """Raises NotAllowed where work of others is to go and this member is no owner."""
        if others == "take" and role_of(self.session, self.project.id, self.account.id) != "owner":
            raise NotAllowed(
                "Only an owner of the project can take back what others have done. Keep their texts."
            )

    def recorder(self, label: str) -> Recorder:
        key, self.request_key = self.request_key, None
        return Recorder(self.session, self.project.id, self.account.id, label, request_key=key)


def reading_desk(
    project_id: int, at: HouseDep, session: SessionDep, account: AccountDep, request: Request
) -> Desk:
    project = project_for(session, account, project_id)
    hold(session, project_id, named_in(request.url.path, request.path_params, request.scope.get(BODY_VALUE)))
    return Desk(at, session, account, project)


def writing_desk(
    project_id: int, at: HouseDep, session: SessionDep, account: AccountDep, request: Request
) -> Desk:
    project = project_for(session, account, project_id, write=True)
    hold(session, project_id, named_in(request.url.path, request.path_params, request.scope.get(BODY_VALUE)))
    key = request.headers.get("idempotency-key", "")[:64] or None
    if key and is_done(session, project_id, account.id, key):
        raise AlreadyDone
    return Desk(at, session, account, project, request_key=key)


Reading = Annotated[Desk, Depends(reading_desk)]
Writing = Annotated[Desk, Depends(writing_desk)]

#: What becomes of texts that others have worked on, where they are taken out.
OfOthers = Annotated[Others, Query(alias="others")]

#: The revision a deletion was decided on: it is refused where there has been another one since.
Seen = Annotated[int, Query(ge=0, le=MOST_INT)]
