"""What was computed lately, kept within a budget of bytes and shared by all open corpora of a process."""

from __future__ import annotations

import dataclasses
import sys
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from typing import Any, TypeVar

import numpy as np
import polars as pl
from scipy import sparse

from winnower.store.process_memory import anonymous_bytes, give_back

T = TypeVar("T")
DEFAULT_BUDGET_BYTES = 768 * 2**20
LOOKED_AT = 50
#: What the program takes without anything computed: its modules, and a request or two at work.
PROGRAM_BYTES = 250 * 2**20
#: What was used within so many seconds stays, whatever the system says: it would be computed again at once.
RECENT_S = 30.0
#: What nobody used for so long is dropped; after so long without any use, free memory is handed back.
FORGOTTEN_S, IDLE_S = 20 * 60.0, 45.0
TEND_EVERY_S = 5.0
#: Where too much is held, it is brought down to this share of the budget.
DOWN_TO = 0.8


@dataclasses.dataclass
class _Kept:
    value: Any
    size: int
    used: float


class Memory:
    """Values by key; those used longest ago go first. Nothing is computed twice at the same time.

    Keys must hold everything a value was made from: the whole request, and the state it was made at.
    The weight of a value is an estimate; ``tend`` compares with what the system counts for the process.
    """

    def __init__(
        self,
        budget_bytes: int = DEFAULT_BUDGET_BYTES,
        *,
        held: Callable[[], int] = anonymous_bytes,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self.budget_bytes = budget_bytes
        self._held, self._clock = held, clock
        self._used, self._given_back = clock(), True
        self._kept: OrderedDict[Hashable, _Kept] = OrderedDict()
        self._making: dict[Hashable, threading.Lock] = {}
        self._bytes = 0
        self._lock = threading.Lock()
        #: Called by ``tend`` with the moment before which nothing was used that should go; they say how many went.
        self.tending: list[Callable[[float], int]] = []

    @property
    def bytes_kept(self) -> int:
        return self._bytes

    def __len__(self) -> int:
        return len(self._kept)

    def kept(self, key: Hashable, make: Callable[[], T]) -> T:
        """The value of a key, made where it is not there. What is larger than the budget is not kept."""
        with self._lock:
            if (kept := self._touch(key)) is not None:
                found: T = kept.value
                return found
            making = self._making.setdefault(key, threading.Lock())
        with making:
            with self._lock:
                if (kept := self._touch(key)) is not None:
                    again: T = kept.value
                    return again
            try:
                value = make()
                self.put(key, value)
            finally:
                with self._lock:
                    self._making.pop(key, None)
        return value

    def peek(self, key: Hashable) -> Any:
        """The value of a key where it is kept, else None."""
        with self._lock:
            found = self._kept.get(key)
        return found.value if found else None

    def put(self, key: Hashable, value: Any) -> None:
        """Keep a value, or weigh one again that has grown."""
        size = size_of(value) + size_of(key)
        with self._lock:
            self._drop(key)
            if size > self.budget_bytes:
                return
            self._used, self._given_back = self._clock(), False
            self._kept[key] = _Kept(value, size, self._used)
            self._bytes += size
            while self._bytes > self.budget_bytes:
                self._drop(next(iter(self._kept)))

    def forget(self, whose: Hashable) -> None:
        """Drop all whose key begins with this."""
        with self._lock:
            for key in [k for k in self._kept if isinstance(k, tuple) and k[:1] == (whose,)]:
                self._drop(key)

    def tend(self) -> None:
        """Drop what was forgotten, and what is too much by the system's count; hand back what is free."""
        now = self._clock()
        with self._lock:
            dropped = self._drop_until(lambda kept: now - kept.used < FORGOTTEN_S)
            over = self._held() - PROGRAM_BYTES - self.budget_bytes
            if over > 0:
                down_to = self._bytes - over - (1 - DOWN_TO) * self.budget_bytes
                dropped += self._drop_until(lambda kept: self._bytes <= down_to or now - kept.used < RECENT_S)
            idle = now - self._used > IDLE_S and not self._given_back
            self._given_back = self._given_back or idle
        dropped += sum(also(now - FORGOTTEN_S) for also in self.tending)
        if dropped or idle or over > 0:
            give_back()

    @contextmanager
    def tended(self) -> Iterator[None]:
        """``tend`` is called every few seconds for as long as this lasts."""
        over = threading.Event()

        def work() -> None:
            while not over.wait(TEND_EVERY_S):
                self.tend()

        thread = threading.Thread(target=work, name="memory", daemon=True)
        thread.start()
        try:
            yield
        finally:
            over.set()
            thread.join()

    def _touch(self, key: Hashable) -> _Kept | None:
        """What is kept of a key, now used last."""
        kept = self._kept.get(key)
        if kept is not None:
            self._kept.move_to_end(key)
            kept.used = self._used = self._clock()
        return kept

    def _drop_until(self, enough: Callable[[_Kept], bool]) -> int:
        """Drop those used longest ago until one says ``enough``; how many went."""
        dropped = 0
        while self._kept and not enough(next(iter(self._kept.values()))):
            self._drop(next(iter(self._kept)))
            dropped += 1
        return dropped

    def _drop(self, key: Hashable) -> None:
        if (gone := self._kept.pop(key, None)) is not None:
            self._bytes -= gone.size


def size_of(value: Any) -> int:
    """About how many bytes of memory a value holds; mapped files count nothing."""
    if isinstance(value, np.memmap):
        return 0
    if isinstance(value, np.ndarray):
        return 0 if isinstance(value.base, np.memmap) else int(value.nbytes)
    if isinstance(value, (pl.Series, pl.DataFrame)):
        return int(value.estimated_size())
    if sparse.issparse(value):
        return int(
            sum(getattr(value, name).nbytes for name in ("data", "indices", "indptr") if hasattr(value, name))
        )
    if isinstance(value, (str, bytes)):
        return sys.getsizeof(value)
    if isinstance(value, Mapping):
        return 64 + _of_many([*value.keys(), *value.values()])
    if isinstance(value, (Sequence, set, frozenset)):
        return 56 + _of_many(list(value))
    if dataclasses.is_dataclass(value) and hasattr(value, "__dict__"):
        # what was worked out of it is held by it, too
        return 48 + sum(size_of(one) for one in vars(value).values())
    if dataclasses.is_dataclass(value):
        return 48 + sum(size_of(getattr(value, field.name)) for field in dataclasses.fields(value))
    if hasattr(value, "__dict__") and type(value).__module__.startswith("winnower"):
        return 48 + sum(size_of(one) for one in vars(value).values())
    return sys.getsizeof(value, 64)


def _of_many(values: list[Any]) -> int:
    """Of long lists some are weighed for all: their items are alike."""
    if len(values) <= LOOKED_AT:
        return sum(size_of(one) + 8 for one in values)
    some = values[:: max(len(values) // LOOKED_AT, 1)]
    return int(sum(size_of(one) + 8 for one in some) / len(some) * len(values))
