"""``python -m winnower.jobs.worker JOB``: do one job, then end. Code 1 says that it failed in order, 3 that it
is not to be had now."""

from __future__ import annotations

import logging
import signal
import sys
from collections.abc import Callable
from typing import Any

from winnower.core.errors import Conflict, WinnowerError
from winnower.jobs.limits import limit_memory
from winnower.jobs.run import Hold, Stopped
from winnower.settings import Settings, load_settings
from winnower.store import jobs
from winnower.store.database import Database
from winnower.store.models import Job


def _import(database: Database, settings: Settings, job_id: int) -> Any:
    from winnower.jobs.importing import ImportRun
    from winnower.jobs.reading import PiecesApart

    return ImportRun(database, settings, job_id, read=PiecesApart)


def _check(*of: Any) -> Any:
    from winnower.jobs.checking import CheckRun

    return CheckRun(*of)


def _company(*of: Any) -> Any:
    from winnower.jobs.company import CompanyRun

    return CompanyRun(*of)


def _coding(*of: Any) -> Any:
    from winnower.jobs.coding import CodingJob

    return CodingJob(*of)


#: What a job needs is loaded for its kind alone: starting a worker is most of a small import's time.
RUNS: dict[str, Callable[..., Any]] = {
    "import": _import,
    "check": _check,
    "company": _company,
    "coding": _coding,
}
FAILED, NOT_NOW, STOPPED = 1, 3, 4
log = logging.getLogger("winnower")


def main(job_id: int) -> int:
    settings = load_settings()
    if settings.database_url is None:
        raise SystemExit("WINNOWER_DATABASE_URL is not set.")
    signal.signal(signal.SIGTERM, _stop)
    limit_memory(settings.limit_job_bytes)
    database = Database(settings.database_url)
    hold = Hold(database, job_id)
    kind = hold.lasting(lambda session: session.get_one(Job, job_id)).kind
    if kind not in RUNS:
        unknown = f"Nobody knows how to do “{kind}”."
        hold.lasting(lambda session: jobs.finish_unbegun(session, job_id, unknown))
        return FAILED
    try:
        RUNS[kind](database, settings, job_id).run()
    except Stopped:
        return STOPPED
    except Conflict as error:
        begun = hold.lasting(lambda session: session.get_one(Job, job_id)).state not in jobs.UNFINISHED
        log.warning("job %s: %s", job_id, error.message)
        return FAILED if begun else NOT_NOW
    except WinnowerError as error:
        log.warning("job %s: %s", job_id, error.message)
        return FAILED
    except Exception:
        log.exception("job %s", job_id)
        return FAILED
    return 0


def _stop(*_: object) -> None:
    raise Stopped


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1])))
