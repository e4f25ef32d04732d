"""Runs jobs beside the web server, each in a process of its own."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import threading
import time

from winnower.core.errors import Unavailable
from winnower.settings import Settings
from winnower.store import jobs
from winnower.store.database import Database

LOOK_EVERY_S = 0.25
IDLE_S = 5
UPLOADS_KEPT_S = 7 * 24 * 3600


class Runner:
    """Starts queued jobs, several at a time and fair between projects, and takes up those an earlier process
    left."""

    def __init__(self, database: Database, settings: Settings) -> None:
        self._database, self._settings = database, settings
        self._stop = threading.Event()
        self._wake = threading.Event()
        self._at_work: dict[int, subprocess.Popen[bytes]] = {}
        self._thread: threading.Thread | None = None

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
        for process in list(self._at_work.values()):
            if process.poll() is None:
                process.terminate()
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
        first = True
        while not self._stop.is_set():
            self._note_ended()
            begun = False
            if len(self._at_work) < self._settings.jobs_at_once:
                begun = self._begin_next(first)
                first = False
            if not begun:
                self._wake.wait(LOOK_EVERY_S if self._at_work else IDLE_S)
                self._wake.clear()

    def _begin_next(self, first: bool) -> bool:
        """Begin the job whose turn it is. At the first look jobs are taken up that were running: whoever ran
        them is gone."""
        try:
            with self._database.session() as session:
                found = jobs.unfinished(session, silent_only=not first)
                waiting = [(job.id, job.project_id, job.kind) for job in found if job.id not in self._at_work]
                running = [(job.project_id, job.kind) for job in jobs.by_ids(session, list(self._at_work))]
        except Unavailable:
            return False
        job_id = jobs.next_in_turn(waiting, running)
        if job_id is not None:
            self._at_work[job_id] = self._started(job_id)
        return job_id is not None

    def _started(self, job_id: int) -> subprocess.Popen[bytes]:
        environment = os.environ | {
            "WINNOWER_DATA": str(self._settings.data),
            "WINNOWER_DATABASE_URL": self._database.url,
        }
        return subprocess.Popen(
            [sys.executable, "-m", "winnower.jobs.worker", str(job_id)],
            env=environment,
            stdin=subprocess.DEVNULL,
        )

    def _note_ended(self) -> None:
        for job_id, process in list(self._at_work.items()):
            code = process.poll()
            if code is None:
                continue
            del self._at_work[job_id]
            if code not in (0, 1):
                self._give_up(job_id, code)

    def _give_up(self, job_id: int, code: int) -> None:
        """A worker that died without a word would be started again for ever: once is enough."""
        try:
            with self._database.session() as session:
                job = jobs.begin(session, job_id)
                if (job.checkpoint or {}).get("died"):
                    message = f"The worker died twice (code {code}). Nothing of it was kept."
                    jobs.finish(session, job_id, "failed", message=message)
                else:
                    job.checkpoint = (job.checkpoint or {}) | {"died": True}
                    job.heartbeat = None
        except Unavailable:
            return
