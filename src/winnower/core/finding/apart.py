"""The same comparison over two scopes: how each cell differs between them, and whether by more than chance."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import special

from winnower.core.compare import Statement, Table, number
from winnower.core.compare.mean_measures import numbers_in_units
from winnower.core.compare.wording import p_text
from winnower.core.errors import ComparisonError
from winnower.core.measure import Means, Rates, holm, means_of, rates_of, ratio_to


@dataclass(frozen=True)
class ApartCell:
    """A cell both tables have: rates as they are shown, the second over the first with its interval, p adjusted over
    all cells; NaN of these last where one has too few units with a hit. Of means the second less the first."""

    row: str
    group: str
    first: float
    second: float
    ratio: float
    low: float
    high: float
    p: float


@dataclass(frozen=True)
class Apart:
    """``shared`` texts are in both scopes: then nothing is tested."""

    first: Table
    second: Table
    cells: tuple[ApartCell, ...]
    shared: int


def cells_apart(first: Table, second: Table, shared: int) -> Apart:
    """Cells of both tables, by the keys of rows and the labels of groups; where there is one group, these belong
    together whatever they are called. Raises ComparisonError where there is none.

    The difference of the logs of the rates over the root of both variances, Student's t with Satterthwaite's degrees of
    freedom (as ``ratio_to``); p by Holm (1979) over the cells.
    """
    pairs = _pairs(first, second)
    if not pairs:
        raise ComparisonError("No row and group of this finding is there in the other texts.")
    (rows, groups), (others, beside) = (np.asarray([one[at] for one in pairs]).T for at in (0, 1))
    if first.of_numbers:
        return _means_apart(first, second, pairs, shared)
    one, other = (
        _some(rates_of(table.view.in_units(table.counts.counted)), *at)
        for table, at in ((first, (rows, groups)), (second, (others, beside)))
    )
    interval = ratio_to(other, one, first.comparison.level)
    p = np.full(len(pairs), np.nan)
    if not shared:
        a, b = one.error**2, other.error**2
        with np.errstate(divide="ignore", invalid="ignore"):
            df = (a + b) ** 2 / (a**2 / one.df + b**2 / other.df)
            t = (np.log(other.value) - np.log(one.value)) / np.sqrt(a + b)
            p = holm(2 * special.stdtr(np.maximum(df, 1), -np.abs(t)))
    factor, labels = first.view.factor, first.groups.labels
    cells = tuple(
        ApartCell(
            first.target.rows[rows[at]].label, labels[groups[at]], float(one.value[at] * factor),
            float(other.value[at] * factor), float(interval.value[at]), float(interval.low[at]), float(interval.high[at]),
            float(p[at]),
        )
        for at in range(len(pairs))
    )  # fmt: skip
    return Apart(first, second, cells, shared)


def _means_apart(
    first: Table, second: Table, pairs: list[tuple[tuple[int, int], tuple[int, int]]], shared: int
) -> Apart:
    """The difference of two means, Student's t with Satterthwaite's degrees of freedom (Welch 1938); p by Holm (1979)."""
    sides = []
    for side, table in enumerate((first, second)):
        of_row = [means_of(numbers_in_units(table.view, one), one.centre) for one in table.counts.numbers]
        places = [one[side] for one in pairs]
        sides.append(
            [np.array([getattr(of_row[row], name)[at] for row, at in places]) for name in Means._fields]
        )
    (value, error, df), (other, error_2, df_2) = sides
    gap, a, b = other - value, error**2, error_2**2
    with np.errstate(divide="ignore", invalid="ignore"):
        free = np.maximum((a + b) ** 2 / (a**2 / df + b**2 / df_2), 1)
        half = special.stdtrit(free, (1 + first.comparison.level) / 2) * np.sqrt(a + b)
        p = np.full(len(pairs), np.nan)
        if not shared:
            p = holm(2 * special.stdtr(free, -np.abs(gap) / np.sqrt(a + b)))
    numbers = np.stack([value, other, gap, gap - half, gap + half, p], 1).tolist()
    cells = tuple(
        ApartCell(first.target.rows[row].label, first.groups.labels[group], *values)
        for ((row, group), _), values in zip(pairs, numbers, strict=True)
    )
    return Apart(first, second, cells, shared)


def _some(rates: Rates, rows: np.ndarray, groups: np.ndarray) -> Rates:
    return Rates(*(np.broadcast_to(part, rates.value.shape)[rows, groups] for part in rates))


def _pairs(first: Table, second: Table) -> list[tuple[tuple[int, int], tuple[int, int]]]:
    row_of = {row.key: at for at, row in enumerate(second.target.rows)}
    group_of = {label: at for at, label in enumerate(second.groups.labels)}
    if first.groups.n_groups == second.groups.n_groups == 1:
        group_of = {first.groups.labels[0]: 0}
    return [
        ((at, group), (row_of[row.key], group_of[label]))
        for at, row in enumerate(first.target.rows)
        for group, label in enumerate(first.groups.labels)
        if row.key in row_of and label in group_of
    ]


def apart_statements(found: Apart) -> list[Statement]:
    """Which cells differ, the surest first."""
    level = found.first.comparison.level
    if found.shared:
        return [
            Statement(
                "warning",
                f"{found.shared:,} texts are in both scopes, so what differs between them is not tested.",
            )
        ]
    tested = [cell for cell in found.cells if np.isfinite(cell.p)]
    if not tested:
        return [
            Statement(
                "note",
                f"No cell has enough {'values' if found.first.of_numbers else 'hits'} in both scopes to be tested.",
            )
        ]
    sure = sorted((cell for cell in tested if cell.p <= 1 - level), key=lambda cell: cell.p)
    if not sure:
        least = min(cell.p for cell in tested)
        return [
            Statement(
                "test",
                f"No cell differs significantly (smallest {p_text(least)}, adjusted for {len(tested):,}).",
            )
        ]
    first = sure[0]
    if found.first.of_numbers:
        return [
            Statement(
                "test",
                f"{len(sure):,} of {len(tested):,} means differ significantly (p adjusted for them). {first.row} in "
                f"{first.group}: {number(first.second)} instead of {number(first.first)}, a difference of {number(first.ratio)} "
                f"({number(first.low)} to {number(first.high)}; {p_text(first.p)}).",
                (first.row,),
            )
        ]
    measure = found.first.named("rate")
    return [
        Statement(
            "test",
            f"{len(sure):,} of {len(tested):,} cells differ significantly (p adjusted for them). {first.row} in {first.group}: "
            f"{measure.written(first.second)} instead of {measure.written(first.first)} {measure.after_values}, {number(first.ratio)} times "
            f"({number(first.low)} to {number(first.high)}; {p_text(first.p)}).",
            (first.row,),
        )
    ]
