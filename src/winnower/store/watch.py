"""A database that hangs: found by asking it, so that nobody waits for its answer without end.

A statement may take long, so no connection has a limit of time of its own. What never takes long is an answer to
"are you there" on a connection kept for that; where it fails, every connection is closed under who waits on it.
"""

from __future__ import annotations

import logging
import socket
import threading
import weakref
from typing import Any

from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.exc import DBAPIError

log = logging.getLogger("winnower")

#: Seconds between two questions, and seconds an answer may take: together they are the longest anybody waits.
ASK_EVERY_S = 1.0
ANSWER_WITHIN_S = 4


#: The number MariaDB's clients give to a connection that was lost.
HANGS = 2013


class Watch:
    """Asks the database of ``engine`` from ``start`` to ``stop``; ``hangs`` tells what it found."""

    def __init__(self, engine: Engine, connect_args: dict[str, Any]) -> None:
        self.hangs = False
        self._connections: weakref.WeakSet[Any] = weakref.WeakSet()
        self._lock = threading.Lock()
        self._over = threading.Event()
        self._thread: threading.Thread | None = None
        self._asking = create_engine(
            engine.url,
            pool_size=1,
            connect_args=connect_args | {"read_timeout": ANSWER_WITHIN_S, "write_timeout": ANSWER_WITHIN_S},
        )
        event.listen(engine, "do_connect", self._connect)

    def start(self) -> None:
        if self._thread is None:
            self._over.clear()
            self._thread = threading.Thread(target=self._run, name="watch", daemon=True)
            self._thread.start()

    def stop(self) -> None:
        self._over.set()
        if self._thread is not None:
            self._thread.join(ANSWER_WITHIN_S + 1)
            self._thread = None
        self._asking.dispose()

    def _connect(self, dialect: Any, _: Any, args: tuple[Any, ...], named: dict[str, Any]) -> Any:
        """Connect; only the greeting of the server is waited for with a limit, and not at all while it hangs."""
        if self.hangs:
            raise dialect.loaded_dbapi.OperationalError(HANGS, "The database does not answer.")
        made = dialect.connect(*args, **{**named, "read_timeout": ANSWER_WITHIN_S})
        made._read_timeout = named.get("read_timeout")  # as the address of an own database may ask for
        with self._lock:
            self._connections.add(made)
        return made

    def _run(self) -> None:
        while not self._over.wait(ASK_EVERY_S):
            hangs = self._is_silent()
            if hangs and not self.hangs:
                log.warning("The database does not answer; requests that wait for it are ended.")
            self.hangs = hangs
            if hangs:
                self._free_who_waits()

    def _is_silent(self) -> bool:
        """Whether it is there and says nothing; one that is gone says so to everybody by itself."""
        try:
            with self._asking.connect() as connection:
                connection.execute(text("select 1"))
        except DBAPIError as error:
            return (
                isinstance(error.orig.__cause__ or error.orig.__context__, TimeoutError)
                if error.orig
                else False
            )
        return False

    def _free_who_waits(self) -> None:
        with self._lock:
            connections = list(self._connections)
        for connection in connections:
            try:
                connection._sock.shutdown(socket.SHUT_RDWR)
            except (OSError, AttributeError):
                continue  # closed already
