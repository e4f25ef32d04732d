"""Fields of texts that were changed since the index parts were written.

Values belong to the database; the columns a corpus is counted with are a copy. A part's columns.arrow
holds them as they were when the part was written. For a field changed since, field_revision counts
how often, and

    index/<project>/field-<key>-<corpus revision>-<field revision>.arrow

holds its whole column, in the order of the texts. Where that file is missing it is made again from
the database. When parts are written anew (store/reindex.py) the changed columns go into them and the
counts begin again.
"""

from __future__ import annotations

import datetime as dt
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from winnower.core.derived_file import keep_derived
from winnower.store.models import FieldRevision, Project, TextRow, TextValue
from winnower.store.parts import BASE_SCHEMA, KIND_TYPES

FIXED = ("title", "source", "date")
_EPOCH = dt.date(1970, 1, 1)
_VALUE = {
    "category": "category_id",
    "several": "category_id",
    "number": "number",
    "date": "day",
    "text": "string",
}


def lock_project(session: Session, project: Project) -> None:
    """Hold the project's row until the end of the transaction: changes of values go one by one."""
    session.refresh(project, with_for_update=True)


def field_revisions(session: Session, project_id: int) -> dict[str, int]:
    rows = select(FieldRevision.field, FieldRevision.revision).where(FieldRevision.project_id == project_id)
    return {field: revision for field, revision in session.execute(rows)}


def touch(session: Session, project: Project, *fields: str) -> None:
    """Note that fields (or, without any, labels and rules) changed."""
    project.values_revision += 1
    for field in fields:
        found = session.get(FieldRevision, (project.id, field))
        if found is None:
            session.add(FieldRevision(project_id=project.id, field=field, revision=1))
        else:
            found.revision += 1
    session.flush()


def settle(session: Session, project: Project) -> None:
    """All changed columns are in the parts now."""
    session.execute(delete(FieldRevision).where(FieldRevision.project_id == project.id))
    session.execute(
        update(Project).where(Project.id == project.id).values(values_revision=Project.values_revision + 1)
    )
    session.refresh(project)


def overlay_path(folder: Path, field: str, corpus_revision: int, revision: int) -> Path:
    return folder / f"field-{field}-{corpus_revision}-{revision}.arrow"


def write_overlay(path: Path, values: pl.Series) -> None:
    """Keep a column; what is not there is made again from the database."""
    frame = values.alias("value").to_frame()
    keep_derived(path, lambda draft: frame.write_ipc(draft, compression="uncompressed"))


def read_overlay(path: Path, kind: pl.DataType, length: int) -> pl.Series | None:
    try:
        values = pl.read_ipc(path)["value"]
    except (OSError, pl.exceptions.PolarsError):
        return None
    return values if values.dtype == kind and len(values) == length else None


def column_from_database(
    session: Session, project_id: int, field: str, kind: str | None, text_id: np.ndarray
) -> pl.Series:
    """A field of all texts in the order of ``text_id``; ``kind`` for variables, None for fixed fields."""
    if kind is None:
        column = {"title": TextRow.title, "source": TextRow.source_id, "date": TextRow.date}[field]
        dtype = BASE_SCHEMA[field]
        rows = session.execute(select(TextRow.id, column).where(TextRow.project_id == project_id)).all()
    else:
        dtype = KIND_TYPES[kind]
        rows = session.execute(
            select(TextValue.text_id, getattr(TextValue, _VALUE[kind]))
            .where(TextValue.variable_id == int(field[1:]))
            .order_by(TextValue.text_id, TextValue.seq)
        ).all()
    values: list[Any] = [row[1] for row in rows]
    if kind == "date" or field == "date":
        values = [None if day is None else (day - _EPOCH).days for day in values]
    inner = dtype.inner if isinstance(dtype, pl.List) else dtype
    found = pl.DataFrame(
        {"text_id": [row[0] for row in rows], "value": values}, schema={"text_id": pl.Int64(), "value": inner}
    )
    if kind == "several":
        found = found.group_by("text_id", maintain_order=True).agg(pl.col("value"))
    whole = pl.DataFrame({"text_id": np.asarray(text_id, np.int64)})
    return (
        whole.join(found, on="text_id", how="left", maintain_order="left")["value"].cast(dtype).alias(field)
    )
