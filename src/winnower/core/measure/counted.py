"""What was counted, unit by unit: the ground of all rates, intervals and tests."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Self

import numpy as np

#: Sums over units that do not depend on what was hit, once they are worked out.
_OF_UNITS = frozenset(("units", "sizes", "squares", "fourths"))


@dataclass(frozen=True)
class Counted:
    """Hits of K rows in N sampling units, each in one of G groups; only what was hit is held.

    group     int (N): group of each unit
    size      float (N): the base of a rate in each unit, such as its words
    unit      int (E): a unit with hits of a row, one entry for each such pair
    row       int (E)
    hits      float (E), above 0
    """

    group: np.ndarray
    size: np.ndarray
    unit: np.ndarray
    row: np.ndarray
    hits: np.ndarray
    n_groups: int
    n_rows: int

    @cached_property
    def units(self) -> np.ndarray:
        """float (G): units of each group."""
        return np.bincount(self.group, minlength=self.n_groups).astype(float)

    @cached_property
    def sizes(self) -> np.ndarray:
        """float (G): the base of each group."""
        found: np.ndarray = np.bincount(self.group, weights=self.size, minlength=self.n_groups)
        return found

    @cached_property
    def squares(self) -> np.ndarray:
        """float (G): the squares of the sizes of its units, added up."""
        return np.bincount(self.group, weights=self.size * self.size, minlength=self.n_groups)

    @cached_property
    def fourths(self) -> np.ndarray:
        """float (G): their fourth powers."""
        return np.bincount(self.group, weights=(self.size * self.size) ** 2, minlength=self.n_groups)

    @cached_property
    def cell(self) -> np.ndarray:
        """int64 (E): row times G plus group."""
        found: np.ndarray = self.row.astype(np.int64) * self.n_groups + self.group[self.unit]
        return found

    def by_cell(self, weights: np.ndarray | None) -> np.ndarray:
        """float (K, G): sums of ``weights`` (E) over the entries of each cell; without any, their number."""
        flat = np.bincount(self.cell, weights=weights, minlength=self.n_rows * self.n_groups)
        return flat.reshape(self.n_rows, self.n_groups).astype(float)

    @cached_property
    def totals(self) -> np.ndarray:
        """float (K, G): hits."""
        return self.by_cell(self.hits)

    @cached_property
    def with_hit(self) -> np.ndarray:
        """float (K, G): units with a hit."""
        return self.by_cell(None)

    @cached_property
    def hits_squared(self) -> np.ndarray:
        """float (K, G): squares of the hits of each unit, added up."""
        return self.by_cell(self.hits * self.hits)

    @cached_property
    def hits_by_size(self) -> np.ndarray:
        """float (K, G): hits of each unit times its size, added up."""
        return self.by_cell(self.hits * self.size[self.unit])

    def some(self, groups: np.ndarray | None = None, rows: np.ndarray | None = None) -> Self:
        """Only some groups (bool, G) and rows (bool, K), numbered anew in their order."""
        rows = np.ones(self.n_rows, bool) if rows is None else rows
        if groups is None or groups.all():
            mine = rows[self.row]
            row = (np.cumsum(rows) - 1)[self.row[mine]]
            group, size, g = self.group, self.size, self.n_groups
            found = type(self)(group, size, self.unit[mine], row, self.hits[mine], g, int(rows.sum()))
            # the units are the same, so is what was added up over them
            found.__dict__.update({name: kept for name, kept in self.__dict__.items() if name in _OF_UNITS})
            return found
        inside = groups[self.group]
        kept = inside[self.unit] & rows[self.row]
        return type(self)(
            (np.cumsum(groups) - 1)[self.group[inside]],
            self.size[inside],
            (np.cumsum(inside) - 1)[self.unit[kept]],
            (np.cumsum(rows) - 1)[self.row[kept]],
            self.hits[kept],
            int(groups.sum()),
            int(rows.sum()),
        )

    def without(self, units: np.ndarray) -> Self:
        """Without some units (bool, N); groups and rows stay as they are numbered."""
        kept = ~units[self.unit]
        place = np.cumsum(~units) - 1
        return type(self)(
            self.group[~units],
            self.size[~units],
            place[self.unit[kept]],
            self.row[kept],
            self.hits[kept],
            self.n_groups,
            self.n_rows,
        )

    def as_shares(self) -> Self:
        """The same hits with all hits of a unit as its size; units without any are left out.

        The rate of a row is then its share of all hits, so that what is asked of rates is asked of the mix.
        """
        size = np.bincount(self.unit, weights=self.hits, minlength=len(self.group))
        used = size > 0
        place = np.cumsum(used) - 1
        return type(self)(
            self.group[used], size[used], place[self.unit], self.row, self.hits, self.n_groups, self.n_rows
        )


def in_units(counted: Counted, unit: np.ndarray) -> Counted:
    """Hits and sizes added up over larger units.

    ``unit`` int (N): the larger unit of each unit, any values. What one of them has in several groups is
    one unit in each of these groups.
    """
    pair = unit.astype(np.int64) * counted.n_groups + counted.group
    found, place = np.unique(pair, return_inverse=True)
    key = place[counted.unit] * np.int64(counted.n_rows) + counted.row
    cells, at = np.unique(key, return_inverse=True)
    return Counted(
        (found % counted.n_groups).astype(counted.group.dtype),
        np.bincount(place, weights=counted.size, minlength=len(found)),
        cells // counted.n_rows,
        (cells % counted.n_rows).astype(counted.row.dtype),
        np.bincount(at, weights=counted.hits, minlength=len(cells)),
        counted.n_groups,
        counted.n_rows,
    )


def units_across_groups(counted: Counted, unit: np.ndarray) -> int:
    """How many of the larger units have something in more than one group."""
    pair = np.unique(unit.astype(np.int64) * counted.n_groups + counted.group)
    return int((np.unique(pair // counted.n_groups, return_counts=True)[1] > 1).sum())
