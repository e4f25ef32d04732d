"""Tables of counts: Pearson's test and effect size, as if every hit stood alone."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike
from scipy import special


class PearsonTest(NamedTuple):
    """chi2, degrees of freedom, p, and the smallest expected count."""

    chi2: float
    df: int
    p: float
    smallest_expected: float


def expected_counts(table: ArrayLike) -> np.ndarray:
    """Row total times column total over the whole; shape of ``table``. NaN for an empty table."""
    counts = np.asarray(table, float)
    with np.errstate(invalid="ignore"):
        found: np.ndarray = counts.sum(1, keepdims=True) * counts.sum(0, keepdims=True) / counts.sum()
        return found


def pearson_test(table: ArrayLike) -> PearsonTest:
    """Pearson's chi-squared test of a table of counts (rows by columns).

    Rows and columns without any count are left out. All NaN (df 0) where fewer than two of either
    remain.

    Source: Pearson (1900), Philosophical Magazine 50, 157-175.

    >>> pearson_test([[10, 20], [20, 10]]).chi2
    6.666666666666667
    """
    counts = used_part(table)
    if min(counts.shape) < 2:
        return PearsonTest(np.nan, 0, np.nan, np.nan)
    expected = expected_counts(counts)
    chi2 = float(((counts - expected) ** 2 / expected).sum())
    df = (counts.shape[0] - 1) * (counts.shape[1] - 1)
    return PearsonTest(chi2, df, float(special.chdtrc(df, chi2)), float(expected.min()))


def used_part(table: ArrayLike) -> np.ndarray:
    """The table without its empty rows and columns."""
    counts = np.asarray(table, float)
    counts = counts[counts.sum(1) > 0]
    found: np.ndarray = counts[:, counts.sum(0) > 0]
    return found


def cramers_v(table: ArrayLike) -> float:
    """Cramer's V with bias correction, 0 to 1: how far two variables go together.

    phi2' = max(0, chi2/n - (k-1)(r-1)/(n-1)), k' = k - (k-1)^2/(n-1), r' likewise,
    V = sqrt(phi2' / min(k'-1, r'-1)).

    NaN where fewer than two rows or columns have counts, or with a single observation.

    Source: Bergsma (2013), Journal of the Korean Statistical Society 42, 323-328.
    """
    counts = used_part(table)
    n = counts.sum()
    if min(counts.shape) < 2 or n < 2:
        return float("nan")
    r, k = counts.shape
    phi2 = max(0.0, pearson_test(counts).chi2 / n - (k - 1) * (r - 1) / (n - 1))
    smaller = min(k - (k - 1) ** 2 / (n - 1), r - (r - 1) ** 2 / (n - 1)) - 1
    return float(min(1.0, np.sqrt(phi2 / smaller))) if smaller > 0 else float("nan")
