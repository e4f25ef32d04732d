"""Parts of texts that runs code by their labels: turns of speakers, headings, sections, pages."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.runs import BySpeakers, ByStructure
from winnower.core.runs.items import items_in_lines
from winnower.core.runs.speakers import TURNS, checked, turns_in_lines
from winnower.core.runs.stretches import until_next
from winnower.store.bulk import chunks
from winnower.store.models import TextBody, TextPlace
from winnower.store.texts import bodies

IDS_AT_ONCE = 2_000
MOST_VALUE = 200
LABELLED = ["text_id", "label", "start", "end"]
BEGINS: dict[str, Any] = {
    "text_id": pl.Int64, "label": pl.String, "start": pl.Int64, "level": pl.Int64, "length": pl.Int64
}  # fmt: skip


def stretches_of(session: Session, finder: BySpeakers | ByStructure, ids: np.ndarray) -> pl.DataFrame:
    """Labelled stretches of some texts (columns of LABELLED), not yet chosen among. Raises WinnowerError for a pattern
    that cannot be used."""
    if isinstance(finder, ByStructure):
        return places_of_kind(session, finder.by, ids, finder.level).select(LABELLED)
    return turns_of(session, finder.pattern, ids).select(LABELLED)


def turns_of(session: Session, pattern: str, ids: np.ndarray) -> pl.DataFrame:
    """Turns that came with the texts; in texts without such those that lines begin. See TURNS."""
    pattern = checked(pattern)
    parts = [pl.DataFrame(schema=TURNS)]
    for some in chunks(ids, IDS_AT_ONCE):
        known = places_of_kind(session, "turn", some)
        with_turns = set(known["text_id"].to_list())
        texts = _texts(session, [int(one) for one in some if int(one) not in with_turns])
        parts += [known.select(list(TURNS)), turns_in_lines(texts, pattern).cast(pl.Schema(TURNS))]
    return pl.concat(parts)


def places_of_kind(
    session: Session, kind: str, ids: Sequence[int] | np.ndarray, level: int = 0
) -> pl.DataFrame:
    """Places of a kind in some texts, each to before the next one of its text, with about how many words it has; see
    TURNS. Headings may be those of one level. Items of lists are read from the texts themselves."""
    if kind == "item":
        return _items(session, ids)
    parts = [pl.DataFrame(schema=BEGINS)]
    length = func.char_length(TextBody.body)
    for some in chunks(ids, IDS_AT_ONCE):
        asked = (
            select(TextPlace.text_id, TextPlace.label, TextPlace.start, TextPlace.level, length)
            .join(TextBody, TextBody.text_id == TextPlace.text_id)
            .where(TextPlace.kind == kind, TextPlace.text_id.in_([int(one) for one in some]))
        )
        rows = [tuple(row) for row in session.execute(asked)]
        parts.append(pl.DataFrame(rows, schema=parts[0].schema, orient="row"))
    return until_next(pl.concat(parts), level if kind == "heading" else 0).with_columns(
        # a word has about six letters and signs
        words=((pl.col("end") - pl.col("start")) // 6)
    )


def _items(session: Session, ids: Sequence[int] | np.ndarray) -> pl.DataFrame:
    parts = [pl.DataFrame(schema=TURNS)]
    for some in chunks(ids, IDS_AT_ONCE):
        parts.append(items_in_lines(_texts(session, some)))
    return pl.concat(parts)


def _texts(session: Session, ids: Sequence[int] | np.ndarray) -> pl.DataFrame:
    found = bodies(session, [int(one) for one in ids])
    return pl.DataFrame(
        {"text_id": list(found), "body": list(found.values())},
        schema={"text_id": pl.Int64, "body": pl.String},
    )


def levels_in(session: Session, ids: np.ndarray) -> dict[int, int]:
    """How many headings some texts have of each level; those without a level are left out."""
    counted: Counter[int] = Counter()
    for some in chunks(ids, IDS_AT_ONCE):
        asked = (
            select(TextPlace.level, func.count())
            .where(
                TextPlace.kind == "heading",
                TextPlace.level > 0,
                TextPlace.text_id.in_([int(one) for one in some]),
            )
            .group_by(TextPlace.level)
        )
        counted.update(dict(session.execute(asked).tuples().all()))
    return dict(sorted(counted.items()))


def labels_of_kind(session: Session, finder: ByStructure, ids: np.ndarray, most: int) -> list[str]:
    """Labels of the parts a finder finds in some texts, the most frequent first."""
    found = places_of_kind(session, finder.by, ids, finder.level)
    counted = found.group_by("label").len().sort(["len", "label"], descending=[True, False])
    return [label for label in counted["label"].head(most).to_list() if label.strip()]


def field_lines(session: Session, pattern: str, name: str, ids: np.ndarray) -> dict[int, str]:
    """What stands behind a label in the lines of texts, by text: the first where there are several."""
    turns = turns_of(session, pattern, ids).filter(pl.col("label") == name)
    found = {}
    for text_id, start, end in (
        turns.unique("text_id", keep="first", maintain_order=True)
        .select("text_id", "start", "end")
        .iter_rows()
    ):
        found[text_id] = (start, end)
    out = {}
    for some in chunks(list(found), IDS_AT_ONCE):
        for text_id, body in bodies(session, some).items():
            start, end = found[text_id]
            said = body[start:end].split("\n", 1)[0].strip()[:MOST_VALUE]
            if said:
                out[text_id] = said
    return out
