"""Values of many texts changed at once, with what they were before.

A change is a frame of text_id, before and after in the stored form of its field: ids of sources and
categories, days since 1970, numbers, text; lists of ids where there are several.
"""

from __future__ import annotations

import io
import tempfile
from collections.abc import Sequence
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import text as sql
from sqlalchemy.engine import Connection
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict
from winnower.store.bulk import insert_frame
from winnower.store.fields import FIXED, overlay_path, touch, write_overlay
from winnower.store.models import FieldRevision, Project, TextValue
from winnower.store.opened import OpenCorpus
from winnower.store.parts import BASE_SCHEMA, KIND_TYPES

_COLUMN = {"title": "title", "source": "source_id", "date": "date"}
_VALUE = {
    "category": "category_id",
    "several": "category_id",
    "number": "number",
    "date": "day",
    "text": "string",
}


def field_type(corpus: OpenCorpus, field: str) -> pl.DataType:
    return BASE_SCHEMA[field] if field in FIXED else KIND_TYPES[corpus.kinds[field]]


def changed(
    corpus: OpenCorpus, field: str, places: np.ndarray, values: Sequence[Any] | pl.Series
) -> pl.DataFrame:
    """The change that gives the texts at ``places`` these values; rows that stay as they are left out."""
    dtype = field_type(corpus, field)
    after = values if isinstance(values, pl.Series) else pl.Series(values, dtype=dtype, strict=False)
    frame = pl.DataFrame(
        {
            "text_id": corpus.columns.text_id[places],
            "before": corpus.raw[field].gather(places),
            "after": after.cast(dtype),
        }
    )
    if isinstance(dtype, pl.List):  # an empty list and none are the same
        frame = frame.with_columns(
            pl.when(pl.col(name).list.len() > 0).then(pl.col(name)).otherwise(None).alias(name)
            for name in ("before", "after")
        )
    return frame.filter(pl.col("before").ne_missing(pl.col("after")))


def apply_change(
    session: Session, project: Project, corpus: OpenCorpus, field: str, change: pl.DataFrame
) -> None:
    """Store a change and note the field as changed. Raises Conflict where a text is not as before.

    ``corpus`` must be the project's at its present revisions, and the project's row locked.
    """
    if not len(change):
        return
    places = corpus.places_of(change["text_id"].to_numpy())
    if (places < 0).any():
        raise Conflict("Some of these texts are no longer in the project. Nothing was changed.")
    now = corpus.raw[field].gather(places)
    stale = now.to_frame("now").with_columns(change["before"]).filter(_differ("now", "before"))
    if len(stale):
        raise Conflict("Some of these values were changed by somebody else since. Nothing was changed.")
    if field in FIXED:
        _store_fixed(session.connection(), field, change)
    else:
        _store_values(session, int(field[1:]), corpus.kinds[field], change)
    touch(session, project, field)
    revision = session.get_one(FieldRevision, (project.id, field)).revision
    write_overlay(
        overlay_path(corpus.folder, field, project.corpus_revision, revision),
        scattered(corpus.raw[field], places, change["after"]),
    )


def _differ(first: str, second: str) -> pl.Expr:
    return pl.col(first).ne_missing(pl.col(second))


def scattered(column: pl.Series, places: np.ndarray, values: pl.Series) -> pl.Series:
    """The column with new values at these places."""
    if not isinstance(column.dtype, pl.List) and column.dtype != pl.String:
        return column.clone().scatter(pl.Series(places), values)
    pick = np.arange(len(column))
    pick[places] = len(column) + np.arange(len(places))
    return pl.concat([column.alias("value"), values.cast(column.dtype).alias("value")]).gather(pick)


def _temporary(connection: Connection, frame: pl.DataFrame, kind: str) -> None:
    """The texts of a change, with their new value where the statement needs it, as a temporary table."""
    connection.exec_driver_sql("drop temporary table if exists changed_text")
    connection.exec_driver_sql(
        f"create temporary table changed_text (text_id bigint primary key, value {kind}) "
        "character set utf8mb4 collate utf8mb4_bin"
    )
    if not connection.info.get("no_load_data"):
        with tempfile.NamedTemporaryFile(suffix=".csv") as file:
            frame.write_csv(file.name, include_header=False, quote_style="non_numeric", null_value="NULL")
            connection.execute(
                sql(
                    f"load data local infile '{file.name}' into table changed_text character set utf8mb4 "
                    "fields terminated by ',' optionally enclosed by '\"' escaped by '' lines terminated by '\\n'"
                )
            )
        return
    connection.execute(
        sql("insert into changed_text values (:text_id, :value)"),
        frame.rename({frame.columns[1]: "value"}).to_dicts(),
    )


def _store_fixed(connection: Connection, field: str, change: pl.DataFrame) -> None:
    kind = {"title": "varchar(500)", "source": "bigint", "date": "date"}[field]
    values = change.select("text_id", pl.col("after").cast(pl.Date) if field == "date" else pl.col("after"))
    _temporary(connection, values, kind)
    connection.exec_driver_sql(
        f"update text join changed_text c on c.text_id = text.id set text.`{_COLUMN[field]}` = c.value"
    )
    connection.exec_driver_sql("drop temporary table changed_text")


def _store_values(session: Session, variable_id: int, kind: str, change: pl.DataFrame) -> None:
    connection = session.connection()
    _temporary(connection, change.select("text_id", pl.lit(None, pl.Int64).alias("value")), "bigint")
    connection.exec_driver_sql(
        "delete v from text_value v join changed_text c on c.text_id = v.text_id where v.variable_id = %s",
        (variable_id,),
    )
    connection.exec_driver_sql("drop temporary table changed_text")
    insert_frame(session, TextValue, value_rows(change.select("text_id", value="after"), variable_id, kind))


def value_rows(frame: pl.DataFrame, variable_id: int, kind: str) -> pl.DataFrame:
    """Rows of the narrow table from text_id and value in stored form."""
    frame = frame.drop_nulls("value")
    seq = pl.lit(0, pl.Int16).alias("seq")
    if kind == "several":
        frame = frame.with_columns(
            pl.int_ranges(pl.col("value").list.len()).cast(pl.List(pl.Int16)).alias("seq")
        ).explode("value", "seq")
        seq = pl.col("seq")
    value = pl.col("value").cast(pl.Date) if kind == "date" else pl.col("value")
    return frame.select("text_id", pl.lit(variable_id).alias("variable_id"), seq, value.alias(_VALUE[kind]))


def packed(field: str, change: pl.DataFrame) -> bytes:
    """A change as it is kept with its command."""
    out = io.BytesIO()
    change.with_columns(pl.lit(field).alias("field")).write_ipc(out, compression="zstd")
    return out.getvalue()


def unpacked(data: bytes) -> tuple[str, pl.DataFrame]:
    frame = pl.read_ipc(io.BytesIO(data))
    return frame["field"][0], frame.drop("field")


def turned(change: pl.DataFrame) -> pl.DataFrame:
    """The change that takes this one back."""
    return change.select("text_id", before="after", after="before")
