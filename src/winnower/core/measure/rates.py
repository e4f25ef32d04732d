"""Rates with intervals; the text is the sampling unit."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike
from scipy import special


class Interval(NamedTuple):
    """An estimate and its interval; all arrays of one shape. NaN where it is not defined."""

    value: np.ndarray
    low: np.ndarray
    high: np.ndarray


def rate_interval(
    texts: ArrayLike,
    words: ArrayLike,
    words_squared: ArrayLike,
    hits: ArrayLike,
    hits_squared: ArrayLike,
    hits_by_words: ArrayLike,
    level: float = 0.95,
) -> Interval:
    """Hits per word of groups of texts, with the ratio estimator's interval.

    With x words and y hits of each of n texts: r = sum(y) / sum(x),
    var(r) = n / (n - 1) * sum((y - r x)^2) / sum(x)^2, interval r -+ t(n - 1) * sqrt(var(r)),
    cut off at 0.

    Arguments are sums over the texts of each group, of shapes that broadcast: n, sum(x), sum(x^2),
    sum(y), sum(y^2), sum(x y). Unit: hits per word.

    Undefined (NaN): the rate without words; the interval also with fewer than two texts, or
    without any hit, where the estimated variance is zero for want of data.

    Source: Cochran (1977), Sampling Techniques, 3rd ed., ch. 6.

    >>> texts = [(10, 1), (20, 1), (30, 4)]  # words, hits
    >>> r = rate_interval(3, 60, 1400, 6, 18, 150)
    >>> float(r.value), round(float(r.high), 4)
    (0.1, 0.2242)
    """
    n, x, xx = (np.asarray(a, float) for a in (texts, words, words_squared))
    y, yy, xy = (np.asarray(a, float) for a in (hits, hits_squared, hits_by_words))
    rate, se = _rate_and_error(n, x, xx, y, yy, xy)
    with np.errstate(invalid="ignore"):
        half = special.stdtrit(np.where(n > 1, n - 1, np.nan), (1 + level) / 2) * se
    return Interval(rate, np.maximum(rate - half, 0), rate + half)


def _rate_and_error(
    n: np.ndarray, x: np.ndarray, xx: np.ndarray, y: np.ndarray, yy: np.ndarray, xy: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Ratio estimator and its standard error; the error is NaN where it says nothing."""
    with np.errstate(divide="ignore", invalid="ignore"):
        rate = np.where(x > 0, y / x, np.nan)
        spread = np.maximum(yy - 2 * rate * xy + rate**2 * xx, 0)
        variance = n / (n - 1) * spread / x**2
    known = (n > 1) & (y > 0)
    return rate, np.sqrt(np.where(known, variance, np.nan))


def ratio_of_rates(
    first: tuple[ArrayLike, ...], second: tuple[ArrayLike, ...], level: float = 0.95
) -> Interval:
    """How many times as high the first rate is, with an interval on the log scale.

    log(r1 / r2) -+ t(v) * sqrt(var(r1) / r1^2 + var(r2) / r2^2), v by Welch and Satterthwaite with
    n1 - 1 and n2 - 1. Each argument holds the six sums of ``rate_interval``.

    Undefined (NaN): where one side has no hit or fewer than two texts.

    Source: delta method on Cochran (1977) ch. 6; degrees of freedom Welch (1947).
    """
    a, b = ([np.asarray(v, float) for v in side] for side in (first, second))
    rate_a, se_a = _rate_and_error(*a)
    rate_b, se_b = _rate_and_error(*b)
    with np.errstate(divide="ignore", invalid="ignore"):
        var_a, var_b = (se_a / rate_a) ** 2, (se_b / rate_b) ** 2
        df = (var_a + var_b) ** 2 / (var_a**2 / (a[0] - 1) + var_b**2 / (b[0] - 1))
        half = special.stdtrit(df, (1 + level) / 2) * np.sqrt(var_a + var_b)
        ratio = rate_a / rate_b
        ratio = np.where((rate_a > 0) & (rate_b > 0), ratio, np.nan)
        return Interval(ratio, ratio * np.exp(-half), ratio * np.exp(half))


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


def mean_of_rates(
    texts: ArrayLike, rate_sum: ArrayLike, rate_squared_sum: ArrayLike, level: float = 0.95
) -> Interval:
    """The mean over texts of their own rates, with Student's interval: every text weighs the same.

    Arguments: number of texts with words, sum and sum of squares of their rates.
    Undefined (NaN): the mean without texts; the interval with fewer than two or without any hit.

    Source: Student (1908), Biometrika 6, 1-25.
    """
    n, total, squares = (np.asarray(a, float) for a in (texts, rate_sum, rate_squared_sum))
    with np.errstate(divide="ignore", invalid="ignore"):
        mean = np.where(n > 0, total / n, np.nan)
        variance = np.maximum(squares - n * mean**2, 0) / (n - 1)
        half = special.stdtrit(np.where(n > 1, n - 1, np.nan), (1 + level) / 2) * np.sqrt(variance / n)
    half = np.where(total > 0, half, np.nan)
    return Interval(mean, np.maximum(mean - half, 0), mean + half)
