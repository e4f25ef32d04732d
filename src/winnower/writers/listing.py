"""Plain listings, a column at a time, to CSV and Excel."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

import xlsxwriter

from winnower.core.cells import harmless_row


@dataclass(frozen=True)
class Column:
    """A name and its cells: text, numbers, or None where there is nothing."""

    name: str
    cells: Sequence[str | int | float | None]


def listing_csv(columns: Sequence[Column]) -> str:
    """CSV with a head; full precision, empty where there is nothing."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(harmless_row(column.name for column in columns))
    for row in zip(*(column.cells for column in columns), strict=True):
        writer.writerow(harmless_row(row))
    return out.getvalue()


def listing_xlsx(columns: Sequence[Column], method: Sequence[tuple[str, str, str]]) -> bytes:
    """A workbook with the listing and a sheet on how it was counted (heading, words, source).

    Text from the corpus is written as text, so that none is taken for a formula or a link.
    """
    buffer = io.BytesIO()
    options = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    book = xlsxwriter.Workbook(buffer, options)
    bold = book.add_format({"bold": True})
    sheet = book.add_worksheet("List")
    sheet.write_row(0, 0, [column.name for column in columns], bold)
    for at, column in enumerate(columns):
        for row, cell in enumerate(column.cells, 1):
            if isinstance(cell, str):
                sheet.write_string(row, at, cell[:32_000])
            elif cell is not None:
                sheet.write_number(row, at, cell)
    sheet.freeze_panes(1, 1)
    sheet.set_column(0, len(columns) - 1, 16)
    about = book.add_worksheet("How it was counted")
    about.set_column(0, 0, 26)
    about.set_column(1, 1, 100, book.add_format({"text_wrap": True, "valign": "top"}))
    for row, (heading, words, source) in enumerate(method):
        about.write_string(row, 0, heading, bold)
        about.write_string(row, 1, f"{words} {source}".strip())
    book.close()
    return buffer.getvalue()
