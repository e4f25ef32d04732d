"""Answers as plain sheets of numbers."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from winnower.core.compare.measures import MEASURES
from winnower.core.errors import ComparisonError

Form = Literal["text", "number", "percent", "count", "p"]
Cell = str | int | float | None


@dataclass(frozen=True)
class Column:
    """``key`` columns together name a row."""

    name: str
    form: Form = "number"
    key: bool = False


@dataclass(frozen=True)
class Sheet:
    """A name, columns, and rows of plain values; None where something is not defined."""

    name: str
    columns: tuple[Column, ...]
    rows: tuple[tuple[Cell, ...], ...]

    def keyed(self) -> dict[tuple[Cell, ...], tuple[Cell, ...]]:
        at = [place for place, column in enumerate(self.columns) if column.key]
        return {tuple(row[place] for place in at): row for row in self.rows}


def plain(value: Any) -> Cell:
    """Twelve places: beyond them, machines differ in how they add up. Numbers that are none are None."""
    if value is None or isinstance(value, str):
        return value
    if isinstance(value, int):
        return value
    number = float(value)
    return None if not math.isfinite(number) else float(f"{number:.12g}")


def shown_measure(sheet: Sheet, wanted: str) -> tuple[str, int]:
    """Which measure of a comparison's numbers is shown, and where its column is; its ends follow it where it ``has_ends``.
    ``wanted`` is the measure's name, such as share_of_texts; where it has no column, the first."""
    names = [one.name for one in sheet.columns]
    measured = [name for name in names if f"{name} low" in names]
    label = MEASURES[wanted].label.lower() if wanted in MEASURES else ""
    # a rate is named by its base: per 1,000 words, per 10,000; a median has no interval
    same = [name for name in (*measured, *names) if label in (name, name.split(" per ")[0])]
    name = (same or measured)[0]
    return name, names.index(name)


def has_ends(sheet: Sheet, at: int) -> bool:
    """Whether the columns behind one are the ends of its interval."""
    name = sheet.columns[at].name
    return [one.name for one in sheet.columns[at + 1 : at + 3]] == [f"{name} low", f"{name} high"]


def sheets_to_plain(sheets: Sequence[Sheet]) -> list[dict[str, Any]]:
    return [
        {
            "name": sheet.name,
            "columns": [{"name": one.name, "form": one.form, "key": one.key} for one in sheet.columns],
            "rows": [list(row) for row in sheet.rows],
        }
        for sheet in sheets
    ]


def sheets_from_plain(found: Any) -> tuple[Sheet, ...]:
    """Raises ComparisonError where it is none of ours."""
    try:
        return tuple(
            Sheet(
                one["name"],
                tuple(Column(column["name"], column["form"], column["key"]) for column in one["columns"]),
                tuple(tuple(row) for row in one["rows"]),
            )
            for one in found
        )
    except (KeyError, TypeError) as error:
        raise ComparisonError("What was kept of this finding cannot be read.") from error
