"""Long work as runs: stages, repeatable batches, progress, cancel, and taking back.

A run tells what it does in stages; ``carry_out`` brings it from its job's row to its end. A stage works in
batches that can be repeated: their number is noted when one is done, and after an interruption those are
passed over. Until ``publish`` nothing of a run is visible in the project; what is left of a run that was
cancelled or failed is removed by ``take_back``.

A new kind of run is a class here or beside, and an entry in worker.RUNS.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any, Protocol, TypeVar

from winnower.core.errors import Unavailable, WinnowerError
from winnower.store import jobs
from winnower.store.database import Database, Session
from winnower.store.models import Job

T = TypeVar("T")
TELL_EVERY_S = 0.4
TRIES = 6


@dataclass(frozen=True)
class Stage:
    """Part of a run: what it is called, its share of the whole from ``low`` to ``high`` (0 to 100), and what
    is done, which tells its progress."""

    name: str
    low: int
    high: int
    do: Callable[[Progress], None]


class Run(Protocol):
    """A piece of long work, made anew from its job's row each time it is taken up."""

    @property
    def what(self) -> str:
        """How messages call it: "The check"."""
        ...

    def begin(self, session: Session, job: Job) -> None:
        """Read what was asked, and how far an earlier try came."""
        ...

    def stages(self) -> Sequence[Stage]: ...

    def publish(self, session: Session) -> dict[str, Any]:
        """Make the result part of the project, in one transaction with the end of the job; what is told of
        it."""
        ...

    def take_back(self, session: Session) -> str:
        """Remove what is left of it; what to say of that. Can be repeated."""
        ...


class Progress:
    """Tells how far a stage is, and ends it where somebody asked for that."""

    def __init__(self, database: Database, job_id: int, stage: Stage, tell: Callable[[dict[str, Any]], None]):
        self._database, self._job_id, self._stage, self._listener = database, job_id, stage, tell
        self._told = 0.0

    def tell(self, share: float, *, at_once: bool = False) -> None:
        """``share`` of the stage is done, 0 to 1. Raises Cancelled."""
        now = time.monotonic()
        if not at_once and now - self._told < TELL_EVERY_S:
            return
        self._told = now
        low, high = self._stage.low, self._stage.high
        done = int(low + min(max(share, 0.0), 1.0) * (high - low))
        with self._database.session() as session:
            jobs.beat(session, self._job_id, done=done, total=100, stage=self._stage.name)
        self._listener({"done": done, "total": 100, "stage": self._stage.name})

    def batches(self, items: Iterable[T], total: int, already: int = 0) -> Iterator[T]:
        """The items one by one, those done before passed over; each is noted as done when the next is asked
        for."""
        for number, item in enumerate(items):
            if number < already:
                continue
            self.tell(number / max(total, 1), at_once=number == already)
            yield item
            with self._database.session() as session:
                jobs.beat(session, self._job_id, batches_done=number + 1)


def carry_out(
    database: Database, job_id: int, run: Run, tell: Callable[[dict[str, Any]], None] | None = None
) -> dict[str, Any]:
    """Bring a run from its job's row to its end; what ``publish`` told. Raises Cancelled, or the error that
    ended it; in both cases nothing of it is left, and the job says so."""
    with database.session() as session:
        run.begin(session, jobs.begin(session, job_id))
    try:
        for stage in run.stages():
            progress = Progress(database, job_id, stage, tell or (lambda _: None))
            progress.tell(0, at_once=True)
            stage.do(progress)
        with database.session() as session:
            result = run.publish(session)
            jobs.finish(session, job_id, "done", result=result)
        return result
    except Exception as error:
        _end(database, job_id, run, error)
        raise


def _end(database: Database, job_id: int, run: Run, error: Exception) -> None:
    """Take back what is left, and note why; tried again while the database is away."""
    state = "cancelled" if isinstance(error, jobs.Cancelled) else "failed"
    said = error.message if isinstance(error, WinnowerError) else f"{run.what} ended: {error}"
    for attempt in range(TRIES):
        try:
            with database.session() as session:
                more = run.take_back(session)
                message = said if isinstance(error, jobs.Cancelled) else f"{said} {more}".strip()
                jobs.finish(session, job_id, state, message=message)
            return
        except Unavailable:
            if attempt == TRIES - 1:
                raise
            time.sleep(min(2**attempt, 15))
