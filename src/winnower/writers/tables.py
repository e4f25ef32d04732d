"""Comparisons to CSV and Excel, with how they were counted."""

from __future__ import annotations

import csv
import datetime as dt
import io
import math

import orjson
import xlsxwriter

from winnower.core.cells import harmless_row
from winnower.core.compare import MEASURES, Table, how_counted, statements, to_plain

#: How values of each form are shown in a workbook.
NUMBER_FORMATS = {"number": "0.000", "percent": "0.0%", "count": "#,##0"}
#: When a workbook says it was made: always the same, so that the same numbers are the same file.
MADE = dt.datetime(2000, 1, 1)
#: The measures in the long table: all that have an interval; counts stand before them.
MEASURED = tuple(one for one in MEASURES.values() if one.has_interval)


def columns_of(table: Table) -> tuple[str, ...]:
    """Heads of the long table."""
    counts = (table.target.nouns[0], "group", "hits", "texts with a hit", "words", "texts")
    measured = [f"{one.label.lower()}{end}" for one in MEASURED for end in ("", " low", " high")]
    return (*counts, *measured, "adjusted residual")


def test_values(table: Table) -> dict:
    """The test in plain values; None where it is not defined, with the reason."""
    test = table.test
    return {
        "chi2": _plain(test.pearson.chi2),
        "df": test.pearson.df,
        "p": _plain(test.pearson.p),
        "cramers_v": _plain(test.cramers_v),
        "smallest_expected": _plain(test.pearson.smallest_expected),
        "exact_p": test.exact_p,
        "exact_way": test.exact_way,
        "adjusted": {
            "chi2": _plain(test.adjusted.chi2),
            "df": _plain(test.adjusted.df),
            "p": _plain(test.adjusted.p),
            "design_effect": _plain(test.adjusted.design_effect),
        },
        "rows": [table.target.rows[row].label for row in table.tested_rows],
        "reason": test.reason,
    }


def _plain(value: float) -> float | None:
    return None if value is None or math.isnan(value) else float(value)


def long_rows(table: Table) -> list[list]:
    """One row a cell: counts and all measures with intervals, as in ``columns_of``."""
    measured = [table.measure(one.name) for one in MEASURED]
    rows = []
    for at, named in enumerate(table.target.rows):
        for group, label in enumerate(table.groups.labels):
            row = [named.label, label, int(table.hits[at, group]), int(table.texts_with_hit[at, group])]
            row += [int(table.words[group]), int(table.texts[group])]
            for interval in measured:
                row += [_plain(part[at, group]) for part in interval]
            rows.append([*row, _plain(table.residuals[at, group])])
    return rows


def comparison_csv(table: Table) -> str:
    """The long table as CSV; full precision, empty where not defined."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(harmless_row(columns_of(table)))
    writer.writerows(map(harmless_row, long_rows(table)))
    return out.getvalue()


def comparison_xlsx(table: Table) -> bytes:
    """A workbook: the shown measure as a grid, all numbers, the test, how it was counted.

    Names from the corpus are written as text, so that none is taken for a formula or a link.
    """
    buffer = io.BytesIO()
    book = xlsxwriter.Workbook(
        buffer, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    )
    book.set_properties({"created": MADE})
    bold = book.add_format({"bold": True})
    wrap = book.add_format({"text_wrap": True, "valign": "top"})
    _grid(book, bold, table)
    sheet = book.add_worksheet("All numbers")
    sheet.write_row(0, 0, columns_of(table), bold)
    for at, row in enumerate(long_rows(table), 1):
        for column, cell in enumerate(row):
            if isinstance(cell, str):
                sheet.write_string(at, column, cell)
            elif cell is not None:
                sheet.write_number(at, column, cell)
    sheet.freeze_panes(1, 2)
    sheet.autofit()
    _about(book, bold, wrap, table)
    book.close()
    return buffer.getvalue()


def _grid(book, bold, table: Table) -> None:
    shown, noun = table.shown, table.target.nouns[0]
    sheet = book.add_worksheet("Comparison")
    number = book.add_format({"num_format": NUMBER_FORMATS[shown.form]})
    sheet.write_string(0, 0, shown.unit[:1].upper() + shown.unit[1:], bold)
    sheet.write_row(1, 0, [noun.capitalize(), *table.groups.labels], bold)
    values = table.measure(shown.name).value
    for at, named in enumerate(table.target.rows):
        sheet.write_string(at + 2, 0, named.label)
        for group, value in enumerate(values[at]):
            if not math.isnan(value):
                sheet.write_number(at + 2, group + 1, float(value), number)
    base = len(table.target.rows) + 3
    for at, (label, counts) in enumerate((("Words", table.words), ("Texts", table.texts))):
        sheet.write_string(base + at, 0, label)
        sheet.write_row(base + at, 1, [int(v) for v in counts])
    sheet.freeze_panes(2, 1)
    sheet.autofit()


def _about(book, bold, wrap, table: Table) -> None:
    sheet = book.add_worksheet("How it was counted")
    sheet.set_column(0, 0, 28)
    sheet.set_column(1, 1, 100, wrap)
    row = 0
    for statement in statements(table):
        sheet.write_string(row, 0, statement.kind.capitalize(), bold)
        sheet.write_string(row, 1, statement.text)
        row += 1
    for heading, words, source in how_counted(table):
        sheet.write_string(row, 0, heading, bold)
        sheet.write_string(row, 1, f"{words} {source}".strip())
        row += 1
    values = test_values(table)
    for name in ("chi2", "df", "p", "cramers_v"):
        sheet.write_string(row, 0, name, bold)
        if values[name] is not None:
            sheet.write_number(row, 1, values[name])
        row += 1
    # the request itself, so that the numbers can be computed again from it
    sheet.write_string(row, 0, "Request", bold)
    sheet.write_string(row, 1, orjson.dumps(to_plain(table.comparison)).decode())
