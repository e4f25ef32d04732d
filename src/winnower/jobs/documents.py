"""Documents read by several processes at once, in their order, with memory held flat.

A file that brings its reader down, or takes longer than the limit, is named and passed over; the
others go on.
"""

from __future__ import annotations

import multiprocessing
import os
from collections import deque
from collections.abc import Collection, Iterator, Sequence
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures import TimeoutError as TookTooLong
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field, replace
from typing import Any

from winnower.core.errors import ReadError
from winnower.jobs.limits import limit_memory
from winnower.readers.archives import DAMAGED
from winnower.readers.cutting import Cut, cut_document
from winnower.readers.dated_names import are_dated, date_in_name
from winnower.readers.document import BOLD, Document
from winnower.readers.documents import read_all
from winnower.readers.files import Origin
from winnower.readers.hard_wrap import join_lines, wrap_width
from winnower.readers.head_fields import with_head_fields
from winnower.readers.lots import Lot, LotChoice
from winnower.readers.problems import Problem
from winnower.readers.reasons import why
from winnower.readers.speakers import with_turns

#: Fewer bytes than this are read at once without other processes.
ALONE_BYTES = 3_000_000
TASK_FILES = 16
TASK_BYTES = 4_000_000
TASKS_AHEAD = 3
#: Memory a process that reads documents may take.
FILE_BYTES = 1_000_000_000
TOO_MUCH_MEMORY = "Reading it needs more memory than a file may take; it was left out."


@dataclass
class ReadFile:
    """What came of one file: its texts, or why there are none."""

    origin: Origin
    documents: list[Document] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)


@dataclass(frozen=True)
class _Task:
    """Files handed to a process together."""

    kind: str
    files: tuple[tuple[str, bytes], ...]
    limit_chars: int
    encoding: str | None
    cut: Cut
    speakers: bool
    keep_lines: bool
    head_fields: tuple[str, ...] | None
    bold: bool


def read_documents(
    lot: Lot,
    choice: LotChoice,
    limit_chars: int,
    seconds: int,
    *,
    bold: bool = False,
    dated: bool | None = None,
) -> Iterator[ReadFile]:
    """All files of a lot, in order. ``seconds`` is the limit for one file; with ``bold`` paragraphs in bold
    stay marked, as whoever cuts later wants them. ``dated`` says whether texts without a date get that of their file's
    name; by itself where the names of the lot have dates."""
    if dated is None:
        dated = are_dated([origin.name for origin in lot.origins])
    for found in _read_in_order(lot, choice, limit_chars, seconds, bold):
        if dated and (date := date_in_name(found.origin.name)):
            found.documents = [one if one.date else replace(one, date=date) for one in found.documents]
        yield found


def _read_in_order(
    lot: Lot, choice: LotChoice, limit_chars: int, seconds: int, bold: bool
) -> Iterator[ReadFile]:
    tasks = _tasks(lot, choice, limit_chars, bold)
    if sum(origin.size for origin in lot.origins) < ALONE_BYTES and lot.kind != "pdf":
        for origins, task, problems in tasks:
            yield from _merged(origins, _read(task), problems)
        return
    pool = _Pool(seconds)
    ahead: deque[tuple[Sequence[Origin], _Task, dict[int, Problem], Future[Any]]] = deque()
    try:
        for origins, task, problems in tasks:
            ahead.append((origins, task, problems, pool.submit(task)))
            if len(ahead) >= pool.workers + TASKS_AHEAD:
                yield from _next(pool, ahead)
        while ahead:
            yield from _next(pool, ahead)
    finally:
        pool.close()


def _next(pool: _Pool, ahead: deque[Any]) -> Iterator[ReadFile]:
    origins, task, problems, future = ahead.popleft()
    try:
        found = future.result(timeout=pool.seconds * max(len(task.files), 1))
    except (BrokenProcessPool, TookTooLong):
        found = pool.one_by_one(task)
        # what was under way with the old processes is asked for again
        for at, (others, again, told, _) in enumerate(list(ahead)):
            ahead[at] = (others, again, told, pool.submit(again))
    yield from _merged(origins, found, problems)


class _Pool:
    """Processes that read; started anew after one of them died."""

    def __init__(self, seconds: int) -> None:
        self.seconds = seconds
        self.workers = max(os.cpu_count() or 1, 1)
        self._start()

    def _start(self) -> None:
        context = multiprocessing.get_context("forkserver")
        context.set_forkserver_preload(["winnower.readers.documents"])
        self._pool = ProcessPoolExecutor(
            self.workers,
            mp_context=context,
            max_tasks_per_child=400,
            initializer=limit_memory,
            initargs=(FILE_BYTES,),
        )

    def submit(self, task: _Task) -> Future[Any]:
        return self._pool.submit(_read, task)

    def one_by_one(self, task: _Task) -> list[tuple[list[Document], str]]:
        """Find the file that brought a process down; the others of the task are read."""
        self.close()
        out: list[tuple[list[Document], str]] = []
        self._start()
        for file in task.files:
            alone = replace(task, files=(file,))
            try:
                out += self.submit(alone).result(timeout=self.seconds)
            except TookTooLong:
                reason = (
                    f"It takes longer than {self.seconds:,} seconds to read (WINNOWER_LIMIT_FILE_SECONDS)."
                )
                out.append(([], reason))
                self.close()
                self._start()
            except BrokenProcessPool:
                out.append(([], "Reading it brings the reader down; it is damaged."))
                self.close()
                self._start()
        return out

    def close(self) -> None:
        processes = list((self._pool._processes or {}).values())
        self._pool.shutdown(wait=False, cancel_futures=True)
        for process in processes:
            process.terminate()


def _tasks(
    lot: Lot, choice: LotChoice, limit_chars: int, bold: bool
) -> Iterator[tuple[list[Origin], _Task, dict[int, Problem]]]:
    """Files with their bytes, some at a time; ones that cannot be opened as problems by their place."""
    origins: list[Origin] = []
    files: list[tuple[str, bytes]] = []
    problems: dict[int, Problem] = {}
    size = 0

    def task() -> _Task:
        return _Task(
            lot.kind,
            tuple(files),
            limit_chars,
            choice.encoding,
            choice.how,
            choice.speakers,
            choice.keep_lines,
            None if choice.head_fields is None else tuple(choice.head_fields),
            bold,
        )

    for origin in lot.origins:
        try:
            with origin.open() as raw:
                content = raw.read(origin.size + 1)
            if len(content) != origin.size:
                raise ReadError("The file changed while it was read.")
            files.append((origin.name, content))
            size += len(content)
        except ReadError as error:
            problems[len(origins)] = Problem(origin.name, 0, error.message)
        except DAMAGED as error:
            problems[len(origins)] = Problem(origin.name, 0, f"The file cannot be read: {why(error)}.")
        origins.append(origin)
        if len(origins) >= TASK_FILES or size >= TASK_BYTES:
            yield origins, task(), problems
            origins, files, problems, size = [], [], {}, 0
    if origins:
        yield origins, task(), problems


def _read(task: _Task) -> list[tuple[list[Document], str]]:
    """(texts, why there are none) of each file; runs in a process of its own."""
    out: list[tuple[list[Document], str]] = []
    for name, content in task.files:
        try:
            found = read_all(task.kind, content, name, task.limit_chars, task.encoding)
            if not task.bold:
                found = cut_all(found, task.cut, task.speakers, task.keep_lines, task.head_fields)
            out.append((found, ""))
        except ReadError as error:
            out.append(([], error.message))
        except MemoryError:
            out.append(([], TOO_MUCH_MEMORY))
    return out


def cut_all(
    found: Sequence[Document],
    cut: Cut,
    speakers: bool,
    keep_lines: bool = False,
    head_fields: Collection[str] | None = None,
) -> list[Document]:
    """The texts of a file's documents, cut, with wrapped lines joined, with speakers as turns where wanted."""
    joins = not keep_lines and cut.kind != "messages"
    pieces: list[Document] = []
    for document in found:
        # a short text says little of how its file was wrapped
        width = wrap_width(document.body) if joins else 0
        if cut.kind == "file":
            document = with_head_fields(document, head_fields, speakers)
        cut_pieces = cut_document(document, cut)
        pieces += [join_lines(piece, width) for piece in cut_pieces] if joins else cut_pieces
    if speakers:
        if cut.kind != "file":
            pieces = [with_head_fields(piece, head_fields, speakers) for piece in pieces]
        pieces = [with_turns(piece) for piece in pieces]
    return [
        replace(piece, places=tuple(place for place in piece.places if place.kind not in BOLD))
        for piece in pieces
    ]


def _merged(
    origins: Sequence[Origin], found: list[tuple[list[Document], str]], problems: dict[int, Problem]
) -> Iterator[ReadFile]:
    results = iter(found)
    for at, origin in enumerate(origins):
        if at in problems:
            yield ReadFile(origin, [], [problems[at]])
            continue
        documents, reason = next(results)
        told = [Problem(origin.name, 0, reason)] if reason else []
        notices = {notice for document in documents for notice in document.notices}
        told += [Problem(origin.name, 0, notice, kept=True) for notice in sorted(notices)]
        yield ReadFile(origin, documents, told)
