"""Rates set against a group that was chosen, or against all others."""

from __future__ import annotations

import numpy as np
from scipy import special

from winnower.core.measure.counted import Counted
from winnower.core.measure.rates import LEAST_WITH_HIT, Interval, Rates, rates_of


def reference_rates(counted: Counted, reference: int | None) -> Rates:
    """What each group is set against: the group ``reference``, or all others together; arrays (K, G).

    Of all others together the error is the linearised one of a ratio over units, on the log scale: the root of
    n / (n - 1) * sum((y - r x)^2) / Y^2, whose sums are those of all groups less those of the group itself. A group that
    is set against itself has the value and no error. NaN where there is nothing to be set against.

    Source: Cochran (1977), Sampling Techniques, ch. 6.
    """
    if reference is not None:
        found = rates_of(counted)
        shape = found.value.shape
        parts = [np.broadcast_to(part[:, [reference]], shape).copy() for part in found]
        parts[1][:, reference] = np.nan
        return Rates(*parts)
    of_unit = counted.size[counted.unit]
    squares = np.bincount(counted.group, weights=counted.size**2, minlength=counted.n_groups)
    total, size, n = counted.totals, counted.sizes, counted.units

    def others(values: np.ndarray) -> np.ndarray:
        return np.asarray(values.sum(-1, keepdims=True) - values)

    y, x, units = others(total), others(size), others(n)
    yy, xy = others(counted.by_cell(counted.hits**2)), others(counted.by_cell(counted.hits * of_unit))
    xx, hit = others(squares), others(counted.with_hit)
    with np.errstate(divide="ignore", invalid="ignore"):
        rate = np.where(x > 0, y / x, np.nan)
        variance = units / (units - 1) * np.maximum(yy - 2 * rate * xy + rate**2 * xx, 0) / y**2
    known = (units > 1) & (hit >= LEAST_WITH_HIT) & (variance > 0)
    error = np.sqrt(np.where(known, variance, np.nan))
    return Rates(rate, error, np.maximum(hit - 1, 1))


def _t(one: Rates, other: Rates, level: float, first: np.ndarray, second: np.ndarray) -> np.ndarray:
    """Half the width of an interval in standard errors added up, with Satterthwaite's degrees of freedom."""
    a, b = first**2, second**2
    with np.errstate(divide="ignore", invalid="ignore"):
        df = (a + b) ** 2 / (a**2 / one.df + b**2 / other.df)
        return np.asarray(special.stdtrit(np.maximum(df, 1), (1 + level) / 2) * np.sqrt(a + b))


def ratio_to(rates: Rates, reference: Rates, level: float) -> Interval:
    """Each rate over its reference, with an interval on the log scale; arrays of one shape. A group over itself is 1
    without an interval; NaN where the reference is nought.

    Source: Satterthwaite (1946), Biometrics Bulletin 2, 110-114.
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = np.where(reference.value > 0, rates.value / reference.value, np.nan)
        half = _t(rates, reference, level, rates.error, reference.error)
        return Interval(ratio, ratio * np.exp(-half), ratio * np.exp(half))


def difference_from(rates: Rates, reference: Rates, level: float) -> Interval:
    """Each rate less its reference; the errors on the log scale times the rates are those of the rates."""
    first, second = rates.value * rates.error, reference.value * reference.error
    half = _t(rates, reference, level, first, second)
    gap = rates.value - reference.value
    return Interval(gap, gap - half, gap + half)
