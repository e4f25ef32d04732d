"""Measures of targets of numbers: arrays (rows, groups)."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from winnower.core.compare.counting import Numbers
from winnower.core.compare.measure import Measure, View
from winnower.core.measure import Counted, Interval, in_units, mean_differences, mean_interval, means_of


def numbers_in_units(v: View, one: Numbers) -> Counted:
    """The numbers of a row by sampling unit."""
    return one.counted if v.unit is None else in_units(one.counted, v.unit[one.member])


def _by_row(v: View, found: Callable[[Numbers], Interval]) -> Interval:
    parts = [found(one) for one in v.counts.numbers]
    return Interval(*(np.stack(part) for part in zip(*parts, strict=True)))


def _mean(v: View) -> Interval:
    return _by_row(v, lambda one: mean_interval(means_of(numbers_in_units(v, one), one.centre), v.level))


def _difference(v: View) -> Interval:
    return _by_row(v, lambda one: mean_differences(numbers_in_units(v, one), v.reference, v.level))


def _median(v: View) -> Interval:
    return _by_row(v, lambda one: _bare(_medians(one) + one.centre))


def _deviation(v: View) -> Interval:
    return _by_row(v, lambda one: _bare(_deviations(one)))


def _bare(values: np.ndarray) -> Interval:
    none = np.full(values.shape, np.nan)
    return Interval(values, none, none)


def _own(one: Numbers) -> np.ndarray:
    """Each text's own number, less the centre: of several their mean."""
    found: np.ndarray = one.counted.hits / one.counted.size
    return found


def _medians(one: Numbers) -> np.ndarray:
    c, values = one.counted, _own(one)
    ordered = values[np.lexsort((values, c.group))]
    n = c.units.astype(np.int64)
    first = np.cumsum(n) - n
    found = np.full(len(n), np.nan)
    there = n > 0
    low, high = (first + (n - 1) // 2)[there], (first + n // 2)[there]
    found[there] = (ordered[low] + ordered[high]) / 2
    return found


def _deviations(one: Numbers) -> np.ndarray:
    c, values = one.counted, _own(one)

    def total(weights: np.ndarray) -> np.ndarray:
        return np.bincount(c.group, weights=weights, minlength=c.n_groups)

    with np.errstate(divide="ignore", invalid="ignore"):
        off = values - (total(values) / c.units)[c.group]
        return np.where(c.units > 1, np.sqrt(total(off**2) / (c.units - 1)), np.nan)


MEAN_MEASURES = (
    Measure(
        "mean",
        "Mean",
        "mean",
        "mean",
        "number",
        "The sum of the numbers of a group over how many there are. The {level} interval is Student’s, with {unit} as the "
        "sampling unit; where a text has several numbers, such as the tone of its sentences, that of a ratio over {units}.",
        "Cochran (1977), Sampling Techniques, ch. 2 and 6.",
        _mean,
        "numbers",
    ),
    Measure(
        "mean_difference",
        "Difference of means",
        "more in the mean than {reference}",
        "more in the mean than {reference}",
        "number",
        "The mean of a group less that of {reference}. The {level} interval takes {unit} as the sampling unit and does not "
        "take the groups to be equally spread.",
        "Welch (1938), Biometrika 29; degrees of freedom: Satterthwaite (1946), Biometrics Bulletin 2.",
        _difference,
        "numbers",
    ),
    Measure(
        "median",
        "Median",
        "median over texts",
        "median over texts",
        "number",
        "The middle one of the texts’ numbers, of a text with several their mean; of an even number of texts between the "
        "two in the middle.",
        "",
        _median,
        "numbers",
        bare=True,
    ),
    Measure(
        "deviation",
        "Standard deviation",
        "standard deviation over texts",
        "standard deviation over texts",
        "number",
        "How far the texts’ numbers lie from their mean in the group: the root of their mean square, with one less than "
        "their number in the denominator. Of a text with several numbers their mean is taken.",
        "",
        _deviation,
        "numbers",
        bare=True,
    ),
)
