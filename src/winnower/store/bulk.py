"""Many rows at once.

LOAD DATA takes rows about three times as fast as multi-row inserts (bench/import_texts.py); where a
server does not allow it, the inserts are used.
"""

from __future__ import annotations

import tempfile
from collections.abc import Collection, Iterator, Sequence
from contextlib import contextmanager
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import insert, select
from sqlalchemy import text as sql
from sqlalchemy.engine import Connection
from sqlalchemy.exc import DBAPIError, PendingRollbackError
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict
from winnower.store.models import Base

_NOT_ALLOWED = {1148, 3948, 4166, 1045, 2068}
_NULL = "NULL"
ROWS_AT_ONCE = 2_000


def insert_frame(session: Session, model: type[Base], frame: pl.DataFrame) -> None:
    """Insert a frame whose columns are named as the table's; 16-byte hashes stand as hex text.

    Text cells of any content are safe; null stands for NULL.
    """
    if not len(frame):
        return
    connection = session.connection()
    if connection.info.get("no_load_data"):
        _insert(connection, model, frame)
        return
    try:
        with session.begin_nested():
            _load(connection, model, frame)
    except DBAPIError as error:
        if not error.orig or error.orig.args[0] not in _NOT_ALLOWED:
            raise
        connection.info["no_load_data"] = True
        _insert(connection, model, frame)


@contextmanager
def parents_locked(session: Session, parents: Sequence[tuple[type[Base], Collection[int]]]) -> Iterator[None]:
    """For rows of which all parents are known: these are looked up and locked once, instead of for each row that is
    inserted meanwhile. Raises Conflict where one is gone."""
    for model, ids in parents:
        key = model.__table__.c.id
        for part in chunks(sorted(ids), ROWS_AT_ONCE):
            found = session.scalars(select(key).where(key.in_(part)).with_for_update(read=True)).all()
            if len(found) < len(part):
                raise Conflict("Something this delivery belongs to was removed in the meantime.")
    session.execute(sql("set foreign_key_checks = 0"))
    try:
        yield
    finally:
        try:
            session.execute(sql("set foreign_key_checks = 1"))
        except (DBAPIError, PendingRollbackError):  # nobody may get this connection without its checks
            session.invalidate()


def _load(connection: Connection, model: type[Base], frame: pl.DataFrame) -> None:
    """Fields in double quotes, quotes doubled, no escapes; an unquoted NULL is NULL."""
    targets, sets = [], []
    for name in frame.columns:
        if _is_hash(model, name):
            targets.append(f"@{name}")
            sets.append(f"`{name}` = unhex(@{name})")
        else:
            targets.append(f"`{name}`")
    with tempfile.NamedTemporaryFile(suffix=".csv") as file:
        frame.write_csv(
            file.name, include_header=False, quote_style="non_numeric", null_value=_NULL, separator=","
        )
        connection.execute(
            sql(
                f"load data local infile '{file.name}' into table `{model.__tablename__}` "
                "character set utf8mb4 fields terminated by ',' optionally enclosed by '\"' "
                "escaped by '' lines terminated by '\\n' "
                f"({', '.join(targets)})" + (f" set {', '.join(sets)}" if sets else "")
            )
        )


def _is_hash(model: type[Base], name: str) -> bool:
    return getattr(model.__table__.c[name].type, "length", None) == 16


def _insert(connection: Connection, model: type[Base], frame: pl.DataFrame) -> None:
    hashes = [name for name in frame.columns if _is_hash(model, name)]
    for part in frame.iter_slices(ROWS_AT_ONCE):
        rows = part.to_dicts()
        for row in rows:
            row.update({name: bytes.fromhex(row[name]) for name in hashes})
        connection.execute(insert(model), rows)


def take_ids(session: Session, series: str, count: int) -> int:
    """The first of ``count`` numbers in a row that nobody else gets."""
    session.execute(sql("insert ignore into id_block (name, next) values (:name, 1)"), {"name": series})
    session.execute(
        sql("update id_block set next = last_insert_id(next) + :n where name = :name"),
        {"n": count, "name": series},
    )
    return int(session.execute(sql("select last_insert_id()")).scalar_one())


def chunks(values: Sequence[Any] | np.ndarray, size: int) -> Iterator[Any]:
    """Stretches of at most ``size``."""
    for low in range(0, len(values), size):
        yield values[low : low + size]


__all__ = ["chunks", "insert_frame", "parents_locked", "take_ids"]
