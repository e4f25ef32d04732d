"""All measures of a cell, each with its name, unit, format, words and function. A new measure is an entry here.

No other place knows that a rate is per 1,000 words, or how a share is written.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from winnower.core.compare.counting import GroupSums
from winnower.core.errors import ComparisonError
from winnower.core.measure import (
    PER_WORDS,
    RATE_UNIT,
    Interval,
    mean_of_rates,
    rate_interval,
    wilson_interval,
)

Form = Literal["number", "percent", "count"]


@dataclass(frozen=True)
class Measure:
    """What can be shown in a cell, and in which unit.

    label, unit   "Rate per 1,000 words", and what stands behind a value: "hits per 1,000 words"
    axis          the unit along an axis
    form          how values are written: at most three significant places, as a percentage, whole
    method        how it is counted, in sentences ({level} is that of the interval), and their source
    compute       from sums (see GroupSums), the tested rows and the level: every cell with its interval,
                  arrays (rows, groups); counts have no interval (NaN)
    """

    name: str
    label: str
    unit: str
    axis: str
    form: Form
    method: str
    source: str
    compute: Callable[[GroupSums, tuple[int, ...], float], Interval]

    @property
    def has_interval(self) -> bool:
        return self.form != "count"

    def written(self, value: float) -> str:
        """A value as it stands in a sentence; "–" where it is not defined."""
        return WRITTEN[self.form](value)


def number(value: float) -> str:
    """At most three significant places, thousands separated.

    >>> number(9.4123), number(1234.5), number(0.05678)
    ('9.41', '1,234', '0.0568')
    >>> number(13.02), number(0.0)
    ('13.0', '0')
    """
    if not np.isfinite(value):
        return "–"
    if abs(value) >= 100:
        return f"{value:,.0f}"
    if value == 0:
        return "0"
    places = 2 - math.floor(math.log10(abs(value)))
    return f"{value:.{min(places, 6)}f}"


def _percent(value: float) -> str:
    return f"{number(value * 100)}%" if np.isfinite(value) else "–"


def _count(value: float) -> str:
    return f"{value:,.0f}" if np.isfinite(value) else "–"


WRITTEN: dict[Form, Callable[[float], str]] = {"number": number, "percent": _percent, "count": _count}


def _times(interval: Interval, factor: float) -> Interval:
    return Interval(*(part * factor for part in interval))


def _rate(s: GroupSums, tested: tuple[int, ...], level: float) -> Interval:
    sums = (s.texts, s.words, s.words_squared, s.hits, s.hits_squared, s.hits_by_words)
    return _times(rate_interval(*sums, level=level), PER_WORDS)


def _mean_rate(s: GroupSums, tested: tuple[int, ...], level: float) -> Interval:
    return _times(mean_of_rates(s.texts_with_words, s.rate_sum, s.rate_squared_sum, level), PER_WORDS)


def _share(s: GroupSums, tested: tuple[int, ...], level: float) -> Interval:
    """Of all hits of the tested rows in the group; interval by the ratio of sums over texts."""
    rows = list(tested)
    base = s.hits[rows].sum(0)
    none = np.full(s.hits.shape, np.nan)
    if s.cross is None:
        with np.errstate(divide="ignore", invalid="ignore"):
            return Interval(np.where(base > 0, s.hits / base, np.nan), none, none)
    value, low, high = none.copy(), none.copy(), none.copy()
    squared = np.einsum("gkk->kg", s.cross)
    sums = (s.texts, base, s.cross.sum(axis=(1, 2)), s.hits[rows], squared, s.cross.sum(axis=2).T)
    value[rows], low[rows], high[rows] = rate_interval(*sums, level=level)
    return Interval(value, low, np.minimum(high, 1))


def _share_of_texts(s: GroupSums, tested: tuple[int, ...], level: float) -> Interval:
    return wilson_interval(s.with_hit, np.broadcast_to(s.texts, s.with_hit.shape), level)


def _plain(counts: np.ndarray) -> Interval:
    none = np.full(counts.shape, np.nan)
    return Interval(counts, none, none)


_COCHRAN = "Ratio estimator: Cochran (1977), Sampling Techniques, ch. 6."
MEASURES: dict[str, Measure] = {
    measure.name: measure
    for measure in (
        Measure(
            "rate",
            f"Rate {RATE_UNIT}",
            f"hits {RATE_UNIT}",
            RATE_UNIT,
            "number",
            f"A rate is all hits of a group over all its words, times {PER_WORDS:,}; it is not a mean of the "
            "texts’ rates. Words are tokens with a letter or a digit. The {level} interval takes the text "
            "as the sampling unit, so that one long article cannot decide the result.",
            _COCHRAN,
            _rate,
        ),
        Measure(
            "mean_rate",
            "Mean rate over texts",
            f"mean over texts of hits {RATE_UNIT}",
            f"{RATE_UNIT}, mean over texts",
            "number",
            f"Each text’s own rate {RATE_UNIT}, averaged over the texts of the group: every text "
            "weighs the same, however long it is.",
            "Student (1908), Biometrika 6.",
            _mean_rate,
        ),
        Measure(
            "share",
            "Share of all hits compared",
            "share of all hits compared in the group",
            "% of all hits compared",
            "percent",
            "Hits of a row over all hits of the compared rows in the group, with the {level} interval of a "
            "ratio over texts.",
            _COCHRAN,
            _share,
        ),
        Measure(
            "share_of_texts",
            "Share of texts",
            "share of texts with a hit",
            "% of texts",
            "percent",
            "Texts with at least one hit over all texts of the group, with Wilson’s {level} interval.",
            "Wilson (1927), JASA 22.",
            _share_of_texts,
        ),
        Measure(
            "hits",
            "Hits",
            "hits",
            "hits",
            "count",
            "The number of hits in the group; it grows with the group’s size.",
            "",
            lambda s, tested, level: _plain(s.hits),
        ),
        Measure(
            "texts",
            "Texts with a hit",
            "texts with a hit",
            "texts with a hit",
            "count",
            "The number of texts with at least one hit in the group.",
            "",
            lambda s, tested, level: _plain(s.with_hit),
        ),
    )
}


def measure_named(name: str) -> Measure:
    """Raises ComparisonError, with the names there are."""
    try:
        return MEASURES[name]
    except KeyError:
        known = ", ".join(MEASURES)
        raise ComparisonError(f"“{name}” is no measure. Measures: {known}.") from None
