"""A field as levels that texts can be alike in: its values, its periods, or bands of its numbers."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass

import numpy as np

from winnower.core.errors import ScopeError
from winnower.core.scope.columns import Columns, DateColumn, NumberColumn, SeveralColumn, TextColumn
from winnower.core.scope.conditions import Between, Condition, During, HasValue
from winnower.core.scope.derive import band_labels
from winnower.core.scope.split import Split, split_groups

#: Numbers with more different values are cut into bands of about as many texts each.
MOST_NUMBERS, BANDS = 10, 5


@dataclass(frozen=True)
class Levels:
    """name      of the field, with its period: "Section", "Date by month"
    labels    of the levels
    of_text   int32 per text: its level, -1 where it has none or is out of scope
    conditions  of the texts of each level
    """

    name: str
    labels: tuple[str, ...]
    of_text: np.ndarray
    conditions: tuple[Condition, ...]


def levels_of(split: Split, columns: Columns, mask: np.ndarray) -> Levels:
    """The levels of the texts in ``mask`` (bool per text). Raises ScopeError where the field has none."""
    if split.field is None or not split.plain:
        raise ScopeError("Say which field is to be controlled for.")
    column, name = columns.field(split.field), columns.names[split.field]
    if isinstance(column, SeveralColumn):
        raise ScopeError(f"“{name}” can have several values a text, so it cannot be controlled for.")
    if isinstance(column, TextColumn):
        raise ScopeError(f"“{name}” is free text and cannot be controlled for.")
    if isinstance(column, NumberColumn):
        known = column.values[mask & ~np.isnan(column.values)]
        if len(np.unique(known)) > MOST_NUMBERS:
            return _bands(split.field, name, column.values, mask)
    groups = split_groups(split, columns, mask)
    assert groups.of_text is not None
    if isinstance(column, DateColumn):
        period = split.period or "month"
        ends = _days(column.days[groups.text], groups.group, groups.n_groups)
        during = tuple(During(split.field, *pair) for pair in ends)
        return Levels(f"{name} by {period}", groups.labels, groups.of_text, during)
    if isinstance(column, NumberColumn):
        values = [float(label) for label in groups.labels]
        return Levels(name, groups.labels, groups.of_text, tuple(Between(split.field, v, v) for v in values))
    return Levels(
        name, groups.labels, groups.of_text, tuple(HasValue(split.field, (label,)) for label in groups.labels)
    )


def _bands(field: str, name: str, values: np.ndarray, mask: np.ndarray) -> Levels:
    """About as many texts in each; cuts lie at numbers that occur."""
    known = mask & ~np.isnan(values)
    whole = bool((values[known] == np.rint(values[known])).all())
    at = np.quantile(values[known], np.arange(1, BANDS) / BANDS, method="higher")
    cuts = np.unique(at[at > values[known].min()])
    of_text = np.full(len(values), -1, np.int32)
    of_text[known] = np.searchsorted(cuts, values[known], side="right")
    edges = [None, *map(float, cuts), None]
    below = [None if high is None else float(np.nextafter(high, -np.inf)) for high in edges[1:]]
    between = tuple(Between(field, low, high) for low, high in zip(edges, below, strict=False))
    return Levels(name, band_labels(tuple(map(float, cuts)), whole), of_text, between)


def _days(days: np.ndarray, group: np.ndarray, n_groups: int) -> list[tuple[dt.date | None, dt.date | None]]:
    """First and last day of each period that has texts: those of its texts, which are all there are."""
    first = np.full(n_groups, np.iinfo(np.int32).max, np.int64)
    last = np.full(n_groups, np.iinfo(np.int32).min, np.int64)
    np.minimum.at(first, group, days)
    np.maximum.at(last, group, days)
    epoch = dt.date(1970, 1, 1)
    return [
        (epoch + dt.timedelta(int(low)), epoch + dt.timedelta(int(high))) if low <= high else (None, None)
        for low, high in zip(first, last, strict=True)
    ]
