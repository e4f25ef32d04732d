"""Jobs as rows: what was asked, how far it is, what came of it."""

from __future__ import annotations

import datetime as dt
from collections import Counter
from collections.abc import Sequence
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound, WinnowerError
from winnower.store.accounts import utc_now
from winnower.store.models import Job

#: A running job that has not been heard of for so long was interrupted.
SILENCE_S = 30


class Cancelled(WinnowerError):
    """The user asked for an end; nothing of the job is kept."""


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


def begin(session: Session, job_id: int) -> Job:
    job = session.get_one(Job, job_id)
    job.state, job.started_at = "running", job.started_at or utc_now()
    job.heartbeat = utc_now()
    return job


def beat(session: Session, job_id: int, **progress: object) -> None:
    """Note progress (done, total, stage, ...). Raises Cancelled where the user asked for an end."""
    values = {**progress, "heartbeat": utc_now()}
    session.execute(update(Job).where(Job.id == job_id).values(**values))
    if session.scalar(select(Job.cancel).where(Job.id == job_id)):
        raise Cancelled("Cancelled. Nothing of it was kept.")


def finish(
    session: Session, job_id: int, state: str, *, message: str = "", result: dict[str, Any] | None = None
) -> None:
    job = session.get_one(Job, job_id)
    job.state, job.message, job.ended_at = state, message, utc_now()
    if result is not None:
        job.result = result


def finish_unbegun(session: Session, job_id: int, message: str) -> None:
    """End a job that could not begin; one that is at work somewhere is left alone."""
    if session.get_one(Job, job_id).state == "queued":
        finish(session, job_id, "failed", message=message)


def request_cancel(session: Session, job: Job) -> None:
    """Ask a job to end; one that has not begun ends at once."""
    if job.state == "queued":
        job.state, job.message, job.ended_at = "cancelled", "Cancelled before it began.", utc_now()
    elif job.state == "running":
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


def unfinished(session: Session, *, silent_only: bool = False) -> list[Job]:
    """Queued and running jobs, oldest first; ``silent_only`` leaves out those heard of just now."""
    jobs = select(Job).where(Job.state.in_(("queued", "running"))).order_by(Job.id)
    if silent_only:
        jobs = jobs.where(
            (Job.heartbeat.is_(None)) | (Job.heartbeat < utc_now() - dt.timedelta(seconds=SILENCE_S))
        )
    return list(session.scalars(jobs))


def by_ids(session: Session, ids: Sequence[int]) -> list[Job]:
    return list(session.scalars(select(Job).where(Job.id.in_(ids)))) if ids else []


def jobs_of(session: Session, project_id: int, most: int = 20) -> list[Job]:
    """The newest jobs of a project."""
    return list(
        session.scalars(select(Job).where(Job.project_id == project_id).order_by(Job.id.desc()).limit(most))
    )


def latest_job(session: Session, project_id: int, kind: str) -> Job | None:
    """The newest job of a kind."""
    mine = select(Job).where(Job.project_id == project_id, Job.kind == kind)
    return session.scalar(mine.order_by(Job.id.desc()).limit(1))
