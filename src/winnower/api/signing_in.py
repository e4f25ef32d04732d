"""Signing in, at a pace that neither guessing nor a crowd can turn into a load."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict

from anyio import CapacityLimiter, to_thread

from winnower.core.errors import Unavailable
from winnower.store import accounts

#: Passwords checked at the same time; each check takes some 20 MB.
AT_ONCE = 2
MOST_WAITING = 60
#: So many wrong passwords in a row are free; then each one doubles the pause, up to the longest.
FREE_TRIES = 5
LONGEST_PAUSE_S = 30
_NAMES_KEPT = 10_000


class TooOften(Exception):
    """Too many wrong passwords for one name; ``wait`` is in seconds."""

    def __init__(self, wait: int) -> None:
        super().__init__(f"wait {wait} s")
        self.wait = wait


class Door:
    """Checks passwords, a few at a time, and more slowly for a name after failures."""

    def __init__(self) -> None:
        self._limiter: CapacityLimiter | None = None
        self._lock = threading.Lock()
        self._failed: OrderedDict[str, tuple[int, float]] = OrderedDict()

    async def check(self, name: str, password_hash: str, password: str) -> bool:
        """Whether the password is right. Raises TooOften, Unavailable."""
        self._not_too_often(name)
        if self._limiter is None:
            self._limiter = CapacityLimiter(AT_ONCE)
        if self._limiter.statistics().tasks_waiting >= MOST_WAITING:
            raise Unavailable("Very many people are signing in just now. Try again in a moment.")
        right = await to_thread.run_sync(accounts.fits, password_hash, password, limiter=self._limiter)
        self._note(name, right)
        return right

    def _not_too_often(self, name: str) -> None:
        with self._lock:
            tries, last = self._failed.get(name, (0, 0.0))
        pause = min(2 ** (tries - FREE_TRIES), LONGEST_PAUSE_S) if tries >= FREE_TRIES else 0
        left = last + pause - time.monotonic()
        if left > 0:
            raise TooOften(int(left) + 1)

    def _note(self, name: str, right: bool) -> None:
        with self._lock:
            tries, _ = self._failed.pop(name, (0, 0.0))
            if not right:
                self._failed[name] = (tries + 1, time.monotonic())
                while len(self._failed) > _NAMES_KEPT:
                    self._failed.popitem(last=False)
