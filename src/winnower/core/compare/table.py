"""The answer to a comparison: counts, measures with intervals, tests."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from winnower.core.compare.comparison import Comparison
from winnower.core.compare.counting import GroupSums, count_groups
from winnower.core.index import TokenIndex
from winnower.core.measure import (
    AdjustedTest,
    Interval,
    PearsonTest,
    adjusted_residuals,
    cramers_v,
    deviation_of_proportions,
    mean_of_rates,
    pearson_test,
    rao_scott_test,
    rate_interval,
    small_table_p,
    wilson_interval,
)
from winnower.core.scope import Columns, Ground, Groups, lay_ground

PER_WORDS = 1_000
SMALL_EXPECTED = 5


@dataclass(frozen=True)
class TableTest:
    """The test of the tested rows across groups, or the reason why there is none."""

    pearson: PearsonTest
    adjusted: AdjustedTest
    cramers_v: float
    exact_p: float | None
    exact_way: str | None
    reason: str | None


@dataclass(frozen=True)
class Table:
    """Rows are the dictionary's categories in tree order, columns the groups of the split."""

    comparison: Comparison
    groups: Groups
    sums: GroupSums
    tested_rows: tuple[int, ...]
    texts_in_scope: int
    texts_in_groups: int

    @property
    def hits(self) -> np.ndarray:
        """int64, categories by groups."""
        return np.rint(self.sums.hits).astype(np.int64)

    @property
    def texts_with_hit(self) -> np.ndarray:
        return np.rint(self.sums.with_hit).astype(np.int64)

    @property
    def words(self) -> np.ndarray:
        return np.rint(self.sums.words).astype(np.int64)

    @property
    def texts(self) -> np.ndarray:
        return np.rint(self.sums.texts).astype(np.int64)

    def measure(self, name: str) -> Interval:
        """A measure of every cell with its interval; counts have none (NaN)."""
        s, level = self.sums, self.comparison.level
        if name == "rate":
            sums = (s.texts, s.words, s.words_squared, s.hits, s.hits_squared, s.hits_by_words)
            return _times(rate_interval(*sums, level=level), PER_WORDS)
        if name == "mean_rate":
            sums = (s.texts_with_words, s.rate_sum, s.rate_squared_sum)
            return _times(mean_of_rates(*sums, level=level), PER_WORDS)
        if name == "share":
            return self._share()
        if name == "share_of_texts":
            return wilson_interval(s.with_hit, np.broadcast_to(s.texts, s.with_hit.shape), level)
        counts = s.hits if name == "hits" else s.with_hit
        none = np.full(counts.shape, np.nan)
        return Interval(counts, none, none)

    def _share(self) -> Interval:
        """Of all hits of the tested rows in the group; interval by the ratio of sums over texts."""
        s, tested = self.sums, list(self.tested_rows)
        base = s.hits[tested].sum(0)
        none = np.full(s.hits.shape, np.nan)
        if s.cross is None:
            with np.errstate(divide="ignore", invalid="ignore"):
                return Interval(np.where(base > 0, s.hits / base, np.nan), none, none)
        value, low, high = none.copy(), none.copy(), none.copy()
        base_squared = s.cross.sum(axis=(1, 2))
        by_base = s.cross.sum(axis=2).T
        squared = np.einsum("gkk->kg", s.cross)
        part = rate_interval(
            s.texts, base, base_squared, s.hits[tested], squared, by_base, self.comparison.level
        )
        value[tested], low[tested], high[tested] = part
        return Interval(value, low, np.minimum(high, 1))

    @cached_property
    def residuals(self) -> np.ndarray:
        """Adjusted residuals of the tested rows; NaN in the other rows."""
        out = np.full(self.sums.hits.shape, np.nan)
        out[list(self.tested_rows)] = adjusted_residuals(self.sums.hits[list(self.tested_rows)])
        return out

    @cached_property
    def evenness(self) -> np.ndarray:
        """DP of each category over the groups."""
        return deviation_of_proportions(self.sums.hits, self.sums.words)

    @cached_property
    def test(self) -> TableTest:
        """Do the groups share their hits out over the tested categories in the same way?"""
        counts = self.sums.hits[list(self.tested_rows)]
        pearson = pearson_test(counts)
        undefined = AdjustedTest(np.nan, np.nan, np.nan, np.nan)
        reason = self._why_untested(counts)
        if reason:
            nothing = PearsonTest(np.nan, 0, np.nan, np.nan)
            return TableTest(nothing, undefined, float("nan"), None, None, reason)
        adjusted = rao_scott_test(counts, self.sums.texts, self.sums.cross)
        exact_p, way = None, None
        if pearson.smallest_expected < SMALL_EXPECTED:
            exact_p, way = small_table_p(counts, self.comparison.seed)
        return TableTest(pearson, adjusted, cramers_v(counts), exact_p, way, None)

    def _why_untested(self, counts: np.ndarray) -> str | None:
        if not self.groups.disjoint:
            return "Some texts belong to several groups, so a test across them would not hold."
        if self.groups.n_groups < 2:
            return "There is only one group, so there is nothing to test."
        if (counts.sum(1) > 0).sum() < 2:
            return "Fewer than two categories have hits, so there is nothing to test."
        if (counts.sum(0) > 0).sum() < 2:
            return "Fewer than two groups have hits, so there is nothing to test."
        return None


def _times(interval: Interval, factor: float) -> Interval:
    return Interval(*(part * factor for part in interval))


def compare(
    comparison: Comparison, index: TokenIndex, columns: Columns, ground: Ground | None = None
) -> Table:
    """Compute a comparison over a corpus. Raises ScopeError or TermError where it does not fit.

    ``ground`` is that of the comparison's scope and split, where it is at hand.
    """
    ground = ground or lay_ground(comparison.scope, comparison.split, index, columns)
    groups = ground.groups
    return Table(
        comparison=comparison,
        groups=groups,
        sums=count_groups(comparison.target, index, ground),
        tested_rows=comparison.target.tested_rows(),
        texts_in_scope=int(ground.mask.sum()),
        texts_in_groups=len(groups.text) if groups.disjoint else len(np.unique(groups.text)),
    )
