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
UPLOADS_KEPT_S = 7 * 24 * 3600


class Runner:
    """Starts queued jobs one after the other, and takes up those an earlier process left."""

    def __init__(self, database: Database, settings: Settings) -> None:
        self._database, self._settings = database, settings
        self._stop = threading.Event()
        self._wake = threading.Event()
        self._process: subprocess.Popen | None = None
        self._thread: threading.Thread | None = None

    def start(self) -> None:
        self._stop.clear()
        self._thread = threading.Thread(target=self._work, name="jobs", daemon=True)
        self._thread.start()

    def wake(self) -> None:
        """A job was made."""
        self._wake.set()

    def stop(self) -> None:
        """End; a running job is interrupted and goes on with the next start."""
        self._stop.set()
        self._wake.set()
        if self._process is not None and self._process.poll() is None:
            self._process.terminate()
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
            job_id = self._next(first)
            first = False
            if job_id is None:
                self._wake.wait(5)
                self._wake.clear()
                continue
            self._run(job_id)

    def _next(self, first: bool) -> int | None:
        try:
            with self._database.session() as session:
                waiting = jobs.unfinished(session, silent_only=not first)
                return waiting[0].id if waiting else None
        except Unavailable:
            return None

    def _run(self, job_id: int) -> None:
        environment = os.environ | {
            "WINNOWER_DATA": str(self._settings.data),
            "WINNOWER_DATABASE_URL": self._database.url,
        }
        self._process = subprocess.Popen(
            [sys.executable, "-m", "winnower.jobs.worker", str(job_id)],
            env=environment,
            stdin=subprocess.DEVNULL,
        )
        while self._process.poll() is None:
            if self._stop.wait(LOOK_EVERY_S):
                return
        if self._process.returncode not in (0, 1):
            self._give_up(job_id, self._process.returncode)

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
