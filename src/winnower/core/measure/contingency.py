"""Tables of counts: Pearson's test, effect size, residuals."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

SIMULATIONS = 2_000


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


def adjusted_residuals(table: ArrayLike) -> np.ndarray:
    """Adjusted standardised residuals; shape of ``table``, about standard normal without difference.

    (O - E) / sqrt(E (1 - row share) (1 - column share)); NaN in empty rows and columns.

    Source: Haberman (1973), Biometrics 29, 205-220.
    """
    counts = np.asarray(table, float)
    total = counts.sum()
    expected = expected_counts(counts)
    with np.errstate(divide="ignore", invalid="ignore"):
        rows = 1 - counts.sum(1, keepdims=True) / total
        columns = 1 - counts.sum(0, keepdims=True) / total
        spread = np.sqrt(expected * rows * columns)
        return np.where(spread > 0, (counts - expected) / spread, np.nan)


def small_table_p(table: ArrayLike, seed: int = 1) -> tuple[float, str]:
    """A p value that holds with small expected counts, and the name of the way it was found.

    Two by two: Fisher's exact test. Larger: the share of 2,000 random tables with the same margins
    whose chi-squared is at least as large, (b + 1) / (B + 1), drawn with ``seed``.

    Source: Fisher (1935), The Design of Experiments; Hope (1968), Journal of the Royal Statistical
    Society B 30, 582-598; tables by Patefield (1981), algorithm AS 159.
    """
    from scipy import stats  # takes long to load and is needed for small tables only

    counts = used_part(table)
    if min(counts.shape) < 2:
        return float("nan"), "none"
    if counts.shape == (2, 2):
        return float(stats.fisher_exact(counts).pvalue), "Fisher's exact test"
    whole = counts.astype(np.int64)
    draw = stats.random_table(whole.sum(1), whole.sum(0), seed=np.random.default_rng(seed))
    tables = draw.rvs(SIMULATIONS)
    expected = expected_counts(whole)
    drawn = ((tables - expected) ** 2 / expected).sum(axis=(1, 2))
    as_large = int((drawn >= pearson_test(whole).chi2 * (1 - 1e-12)).sum())
    return (as_large + 1) / (SIMULATIONS + 1), f"{SIMULATIONS:,} random tables, seed {seed}"
