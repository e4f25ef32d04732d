"""What single terms do to the result: the test of a category without each term that has much of its hits."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.counting import count_groups
from winnower.core.compare.statement import Statement
from winnower.core.compare.table import Table
from winnower.core.compare.targets import Corpus, DictionaryTarget
from winnower.core.compare.testing import fit_groups
from winnower.core.compare.wording import p_text
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.dictionary.hits import count_each, prepared
from winnower.core.measure import holm, rate_tests
from winnower.core.scope import Ground

#: A term is looked at from this part of its category's hits on, so many of a category and in all.
LEAST_SHARE, MOST_OF_ROW, MOST = 0.2, 3, 60


@dataclass(frozen=True)
class TermInfluence:
    """A category without one of its terms.

    row       place of the category
    term      the one it is without
    share     of the category's hits in the groups that are tested, which are gone without it
    p         that the groups differ in the category's rate, adjusted over the categories: with and ``p_without``
    between   the spread of the rates between the groups beyond chance, relative to the rate: with the term and
              ``between_without``
    turns     whether the category differs with the term and not without it; or the other way, by a p that is adjusted
              for all the terms that were looked at, since one of many would do so by chance
    """

    row: int
    term: TermEntry
    share: float
    p: float
    p_without: float
    between: float
    between_without: float
    turns: bool


def influence_of_terms(table: Table, corpus: Corpus, ground: Ground) -> tuple[TermInfluence, ...]:
    """Terms with much of their category's hits, those that turn the result first; none where nothing is tested.

    Everything else stays as it is: the other categories, their p, and the states of chance.
    """
    target, verdict = table.target, table.tests.verdict
    if verdict is None or not isinstance(target, DictionaryTarget):
        return ()
    looked = _worth_looking(table, target, corpus, ground)
    if not looked:
        return ()
    without = tuple(
        Category((f"{at}",), tuple(entry for entry in target.entries(row) if entry != term))
        for at, (row, term, _) in enumerate(looked)
    )
    left = DictionaryTarget(Dictionary("", without))
    counted = count_groups(left, corpus, ground, weights=table.counts.weights).counted
    counted = table.view.in_units(counted)
    found = rate_tests(counted.some(fit_groups(counted)), table.comparison.level, table.comparison.seed)
    p = np.where(np.isnan(found.p), 1.0, found.p)  # what has no hits left differs no more
    alpha, rates, out = 1 - table.comparison.level, verdict.rates, []
    for at, (row, term, share) in enumerate(looked):
        changed = rates.p.copy()
        changed[row] = p[at]
        after = float(found.p_adjusted[at] if rates.by_largest else holm(changed)[row])
        before = float(rates.p_adjusted[row])
        between = float(rates.between[row]), float(found.between[at])
        turns = after > alpha if before <= alpha else after * len(looked) <= alpha
        out.append(TermInfluence(row, term, share, before, after, *between, turns))
    return tuple(sorted(out, key=lambda one: (not one.turns, -one.share)))


def _worth_looking(
    table: Table, target: DictionaryTarget, corpus: Corpus, ground: Ground
) -> list[tuple[int, TermEntry, float]]:
    """(row, term, its part of the row's hits) of terms with much of them, beside others of the same row."""
    found: list[tuple[int, TermEntry, float]] = []
    assert table.tests.verdict is not None
    for row in table.tested_rows:
        entries = target.entries(row)
        whole = float(table.hits[row].sum())
        if len(entries) < 2 or not whole or np.isnan(table.tests.verdict.rates.p[row]):
            continue
        hits = count_each(prepared(entries).terms, corpus.index, _inside(ground))
        most = np.argsort(-hits, kind="stable")[:MOST_OF_ROW]
        shares = ((at, float(hits[at] / whole)) for at in most)
        found += [(row, entries[at], share) for at, share in shares if LEAST_SHARE <= share < 1]
    return sorted(found, key=lambda one: -one[2])[:MOST]


def _inside(ground: Ground) -> np.ndarray:
    """bool per text: in a group."""
    inside = np.zeros(len(ground.mask), bool)
    inside[ground.groups.text] = True
    return inside


def influence_statements(table: Table, found: tuple[TermInfluence, ...]) -> list[Statement]:
    """What turns the result, with its figures; else that nothing does."""
    noun, nouns = table.target.nouns
    if not found:
        none = f"No single term has {LEAST_SHARE:.0%} or more of a {noun}’s hits beside others."
        return [Statement("note", none)] if isinstance(table.target, DictionaryTarget) else []
    turning = [one for one in found if one.turns]
    if not turning:
        terms = "the 1 term that has" if len(found) == 1 else f"any of the {len(found):,} terms that have"
        text = f"Without {terms} {LEAST_SHARE:.0%} or more of a {noun}’s hits, the same {nouns} differ."
        return [Statement("note", text)]
    return [Statement("warning", _turning(table, one, len(found))) for one in turning]


def _turning(table: Table, one: TermInfluence, looked: int) -> str:
    label = table.target.rows[one.row].label
    begin = f"Without “{one.term.source}”, which has {one.share:.0%} of its hits, the rate of {label}"
    if one.p_without > one.p:
        return f"{begin} differs no more ({p_text(one.p_without)} instead of {p_text(one.p)})."
    adjusted = p_text(min(one.p_without * looked, 1.0))
    return (
        f"{begin} differs ({adjusted}, adjusted for {looked:,} terms looked at, instead of {p_text(one.p)})."
    )
