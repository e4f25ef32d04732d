"""How strongly two things go together: G2, logDice, pointwise mutual information."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike


def _table(
    together: ArrayLike, first: ArrayLike, second: ArrayLike, whole: ArrayLike
) -> tuple[np.ndarray, np.ndarray]:
    """The four cells of the 2 by 2 table, and what they would be without association; 4 by ..."""
    o11, r1, c1, n = np.broadcast_arrays(*(np.asarray(v, float) for v in (together, first, second, whole)))
    observed = np.stack([o11, r1 - o11, c1 - o11, n - r1 - c1 + o11])
    if (observed < -1e-9).any():
        raise ValueError("together cannot be larger than first or second, nor these than the whole")
    with np.errstate(divide="ignore", invalid="ignore"):
        expected = np.stack([r1 * c1, r1 * (n - c1), (n - r1) * c1, (n - r1) * (n - c1)]) / n
    return np.maximum(observed, 0), expected


def log_likelihood(together: ArrayLike, first: ArrayLike, second: ArrayLike, whole: ArrayLike) -> np.ndarray:
    """Dunning's G2 on the full 2 by 2 table, negative where there is less than expected.

    together  ...: how often both are there
    first     ...: how often the first is there, ``second`` the second, ``whole`` all that was looked at

    G2 = 2 sum(O ln(O / E)). 0 where one of the margins is empty. Raises ValueError where the counts
    cannot belong to one table.

    Source: Dunning (1993), Computational Linguistics 19, 61-74.

    >>> round(log_likelihood(10, 20, 20, 100).item(), 3)
    13.464
    """
    observed, expected = _table(together, first, second, whole)
    with np.errstate(divide="ignore", invalid="ignore"):
        parts = np.where(observed > 0, observed * np.log(observed / expected), 0.0)
    g2 = np.maximum(2 * np.nan_to_num(parts).sum(0), 0.0)
    found: np.ndarray = np.where(observed[0] < np.nan_to_num(expected[0]), -g2, g2)
    return found


def log_dice(together: ArrayLike, first: ArrayLike, second: ArrayLike) -> np.ndarray:
    """logDice: 14 + log2(2 together / (first + second)); 14 where neither is there without the other.

    Arrays of one shape. NaN where ``together`` is 0.

    Source: Rychly (2008), Proceedings of RASLAN, 6-9.

    >>> log_dice(5, 5, 5).item()
    14.0
    """
    both, r1, c1 = (np.asarray(v, float) for v in (together, first, second))
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(both > 0, 14 + np.log2(2 * both / (r1 + c1)), np.nan)


def mutual_information(
    together: ArrayLike, first: ArrayLike, second: ArrayLike, whole: ArrayLike
) -> np.ndarray:
    """Pointwise mutual information, log2(observed / expected): 0 without association. Rare words are
    overrated by it, so it goes with a least count.

    Arrays of one shape. NaN where ``together`` or a margin is 0.

    Source: Church and Hanks (1990), Computational Linguistics 16, 22-29.

    >>> mutual_information(10, 20, 20, 100).item()
    1.3219280948873624
    """
    both, r1, c1, n = (np.asarray(v, float) for v in (together, first, second, whole))
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where((both > 0) & (r1 > 0) & (c1 > 0), np.log2(both * n / (r1 * c1)), np.nan)
