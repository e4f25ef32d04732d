"""Where a table's headings stand: rows of a title above them, two rows of them, or none at all."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from winnower.core.dates import parse_date
from winnower.core.numbers import parse_number
from winnower.readers.guess import known_name

#: Rows that are looked at.
ROWS_SEEN = 40
MAX_HEADING_CHARS = 160
_CHOICE = re.compile(r"(\d+)(?:-(\d+))?$")


@dataclass(frozen=True)
class Headings:
    """``rows`` are the places of the heading rows among the first rows (none: the columns are numbered),
    ``first`` that of the first row of values, ``names`` the columns'."""

    rows: tuple[int, ...]
    first: int
    names: list[str]


def find_headings(rows: Sequence[Sequence[str]], choice: str = "") -> Headings:
    """Headings among a table's first rows. ``choice`` is empty to guess, "none", or rows counted from 1, such
    as "3" or "3-4"."""
    seen = [[cell.strip() for cell in row] for row in rows[:ROWS_SEEN]]
    if choice == "none":
        return _numbered(seen, _first_filled(seen))
    if chosen := _CHOICE.match(choice):
        low = min(int(chosen[1]), len(seen)) - 1
        high = min(int(chosen[2] or chosen[1]), len(seen)) - 1
        if 0 <= low <= high:
            return _joined(seen, tuple(range(low, high + 1)))
    return _guessed(seen)


def _guessed(rows: list[list[str]]) -> Headings:
    at = _full_row(rows)
    if at < 0:
        return _numbered(rows, _first_filled(rows))
    above = _group_row(rows, at)
    below = rows[at + 1 :]
    if not _is_heading(rows[at], below):
        return _numbered(rows, at)
    if above is not None:
        return _joined(rows, (above, at))
    if _is_wording(rows[at], below):
        return _joined(rows, (at, at + 1))
    return _joined(rows, (at,))


def _first_filled(rows: list[list[str]]) -> int:
    return next((at for at, row in enumerate(rows) if any(row)), 0)


def _full_row(rows: list[list[str]]) -> int:
    """The first row that is about as wide as the table; what is above is a title."""
    filled = [sum(map(bool, row)) for row in rows]
    wide = [count for count in filled if count > 1]
    if not wide:
        return _first_filled(rows) if any(filled) else -1
    width = Counter(wide).most_common(1)[0][0]
    wanted = max(2, width * 0.6)
    return next((at for at, count in enumerate(filled) if count >= wanted), -1)


def _group_row(rows: list[list[str]], at: int) -> int | None:
    """A row of merged headings right above: some cells filled, with gaps that theirs reach over."""
    if at == 0:
        return None
    filled = [place for place, cell in enumerate(rows[at - 1]) if cell]
    below = [place for place, cell in enumerate(rows[at]) if cell]
    gaps = len(filled) >= 2 and len(filled) < len(below) and max(filled) <= max(below)
    return at - 1 if gaps else None


def _is_heading(row: Sequence[str], below: Sequence[Sequence[str]]) -> bool:
    """Whether a row names the columns: it is unlike what is below it."""
    cells = [cell for cell in row if cell]
    if any(len(cell) > MAX_HEADING_CHARS for cell in cells):
        return False
    if any(known_name(cell) for cell in cells):
        return True
    if len(set(cells)) < len(cells):
        return False
    unlike = like = 0
    for place, cell in enumerate(row):
        values = [r[place] for r in below if place < len(r) and r[place]]
        if not cell or not values:
            continue
        kinds = Counter(_kind(value) for value in values)
        kind, count = kinds.most_common(1)[0]
        if kind != "words" and count >= len(values) * 0.8:
            unlike += _kind(cell) == "words"
            like += _kind(cell) == kind
        elif cell in values and len(values) > 2:
            like += 1
        elif kind == "words":
            longer = sum(map(len, values)) / len(values)
            unlike += longer > 2.5 * len(cell) or len(set(values)) < len(values) * 0.7
    return like == 0 or unlike > like


def _is_wording(row: Sequence[str], below: Sequence[Sequence[str]]) -> bool:
    """Whether the row below the names words the questions they stand for."""
    if len(below) < 2:
        return False
    wording, values = below[0], below[1:]
    asking = [place for place, cell in enumerate(wording) if cell.endswith("?")]
    strange = 0
    for place, cell in enumerate(wording):
        column = [r[place] for r in values if place < len(r) and r[place]]
        plain = [value for value in column if _kind(value) != "words"]
        if cell and plain and _kind(cell) in {_kind(value) for value in plain}:
            return False  # a number among numbers, a day among days: a row of answers
        strange += (
            bool(plain) and len(plain) >= len(column) * 0.8 and len(cell) > 1 and _kind(cell) == "words"
        )
    if not all(len(cell) <= 30 for cell in row):
        return False
    if strange >= 2 or (strange and asking):
        return True
    # answers may be questions too: then those below are as well
    others = any(r[place].endswith("?") for r in values for place in asking if place < len(r))
    return len(asking) >= 2 and len(asking) * 2 >= sum(map(bool, wording)) and not others


def _kind(value: str) -> str:
    if parse_number(value) is not None:
        return "number"
    return "date" if parse_date(value) is not None else "words"


def _numbered(rows: list[list[str]], first: int) -> Headings:
    width = max((len(row) for row in rows[first:]), default=0)
    while width and not any(len(row) >= width and row[width - 1] for row in rows[first:]):
        width -= 1
    return Headings((), first, [f"Column {at}" for at in range(1, width + 1)])


def _joined(rows: list[list[str]], at: tuple[int, ...]) -> Headings:
    """Names from one row or several; a merged heading reaches to the next one."""
    last = rows[at[-1]]
    names = list(last)
    for place in reversed(at[:-1]):
        upper, current, reached = rows[place], "", []
        asks = len(at) == 2 and all(upper[: len(last)]) and len(upper) >= sum(map(bool, last))
        for column in range(len(last)):
            own = upper[column] if column < len(upper) else ""
            current = own or ("" if asks else current)
            reached.append(current)
        sign = ". " if asks else ": "
        names = [
            f"{over}{sign}{name}" if over and name and over != name else over or name
            for over, name in zip(reached, names, strict=True)
        ]
    return Headings(at, at[-1] + 1, names)
