"""Answers of any view to CSV, Excel and text, with how they were counted and the request."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence

import orjson
import xlsxwriter

from winnower.core.cells import harmless_row
from winnower.core.finding import Answer, AnyView, Sheet, view_to_plain
from winnower.writers.tables import MADE

FORMATS = {"number": "0.000", "percent": "0.0%", "count": "#,##0", "p": "0.0000", "text": "@"}
#: What a worksheet may not be called.
_NO_NAME = re.compile(r"[\[\]:*?/\\]")


def answer_csv(answer: Answer) -> str:
    """The sheets one after the other, an empty line and its name before each but the first."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    for at, sheet in enumerate(answer.sheets):
        if at:
            out.write("\n")
            writer.writerow([sheet.name])
        writer.writerow(harmless_row(column.name for column in sheet.columns))
        writer.writerows(map(harmless_row, sheet.rows))
    return out.getvalue()


def answer_text(answer: Answer, view: AnyView) -> str:
    """What an answer says and how it was counted, in words, with the request at its end."""
    lines = [answer.name, answer.base, "", *(one.text for one in answer.statements)]
    for heading, words, source in answer.method:
        lines += ["", heading, f"{words} {source}".strip()]
    request = orjson.dumps(view_to_plain(view), option=orjson.OPT_INDENT_2).decode()
    return "\n".join([*lines, "", "Request", request, ""])


def answer_xlsx(answers: Sequence[Answer], views: Sequence[AnyView], titles: Sequence[str] = ()) -> bytes:
    """A workbook: the sheets of each answer, and at the end of each what it says, how it was counted, and the request.

    Names from the corpus are written as text, so that none is taken for a formula or a link.
    """
    buffer = io.BytesIO()
    options = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    book = xlsxwriter.Workbook(buffer, options)
    book.set_properties({"created": MADE})
    bold = book.add_format({"bold": True})
    wrap = book.add_format({"text_wrap": True, "valign": "top"})
    forms = {name: book.add_format({"num_format": form}) for name, form in FORMATS.items()}
    taken: set[str] = set()
    many = len(answers) > 1
    for number, (answer, view) in enumerate(zip(answers, views, strict=True), start=1):
        for sheet in answer.sheets:
            _sheet(book, bold, forms, _named(f"{number} {sheet.name}" if many else sheet.name, taken), sheet)
        about = book.add_worksheet(_named(f"{number} About" if many else "How it was counted", taken))
        about.set_column(0, 0, 28)
        about.set_column(1, 1, 100, wrap)
        title = titles[number - 1] if titles else answer.name
        rows = [("Title", title), ("Counted", answer.base)]
        rows += [(one.kind.capitalize(), one.text) for one in answer.statements]
        rows += [(heading, f"{words} {source}".strip()) for heading, words, source in answer.method]
        # the request itself, so that the numbers can be computed again from it
        rows.append(("Request", orjson.dumps(view_to_plain(view)).decode()[:32_000]))
        for at, (heading, words) in enumerate(rows):
            about.write_string(at, 0, heading, bold)
            about.write_string(at, 1, words[:32_000])
    book.close()
    return buffer.getvalue()


def _named(name: str, taken: set[str]) -> str:
    """A name no other worksheet has, of at most 31 characters."""
    name = _NO_NAME.sub(" ", name)[:31].strip("' ") or "Sheet"
    at, found = 1, name
    while found.lower() in taken:
        at += 1
        found = f"{name[:27]} {at}"
    taken.add(found.lower())
    return found


def _sheet(book, bold, forms, name: str, found: Sheet) -> None:
    sheet = book.add_worksheet(name)
    sheet.write_row(0, 0, [column.name for column in found.columns], bold)
    for at, row in enumerate(found.rows, 1):
        for place, (cell, column) in enumerate(zip(row, found.columns, strict=True)):
            if isinstance(cell, str):
                sheet.write_string(at, place, cell[:32_000])
            elif cell is not None:
                sheet.write_number(at, place, cell, forms[column.form])
    sheet.freeze_panes(1, sum(column.key for column in found.columns))
    sheet.set_column(0, len(found.columns) - 1, 16)
