"""Make the derived files of a project again from the database."""

from __future__ import annotations

import datetime as dt
import fcntl
import uuid
from collections import defaultdict
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.index import build_segment
from winnower.store.models import Delivery, Job, Project, TextBody, TextRow, TextValue, Variable
from winnower.store.parts import (
    BASE_SCHEMA,
    KIND_TYPES,
    join_parts,
    read_manifest,
    tidy,
    write_columns,
    write_manifest,
)

TEXTS_AT_ONCE = 20_000
CHARS_AT_ONCE = 8_000_000
_EPOCH = dt.date(1970, 1, 1)


def rebuild(
    session: Session, project: Project, folder: Path, damaged: Sequence[str] | None = None
) -> list[str]:
    """Build all parts of the project's finished deliveries; the names of the parts, in order.

    One at a time, whatever the number of processes: who waited takes what was built meanwhile, unless that
    is what was found ``damaged``.
    """
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / "rebuild.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        present = read_manifest(folder, project.corpus_revision)
        if present is not None and damaged is not None and present != list(damaged):
            return present
        prefix = f"r{project.corpus_revision}-{uuid.uuid4().hex[:8]}"
        names = _parts(session, project, folder, f"{prefix}-part")
        joined = join_parts(folder, f"{prefix}-join", names)
        write_manifest(folder, project.corpus_revision, joined)
        tidy(folder, project.corpus_revision, joined, parts_at_work(session, project.id))
        return joined


def parts_at_work(session: Session, project_id: int) -> tuple[str, ...]:
    """How the names of index parts begin that imports on their way are making."""
    at_work = select(Job.id).where(Job.project_id == project_id, Job.state.in_(("queued", "running")))
    return tuple(f"job{number}-" for number in session.scalars(at_work))


def texts_of(session: Session, project_id: int) -> int:
    """How many texts the project's finished deliveries hold."""
    counted = (
        select(func.count())
        .select_from(TextRow)
        .join(Delivery, Delivery.id == TextRow.delivery_id)
        .where(TextRow.project_id == project_id, Delivery.state == "done")
    )
    return session.scalar(counted) or 0


def parts_of_delivery(
    session: Session, project: Project, folder: Path, delivery_id: int, prefix: str
) -> list[str]:
    """Build parts of the texts of one delivery; their names."""
    return _parts(session, project, folder, prefix, delivery_id)


def _parts(
    session: Session, project: Project, folder: Path, prefix: str, delivery_id: int | None = None
) -> list[str]:
    names: list[str] = []
    variables = [
        v for v in session.scalars(select(Variable).where(Variable.project_id == project.id)) if not v.rule
    ]
    for rows in _blocks(session, project, delivery_id):
        name = f"{prefix}-{len(names):04d}"
        build_segment(folder / name, [row.id for row in rows], [row.body for row in rows])
        write_columns(folder / name, _columns(session, rows, variables))
        names.append(name)
    return names


def _blocks(session: Session, project: Project, delivery_id: int | None = None) -> Iterator[Any]:
    """Texts with bodies in the order of their ids, some at a time."""
    of_delivery = () if delivery_id is None else (TextRow.delivery_id == delivery_id,)
    after = 0
    while True:
        rows, chars = [], 0
        found = session.execute(
            select(TextRow.id, TextRow.title, TextRow.source_id, TextRow.date, TextBody.body)
            .join(TextBody, TextBody.text_id == TextRow.id)
            .join(Delivery, Delivery.id == TextRow.delivery_id)
            .where(
                TextRow.project_id == project.id, Delivery.state == "done", TextRow.id > after, *of_delivery
            )
            .order_by(TextRow.id)
            .limit(TEXTS_AT_ONCE)
            .execution_options(stream_results=True)
        )
        for row in found:
            rows.append(row)
            chars += len(row.body)
            if chars > CHARS_AT_ONCE:
                found.close()
                break
        if not rows:
            return
        after = rows[-1].id
        yield rows


def _columns(session: Session, rows: list[Any], variables: list[Variable]) -> pl.DataFrame:
    ids = [row.id for row in rows]
    kinds = {v.id: v.kind for v in variables}
    values: dict[int, dict[int, list[Any]]] = defaultdict(lambda: defaultdict(list))
    found = session.execute(
        select(TextValue).where(TextValue.text_id.between(ids[0], ids[-1])).order_by(TextValue.seq)
    ).scalars()
    for value in found:
        if value.variable_id in kinds:
            values[value.variable_id][value.text_id].append(_plain(value, kinds[value.variable_id]))
    data = {
        "text_id": ids,
        "title": [row.title for row in rows],
        "source": [row.source_id for row in rows],
        "date": [days(row.date) for row in rows],
    }
    schema = dict(BASE_SCHEMA)
    for variable in variables:
        of_text = values[variable.id]
        several = variable.kind == "several"
        data[f"v{variable.id}"] = [
            (of_text[i] if several else of_text[i][0]) if i in of_text else None for i in ids
        ]
        schema[f"v{variable.id}"] = KIND_TYPES[variable.kind]
    return pl.DataFrame(data, schema=schema)


def _plain(value: TextValue, kind: str) -> Any:
    if kind in ("category", "several"):
        return value.category_id
    return {"number": value.number, "date": days(value.day), "text": value.string}[kind]


def days(date: dt.date | None) -> int | None:
    """Days since 1970-01-01."""
    return None if date is None else (date - _EPOCH).days
