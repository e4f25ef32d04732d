"""Messages over a pipe between a process and what it has done elsewhere: a kind, a length, a packed value."""

from __future__ import annotations

import os
import pickle
import select
import struct
import time
from typing import Any

_HEAD = struct.Struct("<8sQ")
BLOCK = 1 << 20


class Ended(Exception):
    """Whoever wrote is gone."""


class TimeOver(Exception):
    """Nothing came in time."""


def send(fd: int, kind: str, value: Any) -> None:
    """Write a message; ``kind`` has at most eight letters."""
    packed = pickle.dumps(value)
    view = memoryview(_HEAD.pack(kind.encode(), len(packed)) + packed)
    while view:
        view = view[os.write(fd, view) :]


def receive(fd: int, ends: float, most_bytes: int) -> tuple[str, Any]:
    """The next message. Raises Ended, also for one of more than ``most_bytes``, and TimeOver after ``ends``
    (time.monotonic)."""
    kind, size = _HEAD.unpack(_exactly(fd, _HEAD.size, ends))
    if size > most_bytes:
        raise Ended
    return kind.rstrip(b"\0").decode(), pickle.loads(_exactly(fd, size, ends))


def _exactly(fd: int, size: int, ends: float) -> bytes:
    blocks, left = [], size
    while left:
        ready, _, _ = select.select([fd], [], [], max(ends - time.monotonic(), 0))
        if not ready:
            raise TimeOver
        block = os.read(fd, min(left, BLOCK))
        if not block:
            raise Ended
        blocks.append(block)
        left -= len(block)
    return b"".join(blocks)
