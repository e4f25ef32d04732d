"""Changes of the rows of a table over its periods, in plain words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from winnower.core.change.points import LEAST_PERIODS, Change, changes
from winnower.core.change.smooth import moving
from winnower.core.compare.statement import Statement
from winnower.core.compare.table import Table
from winnower.core.compare.targets import MethodPart
from winnower.core.compare.wording import level_text, p_text
from winnower.core.dates import period_text
from winnower.core.errors import ComparisonError

#: So many rows are looked at at once: with more, chance states are too few to be shared out among them.
MOST_ROWS = 20
NAMED = 5


@dataclass(frozen=True)
class Changes:
    """For each row that was looked at (place in the table) its changes, in time; ``of`` is how many could have been
    looked at."""

    table: Table
    of_row: dict[int, list[Change]]
    of: int


def changes_of(table: Table, rows: Sequence[str] | None, dated: bool) -> Changes:
    """Changes of the rows named by their keys; without names those that are tested. Of more than MOST_ROWS those with the
    most hits, which says nothing of how they change. Raises ComparisonError where the groups are no periods."""
    if not dated:
        raise ComparisonError("Changes are looked for over time: compare across a date.")
    keys = [row.key for row in table.target.rows]
    chosen = list(table.tested_rows) if rows is None else [keys.index(key) for key in rows if key in keys]
    of = len(chosen)
    if of > MOST_ROWS:
        chosen = _most_frequent(table, chosen)
    if table.of_numbers:
        return Changes(table, {row: _changes_of_mean(table, row, len(chosen)) for row in chosen}, of)
    counted, found = table.counts.counted, {}
    for row in chosen:
        y = np.zeros(len(counted.size))
        at = counted.row == row
        y[counted.unit[at]] = counted.hits[at]
        found[row] = changes(
            y, counted.size, counted.group, counted.n_groups, seed=table.comparison.seed, level=table.comparison.level,
            rows=max(len(chosen), 1),
        )  # fmt: skip
    return Changes(table, found, of)


def _most_frequent(table: Table, rows: Sequence[int]) -> list[int]:
    """The MOST_ROWS of some rows with the most hits (of numbers: of the most texts), in the order of the table."""
    if table.of_numbers:
        sizes = [float(table.counts.numbers[row].counted.size.sum()) for row in rows]
    else:
        hits = table.counts.counted.totals.sum(1)
        sizes = [float(hits[row]) for row in rows]
    order = np.argsort(-np.asarray(sizes), kind="stable")[:MOST_ROWS]
    return sorted(rows[at] for at in order.tolist())


def _changes_of_mean(table: Table, row: int, rows: int) -> list[Change]:
    one = table.counts.numbers[row]
    c = one.counted
    found = changes(
        c.hits, c.size, c.group, c.n_groups, seed=table.comparison.seed, level=table.comparison.level, rows=rows, signed=True
    )  # fmt: skip
    return [replace(each, before=each.before + one.centre, after=each.after + one.centre) for each in found]


def smoothed(table: Table, window: int) -> np.ndarray:
    """float (K, T): moving averages of what a table of periods shows (see ``moving``)."""
    if not table.of_numbers:
        counted = table.counts.counted
        return moving(counted.totals, counted.sizes, window) * table.view.factor
    rows = [
        moving(one.counted.totals, one.counted.sizes, window)[0] + one.centre for one in table.counts.numbers
    ]
    return np.stack(rows)


def change_statements(found: Changes) -> list[Statement]:
    """Where each row changed, the surest first."""
    table = found.table
    measure, labels = table.named("mean" if table.of_numbers else "rate"), table.groups.labels
    n = len(found.of_row)
    told = [(change, row) for row, some in found.of_row.items() for change in some]
    if len(labels) < 2 * LEAST_PERIODS:
        return [Statement("note", "There are too few periods to tell where a change began.")]
    noun = table.target.nouns[0] if n == 1 else table.target.nouns[1]
    some = (
        [
            Statement(
                "note", f"Changes were looked for in the {n:,} {noun} with the most hits, of {found.of:,}."
            )
        ]
        if n < found.of
        else []
    )
    if not told:
        return [Statement("note", f"No significant change over time in {n:,} {noun}."), *some]
    told.sort(key=lambda one: (one[0].p, -_size(one[0], table)))
    out = []
    for change, row in told[:NAMED]:
        label = table.target.rows[row].label
        low, high = (period_text(labels[at]) for at in (change.low, min(change.high, len(labels) - 1)))
        before, after = (measure.written(rate * table.view.factor) for rate in (change.before, change.after))
        when = period_text(labels[change.period])
        levels = (
            f"mean {before} to {after}" if table.of_numbers else f"{before} to {after} {measure.after_values}"
        )
        headline = f"{label} {_moves(change, table)} from {when} on ({levels})."
        between = f"between {low} and {high}" if low != high else f"in {low}"
        details = f"Change point {between} ({level_text(table.comparison.level)}), {p_text(change.p)}."
        out.append(Statement("gap", headline, (label,), details))
    if len(told) > NAMED:
        out.append(Statement("note", f"{len(told) - NAMED:,} more changes are in the picture."))
    return [*out, *some]


def _moves(change: Change, table: Table) -> str:
    """In which direction a row goes, of rates by how much."""
    verb = "rises" if change.after > change.before else "falls"
    if table.of_numbers or change.before <= 0:
        return verb
    ratio = change.after / change.before
    return (
        f"{verb} to about {float(f'{ratio:.2g}'):,g} times"
        if ratio >= 1.95
        else f"{verb} by {abs(ratio - 1) * 100:.0f}%"
    )


def _size(change: Change, table: Table) -> float:
    if table.of_numbers:
        return abs(change.after - change.before)
    return abs(float(np.log((change.after + 1e-9) / (change.before + 1e-9))))


def change_method(found: Changes) -> list[MethodPart]:
    n, level = len(found.of_row), level_text(found.table.comparison.level)
    what, cost = ("mean", "sum of squares") if found.table.of_numbers else ("rate", "quasi-Poisson deviance")
    shared = f", shared out over {n:,} {found.table.target.nouns[1]}" if n > 1 else ""
    return [
        MethodPart(
            "Where a change began",
            f"Time is parted where the {what} is most unlike on both sides ({cost}, PELT). A parting counts where it "
            f"gains more than the best one does when texts are given to the periods anew (999 times, seed "
            f"{found.table.comparison.seed}; level {level}{shared}). Where it lies is drawn anew 300 times from the texts of both "
            "sides. Texts are taken as independent: a wave of reports on one event is a change too, and a slow rise looks like steps.",
            "Killick, Fearnhead and Eckley (2012), JASA 107; Truong, Oudre and Vayatis (2020), Signal Processing 167.",
        )
    ]
