"""Fields of a corpus described, for choosing conditions and splits."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

import numpy as np

from winnower.core.scope.columns import (
    NO_DATE,
    CategoryColumn,
    Column,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
    TextColumn,
)
from winnower.core.scope.conditions import missing
from winnower.core.scope.split import MAX_NUMBER_GROUPS

_EPOCH = dt.date(1970, 1, 1)


@dataclass(frozen=True)
class FieldDescription:
    """``values``: (label, texts), in the order of the labels; ``low``, ``high``: ends of the range."""

    key: str
    name: str
    kind: str
    can_split: bool
    missing: int
    different: int
    values: tuple[tuple[str | None, int], ...]
    low: str | None
    high: str | None


def describe_fields(columns: Columns, most_values: int = 500) -> list[FieldDescription]:
    """All fields in their order. Of a field with many values the most frequent are listed."""
    return [_describe(columns, key, column, most_values) for key, column in columns.fields.items()]


def _describe(columns: Columns, key: str, column: Column, most: int) -> FieldDescription:
    values: tuple[tuple[str | None, int], ...] = ()
    low = high = None
    different = 0
    if isinstance(column, (CategoryColumn, SeveralColumn)):
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.labels))
        used = np.flatnonzero(counts)
        different = len(used)
        if len(used) > most:
            used = np.sort(used[np.argsort(-counts[used], kind="stable")[:most]])
        values = tuple((column.labels[at], int(counts[at])) for at in used)
    elif isinstance(column, NumberColumn):
        known = column.values[~np.isnan(column.values)]
        different = min(len(np.unique(known)), MAX_NUMBER_GROUPS + 1)
        if len(known):
            low, high = f"{known.min():g}", f"{known.max():g}"
    elif isinstance(column, DateColumn):
        known = column.days[column.days != NO_DATE]
        if len(known):
            low, high = (str(_EPOCH + dt.timedelta(int(day))) for day in (known.min(), known.max()))
    can_split = not isinstance(column, TextColumn) and (
        not isinstance(column, NumberColumn) or (key != "words" and 0 < different <= MAX_NUMBER_GROUPS)
    )
    without = int(missing(column).sum())
    return FieldDescription(
        key, columns.names[key], _kind(column), can_split, without, different, values, low, high
    )


def _kind(column: Column) -> str:
    kinds = {CategoryColumn: "category", SeveralColumn: "several", NumberColumn: "number", DateColumn: "date"}
    return kinds.get(type(column), "text")


def value_at(column: Column, place: int) -> str | float | list[str] | None:
    """The value of one text in plain form; dates as 2031-06-03, None where there is none."""
    if isinstance(column, CategoryColumn):
        code = int(column.codes[place])
        return None if code < 0 else column.labels[code]
    if isinstance(column, SeveralColumn):
        codes = column.codes[column.start[place] : column.start[place + 1]]
        return [column.labels[int(code)] for code in codes]
    if isinstance(column, DateColumn):
        day = column.days[place]
        return None if day == NO_DATE else str(_EPOCH + dt.timedelta(int(day)))
    if isinstance(column, NumberColumn):
        value = float(column.values[place])
        return None if np.isnan(value) else value
    found: str | float | list[str] | None = column.values[place]
    return found
