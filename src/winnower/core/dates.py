"""Dates as people write them."""

from __future__ import annotations

import datetime as dt
import re
from collections.abc import Iterable

_MONTHS = {
    name: number
    for number, names in enumerate(
        [
            "jan january",
            "feb february",
            "mar march",
            "apr april",
            "may",
            "jun june",
            "jul july",
            "aug august",
            "sep sept september",
            "oct october",
            "nov november",
            "dec december",
        ],
        1,
    )
    for name in names.split()
}
_ISO = re.compile(r"(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})(?:[T ].*)?$")
_COMPACT = re.compile(r"(\d{4})(\d{2})(\d{2})$")
_MONTH_ONLY = re.compile(r"(\d{4})[-/](\d{1,2})$")
_NUMBERS = re.compile(r"(\d{1,2})[-/. ]+(\d{1,2})[-/. ]+(\d{4}|\d{2})(?:[ T,].*)?$")
_DAY_NAME = re.compile(
    r"(?:[a-z]+,? )?(\d{1,2})(?:st|nd|rd|th|\.)?[ -]([a-z]+)\.?,?[ -](\d{4}|\d{2})(?:[ T,].*)?$"
)
_NAME_DAY = re.compile(r"(?:[a-z]+, )?([a-z]+)\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})(?:[ T,].*)?$")


def parse_date(written: str, day_first: bool = True) -> dt.date | None:
    """A date, or None where it cannot be read. A month alone stands for its first day.

    >>> parse_date("3 June 2031"), parse_date("03/06/2031"), parse_date("2031-06-03T10:00:00Z")
    (datetime.date(2031, 6, 3), datetime.date(2031, 6, 3), datetime.date(2031, 6, 3))
    """
    text = " ".join(written.split())
    lower = text.lower()
    try:
        if m := _ISO.match(text) or _COMPACT.match(text):
            return dt.date(int(m[1]), int(m[2]), int(m[3]))
        if m := _MONTH_ONLY.match(text):
            return dt.date(int(m[1]), int(m[2]), 1)
        if m := _NUMBERS.match(text):
            day, month = (int(m[1]), int(m[2])) if day_first else (int(m[2]), int(m[1]))
            return dt.date(_year(m[3]), month, day)
        if (m := _DAY_NAME.match(lower)) and m[2] in _MONTHS:
            return dt.date(_year(m[3]), _MONTHS[m[2]], int(m[1]))
        if (m := _NAME_DAY.match(lower)) and m[1] in _MONTHS:
            return dt.date(int(m[3]), _MONTHS[m[1]], int(m[2]))
    except ValueError:
        return None
    return None


def _year(written: str) -> int:
    year = int(written)
    return year if len(written) == 4 else 2000 + year if year < 70 else 1900 + year


def guess_day_first(values: Iterable[str]) -> bool:
    """Whether 03/06 means 3 June: no, where a second number is over 12 and no first one is."""
    first_over = second_over = False
    for value in values:
        if m := _NUMBERS.match(" ".join(value.split())):
            first_over |= int(m[1]) > 12
            second_over |= int(m[2]) > 12
    return first_over or not second_over
