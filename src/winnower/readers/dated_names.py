"""Dates in the names of files: "2031-05-06 Hill Farmer.txt", "courier_20310506.pdf"."""

from __future__ import annotations

import re
from collections.abc import Sequence

from winnower.core.dates import parse_date

#: So many of the names must have a date before it is taken for that of the texts.
MOSTLY = 0.8
_DATE = re.compile(r"(?<!\d)(?:(\d{4})([-_. ]?)(\d{2})\2(\d{2})|(\d{1,2})([-_.])(\d{1,2})\6(\d{4}))(?!\d)")


def date_in_name(name: str) -> str:
    """The date in the last part of a name, as 2031-05-06; empty where there is none, or it could be another one."""
    last = re.split(r"[/\\]", name)[-1]
    found = {_iso(match) for match in _DATE.finditer(last)} - {""}
    return found.pop() if len(found) == 1 else ""


def are_dated(names: Sequence[str]) -> bool:
    """Whether the names of files have dates, as those of a collection do."""
    return bool(names) and sum(bool(date_in_name(name)) for name in names) >= MOSTLY * len(names)


def _iso(match: re.Match[str]) -> str:
    year, _, month, day = match.group(1, 2, 3, 4)
    if year is None:
        first, second, year = match.group(5, 7, 8)
        if int(first) <= 12 and int(second) <= 12 and int(first) != int(second):
            return ""  # either could be the day
        day, month = (first, second) if int(first) > 12 or int(first) == int(second) else (second, first)
    parsed = parse_date(f"{year}-{int(month):02}-{int(day):02}")
    return parsed.isoformat() if parsed and 1500 <= parsed.year <= 2100 else ""
