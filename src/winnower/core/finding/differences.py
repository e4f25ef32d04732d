"""What a finding said, beside what its view says now, cell by cell."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from winnower.core.finding.sheets import Cell, Sheet

#: Numbers that differ by less than this part are the same.
SAME = 1e-9
MOST = 2_000


@dataclass(frozen=True)
class CellChange:
    """A cell of a sheet, named by the keys of its row and its column; None where it was not, or is not, there."""

    sheet: str
    row: tuple[Cell, ...]
    column: str
    form: str
    was: Cell
    now: Cell


@dataclass(frozen=True)
class Differences:
    """``cells`` are the first of ``changed`` in all; ``gone`` and ``new`` rows by sheet and keys; of ``compared`` cells."""

    cells: tuple[CellChange, ...]
    changed: int
    compared: int
    gone: tuple[tuple[str, tuple[Cell, ...]], ...]
    new: tuple[tuple[str, tuple[Cell, ...]], ...]

    @property
    def none(self) -> bool:
        return not (self.changed or self.gone or self.new)


def differences(was: Sequence[Sheet], now: Sequence[Sheet]) -> Differences:
    """Sheets are paired by name, rows by their keys, columns by name. Columns that only one side has are left out: an
    answer can have learned to tell more."""
    cells: list[CellChange] = []
    gone: list[tuple[str, tuple[Cell, ...]]] = []
    new: list[tuple[str, tuple[Cell, ...]]] = []
    changed = compared = 0
    by_name = {sheet.name: sheet for sheet in now}
    for sheet in was:
        other = by_name.get(sheet.name)
        if other is None:
            continue
        before, after = sheet.keyed(), other.keyed()
        gone += [(sheet.name, key) for key in before if key not in after]
        new += [(sheet.name, key) for key in after if key not in before]
        place = {column.name: at for at, column in enumerate(other.columns)}
        shared = [
            (at, one, place[one.name])
            for at, one in enumerate(sheet.columns)
            if one.name in place and not one.key
        ]
        for key, row in before.items():
            if key not in after:
                continue
            for at, column, to in shared:
                compared += 1
                if not _same(row[at], after[key][to]):
                    changed += 1
                    if len(cells) < MOST:
                        cells.append(
                            CellChange(sheet.name, key, column.name, column.form, row[at], after[key][to])
                        )
    return Differences(tuple(cells), changed, compared, tuple(gone), tuple(new))


def _same(one: Cell, other: Cell) -> bool:
    if isinstance(one, str) or isinstance(other, str) or one is None or other is None:
        return one == other
    return abs(one - other) <= SAME * max(abs(one), abs(other), 1e-300)
