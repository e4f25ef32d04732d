"""Accounts, sessions, projects and who may do what in them."""

from __future__ import annotations

import datetime as dt
import hashlib
import secrets
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.store.models import Account, Delivery, Member, Project, SignIn, TextRow

MAX_PROJECT_NAME = 200
_hasher = PasswordHasher()


@cache
def _nobody() -> str:
    """A hash to check against for unknown names, so that they take as long as known ones."""
    return _hasher.hash("no such account")


class SignInError(WinnowerError):
    """Name and password do not go together, or the session has ended."""


class NotAllowed(WinnowerError):
    """The role in the project does not allow it."""


def make_account(session: Session, name: str, full_name: str, password: str) -> Account:
    """A new account. Raises Conflict where the name is taken."""
    if session.scalar(select(Account).where(Account.name == name)):
        raise Conflict(f"There is an account named “{name}” already.")
    account = Account(name=name, full_name=full_name, password_hash=_hasher.hash(password))
    session.add(account)
    session.flush()
    return account


def sign_in(session: Session, name: str, password: str, hours: int) -> tuple[Account, str]:
    """The account and a fresh session token. Raises SignInError."""
    account = session.scalar(select(Account).where(Account.name == name))
    try:
        _hasher.verify(account.password_hash if account else _nobody(), password)
    except VerificationError as error:
        raise SignInError("Name and password do not go together.") from error
    if account is None:
        raise SignInError("Name and password do not go together.")
    token = secrets.token_urlsafe(32)
    now = utc_now()
    session.execute(delete(SignIn).where(SignIn.expires_at < now))
    session.add(
        SignIn(
            token_hash=_digest(token),
            account_id=account.id,
            expires_at=now + dt.timedelta(hours=hours),
        )
    )
    return account, token


def account_of(session: Session, token: str | None) -> Account:
    """Who a session token belongs to. Raises SignInError where it has ended."""
    found = token and session.scalar(
        select(Account)
        .join(SignIn, SignIn.account_id == Account.id)
        .where(SignIn.token_hash == _digest(token), SignIn.expires_at > utc_now())
    )
    if not found:
        raise SignInError("Your session has ended. Sign in again; nothing was lost.")
    return found


def sign_out(session: Session, token: str) -> None:
    session.execute(delete(SignIn).where(SignIn.token_hash == _digest(token)))


def _digest(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()


def utc_now() -> dt.datetime:
    """Now, in UTC, as the database keeps times."""
    return dt.datetime.now(dt.UTC).replace(tzinfo=None, microsecond=0)


def local_account(session: Session) -> Account:
    """The account the command line works as: the first one; made without a usable password if none."""
    first = session.scalar(select(Account).order_by(Account.id).limit(1))
    return first or make_account(session, "owner", "Owner", secrets.token_urlsafe(32))


def make_project(session: Session, account: Account, name: str) -> Project:
    """A project with its maker as owner. Raises Conflict or WinnowerError for a bad name."""
    name = " ".join(name.split())
    if not name:
        raise WinnowerError("A project needs a name.")
    if len(name) > MAX_PROJECT_NAME:
        raise WinnowerError(
            f"A project name can have at most {MAX_PROJECT_NAME} characters; this one has {len(name)}."
        )
    taken = select(Project).join(Member).where(Member.account_id == account.id, Project.name == name)
    if session.scalar(taken):
        raise Conflict(f"You have a project named “{name}” already.")
    project = Project(name=name, made_by=account.id)
    session.add(project)
    session.flush()
    session.add(Member(project_id=project.id, account_id=account.id, role="owner"))
    session.flush()
    return project


def projects_of(session: Session, account: Account) -> list[tuple[Project, str, int]]:
    """Projects with the account's role and the number of texts, newest first."""
    count = (
        select(TextRow.project_id, func.count().label("n"))
        .join(Delivery, Delivery.id == TextRow.delivery_id)
        .where(Delivery.state == "done")
        .group_by(TextRow.project_id)
        .subquery()
    )
    rows = session.execute(
        select(Project, Member.role, func.coalesce(count.c.n, 0))
        .join(Member, Member.project_id == Project.id)
        .outerjoin(count, count.c.project_id == Project.id)
        .where(Member.account_id == account.id)
        .order_by(Project.id.desc())
    )
    return [(project, role, int(n)) for project, role, n in rows]


def project_for(session: Session, account: Account, project_id: int, *, write: bool = False) -> Project:
    """A project the account is a member of. Raises NotFound or NotAllowed."""
    row = session.execute(
        select(Project, Member.role)
        .join(Member, Member.project_id == Project.id)
        .where(Project.id == project_id, Member.account_id == account.id)
    ).first()
    if row is None:
        raise NotFound("There is no such project, or it is not shared with you.")
    project, role = row
    if write and role == "reader":
        raise NotAllowed("Your role in this project is reader; ask its owner to let you change things.")
    return project


def project_named(session: Session, account: Account, name: str) -> Project:
    """A project by its name, or its number. Raises NotFound, with the names there are."""
    found = projects_of(session, account)
    for project, _, _ in found:
        if project.name == name or str(project.id) == name:
            return project
    names = ", ".join(f"“{project.name}”" for project, _, _ in found[:10]) or "none yet"
    raise NotFound(f"There is no project “{name}”. Projects: {names}.")
