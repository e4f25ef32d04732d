"""Memory of this process as the system sees it, and handing back what is free."""

from __future__ import annotations

import ctypes
import gc
from pathlib import Path

import pyarrow as pa

_STATUS = Path("/proc/self/status")
#: mallopt's number for the most arenas: each thread that allocates keeps free memory in one of them.
_ARENA_MAX = -8
ARENAS = 2


def anonymous_bytes() -> int:
    """Resident bytes that belong to this process alone: without files that are mapped. 0 where the system does not
    say."""
    try:
        for line in _STATUS.read_text().splitlines():
            if line.startswith("RssAnon:"):
                return int(line.split()[1]) * 1024
    except OSError:
        return 0
    return 0


def limit_arenas() -> None:
    """Keep threads from holding free memory apart from one another; before threads are started."""
    if (libc := _libc()) is not None:
        libc.mallopt(_ARENA_MAX, ARENAS)


def give_back() -> None:
    """Hand memory that is free to the system."""
    gc.collect()
    pa.default_memory_pool().release_unused()
    if (libc := _libc()) is not None:
        libc.malloc_trim(0)


def _libc() -> ctypes.CDLL | None:
    """The C library where it has these calls (glibc)."""
    try:
        libc = ctypes.CDLL(None)
    except OSError:
        return None
    return libc if hasattr(libc, "malloc_trim") and hasattr(libc, "mallopt") else None
