"""Runs jobs beside the web server, each in a process of its own."""

from __future__ import annotations

import logging
import shutil
import subprocess
import threading
import time

from winnower.core.errors import Unavailable
from winnower.jobs.forking import Forked, forks
from winnower.settings import Settings
from winnower.store import jobs
from winnower.store.database import Database, DatabaseRefused
from winnower.store.rollback import remove_abandoned, remove_parts
from winnower.store.runs import clear_abandoned

log = logging.getLogger("winnower")
LOOK_EVERY_S = 0.25
AGAIN_AFTER_S = 1
#: Jobs are made by other processes too, which wake nobody here.
IDLE_S = 0.5
STOP_LIMIT_S = 5
UPLOADS_KEPT_S = 7 * 24 * 3600


class Runner:
    """Starts queued jobs, several at a time and fair between projects, and takes up those an earlier process
    left."""

    def __init__(self, database: Database, settings: Settings) -> None:
        self._database, self._settings = database, settings
        self._stop = threading.Event()
        self._wake = threading.Event()
        self._at_work: dict[int, Forked] = {}
        self._not_before: dict[int, float] = {}
        self._thread: threading.Thread | None = None
        self._swept = False

    def start(self) -> None:
        self._stop.clear()
        self._thread = threading.Thread(target=self._work, name="jobs", daemon=True)
        self._thread.start()

    def wake(self) -> None:
        """A job was made."""
        self._wake.set()

    def stop(self) -> None:
        """End; running jobs are interrupted and go on with the next start."""
        self._stop.set()
        self._wake.set()
        working = [process for process in self._at_work.values() if process.poll() is None]
        for process in working:
            process.terminate()
        for process in working:
            try:
                process.wait(STOP_LIMIT_S)
            except subprocess.TimeoutExpired:
                process.kill()
        if self._thread is not None:
            self._thread.join(10)

    def _drop_old_uploads(self) -> None:
        """Files received for a first look that never became an import."""
        oldest = time.time() - UPLOADS_KEPT_S
        for folder in self._settings.uploads.glob("*"):
            if folder.is_dir() and folder.stat().st_mtime < oldest:
                shutil.rmtree(folder, ignore_errors=True)

    def _work(self) -> None:
        self._drop_old_uploads()
        while not self._stop.is_set():
            self._note_ended()
            begun = False
            try:
                if not self._swept:
                    self.sweep()
                if len(self._at_work) < self._settings.jobs_at_once:
                    begun = self._begin_next()
            except (Unavailable, DatabaseRefused) as error:
                log.warning("jobs wait: %s", error.__class__.__name__)
            if not begun:
                self._wake.wait(LOOK_EVERY_S if self._at_work else IDLE_S)
                self._wake.clear()

    def sweep(self) -> None:
        """Remove what ended jobs left behind, so that what a job says and what is there agree. A job whose process
        died too often leaves it to this."""
        with self._database.session() as session:
            left = remove_abandoned(session)
            clear_abandoned(session)
        for project_id, job_id in left:
            remove_parts(self._settings.index / str(project_id), job_id, ())
        self._swept = True

    def _begin_next(self) -> bool:
        """Begin the job whose turn it is: queued, or left by a holder that is gone."""
        now = time.monotonic()
        with self._database.session() as session:
            waiting = [
                (job.id, job.project_id, job.kind)
                for job in jobs.to_take(session)
                if job.id not in self._at_work and self._not_before.get(job.id, 0) < now
            ]
            running = jobs.at_work(session)
        job_id = jobs.next_in_turn(waiting, running)
        if job_id is not None:
            self._not_before.pop(job_id, None)
            self._at_work[job_id] = self._started(job_id)
        return job_id is not None

    def _started(self, job_id: int) -> Forked:
        environment = {
            "WINNOWER_DATA": str(self._settings.data),
            "WINNOWER_DATABASE_URL": self._database.url,
        }
        return forks.begin("winnower.jobs.worker", job_id, may_begin=True, environment=environment)

    def _note_ended(self) -> None:
        for job_id, process in list(self._at_work.items()):
            code = process.poll()
            if code is None:
                continue
            del self._at_work[job_id]
            if code != 0:  # one that died, or could not have it, is not begun again in the same moment
                self._not_before[job_id] = time.monotonic() + AGAIN_AFTER_S
                self._swept = False
