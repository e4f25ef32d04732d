"""What a table says, in plain words."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from winnower.core.compare.measures import MEASURES, number
from winnower.core.compare.table import SMALL_EXPECTED, Table
from winnower.core.measure import Interval, ratio_of_rates

#: A rate takes part in the search for the largest gap from this many texts with a hit on.
LEAST_TEXTS = 5


@dataclass(frozen=True)
class Statement:
    """A sentence about a table. ``kind`` is gap, test, note or warning; ``strong`` parts stand out."""

    kind: str
    text: str
    strong: tuple[str, ...] = ()


def statements(table: Table) -> list[Statement]:
    """The largest gap, the test, and what limits them."""
    found = [*_gap(table), *_test(table), *_warnings(table)]
    left_out = table.texts_in_scope - table.texts_in_groups
    if left_out:
        texts = "text has" if left_out == 1 else "texts have"
        found.append(Statement("note", f"{left_out:,} {texts} no value here and are left out."))
    return found


def _gap(table: Table) -> list[Statement]:
    if table.groups.n_groups < 2:
        return []
    best, ratio = largest_gap(table)
    if best is None or ratio is None:
        return [Statement("gap", "No gap between two groups is larger than chance would give.")]
    row, high, low = best
    times, least, most = (float(part) for part in ratio)
    rate, measure = table.measure("rate").value, MEASURES["rate"]
    label, says = table.target.rows[row].label, table.target.says(row)
    first, second = table.groups.labels[high], table.groups.labels[low]
    text = (
        f"Largest gap. {first} {says} {number(times)} times as often as {second}: "
        f"{measure.written(rate[row, high])} against {measure.written(rate[row, low])} {measure.axis} "
        f"(ratio, {level_text(table.comparison.level)} interval {number(least)} to {number(most)})."
    )
    return [Statement("gap", text, ("Largest gap.", label, f"{number(times)} times"))]


def largest_gap(table: Table) -> tuple[tuple[int, int, int] | None, Interval | None]:
    """(row, group with the higher rate, group with the lower) of the largest gap beyond chance.

    Looked for among the tested rows and all pairs of groups with enough texts. A pair counts when
    its interval leaves out 1 at a level shared out over all pairs looked at (Bonferroni); among
    those the one with the largest lower end of its own interval wins.
    """
    s = table.sums
    rows, first, second = [], [], []
    for row in table.tested_rows:
        usable = np.flatnonzero(s.with_hit[row] >= LEAST_TEXTS)[:200]
        for a, b in combinations(usable.tolist(), 2):
            higher = s.hits[row, a] / s.words[a] >= s.hits[row, b] / s.words[b]
            rows.append(row)
            first.append(a if higher else b)
            second.append(b if higher else a)
    if not rows:
        return None, None
    at = np.array([rows, first, second])

    def side(group: np.ndarray) -> tuple[np.ndarray, ...]:
        cells = (at[0], group)
        sizes = (s.texts[group], s.words[group], s.words_squared[group])
        return (*sizes, s.hits[cells], s.hits_squared[cells], s.hits_by_words[cells])

    shared = ratio_of_rates(side(at[1]), side(at[2]), 1 - (1 - table.comparison.level) / len(rows))
    beyond = np.flatnonzero(shared.low > 1)
    if not len(beyond):
        return None, None
    own = ratio_of_rates(side(at[1]), side(at[2]), table.comparison.level)
    best = beyond[np.argmax(own.low[beyond])]
    row, high, low = (int(v) for v in at[:, best])
    return (row, high, low), Interval(*(part[best] for part in own))


def _test(table: Table) -> list[Statement]:
    test = table.test
    if test.reason:
        return [Statement("note", test.reason)]
    adjusted, pearson = test.adjusted, test.pearson
    plain = (
        f"Counting words as if they were independent: χ² = {number(pearson.chi2)}, df {pearson.df}, "
        f"{p_text(pearson.p)}, Cramér’s V = {number(test.cramers_v)}."
    )
    if np.isnan(adjusted.p):
        return [Statement("warning", _why_unadjusted(table)), Statement("test", plain)]
    verdict = (
        f"The mix of {table.target.nouns[1]} differs between the groups by more than chance"
        if adjusted.p < 0.05
        else f"The mix of {table.target.nouns[1]} does not differ between the groups by more than chance"
    )
    first = (
        f"{verdict}, with the text as the unit: adjusted χ² = {number(adjusted.chi2)}, "
        f"df {number(adjusted.df)}, {p_text(adjusted.p)}."
    )
    return [Statement("test", first), Statement("test", plain)]


def _why_unadjusted(table: Table) -> str:
    """Why the test that respects texts is not defined."""
    with_hits = table.hits[list(table.tested_rows)].sum(0) > 0
    why = (
        "a group has fewer than two texts"
        if (table.texts[with_hits] < 2).any()
        else "the texts of a group do not differ in their mix at all"
    )
    return f"The test that respects texts cannot be made: {why}."


def _warnings(table: Table) -> list[Statement]:
    found = []
    test = table.test
    if test.exact_p is not None:
        found.append(
            Statement(
                "warning",
                f"Some expected counts are below {SMALL_EXPECTED} (smallest "
                f"{number(test.pearson.smallest_expected)}), so χ² does not hold well: "
                f"{p_text(test.exact_p)} by {test.exact_way}.",
            )
        )
    few = [label for label, texts in zip(table.groups.labels, table.texts, strict=True) if 0 < texts < 2]
    if few:
        names = ", ".join(few[:3]) + (" and others" if len(few) > 3 else "")
        found.append(Statement("warning", f"{names}: one text only, so there is no interval."))
    return found


def p_text(p: float) -> str:
    """p below 0.001 as such."""
    return "p < 0.001" if p < 0.001 else f"p = {p:.3f}"


def level_text(level: float) -> str:
    """The level of an interval: 95%."""
    return f"{level * 100:g}%"
