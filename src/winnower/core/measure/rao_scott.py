"""The chi-squared test that respects texts: words come in texts, not one by one."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike
from scipy import sparse, special

from winnower.core.measure.counted import Counted


class AdjustedTest(NamedTuple):
    """Second-order Rao-Scott test: adjusted chi2, its degrees of freedom (not whole), p, design effect."""

    chi2: float
    df: float
    p: float
    design_effect: float


#: Up to so many rows all pairs of them are multiplied as they are, else a sparse table is.
FEW_ROWS = 30
#: Pairs of rows in units are gone through where there are at most so many for each entry.
MOST_PAIRS = 2
_UNDEFINED = AdjustedTest(np.nan, np.nan, np.nan, np.nan)


def share_covariance(texts: float, hits: ArrayLike, cross: ArrayLike) -> np.ndarray:
    """Covariance of a group's category shares, by linearisation over its texts.

    ``texts`` is the number n of texts in the group, ``hits`` (K) its hits by category, ``cross``
    (K by K) the sums over its texts of y_k * y_l. With M all hits, p = hits / M the shares and m a
    text's hits in all categories: z = (y - p m) / M, V = n / (n - 1) * sum(z z').

    Returns K by K, rows adding up to 0; NaN with fewer than two texts or without hits.

    Source: Rao and Scott (1981); linearisation as in Cochran (1977) ch. 6.
    """
    counts, products = np.asarray(hits, float), np.asarray(cross, float)
    total = counts.sum()
    if texts < 2 or not total > 0:
        return np.full(products.shape, np.nan)
    share = counts / total
    by_total = products.sum(1)
    z = products - np.outer(share, by_total) - np.outer(by_total, share)
    z += np.outer(share, share) * products.sum()
    found: np.ndarray = texts / (texts - 1) * z / total**2
    return found


def _few_pairs(c: Counted) -> np.ndarray | None:
    """The same by going through the pairs of rows in each unit; None where they are many."""
    by = np.argsort(c.unit, kind="stable")
    unit, row, hits = c.unit[by], c.row[by], c.hits[by]
    later = np.searchsorted(unit, unit, "right") - np.arange(len(unit)) - 1
    if not len(unit) or later.sum() > MOST_PAIRS * len(unit):
        return None
    one = np.repeat(np.arange(len(unit)), later)
    done = np.cumsum(later)
    other = np.arange(len(one)) - np.repeat(done - later, later) + one + 1
    k = c.n_rows
    group = c.group[unit].astype(np.int64) * k
    itself = np.bincount((group + row) * k + row, weights=hits * hits, minlength=c.n_groups * k * k)
    pairs = np.bincount(
        (group[one] + row[one]) * k + row[other],
        weights=hits[one] * hits[other],
        minlength=c.n_groups * k * k,
    ).reshape(c.n_groups, k, k)
    found: np.ndarray = itself.reshape(c.n_groups, k, k) + pairs + pairs.transpose(0, 2, 1)
    return found


def cross_products(counted: Counted) -> np.ndarray:
    """(G, K, K): for each group the sums over its units of y_k * y_l. Whole numbers, so that they are the same
    in whatever order they are added up."""
    c = counted
    if (pairs := _few_pairs(c)) is not None:
        return pairs
    small = np.int16 if c.n_groups < 2**15 else np.int32
    order = np.argsort(c.group.astype(small), kind="stable")
    place = np.empty(len(order), np.int64)
    place[order] = np.arange(len(order))
    ends = np.cumsum(np.bincount(c.group, minlength=c.n_groups))
    starts = np.concatenate([[0], ends[:-1]])
    out = np.zeros((c.n_groups, c.n_rows, c.n_rows))
    if c.n_rows > FEW_ROWS:
        table = sparse.csr_array((c.hits, (place[c.unit], c.row)), shape=(len(order), c.n_rows))
        for group, (low, high) in enumerate(zip(starts, ends, strict=True)):
            out[group] = (table[low:high].T @ table[low:high]).toarray()
        return out
    filled = ends > starts
    of_row = np.zeros((c.n_rows, len(order)))
    of_row[c.row, place[c.unit]] = c.hits
    for k in range(c.n_rows):
        for m in range(k, c.n_rows):
            out[filled, k, m] = out[filled, m, k] = np.add.reduceat(of_row[k] * of_row[m], starts[filled])
    return out


def rao_scott_test(hits: ArrayLike, texts: ArrayLike, cross: ArrayLike) -> AdjustedTest:
    """Do groups share their hits out over categories in the same way? Texts are the sampling unit.

    hits   K by G: hits of each category in each group
    texts  G: number of texts of each group
    cross  G by K by K: for each group the sums over its texts of y_k * y_l

    Pearson's X2 is distributed as a weighted sum of chi-squared variables whose weights are the
    eigenvalues of D = A C V C' with V the covariance of the groups' shares by linearisation over
    texts, C the contrast to the pooled shares and A the weights of X2. Second-order correction:
    X2 * tr(D) / tr(D^2) on tr(D)^2 / tr(D^2) degrees of freedom. The design effect is
    tr(D) / ((K-1)(G-1)): 1 where hits are independent of each other, larger where they clump.

    Categories and groups without hits are left out. NaN where fewer than two of either remain, or
    where a group with hits has fewer than two texts.

    Source: Rao and Scott (1981), JASA 76, 221-230; (1984), Annals of Statistics 12, 46-60.
    """
    counts = np.asarray(hits, float)
    n, products = np.asarray(texts, float), np.asarray(cross, float)
    rows, columns = counts.sum(1) > 0, counts.sum(0) > 0
    counts, n = counts[np.ix_(rows, columns)], n[columns]
    products = products[columns][:, rows][:, :, rows]
    k, g = counts.shape
    if min(k, g) < 2 or (n < 2).any():
        return _UNDEFINED
    trace, trace_of_square = _traces(counts, n, products)
    if not trace > 0 or not trace_of_square > 0:
        return _UNDEFINED
    expected = counts.sum(1, keepdims=True) * counts.sum(0) / counts.sum()
    x2 = float(((counts - expected) ** 2 / expected).sum())
    chi2, df = x2 * trace / trace_of_square, trace**2 / trace_of_square
    return AdjustedTest(chi2, df, float(special.chdtrc(df, chi2)), trace / ((k - 1) * (g - 1)))


def _traces(counts: np.ndarray, n: np.ndarray, products: np.ndarray) -> tuple[float, float]:
    """tr(D) and tr(D D), group by group, so that the matrix of all pairs of groups is never made.

    With P the inverse of the pooled shares' covariance, V_j that of a group's shares, M_j its hits, w_j its
    part of all and S = sum w_j^2 V_j, the block of D for groups j and l is M_j P times
    V_j where j = l, less w_j V_j, less w_l V_l, plus S.
    """
    k, g = counts.shape
    weight = counts.sum(0)
    part, pooled, free = weight / weight.sum(), counts.sum(1) / counts.sum(), k - 1
    inverse = np.diag(1 / pooled[:free]) + 1 / pooled[-1]
    own = np.stack(
        [inverse @ share_covariance(n[j], counts[:, j], products[j])[:free, :free] for j in range(g)]
    )
    scaled = part[:, None, None] * own
    common = (part[:, None, None] * scaled).sum(0)
    mean = (weight[:, None, None] * scaled).sum(0)
    whole = weight.sum()
    of_own, of_scaled = np.trace(own, axis1=1, axis2=2), np.trace(scaled, axis1=1, axis2=2)
    trace = float((weight * (of_own - 2 * of_scaled + np.trace(common))).sum())
    squares = whole**2 * np.sum(common * common.T) - 4 * whole * np.sum(common * mean.T)
    squares += 2 * whole * (weight * np.einsum("gij,gji->g", scaled, scaled)).sum()
    squares += 2 * np.sum(mean * mean.T)
    block = common - 2 * scaled
    diagonal = 2 * np.einsum("gij,gji->g", block, own) + np.einsum("gij,gji->g", own, own)
    return trace, float(squares + (weight**2 * diagonal).sum())
