"""Rates with intervals; what is drawn at random is the unit, as a rule the text."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from winnower.core.measure.counted import Counted

#: An interval of a rate is given from this many units with a hit on. With fewer it covers too little
#: (bench/levels.py), and says more than is known.
LEAST_WITH_HIT = 5


class Interval(NamedTuple):
    """An estimate and its interval; all arrays of one shape. NaN where it is not defined."""

    value: np.ndarray
    low: np.ndarray
    high: np.ndarray


class Rates(NamedTuple):
    """Rates of K rows in G groups; arrays (K, G).

    value   hits over size, NaN without size
    error   standard error of log(value), NaN where it says nothing
    df      degrees of freedom of that error
    """

    value: np.ndarray
    error: np.ndarray
    df: np.ndarray


def rates_of(counted: Counted) -> Rates:
    """Rates as ratios of sums, with the jackknife's error on the log scale.

    With sizes x and hits y of the n units of a group, leaving out unit i changes the log of the rate by
    d_i = log(1 - y_i / Y) - log(1 - x_i / X). Variance (n - 1) / n * sum((d - mean d)^2). It is as certain
    as n even units would make it only where they are even: its degrees of freedom are Satterthwaite's,
    2 / (sum u^4 / (sum u^2)^2 - 1 / n) with u = y / Y - x / X, and never more than units with a hit less one.

    The error is NaN with fewer than two units or LEAST_WITH_HIT units with a hit.

    Source: Tukey (1958), Annals of Mathematical Statistics 29, 614; log and degrees of freedom by
    simulation (bench/levels.py); Satterthwaite (1946), Biometrics Bulletin 2, 110-114.
    """
    n, x = counted.units, counted.size
    with np.errstate(divide="ignore", invalid="ignore"):
        share = x / counted.sizes[counted.group]
        total = counted.totals.ravel()[counted.cell]
        part = counted.hits / total
        left, gone = -np.log1p(-share), np.log1p(-part)
        at = left[counted.unit]
        sum_d = _by_group(counted, left) + counted.by_cell(gone)
        sum_dd = _by_group(counted, left**2) + counted.by_cell(gone * (2 * at + gone))
        variance = (n - 1) / n * np.maximum(sum_dd - sum_d**2 / n, 0)
        of_hit = share[counted.unit]
        off = part - of_hit
        u2 = counted.squares / counted.sizes**2 + counted.by_cell(off**2 - of_hit**2)
        u4 = counted.fourths / counted.sizes**4 + counted.by_cell(off**4 - of_hit**4)
        uneven = u4 / u2**2 - 1 / n
        df = np.where(uneven > 0, 2 / uneven, np.inf)
        value = np.where(counted.sizes > 0, counted.totals / counted.sizes, np.nan)
    df = np.clip(df, 1, np.maximum(counted.with_hit - 1, 1))
    known = (n > 1) & (counted.with_hit >= LEAST_WITH_HIT) & (variance > 0)
    return Rates(value, np.sqrt(np.where(known, variance, np.nan)), df)


def _by_group(counted: Counted, weights: np.ndarray) -> np.ndarray:
    return np.bincount(counted.group, weights=weights, minlength=counted.n_groups)


def rate_interval(rates: Rates, level: float = 0.95) -> Interval:
    """exp(log r -+ t * error): never below nought, never of no width. NaN where the error is."""
    with np.errstate(invalid="ignore"):
        half = special.stdtrit(rates.df, (1 + level) / 2) * rates.error
        return Interval(rates.value, rates.value * np.exp(-half), rates.value * np.exp(half))


def wilson_interval(successes: ArrayLike, trials: ArrayLike, level: float = 0.95) -> Interval:
    """A share with Wilson's score interval; both within 0 to 1.

    Undefined (NaN) without trials. Errors: ValueError where successes exceed trials.

    Source: Wilson (1927), Journal of the American Statistical Association 22, 209-212.

    >>> [round(float(v), 4) for v in wilson_interval(8, 12)]
    [0.6667, 0.3906, 0.8619]
    """
    k, n = np.asarray(successes, float), np.asarray(trials, float)
    if (k > n).any() or (k < 0).any():
        raise ValueError("successes must lie between 0 and trials")
    z = special.ndtri((1 + level) / 2)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.where(n > 0, k / n, np.nan)
        middle = (share + z**2 / (2 * n)) / (1 + z**2 / n)
        half = z / (1 + z**2 / n) * np.sqrt(share * (1 - share) / n + z**2 / (4 * n**2))
    low = np.where(k == 0, np.where(n > 0, 0.0, np.nan), np.maximum(middle - half, 0))
    high = np.where(k == n, np.where(n > 0, 1.0, np.nan), np.minimum(middle + half, 1))
    return Interval(share, low, high)
