"""A table as a map: rows and groups that go together lie in the same direction."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.statement import Statement
from winnower.core.compare.table import Table
from winnower.core.compare.targets.base import MethodPart
from winnower.core.compare.wording import names, p_text
from winnower.core.errors import ComparisonError
from winnower.core.measure.correspondence import Correspondence, correspondence

#: Two axes that hold less of the inertia than this show too little of the table.
LEAST_SHOWN = 0.6
#: A point of which less than this lies in the plane is not where it seems to be.
LEAST_QUALITY = 0.4
#: Points with a smaller part of all hits pull on axes by little.
LEAST_MASS = 0.005


@dataclass(frozen=True)
class Map:
    """rows, groups  places in the table of the points, in the order of those of ``found``"""

    table: Table
    found: Correspondence
    rows: tuple[int, ...]
    groups: tuple[int, ...]


def map_of(table: Table) -> Map:
    """The tested rows by the groups, those with hits. Raises ComparisonError where there are fewer than two of each."""
    if table.of_numbers:
        raise ComparisonError("A map shows how hits are shared out; numbers have none.")
    counts = table.counts.counted.totals[list(table.tested_rows)]
    rows, groups = np.flatnonzero(counts.sum(1) > 0), np.flatnonzero(counts.sum(0) > 0)
    if len(rows) < 2 or len(groups) < 2:
        raise ComparisonError(
            f"A map needs at least two {table.target.nouns[1]} and two groups with hits; here are {len(rows)} and {len(groups)}."
        )
    found = correspondence(counts[np.ix_(rows, groups)])
    return Map(table, found, tuple(table.tested_rows[at] for at in rows), tuple(groups.tolist()))


def map_statements(found: Map) -> list[Statement]:
    """What the axes hold, and where the map misleads."""
    shares = found.found.shares
    table = found.table
    shown = float(shares[:2].sum())
    out = [
        Statement(
            "note",
            f"The map shows {shown:.0%} of the differences between groups ({shares[0]:.0%} along the first axis"
            + (f", {shares[1]:.0%} along the second)." if len(shares) > 1 else ")."),
        )
    ]
    if min(len(found.rows), len(found.groups)) < 3:
        out.append(
            Statement(
                "warning",
                f"With {len(found.rows)} {table.target.nouns[1]} and {len(found.groups)} groups everything lies on one line; the table shows "
                "the same more clearly.",
            )
        )
    elif shown < LEAST_SHOWN:
        out.append(
            Statement(
                "warning",
                f"{1 - shown:.0%} of the differences is not on the map; check the table before you rely on distances.",
            )
        )
    verdict = table.tests.verdict
    if verdict is not None and np.isfinite(verdict.mix.p) and verdict.mix.p > 1 - table.comparison.level:
        out.append(
            Statement(
                "warning",
                f"The mix does not differ significantly ({p_text(verdict.mix.p)}): what the map shows may be noise.",
            )
        )
    for points, labels in ((found.found.rows, _labels(found)[0]), (found.found.columns, _labels(found)[1])):
        poor = np.flatnonzero(points.quality[:, :2].sum(1) < LEAST_QUALITY)
        if len(poor):
            poorly = names([labels[at] for at in poor])
            out.append(
                Statement(
                    "warning", f"Poorly represented on the map (less than {LEAST_QUALITY:.0%}): {poorly}."
                )
            )
        rare = np.flatnonzero((points.mass < LEAST_MASS) & (points.contribution[:, :2].max(1) > 0.3))
        if len(rare):
            out.append(
                Statement(
                    "warning",
                    f"Few hits, but a strong influence on an axis: {names([labels[at] for at in rare])}.",
                )
            )
    return out


def _labels(found: Map) -> tuple[list[str], list[str]]:
    rows, groups = found.table.target.rows, found.table.groups.labels
    return [rows[at].label for at in found.rows], [groups[at] for at in found.groups]


def map_method(found: Map) -> list[MethodPart]:
    return [
        MethodPart(
            "The map",
            "Correspondence analysis of the counts. Rows near each other are shared out among the groups alike, groups near each "
            "other use the rows alike; how near a row lies to a group says nothing, only whether they lie in the same direction "
            "from the middle. What lies in the middle is like the whole.",
            "Greenacre (2017), Correspondence Analysis in Practice.",
        )
    ]
