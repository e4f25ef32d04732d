"""What was computed lately, kept within a budget of bytes and shared by all open corpora of a process."""

from __future__ import annotations

import dataclasses
import sys
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping, Sequence
from typing import Any, TypeVar

import numpy as np
import polars as pl
from scipy import sparse

T = TypeVar("T")
DEFAULT_BUDGET_BYTES = 768 * 2**20
LOOKED_AT = 50


class Memory:
    """Values by key; those used longest ago go first. Nothing is computed twice at the same time.

    Keys must hold everything a value was made from: the whole request, and the state it was made at.
    """

    def __init__(self, budget_bytes: int = DEFAULT_BUDGET_BYTES) -> None:
        self.budget_bytes = budget_bytes
        self._kept: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._making: dict[Hashable, threading.Lock] = {}
        self._bytes = 0
        self._lock = threading.Lock()

    @property
    def bytes_kept(self) -> int:
        return self._bytes

    def __len__(self) -> int:
        return len(self._kept)

    def kept(self, key: Hashable, make: Callable[[], T]) -> T:
        """The value of a key, made where it is not there. What is larger than the budget is not kept."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                found: T = self._kept[key][0]
                return found
            making = self._making.setdefault(key, threading.Lock())
        with making:
            with self._lock:
                if key in self._kept:
                    again: T = self._kept[key][0]
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
        return found[0] if found else None

    def put(self, key: Hashable, value: Any) -> None:
        """Keep a value, or weigh one again that has grown."""
        size = size_of(value) + size_of(key)
        with self._lock:
            self._drop(key)
            if size > self.budget_bytes:
                return
            self._kept[key] = (value, size)
            self._bytes += size
            while self._bytes > self.budget_bytes:
                self._drop(next(iter(self._kept)))

    def forget(self, whose: Hashable) -> None:
        """Drop all whose key begins with this."""
        with self._lock:
            for key in [k for k in self._kept if isinstance(k, tuple) and k[:1] == (whose,)]:
                self._drop(key)

    def _drop(self, key: Hashable) -> None:
        if (gone := self._kept.pop(key, None)) is not None:
            self._bytes -= gone[1]


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
