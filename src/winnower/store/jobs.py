"""Jobs as rows: what was asked, how far it is, what came of it."""

from __future__ import annotations

import datetime as dt

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound, WinnowerError
from winnower.store.accounts import utc_now
from winnower.store.models import Job

#: A running job that has not been heard of for so long was interrupted.
SILENCE_S = 30


class Cancelled(WinnowerError):
    """The user asked for an end; nothing of the job is kept."""


def make_job(session: Session, project_id: int, account_id: int, kind: str, params: dict) -> Job:
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
    session: Session, job_id: int, state: str, *, message: str = "", result: dict | None = None
) -> None:
    job = session.get_one(Job, job_id)
    job.state, job.message, job.ended_at = state, message, utc_now()
    if result is not None:
        job.result = result


def request_cancel(session: Session, job: Job) -> None:
    """Ask a job to end; one that has not begun ends at once."""
    if job.state == "queued":
        job.state, job.message, job.ended_at = "cancelled", "Cancelled before it began.", utc_now()
    elif job.state == "running":
        job.cancel = True


def unfinished(session: Session, *, silent_only: bool = False) -> list[Job]:
    """Queued and running jobs, oldest first; ``silent_only`` leaves out those heard of just now."""
    jobs = select(Job).where(Job.state.in_(("queued", "running"))).order_by(Job.id)
    if silent_only:
        jobs = jobs.where(
            (Job.heartbeat.is_(None)) | (Job.heartbeat < utc_now() - dt.timedelta(seconds=SILENCE_S))
        )
    return list(session.scalars(jobs))


def jobs_of(session: Session, project_id: int, most: int = 20) -> list[Job]:
    """The newest jobs of a project."""
    return list(
        session.scalars(select(Job).where(Job.project_id == project_id).order_by(Job.id.desc()).limit(most))
    )


def latest_job(session: Session, project_id: int, kind: str) -> Job | None:
    """The newest job of a kind."""
    mine = select(Job).where(Job.project_id == project_id, Job.kind == kind)
    return session.scalar(mine.order_by(Job.id.desc()).limit(1))
