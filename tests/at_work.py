"""Jobs done by the tests themselves, while an application of theirs that does jobs too may be running."""

import threading
import time
from contextlib import contextmanager

from winnower.core.errors import ReadError
from winnower.jobs.runner import Runner
from winnower.store.jobs import UNFINISHED, Taken
from winnower.store.models import Job

#: Whatever has not come by then never will: a guard against hanging, never a measure of speed.
HANG_S = 300
_quiet = threading.RLock()
_begin_next = Runner._begin_next


def begin_next(runner):
    """In the place of the runner's own: begins nothing while a test is at it."""
    with _quiet:
        return _begin_next(runner)


@contextmanager
def alone():
    """No application of this process begins a job meanwhile."""
    with _quiet:
        yield


def carried_out(run, database, job_id, told):
    """What a run gives; where the server of the browser tests took the job a moment before, what ``told`` makes of the
    result it kept. Raises ReadError where that one failed."""
    try:
        return run.run()
    except Taken:
        while True:
            with database.session() as session:
                job = session.get_one(Job, job_id)
            if job.state not in UNFINISHED:
                break
            time.sleep(0.05)
        if job.state != "done":
            raise ReadError(job.message) from None
        return told(job.result)
