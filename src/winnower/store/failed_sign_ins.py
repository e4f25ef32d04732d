"""Wrong passwords, counted for all processes together, and browsers that are known."""

from __future__ import annotations

import datetime as dt
import hashlib
import secrets
from collections.abc import Sequence

from sqlalchemy import delete, func, select
from sqlalchemy import text as sql
from sqlalchemy.orm import Session

from winnower.store.models import Account, FailedSignIn, KnownBrowser

#: So many wrong passwords in a row are free for a name; then each one doubles the pause, up to the longest.
FREE_TRIES = 5
#: Many people may sign in from one address.
FREE_TRIES_OF_CLIENT = 40
LONGEST_PAUSE_S = 30
FORGOTTEN_AFTER_S = 24 * 3600
#: A browser that was not used for so long is known no more.
KNOWN_DAYS = 180

_NAME, _CLIENT, _BROWSER = b"name", b"client", b"browser"


def counts_of(session: Session, name: str, client: str, browser: str | None) -> tuple[bytes, ...]:
    """The counts a try goes into: that of the name and that of the client, or that of a known browser alone."""
    if browser is not None:
        digest = _digest(browser.encode())
        known = select(KnownBrowser.token_hash).join(Account, Account.id == KnownBrowser.account_id)
        if session.scalar(known.where(KnownBrowser.token_hash == digest, Account.name == name)) is not None:
            return (_digest(_BROWSER + digest),)
    return _digest(_NAME + name.casefold().encode()), _digest(_CLIENT + client.encode())


def wait_of(session: Session, counted_as: Sequence[bytes]) -> float:
    """Seconds until the next try is taken; 0 where it is taken now."""
    since = func.timestampdiff(sql("microsecond"), FailedSignIn.last_at, func.utc_timestamp(3)) / 1e6
    rows = session.execute(
        select(FailedSignIn.whose, FailedSignIn.tries, since).where(FailedSignIn.whose.in_(counted_as))
    ).all()
    waits = [0.0]
    for whose, tries, ago in rows:
        free = FREE_TRIES_OF_CLIENT if len(counted_as) > 1 and whose == counted_as[1] else FREE_TRIES
        # a clock that was put back must not lock anybody out
        if tries >= free and float(ago) >= 0:
            waits.append(min(2.0 ** (tries - free), LONGEST_PAUSE_S) - float(ago))
    return max(waits)


def note_failure(session: Session, counted_as: Sequence[bytes]) -> None:
    """Count a wrong password."""
    session.execute(
        sql(
            "insert into failed_sign_in (whose, tries, last_at) values (:whose, 1, utc_timestamp(3)) "
            "on duplicate key update tries = if(last_at < utc_timestamp(3) - interval :old second, 1, tries + 1), "
            "last_at = utc_timestamp(3)"
        ),
        [{"whose": whose, "old": FORGOTTEN_AFTER_S} for whose in sorted(counted_as)],
    )
    session.execute(
        sql("delete from failed_sign_in where last_at < utc_timestamp(3) - interval :old second limit 100"),
        {"old": FORGOTTEN_AFTER_S},
    )


def clear(session: Session, counted_as: Sequence[bytes]) -> None:
    """Forget failures: the right password was given."""
    session.execute(delete(FailedSignIn).where(FailedSignIn.whose.in_(counted_as)))


def know_browser(session: Session, account: Account, browser: str | None, now: dt.datetime) -> str:
    """A token for the browser somebody signed in with, the one it has where that is of this account."""
    old = now - dt.timedelta(days=KNOWN_DAYS)
    session.execute(delete(KnownBrowser).where(KnownBrowser.seen_at < old))
    if browser is not None:
        row = session.get(KnownBrowser, _digest(browser.encode()))
        if row is not None and row.account_id == account.id:
            row.seen_at = now
            return browser
    token = secrets.token_urlsafe(32)
    session.add(KnownBrowser(token_hash=_digest(token.encode()), account_id=account.id, seen_at=now))
    return token


def _digest(value: bytes) -> bytes:
    return hashlib.sha256(value).digest()
