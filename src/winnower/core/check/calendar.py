"""Texts by month and source: where a delivery has holes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.scope.columns import NO_DATE, CategoryColumn, Columns, DateColumn
from winnower.core.scope.split import period_label, period_number

MOST_PERIODS = 120


@dataclass(frozen=True)
class Calendar:
    """``counts``: texts per source (rows, the last one for texts without source) and period."""

    period: str
    labels: tuple[str, ...]
    first_days: tuple[str, ...]
    last_days: tuple[str, ...]
    sources: tuple[str | None, ...]
    counts: np.ndarray


def calendar(columns: Columns, mask: np.ndarray, most_sources: int = 40) -> Calendar:
    """Months, or years where there are more than MOST_PERIODS months, of the texts in ``mask``."""
    dates, sources = columns.fields["date"], columns.fields["source"]
    assert isinstance(dates, DateColumn) and isinstance(sources, CategoryColumn)
    has = mask & (dates.days != NO_DATE)
    period = "month"
    if not has.any():
        return Calendar(period, (), (), (), (), np.empty((0, 0), np.int64))
    number = period_number(dates.days[has], period)
    if number.max() - number.min() >= MOST_PERIODS:
        period = "year"
        number = period_number(dates.days[has], period)
    first, n = int(number.min()), int(number.max() - number.min()) + 1
    codes = sources.codes[has].astype(np.int64)
    codes[codes < 0] = len(sources.labels)
    counts = np.bincount(codes * n + (number - first), minlength=(len(sources.labels) + 1) * n).reshape(-1, n)
    used = np.flatnonzero(counts.sum(1) > 0)
    if len(used) > most_sources:
        used = np.sort(used[np.argsort(-counts[used].sum(1), kind="stable")[:most_sources]])
    labels: list[str | None] = [*sources.labels, None]
    unit = "datetime64[M]" if period == "month" else "datetime64[Y]"
    starts = np.arange(first, first + n + 1).astype(unit).astype("datetime64[D]")
    return Calendar(
        period,
        tuple(period_label(first + at, period) for at in range(n)),
        tuple(str(day) for day in starts[:-1]),
        tuple(str(day - 1) for day in starts[1:]),
        tuple(labels[at] for at in used),
        counts[used],
    )
