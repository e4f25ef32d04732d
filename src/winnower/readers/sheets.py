"""Sheets of Excel and OpenDocument workbooks as tables."""

from __future__ import annotations

import datetime as dt
import io
from collections.abc import Callable, Iterator
from typing import BinaryIO

from python_calamine import CalamineError, CalamineSheet, CalamineWorkbook, PasswordError, load_workbook

from winnower.core.errors import ReadError
from winnower.readers.containers import OLE_MARK
from winnower.readers.files import Origin
from winnower.readers.headings import ROWS_SEEN, find_headings
from winnower.readers.problems import Problem
from winnower.readers.reasons import why
from winnower.readers.tables import MAX_COLUMNS, Batch, is_full, unique_names

_NEW_FORMATS = (".xlsx", ".xlsm", ".xlsb", ".ods")


def open_workbook(origin: Origin) -> CalamineWorkbook:
    """Raises ReadError."""
    try:
        with origin.open() as raw:
            return load_workbook(_whole(raw, origin))
    except PasswordError as error:
        raise ReadError("The workbook is protected with a password.") from error
    except (CalamineError, OSError, ValueError) as error:
        raise ReadError(f"The workbook is damaged or not what its name says: {why(error)}.") from error


def _whole(raw: BinaryIO, origin: Origin) -> BinaryIO:
    """The file as one that can be read to and fro; new formats in an old container are encrypted."""
    content = io.BytesIO(raw.read())
    if content.getvalue().startswith(OLE_MARK) and origin.name.lower().endswith(_NEW_FORMATS):
        raise ReadError("The workbook is protected with a password; save it again without one.")
    return content


class SheetReader:
    """One sheet; its headings are found as in other tables. What is merged over several rows holds in each."""

    encoding = ""
    delimiter = ""

    def __init__(
        self,
        origin: Origin,
        book: CalamineWorkbook,
        sheet: str,
        headings: str = "",
        count: Callable[[int], None] = lambda size: None,
    ) -> None:
        self._size, self._count = origin.size, count
        self.file = f"{origin.name}, sheet {sheet}"
        self.problems: list[Problem] = []
        self.notices: list[str] = []
        try:
            found = book.get_sheet_by_name(sheet)
            self._rows = found.to_python(skip_empty_area=False)
        except (CalamineError, ValueError) as error:
            raise ReadError(f"{self.file} cannot be read: {why(error)}.") from error
        if not any(any(map(_filled, row)) for row in self._rows):
            raise ReadError(f"{self.file} is empty.")
        first = [[cell_text(cell) for cell in row] for row in self._rows[:ROWS_SEEN]]
        self.headings = find_headings(first, headings)
        self._first = self.headings.first
        self._fill_down(found)
        cells = list(self.headings.names)
        while cells and not cells[-1].strip():
            cells.pop()
        if len(cells) > MAX_COLUMNS:
            raise ReadError(f"{self.file} has {len(cells):,} columns; at most {MAX_COLUMNS:,} can be read.")
        self.header = unique_names(cells)

    def _fill_down(self, sheet: CalamineSheet) -> None:
        """Give each row the value of a cell that is merged over several."""
        filled = 0
        for (top, left), (bottom, _) in sheet.merged_cell_ranges or ():
            if top >= self._first and bottom > top and top < len(self._rows):
                for row in self._rows[top + 1 : bottom + 1]:
                    if left < len(row) and not _filled(row[left]):
                        row[left] = self._rows[top][left]
                        filled += 1
        if filled:
            self.notices.append(f"{filled:,} cells below a merged one have its value.")

    def batches(self) -> Iterator[Batch]:
        """Rows from the one after the names; empty ones are passed over. The bytes of the file, which is read at once,
        are counted as its rows are given."""
        counted = 0
        batch, chars, width, complete = Batch(), 0, len(self.header), 0
        for at in range(self._first, len(self._rows)):
            row = self._rows[at]
            self._rows[at] = []
            if not any(map(_filled, row)):
                continue
            if any(map(_filled, row[width:])):
                reason = "There are cells beside the last column name; the row is left out."
                self.problems.append(Problem(self.file, at + 1, reason))
                continue
            cells = [cell_text(cell) for cell in row[:width]]
            cells += [""] * (width - len(cells))
            batch.rows.append(cells)
            batch.lines.append(at + 1)
            chars += sum(map(len, cells))
            if is_full(len(batch.rows), chars, complete):
                share = self._size * at // len(self._rows)
                self._count(share - counted)
                counted = share
                yield batch
                batch, chars, complete = Batch(), 0, complete + 1
        self._count(self._size - counted)
        if batch.rows:
            yield batch


def _filled(cell: object) -> bool:
    return cell is not None and cell != ""


def cell_text(cell: object) -> str:
    """A cell as people see it: whole numbers without a point, dates as 2031-06-03."""
    if isinstance(cell, str):
        return cell
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, float):
        return str(int(cell)) if cell.is_integer() and abs(cell) < 1e22 else repr(cell)
    if isinstance(cell, dt.datetime):
        midnight = cell.time() == dt.time()
        return (
            cell.date().isoformat()
            if midnight
            else cell.isoformat(" ", "seconds" if cell.second else "minutes")
        )
    if isinstance(cell, (dt.date, dt.time)):
        return cell.isoformat()
    return "" if cell is None else str(cell)
