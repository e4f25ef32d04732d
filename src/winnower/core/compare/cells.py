"""From a cell of a table back to the places under its number."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar

import numpy as np
from annotated_types import MaxLen

from winnower.core.compare.counting import by_coder
from winnower.core.compare.targets import Corpus, NumberRow, Target, numbers_of
from winnower.core.errors import ComparisonError, NotFound
from winnower.core.places import Places, in_order
from winnower.core.scope import Ground

#: Orders of the evidence of a number beside those of all places.
BY_NUMBER = ("high", "low")


@dataclass(frozen=True)
class Cell:
    """A cell of a table: the key of its row (None: all rows taken together), and the label of its group (None:
    the whole scope)."""

    row: Annotated[str, MaxLen(2_000)] | None = None
    group: Annotated[str, MaxLen(2_000)] | None = None

    __pydantic_config__: ClassVar = {"extra": "forbid"}


def rows_of(cell: Cell, target: Target) -> tuple[int, ...]:
    """Places of the rows a cell speaks of. Raises NotFound."""
    if cell.row is None:
        return tuple(range(len(target.rows)))
    rows = tuple(at for at, row in enumerate(target.rows) if row.key == cell.row)
    if not rows:
        raise NotFound(f"{target.name} has no {target.nouns[0]} “{cell.row}” any more.")
    return rows


def texts_of(cell: Cell, ground: Ground) -> np.ndarray:
    """bool per text: those of the cell's group, or of the whole scope. Raises NotFound."""
    if cell.group is None:
        return ground.mask
    groups = ground.groups
    if cell.group not in groups.labels:
        raise NotFound(f"There is no group “{cell.group}” in this split any more.")
    wanted = np.zeros(len(ground.mask), bool)
    wanted[groups.text[groups.group == groups.labels.index(cell.group)]] = True
    return wanted


def number_of(cell: Cell, target: Target) -> NumberRow | None:
    """The number a cell is the mean of; None where it is none, or of several."""
    numbers, rows = numbers_of(target), rows_of(cell, target)
    return numbers[rows[0]] if numbers is not None and len(rows) == 1 else None


def _by_number(cell: Cell, target: Target, corpus: Corpus, ground: Ground, order: str) -> Places:
    one = number_of(cell, target)
    if one is None:
        raise ComparisonError("Only what has one number can be put in the order of it.")
    places, values = one.placed(corpus, texts_of(cell, ground))
    by = values if order == "low" else -values
    return places.some(np.lexsort((places.start, places.text, by)))


def evidence(cell: Cell, target: Target, corpus: Corpus, ground: Ground, order: str = "date") -> Places:
    """The places under the number of a cell, in one of places.ORDERS; of a number also from the highest on ("high") or the
    lowest ("low"). Raises NotFound, or ComparisonError for an order that does not fit."""
    if order in BY_NUMBER:
        return _by_number(cell, target, corpus, ground, order)
    if cell.group is not None and by_coder(target, ground):
        target = target.of_coder(cell.group)  # type: ignore[attr-defined]
    found = target.places(rows_of(cell, target), corpus, texts_of(cell, ground))
    return in_order(found, corpus.columns, order)
