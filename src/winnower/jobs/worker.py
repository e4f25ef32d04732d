"""``python -m winnower.jobs.worker JOB``: do one job, then end. Code 1 says that it failed in order."""

from __future__ import annotations

import logging
import sys

from winnower.core.errors import WinnowerError
from winnower.jobs.checking import CheckRun
from winnower.jobs.company import CompanyRun
from winnower.jobs.importing import ImportRun
from winnower.settings import load_settings
from winnower.store import jobs
from winnower.store.database import Database
from winnower.store.models import Job

RUNS = {"import": ImportRun, "check": CheckRun, "company": CompanyRun}
log = logging.getLogger("winnower")


def main(job_id: int) -> int:
    settings = load_settings()
    if settings.database_url is None:
        raise SystemExit("WINNOWER_DATABASE_URL is not set.")
    database = Database(settings.database_url)
    with database.session() as session:
        kind = session.get_one(Job, job_id).kind
        if kind not in RUNS:
            jobs.finish(session, job_id, "failed", message=f"Nobody knows how to do “{kind}”.")
            return 1
    try:
        RUNS[kind](database, settings, job_id).run()
    except WinnowerError as error:
        log.warning("job %s: %s", job_id, error.message)
        return 1
    except Exception:
        log.exception("job %s", job_id)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1])))
