"""Whether a text still has the value that somebody saw when they changed it."""

from __future__ import annotations

import datetime as dt
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, WinnowerError
from winnower.core.scope import value_at
from winnower.store.fields import FIXED
from winnower.store.models import Source, TextRow
from winnower.store.opened import OpenCorpus


def refuse_other_value(
    session: Session, corpus: OpenCorpus, field: str, places: np.ndarray, seen: Any
) -> None:
    """Raises Conflict where a text has another value by now than the one somebody saw (parsed, see
    ``parse_value``), and WinnowerError where the change is of several texts, which nobody sees one by one."""
    if len(places) != 1:
        raise WinnowerError("What was seen can be given for one text only.")
    if field in FIXED:
        row = session.get_one(TextRow, int(corpus.columns.text_id[places[0]]))
        source = session.get(Source, row.source_id) if row.source_id else None
        now: Any = {"title": row.title, "date": row.date, "source": source.name if source else None}[field]
    else:
        now = value_at(corpus.columns.fields[field], int(places[0]))
    if written_value(now) != written_value(seen):
        written = written_value(now)
        raise Conflict(
            "Somebody gave this text another value in the meantime.", {"value": written, "seen": written}
        )


def written_value(value: Any) -> str:
    """A value as people write it: several separated by semicolons, a day as 2031-06-03, nothing as nothing."""
    if value is None:
        return ""
    if isinstance(value, (list, tuple, set)):
        return "; ".join(sorted(map(str, value)))
    if isinstance(value, float):
        return f"{value:.12g}"
    if isinstance(value, (dt.date, dt.datetime)):
        return value.isoformat()[:10]
    return str(value)
