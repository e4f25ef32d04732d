"""Means of a number by group: intervals, differences, and the statistics their tests are made of.

A ``Counted`` of one row holds the numbers of the units that have one: ``hits`` are the sum of a unit's numbers less a
centre, times its ``size``, how many there are. Of a number a text has once the size is 1, and all here is what is
customary for means; where a text has several, such as the tone of its sentences, a mean is a ratio of sums over texts.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from scipy import special

from winnower.core.measure.counted import Counted
from winnower.core.measure.homogeneity import (
    NO_SPREAD,
    Contrasts,
    Scores,
    Sums,
    against_others,
    as_it_is,
)
from winnower.core.measure.rates import Interval

#: The spread of all groups counts as much as this many units of a group: enough that a few units that happen to be alike
#: are not sure of themselves, and few enough that a group may be spread twice as wide (bench/mean_levels.py).
PRIOR = 2.0
#: A group takes part in a difference from so many units on.
LEAST_UNITS = 5


class Means(NamedTuple):
    """Of G groups; arrays (G).

    value   NaN without units
    error   standard error, NaN with fewer than two units
    df      degrees of freedom of that error
    """

    value: np.ndarray
    error: np.ndarray
    df: np.ndarray


def means_of(numbers: Counted, centre: float = 0.0) -> Means:
    """Means as ratios of sums, with the error over units.

    With totals y and sizes x of n units the mean is r = Y / X, its variance n / (n - 1) sum((y - r x)^2) / X^2. Degrees of
    freedom are n - 1 where all units are of one size, else those of as many even ones, (sum x^2)^2 / sum x^4 - 1.

    Source: Cochran (1977), Sampling Techniques, ch. 2 and 6; Satterthwaite (1946), Biometrics Bulletin 2, 110-114.
    """
    mean, variance = _means(as_it_is(numbers))
    value = mean[0, 0] + centre
    # a group of noughts has the mean nought, but for rounding
    value = np.where(np.abs(value) < 1e-12 * abs(centre), 0.0, value)
    return Means(value, np.sqrt(variance[0, 0]), effective_df(numbers))


def effective_df(numbers: Counted) -> np.ndarray:
    """float (G): how many even units know as much of a spread, less one; never below 1."""
    with np.errstate(divide="ignore", invalid="ignore"):
        even = numbers.squares**2 / numbers.fourths
    found: np.ndarray = np.maximum(np.where(np.isfinite(even), even, 1) - 1, 1)
    return found


def _means(s: Sums) -> tuple[np.ndarray, np.ndarray]:
    """Means and their variances (B, K, G); NaN where there is none."""
    with np.errstate(divide="ignore", invalid="ignore"):
        mean = np.where(s.x > 0, s.y / s.x, np.nan)
        squares = np.maximum(s.yy - 2 * mean * s.xy + mean**2 * s.xx, 0)
        variance = np.where(s.n > 1, s.n / (s.n - 1) * squares / s.x**2, np.nan)
    return mean, variance


def mean_interval(means: Means, level: float = 0.95) -> Interval:
    """The mean with Student's interval; NaN ends where the error is not known."""
    half = special.stdtrit(means.df, (1 + level) / 2) * means.error
    return Interval(means.value, means.value - half, means.value + half)


def mean_differences(numbers: Counted, reference: int | None, level: float = 0.95) -> Interval:
    """The mean of each group less that of a group, or of all others together; arrays (G). A group set against itself
    is 0 without an interval.

    Source: Welch (1938), Biometrika 29, 350-362; degrees of freedom: Satterthwaite (1946).
    """
    own = means_of(numbers)
    if reference is not None:
        other = Means(*(np.broadcast_to(part[[reference]], part.shape).copy() for part in own))
        other.error[reference] = np.nan
    else:
        other = _rest(numbers)
    a, b = own.error**2, other.error**2
    with np.errstate(divide="ignore", invalid="ignore"):
        df = (a + b) ** 2 / (a**2 / own.df + b**2 / other.df)
        half = special.stdtrit(np.maximum(df, 1), (1 + level) / 2) * np.sqrt(a + b)
    gap = own.value - other.value
    return Interval(gap, gap - half, gap + half)


def _rest(numbers: Counted) -> Means:
    """Of all others together, as one group."""
    s = as_it_is(numbers)
    n, *sums = (part.sum(-1, keepdims=True) - part for part in (s.n, s.x, s.xx, s.y, s.yy, s.xy))
    x, xx, y, yy, xy = sums
    value, variance = _means(Sums(n, x, xx, y, yy, xy, y))
    squares, fourths = (part.sum() - part for part in (numbers.squares, numbers.fourths))
    with np.errstate(divide="ignore", invalid="ignore"):
        even = squares**2 / fourths
    df = np.maximum(np.where(np.isfinite(even), even, 1) - 1, 1)
    return Means(value[0, 0], np.sqrt(variance[0, 0]), df)


def spread_within(numbers: Counted) -> float:
    """The standard deviation of the units' own means about that of their group, weighted by their sizes; NaN with too
    few units."""
    c = numbers
    n, x = len(c.unit), c.sizes
    squares = c.hits_squared[0].sum() if (c.size == 1).all() else (c.hits**2 / c.size[c.unit]).sum()
    free = n - int((c.units > 0).sum())
    if free <= 0:
        return float("nan")
    within = squares - (c.totals[0][x > 0] ** 2 / x[x > 0]).sum()
    return float(np.sqrt(max(within, 0) / x.sum() * n / free))


def mean_scores(s: Sums, prior: float = PRIOR) -> Scores:
    """Studentised differences of means, for one state of the groups or many (see ``Scores``).

    The variance of a group's mean is phi X2 / X^2, X2 the sum of the squares of its sizes, and phi the spread of its
    units, drawn towards that of all groups by ``prior`` units, as few know little of their own spread. z sets a group
    against all others together; heterogeneity is the weighted sum of squares of the means about their common one. With
    no ``prior`` it is Welch's.

    Source: Welch (1951), Biometrika 38, 330-336; drawn together as in Smyth (2004), Statistical Applications in Genetics
    and Molecular Biology 3(1).
    """
    mean, variance = _means(s)
    with np.errstate(divide="ignore", invalid="ignore"):
        free = np.maximum(s.n - 1, 0)
        phi = np.where((free > 0) & (s.xx > 0), variance * s.x**2 / s.xx, 0)
        phi_all = (free * phi).sum(-1, keepdims=True) / free.sum()
        drawn = (free * phi + prior * phi_all) / (free + prior)
        drawn = np.maximum(drawn, NO_SPREAD * phi_all)
        variance = np.where(s.x > 0, drawn * s.xx / s.x**2, np.nan)
        weight = np.where(variance > 0, 1 / variance, 0)
        filled = np.where(s.x > 0, mean, 0)
        common = (weight * filled).sum(-1, keepdims=True) / weight.sum(-1, keepdims=True)
        heterogeneity = (weight * (filled - common) ** 2).sum(-1)
        gap, error = _against_rest(s, mean, variance)
        z = gap / error
    heterogeneity = np.where(phi_all[..., 0] > 0, heterogeneity, np.nan)
    return Scores(z, heterogeneity, variance, phi_all[..., 0], weight)


def mean_contrasts(s: Sums, found: Scores) -> Contrasts:
    """Differences of means: every group against every other, or against all others (see ``against_others``). A side takes
    part from LEAST_UNITS units on; ``found`` are the scores of the same sums."""
    g = len(s.n)
    with np.errstate(divide="ignore", invalid="ignore"):
        mean = np.where((s.n >= LEAST_UNITS) & (s.x > 0), s.y / s.x, np.nan)
        if not against_others(s.y.shape[1], g):
            first, second = np.triu_indices(g, 1)
            error = np.sqrt(found.spread[..., first] + found.spread[..., second])
            return Contrasts(first, second, mean[..., first] - mean[..., second], error)
        gap, error = _against_rest(s, mean, found.spread)
    return Contrasts(np.arange(g), np.full(g, -1), gap, error)


def _against_rest(s: Sums, mean: np.ndarray, variance: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Each mean less that of all other groups together, and the error of that (B, K, G)."""
    whole = s.x.sum(-1, keepdims=True)
    part = np.where(s.x > 0, s.x**2 * variance, 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        rest = (s.y.sum(-1, keepdims=True) - s.y) / (whole - s.x)
        of_rest = (part.sum(-1, keepdims=True) - part) / (whole - s.x) ** 2
        return mean - rest, np.sqrt(variance + of_rest)
