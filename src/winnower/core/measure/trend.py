"""Does a rate rise or fall over periods that follow each other?"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from scipy import special

#: With fewer periods with a size there is no test.
LEAST_PERIODS = 10


class Trend(NamedTuple):
    """Of K rows; NaN where there is no test. ``first`` and ``last``: the fitted rates of the first and the last
    period; t, df and p of the slope."""

    first: np.ndarray
    last: np.ndarray
    t: np.ndarray
    df: float
    p: np.ndarray


def trend_test(hits: np.ndarray, sizes: np.ndarray, signed: bool = False) -> Trend:
    """A straight line through the rates of G periods in their order, weighted by their sizes.

    hits (K, G), sizes (G); ``signed`` where hits are sums that can be below nought. Neighbouring periods are often alike, so that the errors of the line are slow waves.
    Its slope is therefore set against waves nearly as slow: the part of the weighted rates along m cosines of 2, 3...
    half turns, m = 0.4 G^(2/3), made orthogonal to the line. Each is as large as the slope's error where there is
    neither trend nor more slowness than theirs, so that slope over their root mean square is t with m degrees of
    freedom, exactly so where periods are independent. All NaN with fewer than LEAST_PERIODS periods with a size.

    Source: Mueller and Watson (2008), Econometrica 76, 979-1016; number of waves from Lazarus, Lewis, Stock and
    Watson (2018), Journal of Business and Economic Statistics 36, 541-559.
    """
    y, x = np.asarray(hits, float), np.asarray(sizes, float)
    k, g = y.shape
    none = np.full(k, np.nan)
    if (x > 0).sum() < LEAST_PERIODS:
        return Trend(none, none, none, np.nan, none)
    root = np.sqrt(x)
    m = max(int(0.4 * g ** (2 / 3)), 1)
    turns = np.pi * np.outer(np.arange(2, m + 2), np.arange(g) + 0.5) / g
    basis, _ = np.linalg.qr(np.stack([root, np.arange(g) * root, *(np.cos(turns) * root)], 1))
    rate = y.sum(1, keepdims=True) / x.sum()
    along = (np.where(x > 0, (y - rate * x) / np.where(x > 0, root, 1), 0)) @ basis
    with np.errstate(divide="ignore", invalid="ignore"):
        t = np.where(
            (y != 0).any(1) if signed else y.sum(1) > 0,
            along[:, 1] / np.sqrt((along[:, 2:] ** 2).mean(1)),
            np.nan,
        )
    time = np.arange(g) - np.average(np.arange(g), weights=x)
    slope = ((y - rate * x) * time).sum(1, keepdims=True) / (x * time**2).sum()
    t = np.abs(t) * np.sign(slope[:, 0])
    ends = rate + slope * time[[0, -1]]
    ends = ends if signed else np.maximum(ends, 0)
    return Trend(ends[:, 0], ends[:, 1], t, float(m), 2 * special.stdtr(m, -np.abs(t)))
