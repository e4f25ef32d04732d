"""The files of an import read in a process of its own, with limits on memory and time.

A file that brings the process down, or takes too long, is named and passed over; a new process goes on with
the next one.
"""

from __future__ import annotations

import contextlib
import os
import pickle
import time
from collections.abc import Callable, Iterator
from typing import Any

from winnower.core.errors import ReadError
from winnower.jobs.forking import forks
from winnower.jobs.messages import Ended, TimeOver, receive
from winnower.jobs.sources import Piece, nothing_but
from winnower.readers import Problem
from winnower.settings import Settings

MOST_MESSAGE_BYTES = 2_000_000_000


class PiecesApart:
    """As Pieces (jobs/sources.py), read elsewhere."""

    def __init__(self, params: dict[str, Any], settings: Settings) -> None:
        self.params, self.settings = params, settings
        #: Called in between, so that progress is told and an end that was asked for is seen within a long batch, too.
        self.in_between: Callable[[], None] = lambda: None
        self.files = self.bytes_total = self.bytes_done = 0
        self._lines: dict[str, tuple[str, dict[str, Any]]] = {}
        self._passed: set[str] = set()
        self._without: dict[str, str] = {}
        self._reader = self._begin()

    def lines(self) -> dict[str, tuple[str, dict[str, Any]]]:
        return self._lines

    def __iter__(self) -> Iterator[Piece]:
        try:
            while True:
                try:
                    yield from self._reader.pieces(self)
                    return
                except _Down as down:
                    if (problem := self._pass_over(down)) is not None:
                        yield problem
                    self._reader.end()
                    self._reader = self._begin()
        finally:
            self._reader.end()

    def _begin(self) -> _Reader:
        """A process that has listed the files. Raises ReadError where it cannot even do that."""
        while True:
            reader = _Reader(self.params | {"without": self._without}, self.settings, self._passed)
            try:
                listed = reader.listed()
            except _Down as down:
                reader.end()
                if not down.opened or down.opened in self._without:
                    raise ReadError(down.reason) from down
                self._without[down.opened] = down.reason
                continue
            self.files, self.bytes_total, self._lines = listed
            return reader

    def _pass_over(self, down: _Down) -> Piece | None:
        """Go on without what was being read. Raises ReadError where that is not known."""
        if down.file is None or down.file in self._passed:
            raise ReadError(down.reason) from down
        self._passed.add(down.file)
        name, _, sheet = down.file.partition("\0")
        shown = f"{name}, sheet {sheet}" if sheet else down.opened or name
        return nothing_but([Problem(shown, 0, down.reason)])


class _Down(Exception):
    """The process is gone: what it was reading (None: between files), the file it opened last, and why."""

    def __init__(self, file: str | None, opened: str, reason: str) -> None:
        self.file, self.opened, self.reason = file, opened, reason


class _Reader:
    def __init__(self, params: dict[str, Any], settings: Settings, passed: set[str]) -> None:
        self._settings, self._file, self._opened = settings, None, ""
        self._messages, theirs = os.pipe()
        # the processes that read documents end with it
        self._process = forks.begin(
            "winnower.jobs.reading_work", give=theirs, stdin=True, own_group=True, silent=True
        )
        os.close(theirs)
        with contextlib.suppress(BrokenPipeError):
            self._process.give(pickle.dumps((params, settings, passed)))

    def listed(self) -> Any:
        kind, value = self._next()
        while kind != "listed":
            kind, value = self._next()
        return value

    def pieces(self, of: PiecesApart) -> Iterator[Piece]:
        """Pieces as they come. Raises _Down, or ReadError where it was refused as a whole."""
        while True:
            kind, value = self._next(of)
            if kind == "begun":
                self._file = value
            elif kind == "read":
                of._passed.add(value)
                self._file = None
            elif kind == "piece":
                piece, of.bytes_done = value
                yield piece
            elif kind == "end":
                return

    def _next(self, of: PiecesApart | None = None) -> tuple[str, Any]:
        seconds = self._settings.limit_file_seconds
        ends = time.monotonic() + seconds
        try:
            while True:
                kind, value = receive(self._messages, ends, MOST_MESSAGE_BYTES)
                if kind == "bytes":  # no reason to wait longer for what takes too long
                    if of is not None:
                        of.bytes_done = value
                        of.in_between()
                    continue
                if kind == "refused":
                    raise ReadError(value)
                if kind == "memory":
                    raise Ended
                if kind != "file":
                    return kind, value
                self._opened = value
                ends = time.monotonic() + seconds
        except TimeOver:
            reason = f"It takes longer than {seconds:,} seconds to read (WINNOWER_LIMIT_FILE_SECONDS)."
            raise _Down(self._file, self._opened, reason) from None
        except Ended:
            limit = self._settings.limit_read_bytes // 2**20
            reason = (
                f"Reading it needs more than {limit:,} MB of memory (WINNOWER_LIMIT_READ_BYTES), or brings the "
                "reader down."
            )
            raise _Down(self._file, self._opened, reason) from None

    def end(self) -> None:
        self._process.kill_all()
        self._process.wait()
        if self._messages >= 0:
            os.close(self._messages)
            self._messages = -1
