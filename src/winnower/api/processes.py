"""Several processes that answer on one port: python -m winnower.api.processes SOCKET.

All listen on the same socket, and the system gives each connection to one that is free. The first one also
runs the jobs. What they have in common is in the database and in files; what one keeps in memory is its own.
"""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from dataclasses import replace

import uvicorn

from winnower.api.app import make_app
from winnower.settings import Settings, load_settings
from winnower.store.database import Database
from winnower.store.process_memory import limit_arenas

STOP_LIMIT_S = 8
#: A connection without a request stays open so long: one that is closed just as a browser sends the next request loses it,
#: and people at work pause for longer than the few seconds that are usual.
KEPT_OPEN_S = 75


def answer(settings: Settings, database: Database, port: int, ready: Callable[[], None]) -> None:
    """Answer until this process is told to end; the others end with it. ``ready`` is called once the port takes
    connections: whoever comes then waits for the answer, and is not turned away."""
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as listening:
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        listening.bind(("127.0.0.1", port))
        listening.listen(512)
        listening.set_inheritable(True)
        ready()
        # each keeps its own answers: together they take what one may
        settings = replace(settings, memory_bytes=settings.memory_bytes // settings.processes)
        others = [_other(settings, database, listening) for _ in range(settings.processes - 1)]
        try:
            _run(settings, database, listening, run_jobs=True)
        finally:
            for process in others:
                process.send_signal(signal.SIGTERM)
            for process in others:
                try:
                    process.wait(STOP_LIMIT_S)
                except subprocess.TimeoutExpired:
                    process.kill()
                    process.wait()


def _other(settings: Settings, database: Database, listening: socket.socket) -> subprocess.Popen[bytes]:
    environment = os.environ | {
        "WINNOWER_DATA": str(settings.data),
        "WINNOWER_DATABASE_URL": database.url,
        "WINNOWER_MEMORY_BYTES": str(settings.memory_bytes),
    }
    return subprocess.Popen(
        [sys.executable, "-m", "winnower.api.processes", str(listening.fileno())],
        env=environment,
        pass_fds=(listening.fileno(),),
        stdin=subprocess.PIPE,  # closes when the first one is gone, however it went
        start_new_session=True,  # an interrupt from the keyboard goes to the first one only
    )


def _run(settings: Settings, database: Database, listening: socket.socket, *, run_jobs: bool) -> None:
    limit_arenas()
    app = make_app(settings, database, run_jobs=run_jobs)
    config = uvicorn.Config(
        app, log_level="warning", timeout_graceful_shutdown=3, timeout_keep_alive=KEPT_OPEN_S
    )
    uvicorn.Server(config).run(sockets=[listening])


def _end_with_the_first() -> None:
    """Wait until the process that started this one is gone, then end."""

    def watch() -> None:
        sys.stdin.buffer.read()
        os.kill(os.getpid(), signal.SIGTERM)

    threading.Thread(target=watch, daemon=True).start()


def main(number: int) -> None:
    settings = load_settings()
    if settings.database_url is None:
        raise SystemExit("WINNOWER_DATABASE_URL is not set.")
    _end_with_the_first()
    with socket.socket(fileno=number) as listening:
        _run(settings, Database(settings.database_url), listening, run_jobs=False)


if __name__ == "__main__":
    main(int(sys.argv[1]))
