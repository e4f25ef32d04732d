"""Texts that a later delivery brings again: what is stored of them, and taking over what is new."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable, Sequence
from hashlib import blake2b
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict
from winnower.core.limits import MAX_TITLE
from winnower.store.bulk import chunks, insert_frame
from winnower.store.corrections import HASH_BYTES, correct_texts
from winnower.store.history import Recorder
from winnower.store.models import (
    Delivery,
    DeliveryLine,
    Source,
    TextBrought,
    TextEdit,
    TextIdentity,
    TextRow,
    TextValue,
    Variable,
    VariableCategory,
)
from winnower.store.opened import OpenCorpus
from winnower.store.variables import make_variable, set_values

#: In a frame of what is taken over, the field that stands for the words of a text, and for a further identity.
BODY = "\0body"
IDENTITY = "\0identity"
AT_ONCE = 5_000
#: Columns of such a frame.
TAKEN = {"text_id": pl.Int64, "field": pl.String, "kind": pl.String, "value": pl.String}
_VALUE = {"number": TextValue.number, "date": TextValue.day, "text": TextValue.string}


class Fixed(NamedTuple):
    title: str
    source: str | None
    date: Any


class StoredTexts(NamedTuple):
    """By text id: title, source and date; values by variable's name; and of texts corrected here the hash
    of the words they were delivered with."""

    fixed: dict[int, Fixed]
    values: dict[str, dict[int, Any]]
    delivered: dict[int, bytes]


def stored_texts(session: Session, project_id: int, ids: Sequence[int], names: Sequence[str]) -> StoredTexts:
    """What is stored of some texts; ``names`` of variables."""
    fixed: dict[int, Fixed] = {}
    delivered: dict[int, bytes] = {}
    variables = list(
        session.scalars(
            select(Variable).where(Variable.project_id == project_id, Variable.name.in_(list(names)))
        )
    )
    values: dict[str, dict[int, Any]] = {v.name: {} for v in variables}
    for part in chunks(list(ids), AT_ONCE):
        rows = session.execute(
            select(TextRow.id, TextRow.title, Source.name, TextRow.date)
            .outerjoin(Source, Source.id == TextRow.source_id)
            .where(TextRow.id.in_(part))
        )
        fixed.update({row[0]: Fixed(*row[1:]) for row in rows})
        delivered.update(_delivered(session, part))
        for variable in variables:
            values[variable.name].update(_values_of(session, variable, part))
    return StoredTexts(fixed, values, delivered)


def _values_of(session: Session, variable: Variable, ids: Sequence[int]) -> dict[int, Any]:
    column = _VALUE.get(variable.kind, VariableCategory.label)
    asked = (
        select(TextValue.text_id, column)
        .where(TextValue.variable_id == variable.id, TextValue.text_id.in_(ids))
        .order_by(TextValue.text_id, TextValue.seq)
    )
    if variable.kind in ("category", "several"):
        asked = asked.join(VariableCategory, VariableCategory.id == TextValue.category_id)
    out: dict[int, Any] = {}
    for text_id, value in session.execute(asked):
        out[text_id] = (*out.get(text_id, ()), value) if variable.kind == "several" else value
    return out


def _delivered(session: Session, ids: Sequence[int]) -> dict[int, bytes]:
    """Hashes of the words with which corrected texts were delivered."""
    first = (
        select(func.min(TextEdit.id)).where(TextEdit.text_id.in_(ids)).group_by(TextEdit.text_id).subquery()
    )
    rows = session.execute(
        select(TextEdit.text_id, TextEdit.before).where(TextEdit.id.in_(select(first.c[0])))
    )
    return {row[0]: blake2b(row[1].encode(), digest_size=HASH_BYTES).digest() for row in rows}


def note_brought(session: Session, delivery_id: int, ids: np.ndarray) -> None:
    """That a delivery brought texts that were there."""
    frame = pl.DataFrame({"text_id": np.unique(ids)}).with_columns(pl.lit(delivery_id).alias("delivery_id"))
    insert_frame(session, TextBrought, frame)


def take_over(
    recorder: Recorder,
    corpus_of: Callable[[], OpenCorpus],
    folder: Path,
    taken: pl.DataFrame,
    limit_chars: int,
) -> None:
    """Give texts newer words and values; ``taken`` has the columns of TAKEN. The project's row must be
    locked. Raises Conflict."""
    taken = taken.unique(["text_id", "field"], keep="first", maintain_order=True)
    by_field = {str(key[0]): frame for key, frame in taken.partition_by("field", as_dict=True).items()}
    bodies = by_field.pop(BODY, None)
    identities = by_field.pop(IDENTITY, None)
    for name, frame in by_field.items():
        kind = frame["kind"][0]
        field = name if name in ("title", "source", "date") else _variable(recorder, name, kind)
        corpus = corpus_of()
        values = [_value(value, kind) for value in frame["value"].to_list()]
        set_values(recorder, corpus, field, corpus.places_of(frame["text_id"].to_numpy()), values)
    if bodies is not None:
        newer = {int(i): body for i, body in bodies.select("text_id", "value").iter_rows()}
        correct_texts(recorder, folder, newer, "A newer delivery", limit_chars=limit_chars)
    if identities is not None:
        _know_by(recorder, identities)


def _know_by(recorder: Recorder, identities: pl.DataFrame) -> None:
    """Further identities of texts, in hex, so that a row taken as a corrected text is known the next time."""
    wanted = {
        bytes.fromhex(value): text_id for text_id, value in identities.select("text_id", "value").iter_rows()
    }
    there = set(
        recorder.session.scalars(
            select(TextIdentity.identity).where(
                TextIdentity.project_id == recorder.project_id, TextIdentity.identity.in_(list(wanted))
            )
        )
    )
    for identity, text_id in wanted.items():
        if identity not in there:
            recorder.insert(TextIdentity(project_id=recorder.project_id, text_id=text_id, identity=identity))


def _variable(recorder: Recorder, name: str, kind: str) -> str:
    asked = select(Variable).where(Variable.project_id == recorder.project_id, Variable.name == name)
    row = recorder.session.scalar(asked) or make_variable(recorder, name, kind)
    if row.kind != kind or row.rule:
        raise Conflict(
            f"The variable “{name}” is in this project as {row.kind}{' by a rule' if row.rule else ''}; the "
            f"column was to become {kind}. Give it that kind, or another name."
        )
    if row.away:
        recorder.update(row, {"away": 0})
    return f"v{row.id}"


def _value(written: str, kind: str) -> Any:
    if kind == "several":
        return written.split("\0")
    if kind == "number":
        return float(written)
    if kind == "date":
        return dt.date.fromisoformat(written)
    return written[:MAX_TITLE] if kind == "title" else written


def written_value(value: Any) -> str:
    """A value as ``take_over`` wants it."""
    if isinstance(value, tuple):
        return "\0".join(value)
    return value.isoformat() if hasattr(value, "isoformat") else str(value)


def lines_of(session: Session, project_id: int) -> list[DeliveryLine]:
    """The kinds of deliveries a project has had, newest first."""
    rows = select(DeliveryLine).where(DeliveryLine.project_id == project_id)
    return list(session.scalars(rows.order_by(DeliveryLine.id.desc())))


def keep_line(session: Session, project_id: int, token: str, name: str, mapping: dict[str, Any]) -> None:
    """Note the columns a kind of delivery came with at last."""
    same = (DeliveryLine.project_id == project_id, DeliveryLine.token == token)
    row = session.scalar(select(DeliveryLine).where(*same))
    if row is None:
        session.add(DeliveryLine(project_id=project_id, token=token, name=name[:300], mapping=mapping))
    else:
        row.mapping = mapping


def deliveries_after(session: Session, delivery_id: int) -> pl.DataFrame:
    """Texts of a delivery that a later one brought as well: their ids, and the first of those."""
    rows = session.execute(
        select(TextRow.id, func.min(TextBrought.delivery_id))
        .join(TextBrought, TextBrought.text_id == TextRow.id)
        .join(Delivery, Delivery.id == TextBrought.delivery_id)
        .where(TextRow.delivery_id == delivery_id, Delivery.state == "done", Delivery.id != delivery_id)
        .group_by(TextRow.id)
    ).all()
    return pl.DataFrame(
        {"id": [row[0] for row in rows], "delivery_id": [row[1] for row in rows]},
        schema={"id": pl.Int64, "delivery_id": pl.Int64},
    )
