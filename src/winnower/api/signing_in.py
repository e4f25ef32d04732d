"""Signing in, at a pace that neither guessing nor a crowd can turn into a load.

Failures are counted in the database, so that all processes count together: per name (whatever its case) and per
client. A browser in which somebody signed in before has a count of its own for that account, so that nobody can
lock a person out of it by guessing elsewhere.
"""

from __future__ import annotations

from collections.abc import Sequence

from anyio import CapacityLimiter, to_thread

from winnower.core.errors import Unavailable
from winnower.store import accounts
from winnower.store.database import Database
from winnower.store.failed_sign_ins import clear, note_failure, wait_of

#: Passwords checked at the same time; each check takes some 20 MB.
AT_ONCE = 2
MOST_WAITING = 60


class TooOften(Exception):
    """Too many wrong passwords; ``wait`` is in seconds."""

    def __init__(self, wait: int) -> None:
        super().__init__(f"wait {wait} s")
        self.wait = wait


class LoginThrottle:
    """Checks passwords, a few at a time, and more slowly after failures."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._limiter: CapacityLimiter | None = None

    async def check(self, counted_as: Sequence[bytes], password_hash: str, password: str) -> bool:
        """Whether the password is right. ``counted_as`` are the counts it goes into (see store/failed_sign_ins.py).
        Raises TooOften, Unavailable."""
        wait = await to_thread.run_sync(self._wait, counted_as)
        if wait > 0:
            raise TooOften(int(wait) + 1)
        if self._limiter is None:
            self._limiter = CapacityLimiter(AT_ONCE)
        if self._limiter.statistics().tasks_waiting >= MOST_WAITING:
            raise Unavailable("Very many people are signing in just now. Try again in a moment.")
        right = await to_thread.run_sync(accounts.fits, password_hash, password, limiter=self._limiter)
        await to_thread.run_sync(self._note, counted_as, right)
        return right

    def _wait(self, counted_as: Sequence[bytes]) -> float:
        with self._database.session() as session:
            return wait_of(session, counted_as)

    def _note(self, counted_as: Sequence[bytes], right: bool) -> None:
        with self._database.session() as session:
            if right:
                clear(session, counted_as[:1])  # the client's count goes on: others may be tried from there
            else:
                note_failure(session, counted_as)
