"""Reads the files of an import and sends them piece by piece: ``python -m winnower.jobs.reading_work FD``."""

from __future__ import annotations

import pickle
import sys
import time

from winnower.core.errors import WinnowerError
from winnower.jobs.limits import limit_memory
from winnower.jobs.messages import send
from winnower.jobs.sources import Pieces
from winnower.readers import files

EVERY_S = 0.3


class _Counting:
    """Sends how many bytes were read, a few times a second."""

    def __init__(self, messages: int) -> None:
        self._messages, self._sent = messages, time.monotonic()

    def __call__(self, done: int) -> None:
        if (now := time.monotonic()) - self._sent > EVERY_S:
            self._sent = now
            send(self._messages, "bytes", done)


def main(messages: int) -> None:
    params, settings, passed = pickle.load(sys.stdin.buffer)
    limit_memory(settings.limit_read_bytes)
    files.watching.append(lambda name: send(messages, "file", name))
    try:
        pieces = Pieces(
            params, settings, passed, lambda what, file: send(messages, what, file), _Counting(messages)
        )
        send(messages, "listed", (pieces.files, pieces.bytes_total, pieces.lines()))
        for piece in pieces:
            send(messages, "piece", (piece, pieces.bytes_done))
        send(messages, "end", None)
    except WinnowerError as error:
        send(messages, "refused", error.message)
    except MemoryError:
        send(messages, "memory", None)


if __name__ == "__main__":
    main(int(sys.argv[1]))
