"""Tables of passages: beside each one the variables of its text, as of the respondent who gave the answer."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import polars as pl

from winnower.api.context import Desk
from winnower.core.dataset.columns import values_at
from winnower.writers.listing import Column


def with_variables(desk: Desk, columns: Sequence[Column], text_ids: Sequence[int]) -> list[Column]:
    """The columns of a table of passages, and after them one for each variable of the project: the value of the text of
    each row (``text_ids``), empty where it has none. A variable called as a column is told from it in brackets."""
    corpus = desk.corpus
    places = corpus.places_of(np.asarray(text_ids, np.int64))
    there = places >= 0
    taken = {column.name for column in columns}
    found = list(columns)
    for key, field in corpus.columns.fields.items():
        if not key.startswith("v"):
            continue
        values = (
            values_at(field, np.where(there, places, 0)) if there.any() else pl.Series([None] * len(places))
        )
        if values.dtype == pl.Date:
            values = values.cast(pl.String)
        name = corpus.columns.names[key]
        cells = [
            value if here else None for value, here in zip(values.to_list(), there.tolist(), strict=True)
        ]
        found.append(Column(f"{name} (variable)" if name in taken else name, cells))
    return found
