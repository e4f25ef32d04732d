"""What to beware of in a table, each with its figure."""

from __future__ import annotations

import numpy as np

from winnower.core.compare.table import Table
from winnower.core.compare.wording import names, within

#: One text that holds more than this part of the hits of a cell is told of, from so many hits on.
CARRIED, LEAST_CARRIED = 0.5, 10
#: From this part of all texts on that nearly repeat another one, it is told.
LEAST_ALIKE = 0.05
#: Groups that differ in words by more than this are told of.
UNEQUAL = 20.0
#: A cell is thin where fewer hits would be expected if all groups were alike.
LEAST_EXPECTED = 5.0


def beware(table: Table) -> list[str]:
    """Sentences; none where there is nothing to beware of, or nothing is compared."""
    if table.groups.n_groups < 2:
        return []
    if table.of_numbers:
        return _alike(table)
    return [*_carried(table), *_alike(table)]


def remarks(table: Table) -> list[str]:
    """What is good to know and changes no conclusion."""
    if table.groups.n_groups < 2 or table.of_numbers:
        return []
    return [*_unequal(table), *_thin(table)]


def _carried(table: Table) -> list[str]:
    """Cells most of whose hits stand in one text."""
    counted, rows = table.counts.unweighted, set(table.tested_rows)
    most = np.zeros(counted.totals.size)
    np.maximum.at(most, counted.cell, counted.hits)
    share = np.divide(most, counted.totals.ravel(), out=np.zeros_like(most), where=counted.totals.ravel() > 0)
    wide = counted.totals.ravel() >= LEAST_CARRIED
    places = [at for at in np.flatnonzero((share > CARRIED) & wide) if at // counted.n_groups in rows]
    if not places:
        return []
    places.sort(key=lambda at: -share[at])
    labels = [
        f"{table.target.rows[at // counted.n_groups].label} {within(table.groups.labels[at % counted.n_groups])} ({share[at]:.0%})"
        for at in places
    ]
    return [f"Most hits come from a single text: {names(labels)}. Open it before you rely on these numbers."]


def _alike(table: Table) -> list[str]:
    if not table.alike or table.alike < LEAST_ALIKE * table.texts_in_groups or table.unit.noun == "story":
        return []
    share = table.alike / table.texts_in_groups
    return [
        f"{table.alike:,} texts ({share:.0%}) nearly repeat another one and count like any other. Take the story as the "
        "sampling unit, or exclude them in the check of the corpus."
    ]


def _unequal(table: Table) -> list[str]:
    left_out = set(table.tests.left_out)
    sizes = {at: int(words) for at, words in enumerate(table.words) if words and at not in left_out}
    if len(sizes) < 2:
        return []
    least, most = min(sizes, key=lambda at: sizes[at]), max(sizes, key=lambda at: sizes[at])
    if sizes[most] < UNEQUAL * sizes[least]:
        return []
    labels = table.groups.labels
    return [
        f"The groups are of very unequal length: {labels[least]} has {sizes[least]:,} words, {labels[most]} "
        f"{sizes[most]:,}. Compare rates, not numbers of hits; the rate of the small group is less certain."
    ]


def _thin(table: Table) -> list[str]:
    rows = list(table.tested_rows)
    counts = table.counts.hits[rows]
    total, size = counts.sum(1), table.counts.unweighted.sizes
    if not size.sum():
        return []
    expected = total[:, None] * (size / size.sum())[None, :]
    thin = (expected < LEAST_EXPECTED) & (total > 0)[:, None] & (size > 0)[None, :]
    cells = int(thin.sum())
    if not cells:
        return []
    verdict = table.tests.verdict
    tested = verdict is not None and bool(np.isfinite(verdict.rates.p).any())
    instead = "; the tests above permute texts instead" if tested else ""
    whole = int(((total > 0)[:, None] & (size > 0)[None, :]).sum())
    return [
        f"In {cells:,} of {whole:,} cells fewer than {LEAST_EXPECTED:g} hits would be expected if all groups were alike: the "
        f"usual chi-squared test does not hold there{instead}."
    ]
