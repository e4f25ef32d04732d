"""Tables as delimited text (CSV, TSV, semicolons, bars), read as a stream in batches.

A record that cannot be read is reported with the line it begins on; reading goes on at the next line.
"""

from __future__ import annotations

import csv
import re
from collections import Counter
from collections.abc import Iterable, Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from typing import BinaryIO

from winnower.core.errors import ReadError
from winnower.readers.encoding import open_text, stray_notice
from winnower.readers.headings import find_headings
from winnower.readers.problems import Problem
from winnower.readers.reasons import why

DELIMITERS = (",", ";", "\t", "|")
#: Parts the cells of a table with one column: no text has it.
NEVER = "\x1f"
_SEP = re.compile(r"\ufeff?\"?sep=(.)\"?\s*", re.IGNORECASE)
ROWS_AT_ONCE = 20_000
CHARS_AT_ONCE = 8_000_000
#: The first batches are small, so that whoever waits soon sees texts arrive: each may be so much larger.
FIRST_SHARE, GROWTH = 1 / 16, 4
MAX_COLUMNS = 2_000
#: A quoted cell may run over so many lines; a longer one is a quote that was never closed.
MAX_CELL_LINES = 20_000


@dataclass
class Batch:
    """Rows of cells as text, each as long as the header, and the line each begins on."""

    rows: list[list[str]] = field(default_factory=list)
    lines: list[int] = field(default_factory=list)


_OTHER_ENCODING = "Letters of another encoding stand in this line; they were read as Windows-1252."


def batch_size(number: int, most: int | None = None) -> tuple[float, float]:
    """With how many rows (or documents, ``most`` of a large batch) or characters a batch is complete; ``number`` counts
    the batches before it. The same for every reading of a file: interrupted work goes on at a batch's end."""
    share = min(FIRST_SHARE * GROWTH**number, 1)
    return (most or ROWS_AT_ONCE) * share, CHARS_AT_ONCE * share


def is_full(items: int, chars: int, number: int, most: int | None = None) -> bool:
    """Whether a batch with so many rows and characters is complete (see ``batch_size``)."""
    rows_full, chars_full = batch_size(number, most)
    return items >= rows_full or chars > chars_full


def in_batches(rows: Iterable[tuple[int, list[str]]]) -> Iterator[Batch]:
    """Rows, each with the line it begins on, in batches (see ``batch_size``); none where there is no row."""
    batch, chars, complete = Batch(), 0, 0
    for line, row in rows:
        batch.rows.append(row)
        batch.lines.append(line)
        chars += sum(map(len, row))
        if is_full(len(batch.rows), chars, complete):
            yield batch
            batch, chars, complete = Batch(), 0, complete + 1
    if batch.rows:
        yield batch


class _Lines:
    """Lines of a file with a memory of the current record, so that a bad one can be passed over."""

    def __init__(self, lines, limit_chars: int) -> None:
        self.source, self.limit_chars = lines, limit_chars
        self.back: list[str] = []
        self.record: list[str] = []
        self.chars = 0
        self.number = 0
        self.zeros = 0

    def __iter__(self) -> _Lines:
        return self

    def __next__(self) -> str:
        if self.chars > self.limit_chars or len(self.record) > MAX_CELL_LINES:
            raise StopIteration  # within a quoted cell: the csv reader reports it as never closed
        line = self.back.pop() if self.back else next(self.source)
        self.number += 1
        self.record.append(line)
        self.chars += len(line)
        if "\x00" in line:
            self.zeros += line.count("\x00")
            line = line.replace("\x00", "")
        return line

    def start_record(self) -> None:
        self.record.clear()
        self.chars = 0

    def skip_first_line(self) -> None:
        """Give back all lines of the record but the first."""
        self.back.extend(reversed(self.record[1:]))
        self.number -= len(self.record) - 1
        self.start_record()


class TableReader:
    """A delimited table. Iterating ``batches`` reads it once; ``problems`` and ``notices`` grow."""

    def __init__(
        self,
        raw: BinaryIO,
        file: str,
        *,
        encoding: str | None = None,
        delimiter: str | None = None,
        limit_chars: int = 20_000_000,
        headings: str = "",
    ) -> None:
        self.file = file
        self.limit_chars = limit_chars
        self.problems: list[Problem] = []
        self.notices: list[str] = []
        self._told = 0
        self._decoded = open_text(raw, encoding)
        self.encoding = self._decoded.encoding
        csv.field_size_limit(2**31 - 1)
        head = []
        for line in self._decoded.lines:
            head.append(line)
            if len(head) >= 50 or sum(map(len, head)) > 200_000:
                break
        said = _SEP.fullmatch(head[0]) if head else None
        self.delimiter = delimiter or (said[1] if said else guess_delimiter(head, file))
        self._lines = _Lines(self._decoded.lines, limit_chars)
        self._lines.back = head[::-1]
        if said:  # a line for spreadsheet programs
            next(self._lines)
            self._lines.start_record()
        self.headings = find_headings(self._first_rows(head[1 if said else 0 :]), headings)
        self.header = self._read_header()

    def _first_rows(self, head: list[str]) -> list[list[str]]:
        """The first rows as they come, to find the headings in."""
        rows: list[list[str]] = []
        with suppress(csv.Error):  # whoever reads on says where and why
            rows += csv.reader(head, delimiter=self.delimiter)
        return rows

    def _read_header(self) -> list[str]:
        reader, names = self._reader(), self.headings.names
        if not names:
            raise ReadError(f"{self.file} is empty.")
        for _ in range(self.headings.first):
            try:
                next(reader)
            except StopIteration:
                raise ReadError(f"{self.file} is empty.") from None
            except csv.Error as error:
                raise ReadError(
                    f"{self.file}: the first lines cannot be read as column names: {why(error)}."
                ) from error
            self._lines.start_record()
        if len(names) > MAX_COLUMNS:
            raise ReadError(f"{self.file} has {len(names):,} columns; at most {MAX_COLUMNS:,} can be read.")
        return unique_names(names)

    def _reader(self):
        return csv.reader(self._lines, delimiter=self.delimiter, strict=True)

    def batches(self) -> Iterator[Batch]:
        """Rows in the order of the file, at most ROWS_AT_ONCE or about CHARS_AT_ONCE at a time."""
        batch, chars, complete = Batch(), 0, 0
        lines, width = self._lines, len(self.header)
        reader = self._reader()
        rows_full, chars_full = batch_size(complete)
        while True:
            first = lines.number + 1
            try:
                cells = next(reader)
            except StopIteration:
                break
            except csv.Error as error:
                self._refuse(first, _reason(error))
                reader = self._reader()
                continue
            chars += lines.chars
            lines.start_record()
            if not cells or (len(cells) == 1 and not cells[0].strip()):
                continue
            if len(cells) != width:
                cells = self._fit(cells, first)
                if cells is None:
                    continue
            batch.rows.append(cells)
            batch.lines.append(first)
            if len(batch.rows) >= rows_full or chars > chars_full:
                self._tell_repaired()
                yield batch
                batch, chars, complete = Batch(), 0, complete + 1
                rows_full, chars_full = batch_size(complete)
        self._tell_repaired()
        if notice := stray_notice(self._decoded):
            self.notices.append(notice)
        if lines.zeros:
            self.notices.append(f"{lines.zeros:,} NUL characters were removed.")
        if batch.rows:
            yield batch

    def _tell_repaired(self) -> None:
        """A remark for each line with letters of another encoding."""
        lines = self._decoded.repaired
        self.problems += [
            Problem(self.file, line, _OTHER_ENCODING, kept=True) for line in lines[self._told :]
        ]
        self._told = len(lines)

    def _refuse(self, line: int, reason: str) -> None:
        self.problems.append(Problem(self.file, line, reason))
        self._lines.skip_first_line()

    def _fit(self, cells: list[str], line: int) -> list[str] | None:
        """A row with empty cells too many is cut; any other wrong width is refused, as cells may have slipped."""
        width = len(self.header)
        if len(cells) > width and not any(cell.strip() for cell in cells[width:]):
            return cells[:width]
        problem = f"{len(cells):,} cells where the header has {width:,}"
        self.problems.append(
            Problem(self.file, line, f"{problem}; cells may have slipped, so the row is left out.")
        )
        return None


def _reason(error: csv.Error) -> str:
    if "unexpected end" in str(error):
        return "A quotation mark opens a cell here and never closes."
    if "expected after" in str(error):
        return "A quotation mark inside a quoted cell is not doubled."
    return f"This row cannot be read: {why(error)}."


def unique_names(cells: list[str]) -> list[str]:
    """Column names, trimmed, none empty, doubles numbered."""
    names: list[str] = []
    for at, cell in enumerate(cells, 1):
        name = " ".join(cell.replace("\x00", "").split()) or f"Column {at}"
        base, number = name, 2
        while name in names:
            name, number = f"{base} ({number})", number + 1
        names.append(name)
    return names


def guess_delimiter(lines: list[str], file: str = "") -> str:
    """The sign that cuts the first lines into the same number of cells, the more the better."""
    if file.lower().endswith((".tsv", ".tab")):
        return "\t"
    best, best_score = NEVER, 0.0
    for sign in DELIMITERS:
        try:
            rows = [row for row in csv.reader(lines, delimiter=sign) if any(row)]
        except csv.Error:
            continue
        widths = Counter(len(row) for row in rows)
        width, count = widths.most_common(1)[0] if widths else (0, 0)
        # rows of a title above, and texts with the sign in them, have another width
        if width < 2 and widths and max(widths) > 1 and len(rows[0]) > 1:
            width, count = len(rows[0]), widths[len(rows[0])]
        if width < 2 or (len(rows[0]) < 2 and count < len(rows) * 0.6):
            continue
        score = count / len(rows) * 1000 + width
        if score > best_score:
            best, best_score = sign, score
    return best
