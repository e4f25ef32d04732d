"""Comparisons to CSV and Excel, with how they were counted."""

from __future__ import annotations

import csv
import datetime as dt
import io
from typing import Any

import orjson
import xlsxwriter

from winnower.core.cells import harmless_row
from winnower.core.compare import Modelled, Table, how_counted, model_statements, statements, to_plain
from winnower.core.finding.answers import numbers
from winnower.core.finding.sheets import plain as _plain

#: How values of each form are shown in a workbook.
NUMBER_FORMATS = {"number": "0.000", "percent": "0.0%", "count": "#,##0"}
#: When a workbook says it was made: always the same, so that the same numbers are the same file.
MADE = dt.datetime(2000, 1, 1)


def test_values(table: Table) -> dict[str, Any]:
    """The tests in plain values; None where something is not defined, with the reason.

    ``customary`` takes hits for independent: it is there to be set beside other studies.
    """
    tests, (pearson, v) = table.tests, table.customary
    labels = table.groups.labels
    rates = None if tests.verdict is None else tests.verdict.rates
    gap = None if rates is None else rates.gap
    mix = None if tests.verdict is None else tests.verdict.mix
    trend = None if tests.verdict is None else tests.verdict.trend
    what = "difference" if table.of_numbers else "ratio"
    return {
        "reason": tests.reason,
        "unit": table.unit.noun,
        "level": table.comparison.level,
        "seed": table.comparison.seed,
        "left_out": [labels[at] for at in tests.left_out],
        "rows": []
        if rates is None
        else [
            {
                "row": table.target.rows[at].label,
                "statistic": _plain(rates.statistic[at]),
                "p": _plain(rates.p[at]),
                "p_adjusted": _plain(rates.p_adjusted[at]),
                "spread_between_groups": _plain(rates.between[at]),
                "could_be_seen": _plain(rates.detectable[at]),
                "p_of_trend": None if trend is None else _plain(trend.p[at]),
            }
            for at in table.tested_rows
        ],
        "permutations": 0 if rates is None else rates.times,
        "mix": None
        if mix is None or table.of_numbers
        else {
            "statistic": _plain(mix.statistic),
            "df": _plain(mix.df),
            "p": _plain(mix.p),
            "permutations": mix.times,
        },
        "gap": None
        if gap is None
        else {
            "row": table.target.rows[gap.row].label,
            "group": labels[gap.first],
            "against": labels[gap.second] if gap.second >= 0 else None,
            f"{what}_found": _plain(gap.found),
            what: _plain(gap.ratio),
            "low": _plain(gap.low),
            "high": _plain(gap.high),
            "p": _plain(gap.p),
        },
        "customary": {
            "chi2": _plain(pearson.chi2),
            "df": pearson.df,
            "p": _plain(pearson.p),
            "cramers_v": _plain(v),
        },
    }


def comparison_csv(table: Table) -> str:
    """The long table as CSV; full precision, empty where not defined."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    sheet = numbers(table)
    writer.writerow(harmless_row(column.name for column in sheet.columns))
    writer.writerows(map(harmless_row, sheet.rows))
    return out.getvalue()


def comparison_xlsx(table: Table, modelled: Modelled | None = None) -> bytes:
    """A workbook: the shown measure as a grid, all numbers, the tests, the rate model where there is one, how it was
    counted.

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
    every = numbers(table)
    sheet.write_row(0, 0, [column.name for column in every.columns], bold)
    for at, row in enumerate(every.rows, 1):
        _write(sheet, at, list(row))
    sheet.freeze_panes(1, 2)
    sheet.autofit()
    _tests(book, bold, table)
    if modelled is not None:
        _model(book, bold, modelled)
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
            if (shown_value := _plain(value)) is not None:
                sheet.write_number(at + 2, group + 1, shown_value, number)
    base = len(table.target.rows) + 3
    for at, (label, counts) in enumerate((("Words", table.words), ("Texts", table.texts))):
        sheet.write_string(base + at, 0, label)
        sheet.write_row(base + at, 1, [int(v) for v in counts])
    sheet.freeze_panes(2, 1)
    sheet.autofit()


def _tests(book, bold, table: Table) -> None:
    """Rows with their test, then what concerns all of them."""
    found = test_values(table)
    sheet = book.add_worksheet("Tests")
    row = 0
    if found["rows"]:
        sheet.write_row(0, 0, [name.replace("_", " ").capitalize() for name in found["rows"][0]], bold)
    for row, one in enumerate(found["rows"], 1):
        _write(sheet, row, list(one.values()))
    flat = [("reason", found["reason"]), ("left out", "; ".join(found["left_out"]))]
    flat += [(name, found[name]) for name in ("unit", "level", "seed", "permutations")]
    for part in ("mix", "gap", "customary"):
        flat += [(f"{part}: {name}".replace("_", " "), value) for name, value in (found[part] or {}).items()]
    for at, pair in enumerate(flat, row + 2):
        _write(sheet, at, list(pair))
    sheet.autofit()


def _model(book, bold, modelled: Modelled) -> None:
    """A row for each ratio, then what the model says in words."""
    sheet = book.add_worksheet("Model")
    noun = modelled.table.target.nouns[0]
    heads = ("field", "value", "against", noun, "ratio", "low", "high", "p of the field, adjusted", "words")
    sheet.write_row(0, 0, [head.capitalize() for head in heads], bold)
    row = 0
    for at, field in enumerate(modelled.fields):
        for place in modelled.models:
            effect, named = modelled.effect(place, at), modelled.table.target.rows[place].label
            if effect is None:
                continue
            for level, label in enumerate(field.labels):
                row += 1
                found = [_plain(part[level]) for part in (effect.ratio, effect.low, effect.high)]
                against = field.labels[field.reference]
                p, words = _plain(field.p[place]), int(field.words[level])
                _write(sheet, row, [field.name, label, against, named, *found, p, words])
    for at, statement in enumerate(model_statements(modelled), row + 2):
        sheet.write_string(at, 0, statement.text)
    sheet.freeze_panes(1, 0)


def _write(sheet, row: int, values: list) -> None:
    for column, value in enumerate(values):
        if isinstance(value, str):
            sheet.write_string(row, column, value)
        elif value is not None:
            sheet.write_number(row, column, value)


def method_text(table: Table, modelled: Modelled | None = None) -> str:
    """How a table was counted and what it says, to lie beside its CSV: in words, with the request at its end."""
    lines = [table.target.name, "", *(statement.text for statement in statements(table))]
    if modelled is not None:
        lines += ["", *(statement.text for statement in model_statements(modelled))]
    for heading, words, source in how_counted(table):
        lines += ["", heading, f"{words} {source}".strip()]
    request = orjson.dumps(to_plain(table.comparison), option=orjson.OPT_INDENT_2).decode()
    return "\n".join([*lines, "", "Request", request, ""])


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
    # the request itself, so that the numbers can be computed again from it
    sheet.write_string(row, 0, "Request", bold)
    sheet.write_string(row, 1, orjson.dumps(to_plain(table.comparison)).decode())
