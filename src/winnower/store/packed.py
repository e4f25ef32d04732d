"""Many rows changed at once, kept as columns: what they were before, and what they are after.

A change of one row is a step of a command in plain values (store/history.py); a change of very many is a
frame before and a frame after, in Arrow's format, compressed. It is carried out, taken back and checked
by a few statements, whatever the number of rows. New rows have their ids in a row: a sum over that range (``seal``)
tells at once whether they are as they were made; where it differs, a temporary table tells which are not.
"""

from __future__ import annotations

import datetime as dt
import io
import tempfile
from dataclasses import dataclass
from typing import Any

import orjson
import polars as pl
from sqlalchemy import BigInteger, Column, DateTime, Float, Integer, LargeBinary, SmallInteger, Table, select
from sqlalchemy import text as sql
from sqlalchemy.engine import Connection
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict
from winnower.store.models import Base

#: Columns that may differ from what was kept, since other changes count them on.
UNCOMPARED = {"revision", "made_at"}
ROWS_AT_ONCE = 50_000
_TEMPORARY = "changed_row"


@dataclass(frozen=True)
class RowChange:
    """Rows of a table by ``id``. Without ``before`` they are new, without ``after`` they are gone; else both
    hold the same ids in the same order, and only the columns that change beside them."""

    table: str
    before: pl.DataFrame | None
    after: pl.DataFrame | None

    @property
    def rows(self) -> int:
        frame = self.after if self.after is not None else self.before
        return 0 if frame is None else len(frame)

    def turned(self) -> RowChange:
        """The change that takes this one back."""
        return RowChange(self.table, self.after, self.before)

    def packed(self) -> bytes:
        """As it is kept: the table's name and both frames, each with its length before it."""
        out = io.BytesIO()
        for part in (self.table.encode(), _ipc(self.before), _ipc(self.after)):
            out.write(len(part).to_bytes(8, "little"))
            out.write(part)
        return out.getvalue()

    @classmethod
    def unpacked(cls, data: bytes) -> RowChange:
        parts, at = [], 0
        for _ in range(3):
            size = int.from_bytes(data[at : at + 8], "little")
            parts.append(data[at + 8 : at + 8 + size])
            at += 8 + size
        return cls(parts[0].decode(), _frame(parts[1]), _frame(parts[2]))


def _ipc(frame: pl.DataFrame | None) -> bytes:
    if frame is None:
        return b""
    out = io.BytesIO()
    frame.write_ipc(out, compression="zstd")
    return out.getvalue()


def _frame(data: bytes) -> pl.DataFrame | None:
    return pl.read_ipc(io.BytesIO(data)) if data else None


def stored_columns(model: type[Base]) -> list[Column[Any]]:
    """The columns of a table that are written; those the database computes are left out."""
    table = model.__table__
    assert isinstance(table, Table)
    return [column for column in table.columns if column.computed is None]


def dtype_of(column: Column[Any]) -> pl.DataType:
    """How a column stands in a frame: whole numbers, numbers, else text (times in ISO form, bytes in hex)."""
    if isinstance(column.type, (BigInteger, Integer, SmallInteger)):
        return pl.Int64()
    if isinstance(column.type, Float):
        return pl.Float64()
    return pl.String()


def frame_of(model: type[Base], rows: list[dict[str, Any]]) -> pl.DataFrame:
    """Rows in plain values (see history.plain) as a frame with all columns of their table."""
    columns = {}
    for column in stored_columns(model):
        values = [row[column.name] for row in rows]
        if any(isinstance(value, (dict, list)) for value in values):
            values = [None if value is None else orjson.dumps(value).decode() for value in values]
        columns[column.name] = pl.Series(values, dtype=dtype_of(column), strict=False)
    return pl.DataFrame(columns)


def rows_of(session: Session, model: type[Base], ids: pl.Series) -> pl.DataFrame:
    """The rows of a table as a frame, in the order of their ids; read some at a time."""
    columns = stored_columns(model)
    parts = []
    for part in ids.unique().sort().to_frame("id").iter_slices(ROWS_AT_ONCE):
        key = model.__table__.c.id
        asked = select(*columns).where(key.in_(part["id"].to_list())).order_by(key)
        found = [[_plain(value) for value in row] for row in session.execute(asked)]
        schema = {column.name: dtype_of(column) for column in columns}
        parts.append(pl.DataFrame(found, schema=schema, orient="row"))
    return pl.concat(parts) if parts else pl.DataFrame(schema={c.name: dtype_of(c) for c in columns})


def _plain(value: Any) -> Any:
    if isinstance(value, (dt.datetime, dt.date)):
        return value.isoformat()
    if isinstance(value, bytes):
        return value.hex()
    if isinstance(value, (dict, list)):
        return orjson.dumps(value).decode()
    return int(value) if isinstance(value, bool) else value


def seal(session: Session, model: type[Base], rows: pl.DataFrame) -> str | None:
    """What tells whether rows whose ids are in a row are still as they are now; None for others."""
    ends = _ends(rows["id"])
    if ends is None:
        return None
    session.flush()
    cells = ", ".join(f"coalesce(`{column.name}`, '')" for column in _compared(model))
    line = f"concat_ws('\x1f', {cells})"
    asked = (
        f"select count(*), sum(crc32({line})), bit_xor(crc32(reverse({line}))) "
        f"from `{model.__tablename__}` where id between %s and %s"
    )
    return " ".join(str(one) for one in session.connection().exec_driver_sql(asked, ends).one())


def _ends(ids: pl.Series) -> tuple[int, int] | None:
    """The first and the last of ids that are in a row, None where they are not."""
    if not len(ids):
        return None
    numbers = ids.to_numpy()
    low, high = int(numbers.min()), int(numbers.max())
    return (low, high) if high - low + 1 == len(ids) == ids.n_unique() else None


def _compared(model: type[Base]) -> list[Column[Any]]:
    """Columns that say whether a row is as it was; JSON is not compared."""
    return [
        column
        for column in stored_columns(model)
        if column.name not in UNCOMPARED and column.type.python_type not in (dict, list)
    ]


def carry_out(
    session: Session,
    model: type[Base],
    change: RowChange,
    *,
    just_read: bool = False,
    sealed: str | None = None,
) -> None:
    """Turn the rows from ``before`` into ``after``. Raises Conflict where they are no longer as ``before``, which
    those that were ``just_read`` in this transaction are, and those whose seal is ``sealed``."""
    connection, name = session.connection(), model.__tablename__
    session.flush()
    if change.after is None and change.before is not None:
        ends = _ends(change.before["id"])
        if ends and (just_read or (sealed and seal(session, model, change.before) == sealed)):
            connection.exec_driver_sql(f"delete from `{name}` where id between %s and %s", ends)
            session.expire_all()
            return
    if change.before is None and change.after is not None:
        _load(connection, model, name, change.after.sort("id"))
        session.expire_all()
        return
    if change.before is not None and just_read:
        if change.after is None:
            _temporary(connection, model, change.before.select("id"))
    elif change.before is not None:
        _temporary(connection, model, change.before)
        alike = _alike(connection, model, change.before.columns)
        if alike != change.rows:
            raise Conflict(
                f"{change.rows - alike:,} of {change.rows:,} entries were changed by somebody else since"
            )
    if change.after is None:
        connection.exec_driver_sql(f"delete t from `{name}` t join {_TEMPORARY} c on c.id = t.id")
    else:
        _temporary(connection, model, change.after)
        sets = ", ".join(f"t.`{column}` = c.`{column}`" for column in change.after.columns if column != "id")
        if "revision" in model.__table__.c and "revision" not in change.after.columns:
            sets += ", t.revision = t.revision + 1"  # who saw the row before must not write over this
        connection.exec_driver_sql(f"update `{name}` t join {_TEMPORARY} c on c.id = t.id set {sets}")
    connection.exec_driver_sql(f"drop temporary table if exists {_TEMPORARY}")
    session.expire_all()


def insert_numbered(session: Session, model: type[Base], frame: pl.DataFrame) -> pl.DataFrame:
    """Insert rows that have no ids yet; the same frame with the ids they got, in its order.

    A bulk insert takes its numbers in a row (innodb_autoinc_lock_mode 1, the default).
    """
    connection, name = session.connection(), model.__tablename__
    session.flush()
    if not len(frame):
        return frame.with_columns(id=pl.lit(0, pl.Int64)).select("id", *frame.columns)
    if connection.info.get("no_load_data"):  # then only what is taken from a table is one insert
        _temporary(connection, model, frame.with_row_index("id", 1).cast({"id": pl.Int64}))
        listed = ", ".join(f"`{column}`" for column in frame.columns)
        connection.exec_driver_sql(
            f"insert into `{name}` ({listed}) select {listed} from {_TEMPORARY} order by id"
        )
        connection.exec_driver_sql(f"drop temporary table if exists {_TEMPORARY}")
    else:
        _load(connection, model, name, frame)
    first = int(connection.exec_driver_sql("select last_insert_id()").scalar_one())
    return frame.with_row_index("id", first).cast({"id": pl.Int64})


def _alike(connection: Connection, model: type[Base], columns: list[str]) -> int:
    """How many rows of the temporary table are in the real one as they are there; JSON is not compared."""
    compared = [column.name for column in _compared(model) if column.name in columns]
    same = " and ".join(f"t.`{name}` <=> c.`{name}`" for name in compared)
    counted = (
        f"select count(*) from `{model.__tablename__}` t join {_TEMPORARY} c on c.id = t.id where {same}"
    )
    return int(connection.exec_driver_sql(counted).scalar_one())


def _temporary(connection: Connection, model: type[Base], frame: pl.DataFrame) -> None:
    """The frame as a temporary table with the columns of the real one, by id."""
    listed = ", ".join(f"`{column}`" for column in frame.columns)
    connection.exec_driver_sql(f"drop temporary table if exists {_TEMPORARY}")
    connection.exec_driver_sql(
        f"create temporary table {_TEMPORARY} (primary key (id)) "
        f"as select {listed} from `{model.__tablename__}` limit 0"
    )
    _load(connection, model, _TEMPORARY, frame)


def _load(connection: Connection, model: type[Base], into: str, frame: pl.DataFrame) -> None:
    """Rows into a table with the columns of a model, in their order."""
    binary = [name for name in frame.columns if isinstance(model.__table__.c[name].type, LargeBinary)]
    if connection.info.get("no_load_data"):
        _insert(connection, into, frame, binary)
        return
    targets = ", ".join(f"@{name}" if name in binary else f"`{name}`" for name in frame.columns)
    sets = ", ".join(f"`{name}` = unhex(@{name})" for name in binary)
    with tempfile.NamedTemporaryFile(suffix=".csv") as file:
        frame.write_csv(file.name, include_header=False, quote_style="non_numeric", null_value="NULL")
        connection.execute(
            sql(
                f"load data local infile '{file.name}' into table `{into}` character set utf8mb4 "
                "fields terminated by ',' optionally enclosed by '\"' escaped by '' lines terminated by '\\n' "
                f"({targets})" + (f" set {sets}" if sets else "")
            )
        )


def _insert(connection: Connection, into: str, frame: pl.DataFrame, binary: list[str]) -> None:
    listed = ", ".join(f"`{name}`" for name in frame.columns)
    values = ", ".join(f"unhex(:{name})" if name in binary else f":{name}" for name in frame.columns)
    statement = sql(f"insert into `{into}` ({listed}) values ({values})")
    for part in frame.iter_slices(ROWS_AT_ONCE):
        connection.execute(statement, part.to_dicts())


def with_defaults(model: type[Base], frame: pl.DataFrame) -> pl.DataFrame:
    """The frame with the columns the database would fill in, so that what is kept says all of a row."""
    now = dt.datetime.now(dt.UTC).replace(tzinfo=None).isoformat(sep=" ")
    missing = []
    for column in stored_columns(model):
        if column.name in frame.columns or column.name == "id":
            continue
        usual: Any = None
        if isinstance(column.type, DateTime) or column.type.python_type is dt.datetime:
            usual = now if not column.nullable else None
        elif column.server_default is not None:
            usual = str(getattr(column.server_default, "arg", "")).strip("'")
        missing.append(pl.lit(usual).cast(dtype_of(column)).alias(column.name))
    return frame.with_columns(missing)
