"""Web pages that are one table and nothing else, as programs export them: rows, not the words of a page."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from typing import Any, BinaryIO

from winnower.core.errors import ReadError
from winnower.readers.files import read_up_to
from winnower.readers.headings import ROWS_SEEN, find_headings
from winnower.readers.html import declared_encoding, parse_page
from winnower.readers.plain import decoded
from winnower.readers.problems import Problem
from winnower.readers.tables import MAX_COLUMNS, Batch, in_batches, unique_names

#: lxml ships no types: an element of its tree.
Element = Any
MAX_BYTES = 32_000_000
#: The table holds at least so much of the words of the page; so many of its rows have the same number of cells.
MOST_WORDS, SAME_WIDTH = 0.8, 0.8
LEAST_ROWS, LEAST_COLUMNS = 2, 2
#: Letters before the table with which it is still the page's purpose.
MOST_BEFORE = 400
_TABLE = re.compile(rb"<table\b", re.IGNORECASE)
_UNSEEN = re.compile(
    rb"<(script|style|head|title)\b.*?(</\1\s*>|\Z)|<!--.*?-->|<[^>]*>", re.IGNORECASE | re.DOTALL
)
_PARAGRAPHS = {"br", "p", "div", "li"}


def may_be_a_table(head: bytes) -> bool:
    """Whether a page begins with a table, as far as its first bytes say; that it is one tells ``table_of``."""
    found = _TABLE.search(head)
    return found is not None and len(_UNSEEN.sub(b"", head[: found.start()]).strip()) <= MOST_BEFORE


def table_of(content: bytes, encoding: str | None = None) -> Element | None:
    """The table that is all there is on a page; None where it is a page with words of its own."""
    text, _ = decoded(content, encoding or declared_encoding(content))
    root = parse_page(text)
    tables = [one for one in root.iter("table") if next(one.iterdescendants("table"), None) is None]
    best = max(tables, key=_letters, default=None)
    if best is None or _letters(best) < MOST_WORDS * _letters(_body(root)):
        return None
    widths = Counter(len(row) for row in rows_of(best))
    if sum(widths.values()) < LEAST_ROWS or not widths:
        return None
    width, times = widths.most_common(1)[0]
    return best if width >= LEAST_COLUMNS and times >= SAME_WIDTH * sum(widths.values()) else None


def _body(root: Element) -> Element:
    found = root.find(".//body")
    return root if found is None else found


def _letters(element: Element) -> int:
    return sum(len("".join(piece.split())) for piece in element.itertext() if isinstance(piece, str))


def rows_of(table: Element) -> list[list[str]]:
    """The cells of each row; one that reaches over several rows or columns stands in the first of the columns and in
    each of the rows."""
    rows: list[list[str]] = []
    reaching: dict[int, tuple[int, str]] = {}
    for row in table.iter("tr"):
        cells: list[str] = []

        def fill(cells: list[str] = cells) -> None:
            while len(cells) in reaching:
                at = len(cells)
                left, value = reaching.pop(at)
                if left > 1:
                    reaching[at] = (left - 1, value)
                cells.append(value)

        for cell in row.iterchildren("td", "th"):
            fill()
            value = _words(cell)
            if (down := _span(cell, "rowspan")) > 1:
                reaching[len(cells)] = (down - 1, value)
            cells += [value, *[""] * (_span(cell, "colspan") - 1)]
        fill()
        if any(cells):
            rows.append(cells)
    return rows


def _span(cell: Element, name: str) -> int:
    written = (cell.get(name) or "").strip()
    return min(max(int(written), 1), MAX_COLUMNS) if written.isdecimal() else 1


def _words(cell: Element) -> str:
    """The words of a cell, a line for each paragraph in it."""
    pieces: list[str] = []

    def take(element: Element) -> None:
        if not isinstance(element.tag, str):
            return
        pieces.append("\n" if element.tag in _PARAGRAPHS else "")
        pieces.append((element.text or "").replace("\n", " "))
        for child in element:
            take(child)
            pieces.append((child.tail or "").replace("\n", " "))

    take(cell)
    lines = (" ".join(line.split()) for line in "".join(pieces).split("\n"))
    return "\n".join(line for line in lines if line)


class HtmlTableReader:
    """Rows of a page that is one table. Raises ReadError where it is none, or too large."""

    delimiter = ""

    def __init__(self, raw: BinaryIO, file: str, *, encoding: str | None = None, headings: str = "") -> None:
        self.file = file
        self.problems: list[Problem] = []
        self.notices: list[str] = []
        content = read_up_to(raw, MAX_BYTES + 1)
        if len(content) > MAX_BYTES:
            raise ReadError(
                f"{file} is a table of more than {MAX_BYTES // 1_000_000} MB in a web page; save it as CSV."
            )
        table = table_of(content, encoding)
        if table is None:
            raise ReadError(f"{file} holds no table.")
        self.encoding = encoding or declared_encoding(content) or ""
        self._rows = rows_of(table)
        self.headings = find_headings(self._rows[:ROWS_SEEN], headings)
        names = list(self.headings.names)
        if len(names) > MAX_COLUMNS:
            raise ReadError(f"{file} has {len(names):,} columns; at most {MAX_COLUMNS:,} can be read.")
        self.header = unique_names(names)

    def batches(self) -> Iterator[Batch]:
        """The rows below the headings, in the order of the page."""
        first, width = self.headings.first, len(self.header)
        return in_batches(
            (at, [*cells[:width], *[""] * (width - len(cells))])
            for at, cells in enumerate(self._rows[first:], first + 1)
        )
