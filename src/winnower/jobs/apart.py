"""Files from outside are looked at in processes of their own, with limits on memory and time.

A process is kept ready, so that nobody waits for one to start; it does one task and ends, and whatever a
file did to it ends with it.
"""

from __future__ import annotations

import contextlib
import os
import pickle
import select
import signal
import subprocess
import sys
import threading
import time
from typing import Any

from winnower.core import errors
from winnower.core.errors import ReadError, Unavailable
from winnower.settings import Settings

AT_ONCE = 3
WAIT_S = 20
#: An answer larger than this is none of ours.
MOST_ANSWER_BYTES = 400_000_000


class Apart:
    """Does what jobs/apart_work.py lists, elsewhere."""

    def __init__(self, settings: Settings) -> None:
        self._settings = settings
        self._free = threading.BoundedSemaphore(AT_ONCE)
        self._lock = threading.Lock()
        self._spare: _Process | None = None
        self._closed = False

    def call(self, name: str, *arguments: Any) -> Any:
        """Do a task; what it returns. Raises what it refused with, ReadError over a limit, Unavailable where
        too many are at work."""
        if not self._free.acquire(timeout=WAIT_S):
            raise Unavailable("Many files are being looked at just now. Try again in a moment.")
        try:
            process = self._take()
            try:
                return _result(process.ask(name, arguments, self._settings), self._settings)
            finally:
                process.end()
        finally:
            self._free.release()

    def close(self) -> None:
        with self._lock:
            self._closed = True
            spare, self._spare = self._spare, None
        if spare is not None:
            spare.end()

    def _take(self) -> _Process:
        with self._lock:
            process, self._spare = self._spare, None
            if process is None or process.is_over():
                process = _Process()
            if not self._closed:
                self._spare = _Process()
        return process


class _Process:
    def __init__(self) -> None:
        self._answers, theirs = os.pipe()
        self._popen = subprocess.Popen(
            [sys.executable, "-m", "winnower.jobs.apart_work", str(theirs)],
            stdin=subprocess.PIPE,
            stdout=subprocess.DEVNULL,
            pass_fds=(theirs,),
            start_new_session=True,  # what it starts itself ends with it
        )
        os.close(theirs)

    def is_over(self) -> bool:
        return self._popen.poll() is not None

    def ask(self, name: str, arguments: tuple[Any, ...], settings: Settings) -> bytes | None:
        """The packed answer; empty where it died, None where the time was over."""
        task = {"name": name, "arguments": arguments, "bytes": settings.limit_look_bytes}
        assert self._popen.stdin is not None
        try:
            self._popen.stdin.write(pickle.dumps(task))
            self._popen.stdin.close()
        except BrokenPipeError:
            return b""
        ends, answer = time.monotonic() + settings.limit_look_seconds, bytearray()
        while True:
            ready, _, _ = select.select([self._answers], [], [], max(ends - time.monotonic(), 0))
            if not ready:
                return None
            block = os.read(self._answers, 1 << 20)
            if not block:
                return bytes(answer)
            answer += block
            if len(answer) > MOST_ANSWER_BYTES:
                return b""

    def end(self) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(self._popen.pid, signal.SIGKILL)
        self._popen.wait()
        if self._popen.stdin is not None and not self._popen.stdin.closed:
            self._popen.stdin.close()
        if self._answers >= 0:
            os.close(self._answers)
            self._answers = -1


def _result(packed: bytes | None, settings: Settings) -> Any:
    if packed is None:
        seconds = settings.limit_look_seconds
        raise ReadError(f"Reading it takes longer than {seconds:,} seconds (WINNOWER_LIMIT_LOOK_SECONDS).")
    answer: tuple[Any, ...] = pickle.loads(packed) if packed else ("memory",)
    if answer[0] == "done":
        return answer[1]
    if answer[0] == "refused":
        kind = getattr(errors, answer[1], errors.WinnowerError)
        if issubclass(kind, errors.TermError):
            kind = errors.ReadError
        raise kind(answer[2])
    limit = settings.limit_look_bytes // 2**20
    raise ReadError(
        f"Reading it needs more than {limit:,} MB of memory (WINNOWER_LIMIT_LOOK_BYTES), or brings the reader "
        "down. Nothing was taken from it."
    )
