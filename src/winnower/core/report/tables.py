"""The numbers of a finding as one table that fits a page."""

from __future__ import annotations

import math

from winnower.core.finding import Answer, AnyView, Sheet
from winnower.core.finding.sheets import Cell, Form, has_ends, shown_measure
from winnower.core.finding.views import ComparisonView, request_of
from winnower.core.report.blocks import Grid, GridColumn

MOST_ROWS, MOST_ACROSS, MOST_COLUMNS = 20, 7, 7


def numbers_of(view: AnyView, answer: Answer, caption: str) -> Grid | None:
    """The main sheet of an answer: of a comparison rows by groups, each with its interval; None where it has no row."""
    sheet = next((one for one in answer.sheets if one.rows), None)
    if sheet is None:
        return None
    if isinstance(view, ComparisonView):
        return _crossed(view, sheet, caption)
    columns = sheet.columns[:MOST_COLUMNS]
    rows = tuple(
        tuple(written(value, column.form) for value, column in zip(row, columns, strict=False))
        for row in sheet.rows[:MOST_ROWS]
    )
    heads = tuple(GridColumn(one.name, one.form != "text") for one in columns)
    return Grid(caption, heads, rows, _left_out(len(sheet.rows), len(rows), "row"))


def _crossed(view: ComparisonView, sheet: Sheet, caption: str) -> Grid:
    name, at = shown_measure(sheet, getattr(request_of(view), "measure", ""))
    form, ends = sheet.columns[at].form, has_ends(sheet, at)
    rows = list(dict.fromkeys(str(row[0]) for row in sheet.rows))
    groups = list(dict.fromkeys(str(row[1]) for row in sheet.rows))
    cells = {(str(row[0]), str(row[1])): row for row in sheet.rows}
    across, down = groups[:MOST_ACROSS], rows[:MOST_ROWS]
    body = []
    for row in down:
        line = [row]
        for group in across:
            value, low, high = cells[row, group][at : at + 3] if ends else (cells[row, group][at], None, None)
            interval = (
                "" if low is None or high is None else f" ({written(low, form)} to {written(high, form)})"
            )
            line.append(written(value, form) + interval)
        body.append(tuple(line))
    heads = (GridColumn(sheet.columns[0].name), *(GridColumn(group, True) for group in across))
    notes = [
        f"{name[:1].upper()}{name[1:]}{', with its interval' if ends else ''}.",
        _left_out(len(rows), len(down), "row"),
        _left_out(len(groups), len(across), "group"),
    ]
    return Grid(caption, heads, tuple(body), " ".join(note for note in notes if note))


def _left_out(there: int, shown: int, noun: str) -> str:
    more = there - shown
    return f"{more:,} more {noun}{'s' if more > 1 else ''} left out here." if more > 0 else ""


def written(value: Cell, form: Form) -> str:
    """A number as it stands in a table.

    >>> written(0.12345, "percent"), written(1234, "count"), written(0.0004, "p"), written(12.3456, "number")
    ('12.3%', '1,234', '< 0.001', '12.3')
    """
    if value is None:
        return "–"
    if isinstance(value, str):
        return value
    if form == "count":
        return f"{value:,.0f}"
    if form == "percent":
        return f"{value * 100:.1f}%"
    if form == "p":
        return "< 0.001" if value < 0.001 else f"{value:.3f}"
    if value == 0 or not math.isfinite(value):
        return "0" if value == 0 else "–"
    places = max(0, 2 - math.floor(math.log10(abs(value))))
    return f"{value:,.{min(places, 4)}f}"
