"""The answer to a comparison: counts, measures with intervals, tests."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from winnower.core.compare.bases import OF_HITS_ALONE
from winnower.core.compare.comparison import Comparison
from winnower.core.compare.counting import Counts, count_groups
from winnower.core.compare.held import hold_equal
from winnower.core.compare.judged import RowVerdicts, judged_of
from winnower.core.compare.measure import Measure, View
from winnower.core.compare.measures import MEASURES
from winnower.core.compare.spoken import measure_in
from winnower.core.compare.targets import Corpus, Target
from winnower.core.compare.testing import Tests, run_tests
from winnower.core.compare.unit import Unit, unit_of
from winnower.core.compare.weights import weights_of
from winnower.core.errors import ComparisonError
from winnower.core.measure import Interval, PearsonTest, cramers_v, deviation_of_proportions, pearson_test
from winnower.core.scope import DateColumn, Ground, Groups, lay_ground


@dataclass(frozen=True)
class Table:
    """Rows are those of the target, columns the groups of the split. ``alike``: texts that nearly repeat another one of
    the groups, None where nobody looked for them."""

    comparison: Comparison
    target: Target
    groups: Groups
    counts: Counts
    view: View
    unit: Unit
    tests: Tests
    texts_in_scope: int
    texts_in_groups: int
    alike: int | None = None

    @property
    def hits(self) -> np.ndarray:
        """int64, categories by groups."""
        return _whole(self.counts.hits_in)

    @property
    def counted(self) -> np.ndarray:
        """int64: what is counted, such as sentences with a hit; the hits where these are."""
        return _whole(self.counts.hits)

    @property
    def texts_with_hit(self) -> np.ndarray:
        return _whole(self.counts.with_hit)

    @property
    def words(self) -> np.ndarray:
        return _whole(self.counts.words)

    @property
    def sizes(self) -> np.ndarray:
        """int64 (G): what it is counted over: words, sentences or paragraphs."""
        return _whole(self.counts.unweighted.sizes)

    @property
    def texts(self) -> np.ndarray:
        return _whole(self.counts.counted.units)

    @property
    def texts_alone(self) -> int:
        """Texts of the groups without a value of the chosen unit: each is a unit of its own."""
        alone = self.unit.alone
        return 0 if alone is None else int(alone[np.unique(self.groups.text)].sum())

    @property
    def tested_rows(self) -> tuple[int, ...]:
        return self.target.tested_rows

    @property
    def of_numbers(self) -> bool:
        """Whether rows are numbers, whose means are compared, and no hits."""
        return bool(self.counts.numbers)

    @property
    def shown(self) -> Measure:
        """The measure the comparison asks for."""
        return self.named(self.comparison.measure)

    def named(self, name: str) -> Measure:
        """A measure as it is spoken of here."""
        c, labels = self.comparison, self.groups.labels
        reference = c.reference if c.reference in labels else "all other groups"
        return measure_in(name, c.counting, c.per, reference or "")

    @property
    def measures(self) -> tuple[Measure, ...]:
        """Those that have an interval here; of numbers all there are."""
        if self.of_numbers:
            return tuple(self.named(one.name) for one in MEASURES.values() if one.needs == "numbers")
        there = {"": True, "held": self.view.held is not None, "judged": self.view.judged is not None}
        gone = OF_HITS_ALONE if self.comparison.counting != "hits" else ()
        return tuple(
            self.named(one.name)
            for one in MEASURES.values()
            if one.has_interval and there.get(one.needs) and one.name not in gone
        )

    def measure(self, name: str) -> Interval:
        """A measure of every cell with its interval; counts have none (NaN)."""
        return MEASURES[name].compute(self.view)

    @cached_property
    def residuals(self) -> np.ndarray:
        """How far the rate of a cell lies from that of all other groups, in standard errors over units; NaN where
        it is not tested."""
        verdict = self.tests.verdict
        return np.full(self.counts.hits.shape, np.nan) if verdict is None else verdict.rates.z

    @cached_property
    def stands_out(self) -> np.ndarray:
        """int8 per cell: 1 more (a higher mean) than in all other groups, beyond chance in all cells together, -1 less."""
        verdict = self.tests.verdict
        if verdict is None:
            return np.zeros(self.counts.hits.shape, np.int8)
        with np.errstate(invalid="ignore"):
            far = verdict.rates.z_p <= 1 - self.comparison.level
        return np.where(far, np.sign(np.nan_to_num(verdict.rates.z)), 0).astype(np.int8)

    @cached_property
    def evenness(self) -> np.ndarray:
        """DP of each category over the groups; NaN of numbers."""
        if self.of_numbers:
            return np.full(self.counts.n_rows, np.nan)
        return deviation_of_proportions(self.counts.hits, self.counts.unweighted.sizes)

    @cached_property
    def customary(self) -> tuple[PearsonTest, float]:
        """The chi-squared test and Cramer's V of the tested rows, as if every hit stood alone: to set beside
        other studies, and too sure of itself where hits come in texts. Of numbers there is none (NaN)."""
        if self.of_numbers:
            return PearsonTest(np.nan, 0, np.nan, np.nan), float("nan")
        counts = self.counts.hits[list(self.tested_rows)]
        return pearson_test(counts), cramers_v(counts)


def _whole(values: np.ndarray) -> np.ndarray:
    found: np.ndarray = np.rint(values).astype(np.int64)
    return found


def compare(
    comparison: Comparison,
    target: Target,
    corpus: Corpus,
    ground: Ground | None = None,
    counts: Counts | None = None,
    tests: Tests | None = None,
    verdicts: Mapping[str, RowVerdicts] | None = None,
) -> Table:
    """Compute a comparison of a target that was looked up. Raises ScopeError or TermError where it does not
    fit the corpus.

    ``ground`` is that of the comparison's scope and split, ``counts`` are its counts and ``tests`` their tests,
    where they are at hand. ``verdicts`` of rows, by their key, are wanted by the measures that need them.
    """
    ground = ground or lay_ground(comparison.texts, comparison.split, corpus.index, corpus.columns)
    groups = ground.groups
    counts = counted_by(comparison, target, corpus, ground) if counts is None else counts
    unit, view = viewed(comparison, target, corpus, counts)
    if verdicts is not None:
        view = replace(view, judged=judged_of(target, corpus, ground, verdicts, comparison.level))
    return Table(
        comparison=comparison,
        target=target,
        groups=groups,
        counts=counts,
        view=view,
        unit=unit,
        tests=run_tests(view, target, unit, comparison.seed, is_dated(comparison, corpus))
        if tests is None
        else tests,
        texts_in_scope=int(ground.mask.sum()),
        texts_in_groups=len(groups.text) if groups.disjoint else len(np.unique(groups.text)),
        alike=_alike(corpus, groups),
    )


def counted_by(comparison: Comparison, target: Target, corpus: Corpus, ground: Ground) -> Counts:
    """What a comparison counts in every group, each text with its weight. Raises ScopeError where the weights are none."""
    weights = None if comparison.weight is None else weights_of(comparison.weight, ground.groups, corpus)
    return count_groups(target, corpus, ground, comparison.counting, weights)


def _alike(corpus: Corpus, groups: Groups) -> int | None:
    """Texts of the groups that nearly repeat another one of them, the first of each story not counted."""
    if corpus.stories is None:
        return None
    stories = corpus.stories[np.unique(groups.text)]
    stories = stories[stories >= 0]
    return len(stories) - len(np.unique(stories))


def is_dated(comparison: Comparison, corpus: Corpus) -> bool:
    """Whether the groups are periods that follow each other."""
    field = comparison.split.field
    if field is None or not comparison.split.plain:
        return False
    return isinstance(corpus.columns.field(field), DateColumn)


def viewed(comparison: Comparison, target: Target, corpus: Corpus, counts: Counts) -> tuple[Unit, View]:
    """The sampling unit of a comparison, and what its measures and tests start from. Raises ScopeError."""
    unit = unit_of(comparison.unit, corpus)
    of_member = None if unit.of_text is None else unit.of_text[counts.groups.text]
    held = hold_equal(comparison.adjust, counts.groups, corpus)
    labels, asked = counts.groups.labels, comparison.reference
    if asked is not None and asked not in labels:
        raise ComparisonError(f"There is no group “{asked}” in this split to set the others against.")
    reference = None if asked is None else labels.index(asked)
    view = View(
        counts, target.tested_rows, comparison.level, of_member, held, per=comparison.per, reference=reference
    )
    return unit, view
