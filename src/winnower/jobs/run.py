"""Long work as runs: stages, repeatable batches, progress, cancel, and taking back.

A run tells what it does in stages; ``carry_out`` takes its job and brings it to its end. A stage works in
batches that can be repeated: their number is noted when one is done, and after an interruption those are
passed over. Until ``publish`` nothing of a run is visible in the project; what is left of a run that was
cancelled or failed is removed by ``take_back``. Whoever has lost the job to somebody else touches nothing
any more (see store/jobs.py). While the database is away a run waits for it.

A new kind of run is a class here or beside, and an entry in worker.RUNS.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from typing import Any, Protocol, TypeVar

from winnower.core.errors import Unavailable, WinnowerError
from winnower.settings import Settings
from winnower.store import jobs
from winnower.store.database import Database, DatabaseRefused, Session, is_passing, is_without_room
from winnower.store.disk_space import is_full, require_space
from winnower.store.models import Job

T = TypeVar("T")
TELL_EVERY_S = 0.4
#: How long a run waits for a database that is away.
OUTAGE_S = 600
#: How often a holder renews its lease.
RENEW_S = jobs.LEASE_S / 5
#: A transaction of a batch, and one that publishes, may be idle for so long.
BATCH_IDLE_S, PUBLISH_IDLE_S = jobs.LEASE_S, 600


class Stopped(BaseException):
    """The process is to end; its job goes on with the next start."""


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
        """Remove what is left of it in the database; what to say of that. Can be repeated."""
        ...

    def sweep(self) -> None:
        """Remove files of it that are of no use any more, when it has ended in one way or the other."""
        ...


class Hold:
    """One process's hold on one job; what a run writes, it writes through this."""

    def __init__(self, database: Database, job_id: int, settings: Settings | None = None) -> None:
        self.database, self.job_id, self.settings = database, job_id, settings
        self.holder = jobs.new_holder()

    def lasting(self, work: Callable[[Session], T], *, patience: float = OUTAGE_S) -> T:
        """Do something in a transaction of its own; tried again while the database is away or rows are
        locked."""
        ends, pause = time.monotonic() + patience, 0.2
        while True:
            try:
                with self.database.session() as session:
                    jobs.limit_idling(session, BATCH_IDLE_S)
                    return work(session)
            except (Unavailable, DatabaseRefused) as error:
                passing = isinstance(error, Unavailable) or is_passing(error)
                if not passing or time.monotonic() > ends:
                    raise
            time.sleep(pause)
            pause = min(pause * 2, 5)

    def require_room(self) -> None:
        """Raises DiskFull where the reserve of the data's disk is touched."""
        if self.settings is not None:
            require_space(self.settings.data, 0, self.settings.reserve_bytes)

    def claim(self) -> Job:
        """Raises Taken, Conflict."""
        job = self.lasting(lambda session: jobs.claim(session, self.job_id, self.holder))
        if job.state != "running":
            raise jobs.Taken(job.message or "This job has ended.")
        return job

    def confirm(self, session: Session) -> None:
        """Raises Taken where the job is held by somebody else."""
        jobs.confirm(session, self.job_id, self.holder)

    def beat(self, session: Session, **progress: object) -> None:
        """Note progress within a transaction. Raises Taken, Cancelled."""
        jobs.beat(session, self.job_id, self.holder, **progress)

    def finish(self, session: Session, state: str, message: str = "", result: Any = None) -> None:
        jobs.finish(session, self.job_id, self.holder, state, message=message, result=result)

    @contextmanager
    def renewed(self) -> Iterator[None]:
        """The lease is renewed in the background for as long as this lasts."""
        over = threading.Event()

        def renew() -> None:
            while not over.wait(RENEW_S):
                try:
                    with self.database.session() as session:
                        jobs.limit_idling(session, BATCH_IDLE_S)
                        self.confirm(session)
                except jobs.Taken:
                    return  # the next thing the run writes will tell it
                except (Unavailable, DatabaseRefused):
                    continue

        thread = threading.Thread(target=renew, name="lease", daemon=True)
        thread.start()
        try:
            yield
        finally:
            over.set()
            thread.join()


class Progress:
    """Tells how far a stage is, and ends it where somebody asked for that."""

    def __init__(self, hold: Hold, stage: Stage, tell: Callable[[dict[str, Any]], None]):
        self._hold, self._stage, self._listener = hold, stage, tell
        self._told = 0.0

    def tell(self, share: float, *, at_once: bool = False) -> None:
        """``share`` of the stage is done, 0 to 1. Raises Cancelled, Taken, DiskFull."""
        now = time.monotonic()
        if not at_once and now - self._told < TELL_EVERY_S:
            return
        self._hold.require_room()
        self._told = now
        low, high = self._stage.low, self._stage.high
        done = int(low + min(max(share, 0.0), 1.0) * (high - low))
        name = self._stage.name
        self._hold.lasting(lambda session: self._hold.beat(session, done=done, total=100, stage=name))
        self._listener({"done": done, "total": 100, "stage": name})

    def batches(self, items: Iterable[T], total: int, already: int = 0) -> Iterator[T]:
        """The items one by one, those done before passed over; each is noted as done when the next is asked
        for."""
        for number, item in enumerate(items):
            if number < already:
                continue
            self.tell(number / max(total, 1), at_once=number == already)
            yield item
            done = number + 1
            self._hold.lasting(lambda session, done=done: self._hold.beat(session, batches_done=done))  # type: ignore[misc]


def carry_out(hold: Hold, run: Run, tell: Callable[[dict[str, Any]], None] | None = None) -> dict[str, Any]:
    """Take a job and bring its run to an end; what ``publish`` told. Raises Taken and Conflict where it cannot
    be taken, or has been taken by somebody else; Cancelled, or the error that ended it: then nothing of it
    is left, and the job says so."""
    try:
        return _carried_out(hold, run, tell)
    except Stopped:  # also between the claim and the first thing that is done, or before it
        with suppress(jobs.Taken):
            hold.lasting(lambda session: jobs.let_go(session, hold.job_id, hold.holder), patience=3)
        raise


def _carried_out(hold: Hold, run: Run, tell: Callable[[dict[str, Any]], None] | None) -> dict[str, Any]:
    job = hold.claim()
    with hold.renewed():
        try:
            _begin(hold, run)
            if job.deaths >= jobs.MOST_DEATHS:
                raise WinnowerError(
                    f"{run.what} was begun {job.deaths} times, and each time its process died."
                )
            for stage in run.stages():
                progress = Progress(hold, stage, tell or (lambda _: None))
                progress.tell(0, at_once=True)
                stage.do(progress)
            result = _published(hold, run)
        except jobs.Taken:
            raise
        except Exception as error:
            _end(hold, run, error)
            run.sweep()
            raise
    run.sweep()
    return result


def _begin(hold: Hold, run: Run) -> None:
    hold.lasting(lambda session: run.begin(session, session.get_one(Job, hold.job_id)))


def _published(hold: Hold, run: Run) -> dict[str, Any]:
    hold.lasting(hold.confirm)
    try:
        return hold.lasting(lambda session: _publish(hold, run, session))
    except jobs.Taken:
        job = hold.lasting(lambda session: session.get_one(Job, hold.job_id))
        if job.state == "done":  # it was committed; only the answer was lost
            return job.result or {}
        raise


def _publish(hold: Hold, run: Run, session: Session) -> dict[str, Any]:
    jobs.limit_idling(session, PUBLISH_IDLE_S)
    result = run.publish(session)
    hold.finish(session, "done", result=result)
    return result


def _end(hold: Hold, run: Run, error: Exception) -> None:
    """Take back what is left, and note why, unless somebody else has the job by now."""
    state = "cancelled" if isinstance(error, jobs.Cancelled) else "failed"
    said = error.message if isinstance(error, WinnowerError) else f"{run.what} ended: {plain_words(error)}"

    def take_back(session: Session) -> None:
        more = run.take_back(session)
        message = said if isinstance(error, jobs.Cancelled) else f"{said} {more}".strip()
        hold.finish(session, state, message)

    hold.lasting(hold.confirm)
    hold.lasting(take_back)


def plain_words(error: Exception) -> str:
    """What went wrong, for people: no statement, no driver's own text."""
    if isinstance(error, MemoryError):
        return "there was not enough memory."
    if isinstance(error, OSError) and is_full(error):
        return f"the disk is full ({error.filename})." if error.filename else "the disk is full."
    if isinstance(error, DatabaseRefused) and is_without_room(error):
        return "the disk with the database is full."
    if isinstance(error, OSError) and error.strerror:
        return f"{error.strerror[:1].lower()}{error.strerror[1:]}."
    if isinstance(error, DatabaseRefused):
        return "the database refused it; the log has details."
    return "something unexpected happened; the log has details."
