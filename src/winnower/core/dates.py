"""Dates as people write them, in the languages of LANGUAGES.

Names of months are those of the Unicode locale data (by way of Babel), full and short.
"""

from __future__ import annotations

import calendar
import datetime as dt
import re
import unicodedata
from collections.abc import Iterable
from functools import cache

LANGUAGES = (
    "en", "de", "fr", "es", "it", "nl", "pt", "pl", "sv", "da", "nb", "fi", "cs", "tr", "ru", "hu", "ro",
)  # fmt: skip
#: Seconds since 1970 that are taken for a date: 1990 to 2100.
_EPOCH = (631_152_000, 4_102_444_800)
_ISO = re.compile(r"(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})\.?(?:[T ].*)?$")
_COMPACT = re.compile(r"(\d{4})(\d{2})(\d{2})(?:T?\d{6}Z?)?$")
_MONTH_ONLY = re.compile(r"(\d{4})[-/](\d{1,2})$")
_YEAR_ONLY = re.compile(r"(1[5-9]\d\d|20\d\d|21\d\d)$")
_NUMBERS = re.compile(r"(\d{1,2})[-/. ]+(\d{1,2})[-/. ]+(\d{4}|\d{2})(?:[ T,].*)?$")
_WORD = r"[^\W\d_]+"
_DAY_NAME = re.compile(
    rf"(?:{_WORD}\.?,? )?(\d{{1,2}})(?:st|nd|rd|th|er|º|\.)?[ -](?:de |of )?({_WORD})\.?,?[ -](?:de |del )?"
    rf"(\d{{4}}|\d{{2}})(?:[ T,].*)?$"
)
_NAME_DAY = re.compile(rf"(?:{_WORD},? )?({_WORD})\.? (\d{{1,2}})(?:st|nd|rd|th)?,? (\d{{4}})(?:[ T,].*)?$")
#: As social platforms write it: "Tue Jun 03 10:00:00 +0000 2031".
_YEAR_LAST = re.compile(rf"{_WORD} ({_WORD}) (\d{{1,2}}) \d\d:\d\d:\d\d (?:\S+ )?(\d{{4}})$")
_YEAR_FIRST = re.compile(rf"(\d{{4}})\.? ({_WORD})\.? (\d{{1,2}})\.?$")
_NAME_YEAR = re.compile(rf"({_WORD})\.?,? (?:de )?(\d{{4}})$")
_EAST = re.compile(r"(\d{4})年\s*(\d{1,2})月\s*(\d{1,2})日.*$")


@cache
def _months() -> dict[str, int]:
    from babel import Locale

    found: dict[str, int] = {"sept": 9}
    for language in LANGUAGES:
        for context in Locale.parse(language).months.values():
            for width in ("wide", "abbreviated"):
                for number, name in context.get(width, {}).items():
                    found.setdefault(_folded(name.rstrip(".")), number)
    return {name: number for name, number in found.items() if not name.isdecimal()}


def _folded(name: str) -> str:
    """Without case and accents."""
    parted = unicodedata.normalize("NFD", name.casefold())
    return "".join(sign for sign in parted if not unicodedata.combining(sign))


def parse_date(written: str, day_first: bool = True) -> dt.date | None:
    """A date, or None where it cannot be read. A month or year alone stands for its first day, a number of
    ten or thirteen digits for seconds or milliseconds since 1970.

    >>> parse_date("3 June 2031"), parse_date("03/06/2031"), parse_date("1er juin 2031")
    (datetime.date(2031, 6, 3), datetime.date(2031, 6, 3), datetime.date(2031, 6, 1))
    """
    text = " ".join(written.split())
    if not any(sign.isdecimal() for sign in text) or len(text) > 80:
        return None
    try:
        return _by_numbers(text, day_first) or _by_name(text)
    except (ValueError, OverflowError):
        return None


def _by_numbers(text: str, day_first: bool) -> dt.date | None:
    if m := _ISO.match(text) or _COMPACT.match(text) or _EAST.match(text):
        return dt.date(int(m[1]), int(m[2]), int(m[3]))
    if m := _MONTH_ONLY.match(text):
        return dt.date(int(m[1]), int(m[2]), 1)
    if m := _NUMBERS.match(text):
        day, month = (int(m[1]), int(m[2])) if day_first else (int(m[2]), int(m[1]))
        return dt.date(_year(m[3]), month, day)
    if m := _YEAR_ONLY.match(text):
        return dt.date(int(m[1]), 1, 1)
    if text.isascii() and text.isdecimal() and len(text) in (10, 13):
        seconds = int(text[:10])
        if _EPOCH[0] <= seconds < _EPOCH[1]:
            return dt.datetime.fromtimestamp(seconds, dt.UTC).date()
    return None


def _by_name(text: str) -> dt.date | None:
    folded, months = _folded(text), _months()
    if (m := _DAY_NAME.match(folded)) and m[2] in months:
        return dt.date(_year(m[3]), months[m[2]], int(m[1]))
    if (m := _NAME_DAY.match(folded) or _YEAR_LAST.match(folded)) and m[1] in months:
        return dt.date(int(m[3]), months[m[1]], int(m[2]))
    if (m := _YEAR_FIRST.match(folded)) and m[2] in months:
        return dt.date(int(m[1]), months[m[2]], int(m[3]))
    if (m := _NAME_YEAR.match(folded)) and m[1] in months:
        return dt.date(int(m[2]), months[m[1]], 1)
    return None


def _year(written: str) -> int:
    year = int(written)
    return year if len(written) == 4 else 2000 + year if year < 70 else 1900 + year


_CLOCK = re.compile(
    r"(?<![\d:])(\d{1,2})(?::|(?<=\d)h(?=\d))(\d{2})(?::(\d{2}))?(?:[.,]\d+)?\s?([ap]\.?m\b\.?)?",
    re.IGNORECASE,
)
_UHR = re.compile(r"(?<![\d.])(\d{1,2})\.(\d{2})()()(?= (?:uhr|h|klo)\b)", re.IGNORECASE)


def parse_time(written: str) -> str | None:
    """The time of day in a date as people write it, as it stands there (zones are not converted); None
    without one. Seconds since 1970 are read as Universal Time.

    >>> parse_time("3 June 2031, 2:20 pm"), parse_time("2031-06-03T14:20:05Z"), parse_time("3 June 2031")
    ('14:20', '14:20:05', None)
    """
    text = written.strip()[:80]
    if text.isascii() and text.isdecimal():
        if len(text) not in (10, 13) or not _EPOCH[0] <= int(text[:10]) < _EPOCH[1]:
            return None
        return f"{dt.datetime.fromtimestamp(int(text[:10]), dt.UTC):%H:%M:%S}"
    found = _CLOCK.search(text) or _UHR.search(text)
    if found is None:
        if re.match(r"\d{4}-\d{2}-\d{2}T\d{2}$", text):
            return f"{text[-2:]}:00"
        return None
    hour, half = int(found[1]), (found[4] or "").lower()
    if half and not 1 <= hour <= 12:
        return None
    if half:
        hour = hour % 12 + (12 if half.startswith("p") else 0)
    if hour > 23 or int(found[2]) > 59 or int(found[3] or 0) > 59:
        return None
    return f"{hour:02}:{found[2]}" + (f":{found[3]}" if found[3] else "")


def guess_day_first(values: Iterable[str]) -> bool:
    """Whether 03/06 means 3 June: decided for all values together, yes where none of them says."""
    evidence = DayMonthEvidence()
    evidence.see(values)
    return evidence.day_first


class DayMonthEvidence:
    """What the values of a column say of the order of day and month: more of them fit one than the other."""

    def __init__(self) -> None:
        self.day_first_only = self.month_first_only = 0
        self._either = ""

    def see(self, values: Iterable[str]) -> None:
        """Take values into account."""
        for value in values:
            if not (m := _NUMBERS.match(" ".join(value.split()))):
                continue
            first, second = int(m[1]), int(m[2])
            if first > 12 >= second:
                self.day_first_only += 1
            elif second > 12 >= first:
                self.month_first_only += 1
            elif first != second and not self._either:
                self._either = value.strip()

    @property
    def day_first(self) -> bool:
        """Whether the day stands first."""
        return self.day_first_only >= self.month_first_only

    @property
    def unclear(self) -> str:
        """A value that could be read in two ways, empty where the column says which."""
        return "" if self.day_first_only or self.month_first_only else self._either


def period_text(label: str) -> str:
    """A period as people write it in a sentence; any other label as it is.

    >>> period_text("2031-10"), period_text("2031-W45"), period_text("2031-Q2"), period_text("2031-04-07")
    ('October 2031', 'the week of 3 November 2031', 'the second quarter of 2031', '7 April 2031')
    """
    found = _PERIOD.fullmatch(label)
    if found is None:
        return label
    year, week, quarter, month, day = (int(part) if part else 0 for part in found.groups())
    if week:
        return f"the week of {_day_text(dt.date.fromisocalendar(year, week, 1))}"
    if quarter:
        return f"the {('first', 'second', 'third', 'fourth')[quarter - 1]} quarter of {year}"
    if day:
        return _day_text(dt.date(year, month, day))
    return f"{calendar.month_name[month]} {year}"


_PERIOD = re.compile(r"(\d{4})-(?:W(\d\d)|Q([1-4])|(\d\d)(?:-(\d\d))?)")


def _day_text(day: dt.date) -> str:
    return f"{day.day} {calendar.month_name[day.month]} {day.year}"
