"""The answer to a comparison: counts, measures with intervals, tests."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from winnower.core.compare.comparison import Comparison
from winnower.core.compare.counting import GroupSums, count_groups
from winnower.core.compare.measures import MEASURES, Measure
from winnower.core.compare.targets import Corpus, Target
from winnower.core.measure import (
    AdjustedTest,
    Interval,
    PearsonTest,
    adjusted_residuals,
    cramers_v,
    deviation_of_proportions,
    pearson_test,
    rao_scott_test,
    small_table_p,
)
from winnower.core.scope import Ground, Groups, lay_ground

SMALL_EXPECTED = 5
#: Cells whose adjusted residual lies further from 0 than this are pointed out.
STANDS_OUT = 2.0


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
    """Rows are those of the target, columns the groups of the split."""

    comparison: Comparison
    target: Target
    groups: Groups
    sums: GroupSums
    texts_in_scope: int
    texts_in_groups: int

    @property
    def hits(self) -> np.ndarray:
        """int64, categories by groups."""
        found: np.ndarray = np.rint(self.sums.hits).astype(np.int64)
        return found

    @property
    def texts_with_hit(self) -> np.ndarray:
        found: np.ndarray = np.rint(self.sums.with_hit).astype(np.int64)
        return found

    @property
    def words(self) -> np.ndarray:
        found: np.ndarray = np.rint(self.sums.words).astype(np.int64)
        return found

    @property
    def texts(self) -> np.ndarray:
        found: np.ndarray = np.rint(self.sums.texts).astype(np.int64)
        return found

    @property
    def tested_rows(self) -> tuple[int, ...]:
        return self.target.tested_rows

    @property
    def shown(self) -> Measure:
        """The measure the comparison asks for."""
        return MEASURES[self.comparison.measure]

    def measure(self, name: str) -> Interval:
        """A measure of every cell with its interval; counts have none (NaN)."""
        return MEASURES[name].compute(self.sums, self.tested_rows, self.comparison.level)

    @cached_property
    def residuals(self) -> np.ndarray:
        """Adjusted residuals of the tested rows; NaN in the other rows."""
        out = np.full(self.sums.hits.shape, np.nan)
        out[list(self.tested_rows)] = adjusted_residuals(self.sums.hits[list(self.tested_rows)])
        return out

    @cached_property
    def stands_out(self) -> np.ndarray:
        """int8 per cell: 1 far more hits than the whole mix would give, -1 far fewer, else 0."""
        with np.errstate(invalid="ignore"):
            far = np.abs(self.residuals) > STANDS_OUT
        return np.where(far, np.sign(np.nan_to_num(self.residuals)), 0).astype(np.int8)

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
        assert self.sums.cross is not None  # groups are disjoint here
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
            return f"Fewer than two {self.target.nouns[1]} have hits, so there is nothing to test."
        if (counts.sum(0) > 0).sum() < 2:
            return "Fewer than two groups have hits, so there is nothing to test."
        return None


def compare(
    comparison: Comparison,
    target: Target,
    corpus: Corpus,
    ground: Ground | None = None,
    sums: GroupSums | None = None,
) -> Table:
    """Compute a comparison of a target that was looked up. Raises ScopeError or TermError where it does not
    fit the corpus.

    ``ground`` is that of the comparison's scope and split and ``sums`` its counts, where they are at hand.
    """
    ground = ground or lay_ground(comparison.texts, comparison.split, corpus.index, corpus.columns)
    groups = ground.groups
    return Table(
        comparison=comparison,
        target=target,
        groups=groups,
        sums=count_groups(target, corpus, ground) if sums is None else sums,
        texts_in_scope=int(ground.mask.sum()),
        texts_in_groups=len(groups.text) if groups.disjoint else len(np.unique(groups.text)),
    )
