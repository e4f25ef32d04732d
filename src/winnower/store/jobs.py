"""Jobs as rows: what was asked, who is at it, how far it is, what came of it.

A job that runs has one holder, with a lease that the holder renews. Whatever a holder writes is fenced: in
the same transaction its hold on the job is confirmed in the database, so that a holder that was paused,
cut off or taken for dead can neither add to the job nor end it once somebody else has it.
"""

from __future__ import annotations

import datetime as dt
import os
import secrets
import socket
from collections import Counter
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from sqlalchemy import func, select, update
from sqlalchemy import text as sql
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.store.accounts import utc_now
from winnower.store.models import Job, Project

#: For how long a holder that is not heard of keeps its job, in seconds.
LEASE_S = 15
#: So many holders in a row may end without a word before a job is given up, if no batch was done between.
MOST_DEATHS = 2
#: From so many on, even removing what is left is not tried again before the next start.
MOST_TRIES = 5
UNFINISHED = ("queued", "running")


class Cancelled(WinnowerError):
    """The user asked for an end; nothing of the job is kept."""


class Taken(Conflict):
    """Somebody else is at this job, or it has ended: whoever learns this touches nothing of it."""


def new_holder() -> str:
    """A name for whoever takes a job: machine, process and when it began, and a number of its own."""
    return f"{socket.gethostname()[:40]}:{os.getpid()}:{_began(os.getpid())}:{secrets.token_hex(6)}"


def is_gone(holder: str | None) -> bool:
    """Whether a holder's process has certainly ended; of another machine nothing is certain."""
    if not holder:
        return True
    machine, process, began, _ = holder.rsplit(":", 3)
    return machine == socket.gethostname()[:40] and _began(int(process)) != began


def _began(process: int) -> str:
    """When a process began, in ticks of the machine; empty where there is none, or it is only a remnant."""
    try:
        after_name = Path(f"/proc/{process}/stat").read_text().rsplit(")", 1)[1].split()
    except OSError:
        return ""
    return "" if after_name[0] == "Z" else after_name[19]


def make_job(session: Session, project_id: int, account_id: int, kind: str, params: dict[str, Any]) -> Job:
    job = Job(project_id=project_id, account_id=account_id, kind=kind, params=params)
    session.add(job)
    session.flush()
    session.refresh(job)
    return job


def job_of(session: Session, project_id: int, job_id: int) -> Job:
    """Raises NotFound."""
    job = session.get(Job, job_id)
    if job is None or job.project_id != project_id:
        raise NotFound("There is no such job in this project.")
    return job


def claim(session: Session, job_id: int, holder: str) -> Job:
    """Take a job; one that killed whoever took it comes back as failed. Raises Taken where somebody holds it or it has ended, Conflict where another import of its
    project is at work."""
    project_id = session.get_one(Job, job_id).project_id
    # one after the other: of two that claim imports of a project the second sees the first
    session.execute(select(Project.id).where(Project.id == project_id).with_for_update())
    found = select(Job).where(Job.id == job_id).with_for_update()
    job = session.scalars(found.execution_options(populate_existing=True)).one()
    if job.state not in UNFINISHED:
        raise Taken("This job has ended.")
    if job.state == "running" and _held(session, job):
        raise Taken("Somebody else is at this job.")
    if job.kind == "import":
        others = select(Job).where(
            Job.project_id == project_id, Job.kind == "import", Job.state == "running", Job.id != job_id
        )
        if any(_held(session, other) for other in session.scalars(others)):
            raise Conflict(
                "Another import is at work in this project. Wait until it has ended, or cancel it."
            )
    if job.state == "running":
        job.deaths += 1
    if job.deaths >= MOST_TRIES:
        give_up(session, job, "Its process died again and again. Nothing of it was kept.")
        return job
    job.state, job.started_at = "running", job.started_at or utc_now()
    job.attempts += 1
    job.holder, job.lease_until = holder, _now(session) + dt.timedelta(seconds=LEASE_S)
    session.flush()
    return job


def _now(session: Session) -> dt.datetime:
    """Now, by the clock of the database, which all holders share."""
    now: dt.datetime = session.execute(select(func.utc_timestamp(6))).scalar_one()
    return now


def _held(session: Session, job: Job) -> bool:
    alive = job.lease_until is not None and job.lease_until > _now(session)
    return alive and not is_gone(job.holder)


def confirm(session: Session, job_id: int, holder: str, **values: object) -> None:
    """Note something of a job, and make sure that it is still held by ``holder``: what else this transaction
    wrote counts only together with this. Raises Taken."""
    lease = func.utc_timestamp(6) + sql(f"interval {LEASE_S} second")
    mine = update(Job).where(Job.id == job_id, Job.holder == holder, Job.state == "running")
    done = session.execute(mine.values(lease_until=lease, **values))
    if not done.rowcount:  # type: ignore[attr-defined]
        raise Taken("Somebody else has taken this job over, or it has ended.")


def beat(session: Session, job_id: int, holder: str, **progress: object) -> None:
    """Note progress (done, total, stage, ...). Raises Taken, or Cancelled where the user asked for an end."""
    if "batches_done" in progress:
        progress["deaths"] = 0
    confirm(session, job_id, holder, **progress)
    if session.scalar(select(Job.cancel).where(Job.id == job_id)):
        raise Cancelled("Cancelled. Nothing of it was kept.")


def finish(
    session: Session,
    job_id: int,
    holder: str,
    state: str,
    *,
    message: str = "",
    result: dict[str, Any] | None = None,
) -> None:
    """End a job that is held. Raises Taken."""
    session.flush()
    more = {} if result is None else {"result": result}
    confirm(session, job_id, holder, state=state, message=message, ended_at=utc_now(), **more)
    session.execute(update(Job).where(Job.id == job_id).values(holder=None, lease_until=None))
    session.expire_all()


def let_go(session: Session, job_id: int, holder: str) -> None:
    """Give a job back unfinished: it goes on from its last batch when somebody takes it."""
    confirm(session, job_id, holder, state="queued")
    session.execute(update(Job).where(Job.id == job_id).values(holder=None, lease_until=None))


def finish_unbegun(session: Session, job_id: int, message: str) -> None:
    """End a job that could not begin; one that is at work somewhere is left alone."""
    waiting = update(Job).where(Job.id == job_id, Job.state == "queued")
    session.execute(waiting.values(state="failed", message=message, ended_at=utc_now()))


def give_up(session: Session, job: Job, message: str) -> None:
    """End somebody else's job whose holder is gone; the caller removes what is left of it first."""
    job.state, job.message, job.ended_at = "failed", message, utc_now()
    job.holder = job.lease_until = None
    session.flush()


def limit_idling(session: Session, seconds: int) -> None:
    """Let the database end this transaction when nothing was asked in it for so long: a process that was
    paused in the middle must not keep rows locked for ever."""
    session.execute(sql(f"set session idle_transaction_timeout = {int(seconds)}"))


def request_cancel(session: Session, job: Job) -> None:
    """Ask a job to end; one that nobody has begun ends at once."""
    session.refresh(job, with_for_update=True)
    if job.state == "queued" and not job.attempts:
        job.state, job.message, job.ended_at = "cancelled", "Cancelled before it began.", utc_now()
    elif job.state in UNFINISHED:
        job.cancel = True


def next_in_turn(waiting: Sequence[tuple[int, int, str]], running: Sequence[tuple[int, str]]) -> int | None:
    """Which of the waiting jobs (id, project, kind) begins next, beside the running ones (project, kind).

    The project with the fewest running jobs comes first, then the job that waits longest: no project can
    hold up the others. Imports of one project go one after the other.

    >>> next_in_turn([(1, 7, "check"), (2, 8, "check")], [(7, "company")])
    2
    >>> next_in_turn([(3, 7, "import")], [(7, "import")]) is None
    True
    """
    busy = Counter(project for project, _ in running)
    importing = {project for project, kind in running if kind == "import"}
    ready = [job for job in waiting if not (job[2] == "import" and job[1] in importing)]
    return min(ready, key=lambda job: (busy[job[1]], job[0]))[0] if ready else None


def to_take(session: Session) -> list[Job]:
    """Jobs that nobody holds, oldest first."""
    rows = session.scalars(select(Job).where(Job.state.in_(UNFINISHED)).order_by(Job.id))
    return [job for job in rows if job.state == "queued" or not _held(session, job)]


def at_work(session: Session) -> list[tuple[int, str]]:
    """Project and kind of each job that somebody holds, here or elsewhere."""
    rows = session.scalars(select(Job).where(Job.state == "running"))
    return [(job.project_id, job.kind) for job in rows if _held(session, job)]


def left_imports(session: Session, project_id: int, job_id: int) -> list[Job]:
    """Imports of the project that were begun and that nobody holds, but for this one."""
    begun = select(Job).where(
        Job.project_id == project_id,
        Job.kind == "import",
        Job.state.in_(UNFINISHED),
        Job.attempts > 0,
        Job.id != job_id,
    )
    return [job for job in session.scalars(begun) if not _held(session, job)]


def jobs_of(session: Session, project_id: int, most: int = 20) -> list[Job]:
    """The newest jobs of a project."""
    return list(
        session.scalars(select(Job).where(Job.project_id == project_id).order_by(Job.id.desc()).limit(most))
    )


def latest_job(session: Session, project_id: int, kind: str) -> Job | None:
    """The newest job of a kind."""
    mine = select(Job).where(Job.project_id == project_id, Job.kind == kind)
    return session.scalar(mine.order_by(Job.id.desc()).limit(1))
