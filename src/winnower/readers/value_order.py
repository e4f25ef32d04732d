"""How the numbers and dates of a lot's columns are read: decided for a column by all that was seen of it, never by row."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

from winnower.core.dates import DayMonthEvidence, parse_date
from winnower.core.numbers import DecimalEvidence, parse_number
from winnower.readers.mapping import Mapping, Target


class Doubt(NamedTuple):
    """Values of a column that can be read in two ways: how they are read, how they could be, and one of them."""

    column: str
    kind: str
    example: str
    read: str
    otherwise: str

    @property
    def sentence(self) -> str:
        return f"“{self.example}” in {self.column} is read as {self.read}; it could be {self.otherwise}."


class ValueOrder:
    """What the columns of a lot say of the order of day and month and of their decimal signs."""

    def __init__(self, header: Sequence[str]) -> None:
        self._place = {name: at for at, name in enumerate(header)}
        self._dates: dict[str, DayMonthEvidence] = {}
        self._numbers: dict[str, DecimalEvidence] = {}

    def see(self, rows: Sequence[Sequence[str]], mapping: Mapping) -> None:
        """Take rows into account."""
        for target in mapping.targets:
            at = self._place.get(target.column)
            if at is None:
                continue
            if is_date(target):
                evidence = self._dates.setdefault(target.column, DayMonthEvidence())
                evidence.see(dict.fromkeys(row[at] for row in rows))
            elif is_number(target):
                self._numbers.setdefault(target.column, DecimalEvidence()).see(
                    dict.fromkeys(row[at] for row in rows)
                )

    def settled(self, mapping: Mapping) -> Mapping:
        """The mapping with what was seen decided."""
        day = sum(one.day_first_only for one in self._dates.values())
        month = sum(one.month_first_only for one in self._dates.values())
        targets = tuple(
            replace(target, separator=self._separator(target))
            if is_number(target) and (seen := self._numbers.get(target.column)) and any(seen.votes.values())
            else target
            for target in mapping.targets
        )
        day_first = day >= month if day or month else mapping.day_first
        return replace(mapping, targets=targets, day_first=day_first)

    def _separator(self, target: Target) -> str:
        return "," if self._numbers[target.column].decimal == "," else "."

    def doubts(self, mapping: Mapping) -> list[Doubt]:
        """Columns of which nothing says how they are read."""
        out = []
        settled = any(one.day_first_only or one.month_first_only for one in self._dates.values())
        for column, dates in self._dates.items():
            if dates.unclear and not settled:
                read, otherwise = (
                    _day(parse_date(dates.unclear, first))
                    for first in (mapping.day_first, not mapping.day_first)
                )
                out.append(Doubt(column, "date", dates.unclear, read, otherwise))
        signs = {target.column: target.separator for target in mapping.targets if is_number(target)}
        for column, numbers in self._numbers.items():
            if numbers.unclear:
                now = "," if signs.get(column) == "," else "."
                read, otherwise = (
                    _number(parse_number(numbers.unclear, sign)) for sign in (now, "." if now == "," else ",")
                )
                if read != otherwise:
                    out.append(Doubt(column, "number", numbers.unclear, read, otherwise))
        return out


def is_date(target: Target) -> bool:
    """Whether a column holds dates."""
    return target.role == "date" or (target.role, target.kind) == ("variable", "date")


def is_number(target: Target) -> bool:
    """Whether a column holds numbers."""
    return (target.role, target.kind) == ("variable", "number")


def _day(day: object) -> str:
    return f"{day:%-d %B %Y}" if day is not None else "no date"


def _number(value: float | None) -> str:
    return f"{value:,.15g}" if value is not None else "no number"
