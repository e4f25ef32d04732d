"""How a job that fails or is cancelled ends in order."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from winnower.core.errors import WinnowerError
from winnower.store import jobs
from winnower.store.database import Database


@contextmanager
def ended_in_order(database: Database, job_id: int, what: str) -> Iterator[None]:
    """Note why the work inside ended early, and raise it again; ``what`` names it: "The check"."""
    try:
        yield
    except Exception as error:
        state = "cancelled" if isinstance(error, jobs.Cancelled) else "failed"
        message = error.message if isinstance(error, WinnowerError) else f"{what} ended: {error}"
        with database.session() as session:
            jobs.finish(session, job_id, state, message=message)
        raise
