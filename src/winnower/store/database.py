"""Engine, sessions and schema."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sqlalchemy import Engine, create_engine, event, make_url
from sqlalchemy.exc import DBAPIError, IntegrityError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from sqlalchemy.orm import Session, sessionmaker

from winnower.core.errors import DiskFull, Unavailable
from winnower.store.ballast import is_low
from winnower.store.disk_space import disk_full
from winnower.store.watch import Watch

if TYPE_CHECKING:
    from alembic.config import Config

__all__ = [
    "AWAY",
    "Database",
    "DatabaseRefused",
    "RowRefused",
    "Session",
    "alembic_config",
    "is_away",
    "is_busy",
    "is_crossed",
    "is_passing",
    "is_without_room",
]

#: What the database says when it is away, or refuses a row or a statement; ``is_away`` tells which.
AWAY = (OperationalError, InterfaceError)
DatabaseRefused = DBAPIError
RowRefused = IntegrityError
#: A lock was waited for too long, or two transactions wanted each other's rows: tried again, it works.
_BUSY = {1205, 1213, 1020}
_CROSSED = {1213, 1020}
#: Seconds a statement waits for a row.
LOCK_WAIT_S = 8
#: Seconds a transaction that has written may do nothing before the database ends it.
LONGEST_PAUSE_S = 120
STARTING = "The database is starting. Nothing was changed; try again in a few seconds."
FULL = (
    "The disk with the database is full. Nothing was changed. Make room on it and try again; reading goes on."
)
NOT_THERE = "The database does not answer. Nothing was changed; try again in a moment."
FELL_SILENT = (
    "The database fell silent in the middle of this. Look whether the change is there before you do it again."
)
#: A table or a temporary file cannot grow: the disk is full.
_NO_ROOM = {1021, 1114}
_NO_ROOM_WORDS = ("No space left", "errno: 28", "Got error 28", "Errcode: 28")
_UNFIT = {1264, 1366, 1406, 1292, 1690, 4025}
#: No socket there, nobody at it, or an end on its way.
_NOBODY_LISTENS = {2002, 2003, 1053}
_AWAY = {1040, 1053, 1077, 1927, 2002, 2003, 2006, 2013, 2014, 2055, 4111}


class Database:
    """A MariaDB by its address."""

    def __init__(self, url: str) -> None:
        self.url = url
        connect_args = {
            "connect_timeout": 5,
            # preparing TLS costs 20 ms a connection, and a socket of this machine has no use for it
            "ssl_disabled": "unix_socket" in make_url(url).query,
            # nobody waits long for rows that somebody else is changing, and who is paused in the middle of
            # a change does not hold them for good
            "init_command": f"set time_zone = '+00:00', innodb_lock_wait_timeout = {LOCK_WAIT_S}, "
            f"idle_write_transaction_timeout = {LONGEST_PAUSE_S}",
        }
        self.engine: Engine = create_engine(
            url,
            # a transaction that waited for a lock must see what was committed in the meantime
            isolation_level="READ COMMITTED",
            pool_pre_ping=True,
            # what goes beyond the pool's size is connected anew for every request
            pool_size=20,
            max_overflow=30,
            pool_timeout=5,
            connect_args=connect_args,
        )
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)
        #: Where the files of an own database lie; None for another one.
        self._home = _home_of(url)
        if self._home is not None:
            event.listen(self._sessions, "before_flush", self._require_room)
        self.watch = Watch(self.engine, connect_args)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A session that commits at its end, or rolls back. Raises Unavailable where it is away."""
        if self.watch.hangs:
            raise Unavailable(NOT_THERE)
        try:
            with self._sessions() as session, session.begin():
                yield session
        except PoolTimeout as error:
            raise Unavailable(
                "Very much is asked of the database just now. Try again in a moment."
            ) from error
        except (OperationalError, InterfaceError) as error:
            if is_away(error):
                raise Unavailable(FELL_SILENT if self.watch.hangs else self._why_away(error)) from error
            if is_without_room(error):
                raise DiskFull(FULL) from error
            raise

    def _require_room(self, session: Session, *_: object) -> None:
        """Refuse changes while the disk has room only for signing in and the like: a database that runs into its end
        dies of it. Raises DiskFull."""
        assert self._home is not None
        if is_low(self._home):
            rows = [*session.new, *session.dirty, *session.deleted]
            if any(not getattr(row, "goes_on_without_room", False) for row in rows):
                raise disk_full(self._home)

    def _why_away(self, error: DBAPIError) -> str:
        """An own database whose socket nobody listens at is being started again."""
        return STARTING if self._home and _number(error) in _NOBODY_LISTENS else NOT_THERE

    def migrate(self) -> None:
        """Bring the schema to the newest revision."""
        from alembic import command

        with self.session() as session:
            config = alembic_config()
            config.attributes["connection"] = session.connection()
            command.upgrade(config, "head")

    def close(self) -> None:
        self.watch.stop()
        self.engine.dispose()


def _home_of(url: str) -> Path | None:
    """The folder of an own database, where that can be told from its address (see store/server.py)."""
    socket = make_url(url).query.get("unix_socket")
    home = Path(str(socket)).parent if socket else None
    return home if home and (home / "files").is_dir() else None


def _number(error: DBAPIError) -> int:
    args: tuple[Any, ...] = getattr(error.orig, "args", ())
    return int(args[0]) if args and isinstance(args[0], int) else 0


def is_away(error: DBAPIError) -> bool:
    """Whether a database error says that the server is not there."""
    args: tuple[Any, ...] = getattr(error.orig, "args", ())
    return bool(error.connection_invalidated) or (bool(args) and args[0] in _AWAY | {0})


def is_busy(error: DBAPIError) -> bool:
    """Whether a statement was refused only because others were at the same rows."""
    args: tuple[Any, ...] = getattr(error.orig, "args", ())
    return bool(args) and args[0] in _BUSY


def is_crossed(error: DBAPIError) -> bool:
    """Whether two transactions wanted each other's rows: the same, done again at once, works."""
    args: tuple[Any, ...] = getattr(error.orig, "args", ())
    return bool(args) and args[0] in _CROSSED


def is_without_room(error: DBAPIError) -> bool:
    """Whether the disk of the database is full."""
    args: tuple[Any, ...] = getattr(error.orig, "args", ())
    return bool(args) and (args[0] in _NO_ROOM or any(word in str(args[-1]) for word in _NO_ROOM_WORDS))


def is_unfit(error: DBAPIError) -> bool:
    """Whether a value was refused as too large, too long or of another kind than its column."""
    args: tuple[Any, ...] = getattr(error.orig, "args", ())
    return bool(args) and args[0] in _UNFIT


def is_passing(error: DBAPIError) -> bool:
    """Whether the same will work when it is tried again."""
    return is_away(error) or is_busy(error)


def alembic_config() -> Config:
    from alembic.config import Config  # loaded where the schema is brought up only

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    return config
