"""Does the mix of rows differ between groups: their shares of all hits, whatever their number?"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from winnower.core.measure import permutation
from winnower.core.measure.counted import Counted
from winnower.core.measure.homogeneity import as_it_is, scores
from winnower.core.measure.rao_scott import cross_products, rao_scott_test

#: Numbers of the table of products the approximation needs, at most.
MOST_PRODUCTS = 4_000_000
#: Shares of more rows than this are not tested as one mix.
MOST_MIXED = 500
#: States of chance at most: one p, that is adjusted for nothing, needs fewer than many.
MOST_TIMES = 499


class MixTest(NamedTuple):
    """statistic and, where it is approximated, its degrees of freedom; p; states drawn (0: approximated)."""

    statistic: float
    df: float
    p: float
    times: int


NO_MIX = MixTest(np.nan, np.nan, np.nan, 0)


def mix_test(counted: Counted, seed: int = 1, most: int = MOST_TIMES) -> MixTest:
    """Test the mix; NaN where fewer than two rows or groups have hits, or more than MOST_MIXED. At most ``most`` states.

    Only units with hits are looked at, as many in each group as there are. The statistic is the sum over rows
    of the studentised spread of their shares between groups; units are given to the groups anew (Chung and
    Romano 2013, Annals of Statistics 41). Where there are too many for that, the second-order corrected test of
    Rao and Scott (1984, Annals of Statistics 12), which holds its level there (bench/levels.py).
    """
    c = counted.as_shares()
    used = c.totals.sum(1) > 0
    filled = c.totals.sum(0) > 0
    if not 2 <= used.sum() <= MOST_MIXED or filled.sum() < 2:
        return NO_MIX
    c = c.some(filled, used)
    cost = len(c.group) + 4 * len(c.unit)
    if cost > permutation.SMALL and c.n_groups * c.n_rows**2 <= MOST_PRODUCTS and c.units.min() >= 2:
        found = rao_scott_test(c.totals, c.units, cross_products(c))
        return MixTest(found.chi2, found.df, found.p, 0)
    return _permuted(c, cost, seed, most)


def _permuted(c: Counted, cost: int, seed: int, most: int) -> MixTest:
    found = _statistic(scores(as_it_is(c)).heterogeneity)[0]
    if not np.isfinite(found):
        return NO_MIX
    above, drawn = 0, 0
    for sums in permutation.permuted_sums(c, permutation.times_for(cost, most), seed):
        state = _statistic(scores(sums).heterogeneity)
        above += int(permutation.as_extreme(state, found))
        drawn += len(state)
        if above >= permutation.CLEAR and drawn >= 2 * permutation.CLEAR:
            break
    return MixTest(float(found), np.nan, (above + 1) / (drawn + 1), drawn)


def _statistic(heterogeneity: np.ndarray) -> np.ndarray:
    """(B): the sum over rows; NaN where no row says anything."""
    known = np.isfinite(heterogeneity)
    return np.where(known.any(1), np.where(known, heterogeneity, 0).sum(1), np.nan)
