"""Accounts, sessions, projects and who may do what in them."""

from __future__ import annotations

import datetime as dt
import hashlib
import secrets
from collections.abc import Sequence
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy import delete, func, select
from sqlalchemy import text as sql
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.store.models import Account, Delivery, KnownBrowser, Member, Project, SignIn, TextRow
from winnower.store.models.base import ROLES

MAX_PROJECT_NAME = 200
#: Argon2id as OWASP's cheat sheet on passwords advises it: some 20 MB and a few hundredths of a second.
_hasher = PasswordHasher(time_cost=2, memory_cost=19_456, parallelism=1)


@cache
def _nobody() -> str:
    """A hash to check against for unknown names, so that they take as long as known ones."""
    return _hasher.hash("no such account")


#: Stands where a password's hash would: nobody can sign in with it.
NO_PASSWORD = "!"
MIN_PASSWORD = 8
MAX_NAME = 60
#: So many guesses a password must take; so many of its characters are judged, since judging long ones takes long.
FEWEST_GUESSES = 1_000_000
MOST_JUDGED = 64


WRONG = "Name and password do not go together."


class SignInError(WinnowerError):
    """Name and password do not go together, or the session has ended."""


class NotAllowed(WinnowerError):
    """The role in the project does not allow it."""


def refuse_weak(password: str, *about: str) -> None:
    """Raises WinnowerError for a password that is too short, or that is guessed soon from lists of common passwords,
    words, keys in a row, and what is known of its owner (``about``)."""
    if len(password) < MIN_PASSWORD:
        raise WinnowerError(f"A password has at least {MIN_PASSWORD} characters.")
    from zxcvbn import zxcvbn  # its lists are loaded where a password is chosen only

    found = zxcvbn(password[:MOST_JUDGED], user_inputs=[one for one in about if one])
    if int(found["guesses"]) < FEWEST_GUESSES:
        why = str(found["feedback"]["warning"] or "It is easy to guess.")
        raise WinnowerError(
            f"Choose another password. {why} Three words that have nothing to do with each other hold well."
        )


def make_account(session: Session, name: str, full_name: str, password: str) -> Account:
    """A new account. Raises Conflict where the name is taken, WinnowerError for a bad name or password."""
    name, full_name = name.strip(), " ".join(full_name.split()) or name.strip()
    if not name or len(name) > MAX_NAME or any(c.isspace() for c in name):
        raise WinnowerError(f"A name to sign in with has 1 to {MAX_NAME} characters and no spaces.")
    refuse_weak(password, name, full_name)
    if session.scalar(select(Account).where(Account.name == name)):
        raise Conflict(f"There is an account named “{name}” already.")
    account = Account(name=name, full_name=full_name[:120], password_hash=_hasher.hash(password))
    session.add(account)
    session.flush()
    return account


def anyone_can_sign_in(session: Session) -> bool:
    """Whether there is an account with a password."""
    return bool(session.scalar(select(Account.id).where(Account.password_hash != NO_PASSWORD).limit(1)))


def make_first_account(session: Session, name: str, full_name: str, password: str) -> Account:
    """The first account of an installation; it takes over what the command line made before there was one.

    Raises Conflict where there is an account to sign in with already.
    """
    # two first visits at the same moment: the second waits here, and finds the account of the first
    session.execute(sql("select version_num from alembic_version for update"))
    if anyone_can_sign_in(session):
        raise Conflict("There is an account already. Sign in, or ask who set this up.")
    account = make_account(session, name, full_name, password)
    local = session.scalar(select(Account).where(Account.password_hash == NO_PASSWORD))
    if local is None:
        return account
    # the row that made everything so far becomes the new account's, with all that names it
    taken = (account.name, account.full_name, account.password_hash)
    session.delete(account)
    session.flush()
    local.name, local.full_name, local.password_hash = taken
    session.flush()
    return local


def set_password(session: Session, name: str, password: str) -> None:
    """Raises NotFound, WinnowerError for a password that is too short. All sessions of the account end."""
    account = account_named(session, name)
    set_own_password(session, account, password)
    session.execute(delete(SignIn).where(SignIn.account_id == account.id))


def account_named(session: Session, name: str) -> Account:
    """Raises NotFound, with the names there are."""
    account = session.scalar(select(Account).where(Account.name == name))
    if account is None:
        names = (
            ", ".join(session.scalars(select(Account.name).order_by(Account.name).limit(20))) or "none yet"
        )
        raise NotFound(f"There is no account “{name}”. Accounts: {names}.")
    return account


def accounts_of(session: Session) -> list[Account]:
    return list(session.scalars(select(Account).order_by(Account.id)))


def share(session: Session, project: Project, name: str, role: str) -> str:
    """Give an account a role in a project, or another one; what was done. Raises NotFound, WinnowerError.

    A project keeps at least one owner.
    """
    if role not in ROLES:
        raise WinnowerError(f"“{role}” is no role. Roles: {', '.join(ROLES)}.")
    account = account_named(session, name)
    member = session.get(Member, (project.id, account.id))
    if member is None:
        session.add(Member(project_id=project.id, account_id=account.id, role=role))
        return f"{name} is {role} of {project.name} now."
    if member.role == "owner" and role != "owner" and _owners(session, project) < 2:
        raise WinnowerError(f"{name} is the only owner of {project.name}; make somebody else owner first.")
    was, member.role = member.role, role
    return f"{name} was {was} of {project.name} and is {role} now."


def take_off(session: Session, project: Project, name: str) -> str:
    """Take an account off a project; what was done. What it did there stays under its name. Raises NotFound,
    WinnowerError for the only owner."""
    account = account_named(session, name)
    member = session.get(Member, (project.id, account.id))
    if member is None:
        raise NotFound(f"{name} is not a member of {project.name}.")
    if member.role == "owner" and _owners(session, project) < 2:
        raise WinnowerError(f"{name} is the only owner of {project.name}; make somebody else owner first.")
    session.delete(member)
    session.flush()
    return f"{name} is no longer a member of {project.name}. What {name} did stays."


def end_account(session: Session, name: str) -> str:
    """Let nobody sign in as this account any more, at once; what was done. What it did stays under its name.
    Raises NotFound, WinnowerError for the only owner of a project or the only account."""
    account = account_named(session, name)
    others = (
        select(func.count())
        .select_from(Account)
        .where(Account.id != account.id, Account.ended_at.is_(None), Account.password_hash != NO_PASSWORD)
    )
    if not session.scalar(others):
        raise WinnowerError(f"{name} is the only account that can sign in; make another one first.")
    owned = select(Project).join(Member).where(Member.account_id == account.id, Member.role == "owner")
    alone = [project.name for project in session.scalars(owned) if _owners(session, project) < 2]
    if alone:
        raise WinnowerError(
            f"{name} is the only owner of {', '.join(f'“{one}”' for one in alone[:5])}; make somebody else owner first."
        )
    account.ended_at = account.ended_at or utc_now()
    session.execute(delete(SignIn).where(SignIn.account_id == account.id))
    session.execute(delete(KnownBrowser).where(KnownBrowser.account_id == account.id))
    return f"{name} can no longer sign in. What {name} did stays."


def _owners(session: Session, project: Project) -> int:
    """Owners of a project who can sign in."""
    asked = (
        select(func.count())
        .select_from(Member)
        .join(Account, Account.id == Member.account_id)
        .where(Member.project_id == project.id, Member.role == "owner", Account.ended_at.is_(None))
    )
    return session.scalar(asked) or 0


def demo_people(
    session: Session, people: Sequence[tuple[str, str]], password: str, project_name: str
) -> tuple[Account, Project, bool]:
    """The demo's accounts and its project, made where they are missing; the first is its owner, the others
    code. Whether the project is new."""
    found = [
        session.scalar(select(Account).where(Account.name == name))
        or make_account(session, name, full_name, password)
        for name, full_name in people
    ]
    owner = found[0]
    project = session.scalar(select(Project).where(Project.name == project_name, Project.made_by == owner.id))
    if project is not None:
        return owner, project, False
    project = make_project(session, owner, project_name)
    session.add_all(Member(project_id=project.id, account_id=one.id, role="coder") for one in found[1:])
    session.flush()
    return owner, project, True


def hash_of(session: Session, name: str) -> tuple[int | None, str]:
    """The number of an account and what its password is checked against; for an unknown name, something that
    takes as long."""
    account = session.scalar(select(Account).where(Account.name == name, Account.ended_at.is_(None)))
    return (account.id, account.password_hash) if account else (None, _nobody())


def fits(password_hash: str, password: str) -> bool:
    """Whether a password is the one. Takes some 20 MB and a moment, on purpose."""
    try:
        return _hasher.verify(password_hash, password)
    except (VerificationError, InvalidHashError):
        return False


def open_session(session: Session, account_id: int, hours: int, about: str = "") -> str:
    """A fresh session token of an account whose password was right; ``about`` tells the browser."""
    token = secrets.token_urlsafe(32)
    now = utc_now()
    session.execute(delete(SignIn).where(SignIn.expires_at < now))
    session.add(
        SignIn(
            token_hash=_digest(token),
            account_id=account_id,
            made_at=now,
            expires_at=now + dt.timedelta(hours=hours),
            about=about[:200],
        )
    )
    return token


def sign_in(session: Session, name: str, password: str, hours: int) -> tuple[Account, str]:
    """The account and a fresh session token. Raises SignInError."""
    account_id, password_hash = hash_of(session, name)
    if not fits(password_hash, password) or account_id is None:
        raise SignInError(WRONG)
    return session.get_one(Account, account_id), open_session(session, account_id, hours)


def sessions_of(session: Session, account: Account) -> list[SignIn]:
    """Where somebody is signed in, newest first."""
    mine = select(SignIn).where(SignIn.account_id == account.id, SignIn.expires_at > utc_now())
    return list(session.scalars(mine.order_by(SignIn.made_at.desc()).limit(100)))


def end_sessions(session: Session, account: Account, but: str | None) -> int:
    """End all sessions of an account but for the one with this token; how many."""
    mine = delete(SignIn).where(SignIn.account_id == account.id)
    if but is not None:
        mine = mine.where(SignIn.token_hash != _digest(but))
    return session.execute(mine).rowcount  # type: ignore[attr-defined, no-any-return]


def is_session(row: SignIn, token: str | None) -> bool:
    """Whether a session is the one of this token."""
    return token is not None and row.token_hash == _digest(token)


def set_own_password(session: Session, account: Account, new: str) -> None:
    """Raises WinnowerError for a password that is too short or easy to guess."""
    refuse_weak(new, account.name, account.full_name)
    account.password_hash = _hasher.hash(new)


def account_of(session: Session, token: str | None) -> Account:
    """Who a session token belongs to. Raises SignInError where it has ended."""
    found = token and session.scalar(
        select(Account)
        .join(SignIn, SignIn.account_id == Account.id)
        .where(SignIn.token_hash == _digest(token), SignIn.expires_at > utc_now(), Account.ended_at.is_(None))
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
    """The account the command line works as: the first that can sign in. Before there is one, an account
    without a password stands in; the first that is made takes over what it made."""
    first = session.scalar(
        select(Account)
        .where(Account.ended_at.is_(None))
        .order_by(Account.password_hash == NO_PASSWORD, Account.id)
        .limit(1)
    )
    if first is None:
        first = Account(name="owner", full_name="Owner", password_hash=NO_PASSWORD)
        session.add(first)
        session.flush()
    return first


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
