"""Files from outside are looked at in processes of their own, with limits on memory and time.

A process does one task and ends, and whatever a file did to it ends with it.
"""

from __future__ import annotations

import os
import pickle
import threading
import time
from typing import Any

from winnower.core import errors
from winnower.core.errors import ReadError, Unavailable
from winnower.jobs.forking import forks
from winnower.jobs.messages import Ended, TimeOver, receive
from winnower.settings import Settings

AT_ONCE = 3
WAIT_S = 20
#: An answer larger than this is none of ours.
MOST_ANSWER_BYTES = 400_000_000


#: So many files may each bring their process down before looking is given up.
MOST_DEADLY = 12


class BroughtDown(ReadError):
    """A file brought its process down, or took all its time; ``file`` is its name, empty where unknown."""

    def __init__(self, message: str, file: str) -> None:
        super().__init__(message)
        self.file = file


class Apart:
    """Does what jobs/apart_work.py lists, elsewhere."""

    def __init__(self, settings: Settings) -> None:
        self._settings = settings
        self._free = threading.BoundedSemaphore(AT_ONCE)

    def call(self, name: str, *arguments: Any) -> Any:
        """Do a task; what it returns. Raises what it refused with, ReadError over a limit, Unavailable where
        too many are at work."""
        if not self._free.acquire(timeout=WAIT_S):
            raise Unavailable("Many files are being looked at just now. Try again in a moment.")
        try:
            process = _Process()
            try:
                answer = process.ask(name, arguments, self._settings)
                return _result(answer, self._settings, process.last_file)
            finally:
                process.end()
        finally:
            self._free.release()

    def call_without(self, name: str, *arguments: Any) -> Any:
        """As ``call``; the last argument is a dict that takes up, by name, the files that bring their process
        down, with the reason. The task is done again without them."""
        without: dict[str, str] = arguments[-1]
        for _ in range(MOST_DEADLY):
            try:
                return self.call(name, *arguments)
            except BroughtDown as error:
                if not error.file or error.file in without:
                    raise
                without[error.file] = error.message
        return self.call(name, *arguments)


class _Process:
    def __init__(self) -> None:
        self._answers, theirs = os.pipe()
        self._process = forks.begin(
            "winnower.jobs.apart_work", give=theirs, stdin=True, own_group=True, silent=True
        )
        os.close(theirs)
        self.last_file = ""

    def ask(self, name: str, arguments: tuple[Any, ...], settings: Settings) -> tuple[Any, ...]:
        """What came of a task: "done", "refused", "memory" where it died or "time", and what goes with it."""
        task = {"name": name, "arguments": arguments, "bytes": settings.limit_look_bytes}
        ends = time.monotonic() + settings.limit_look_seconds
        try:
            self._process.give(pickle.dumps(task))
            while True:
                kind, value = receive(self._answers, ends, MOST_ANSWER_BYTES)
                if kind != "file":
                    return (kind, value)
                self.last_file = value
        except (BrokenPipeError, Ended):
            return ("memory", None)
        except TimeOver:
            return ("time", None)

    def end(self) -> None:
        self._process.kill_all()
        self._process.wait()
        if self._answers >= 0:
            os.close(self._answers)
            self._answers = -1


def _result(answer: tuple[Any, ...], settings: Settings, file: str) -> Any:
    kind, value = answer
    if kind == "done":
        return value
    if kind == "refused":
        name, message = value
        known = getattr(errors, name, errors.WinnowerError)
        if issubclass(known, errors.TermError):
            known = errors.ReadError
        raise known(message)
    raise BroughtDown(
        too_long(settings.limit_look_seconds) if kind == "time" else too_large(settings.limit_look_bytes),
        file,
    )


def too_long(seconds: int) -> str:
    return f"Reading it takes longer than {seconds:,} seconds (WINNOWER_LIMIT_LOOK_SECONDS)."


def too_large(limit: int) -> str:
    return (
        f"Reading it needs more than {limit // 2**20:,} MB of memory (WINNOWER_LIMIT_LOOK_BYTES), or brings the "
        "reader down. Nothing was taken from it."
    )
