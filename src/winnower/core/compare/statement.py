"""Sentences about a table, and the parts of them that several need."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import stats

from winnower.core.compare.table import Table
from winnower.core.compare.wording import NAMED, p_text
from winnower.core.measure import RateTests

#: From so many tested rows on the false discovery rate is given as well.
MANY_ROWS = 20


@dataclass(frozen=True)
class Statement:
    """A sentence about a table that anybody understands, and what a reviewer wants to know of it besides.

    kind      gap, test, note or warning
    headline  the finding, with its numbers
    strong    parts of the headline that stand out
    details   test, adjustment, interval, unit, in the terms of the field; may be empty
    """

    kind: str
    headline: str
    strong: tuple[str, ...] = ()
    details: str = ""

    @property
    def text(self) -> str:
        """Both parts, as they stand in files."""
        return f"{self.headline} {self.details}".strip()


def surest(table: Table, rows: np.ndarray, p: np.ndarray, least: float) -> str:
    """The first of some rows by their p, each with it, and how many more; ``least`` as in ``p_text``."""
    ordered = rows[np.argsort(p[rows], kind="stable")]
    named = [f"{table.target.rows[at].label} ({p_text(float(p[at]), least)})" for at in ordered[:NAMED]]
    more = f" and {len(rows) - NAMED:,} more" if len(rows) > NAMED else ""
    return f"{', '.join(named)}{more}"


def untested(table: Table, rows: int) -> str:
    """Rows without a test, at the end of what is said of the others."""
    return f"; {rows:,} without hits, or with too few, are not tested" if rows else ""


def periods_of(table: Table) -> str:
    return f"{table.comparison.split.period or 'month'}s"


def way_of(times: int, further: int = 0) -> str:
    """How p came about; ``further`` permutations were drawn for rows that needed them."""
    if not times:
        return "approximated"
    more = f", {times + further:,} for the smallest p" if further else ""
    return f"{times:,} permutations{more}"


def differing_part(differing: int, tested: int, nouns: str) -> str:
    """The beginning of what is said of rows that differ.

    >>> differing_part(6, 6, "categories"), differing_part(2, 2, "codes"), differing_part(1, 9, "terms")
    ('All 6 categories differ', 'Both codes differ', '1 of 9 terms differs')
    """
    if differing == tested:
        return f"Both {nouns} differ" if tested == 2 else f"All {tested:,} {nouns} differ"
    return f"{differing:,} of {tested:,} {nouns} {'differs' if differing == 1 else 'differ'}"


def adjusted_for(rates: RateTests, tested: int, nouns: str) -> str:
    """How p is adjusted, in the terms of the field."""
    how = "the largest statistic of each permutation" if rates.by_largest else "Holm’s method"
    return f"p adjusted for {tested:,} {nouns} by {how}"


def discovered(rates: RateTests, level: float) -> str:
    """What the false discovery rate says where very many rows are tested; nothing among few.

    Source: Benjamini and Hochberg (1995), JRSS B 57, 289-300.
    """
    p = rates.p[np.isfinite(rates.p)]
    if len(p) < MANY_ROWS:
        return ""
    found = int((stats.false_discovery_control(p) <= 1 - level).sum())
    return f" Controlling the false discovery rate at {1 - level:.0%} instead (Benjamini-Hochberg), {found:,} of {len(p):,} differ."
