"""A delivery taken out of the project again: its texts, what it changed in others, and what only it brought.

Texts that a later delivery brought as well stay and are that one's from then on.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.store.again import deliveries_after
from winnower.store.bulk import chunks
from winnower.store.corrections import correct_texts
from winnower.store.history import Recorder
from winnower.store.models import (
    Command,
    CommandData,
    Delivery,
    NoteRow,
    PassageRow,
    Source,
    TextRow,
    TextValue,
    Variable,
    VariableCategory,
    VerdictRow,
)
from winnower.store.opened import OpenCorpus
from winnower.store.packed import RowChange
from winnower.store.reindex import follow
from winnower.store.texts import bodies
from winnower.store.values import turned, unpacked

AT_ONCE = 5_000


@dataclass(frozen=True)
class Leaving:
    """What goes when a delivery is undone, and what stays: counts of texts, of notes, verdicts and passages on
    them, of texts that get earlier words back; names of variables and sources."""

    texts: int
    stay: int
    notes: int
    verdicts: int
    passages: int
    earlier_words: int
    variables: list[str] = field(default_factory=list)
    sources: list[str] = field(default_factory=list)


@dataclass
class _Brought:
    """What a delivery did besides its own texts: values by field, words by text, what it made."""

    values: list[tuple[str, pl.DataFrame]] = field(default_factory=list)
    bodies: dict[int, tuple[str, str]] = field(default_factory=dict)
    variables: list[int] = field(default_factory=list)
    categories: list[int] = field(default_factory=list)


def leaving(session: Session, corpus: OpenCorpus, delivery: Delivery) -> Leaving:
    """What undoing a delivery would do."""
    mine, staying = _texts(session, delivery)
    brought = _brought(session, delivery)
    column = corpus.raw["source"].to_numpy()
    gone = np.isin(corpus.columns.text_id, mine)
    ids = set(column[gone].tolist()) - set(column[~gone].tolist())
    hanging = {
        model: sum(
            session.scalar(select(func.count()).select_from(model).where(model.text_id.in_(part))) or 0
            for part in chunks(mine.tolist(), AT_ONCE)
        )
        for model in (NoteRow, VerdictRow, PassageRow)
    }
    names = select(Variable.name).where(Variable.id.in_(_emptied(session, brought.variables, mine)))
    sources = select(Source.name).where(Source.id.in_([int(i) for i in ids if i == i]))
    return Leaving(
        texts=len(mine),
        stay=len(staying),
        notes=hanging[NoteRow],
        verdicts=hanging[VerdictRow],
        passages=hanging[PassageRow],
        earlier_words=len(_still(session, brought)),
        variables=sorted(session.scalars(names)),
        sources=sorted(session.scalars(sources)),
    )


def take_out(
    recorder: Recorder, corpus_of: Callable[[], OpenCorpus], folder: Path, delivery: Delivery
) -> None:
    """Undo a delivery as one change; what was changed since in other texts is left as it is. The project's
    row must be locked."""
    session = recorder.session
    brought = _brought(session, delivery)
    mine, staying = _texts(session, delivery)
    for field_key, frame in brought.values:
        corpus = corpus_of()
        others = frame.filter(~pl.col("text_id").is_in(mine.tolist()))
        if field_key in corpus.raw:
            recorder.values(corpus, field_key, _unchanged(corpus, field_key, others))
    if earlier := _still(session, brought):
        leaving_ids = set(mine.tolist())
        others_words = {i: body for i, body in earlier.items() if i not in leaving_ids}
        correct_texts(recorder, folder, others_words, f"Undo delivery {delivery.name}")
    for model, ids in ((Variable, brought.variables), (VariableCategory, brought.categories)):
        gone = _emptied(session, ids, mine) if model is Variable else _unused(session, ids, mine)
        if gone:
            recorder.update_frame(model, pl.DataFrame({"id": gone}).with_columns(pl.lit(1).alias("away")))
    if len(staying):
        recorder.update_frame(TextRow, staying)
    recorder.update(delivery, {"state": "undone"})
    recorder.save()
    follow(session, recorder.project, folder, {}, {delivery.id: False})


def _texts(session: Session, delivery: Delivery) -> tuple[np.ndarray, pl.DataFrame]:
    """Ids of the texts that go, and (id, delivery_id) of those that stay with another delivery."""
    staying = deliveries_after(session, delivery.id)
    ids = np.asarray(
        session.scalars(select(TextRow.id).where(TextRow.delivery_id == delivery.id)).all(), np.int64
    )
    return np.setdiff1d(ids, staying["id"].to_numpy()), staying


def _brought(session: Session, delivery: Delivery) -> _Brought:
    out = _Brought()
    command = session.scalar(
        select(Command).where(Command.delivery_id == delivery.id, Command.undone == 0).limit(1)
    )
    for change in command.changes if command else ():
        if "data" in change:
            out.values.append(unpacked(_data(session, command, change["data"])))
        elif change.get("table") == "text_body":
            after = change["after"]
            out.bodies[after["text_id"]] = (change["before"]["body"], after["body"])
        elif change.get("table") == "variable" and change["before"] is None:
            out.variables.append(change["after"]["id"])
        elif change.get("of") in ("variable", "variable_category"):
            kept = RowChange.unpacked(_data(session, command, change["packed"]))
            ids = kept.after["id"].to_list() if kept.after is not None else []
            (out.variables if change["of"] == "variable" else out.categories).extend(ids)
    return out


def _data(session: Session, command: Command | None, seq: int) -> bytes:
    assert command is not None
    return session.get_one(CommandData, (command.id, seq)).data


def _unchanged(corpus: OpenCorpus, field_key: str, frame: pl.DataFrame) -> pl.DataFrame:
    """The change that takes values back from texts that still have them."""
    back = turned(frame)
    places = corpus.places_of(back["text_id"].to_numpy())
    back, places = back.filter(pl.Series(places >= 0)), places[places >= 0]
    now = corpus.raw[field_key].gather(places)
    return back.with_columns(now.alias("now")).filter(pl.col("now").eq_missing(pl.col("before"))).drop("now")


def _still(session: Session, brought: _Brought) -> dict[int, str]:
    """Earlier words of texts that still have the words of this delivery."""
    out: dict[int, str] = {}
    for part in chunks(list(brought.bodies), AT_ONCE):
        now = bodies(session, part)
        out.update({i: brought.bodies[i][0] for i in part if now.get(i) == brought.bodies[i][1]})
    return out


def _emptied(session: Session, ids: Sequence[int], texts: np.ndarray) -> list[int]:
    """Variables without a value in any other text of the project."""
    return [i for i in ids if not _used(session, TextValue.variable_id == i, texts)]


def _unused(session: Session, ids: Sequence[int], texts: np.ndarray) -> list[int]:
    """Categories that no other text of the project has."""
    used: set[int] = set()
    for part in chunks(list(ids), AT_ONCE):
        rows = session.execute(
            select(TextValue.category_id, TextValue.text_id).where(TextValue.category_id.in_(part))
        )
        found = np.asarray([tuple(row) for row in rows], np.int64).reshape(-1, 2)
        used.update(found[~np.isin(found[:, 1], texts), 0].tolist())
    return [i for i in ids if i not in used]


def _used(session: Session, which: Any, texts: np.ndarray) -> bool:
    ids = session.scalars(select(TextValue.text_id).where(which).distinct()).all()
    return bool((~np.isin(np.asarray(ids, np.int64), texts)).any())
