"""A dictionary to CSV, Excel or JSON; each reads back the same."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import xlsxwriter

from winnower.core.cells import harmless_row
from winnower.core.dictionary import Dictionary, dictionary_to_rows
from winnower.core.dictionary.rows import COLUMNS

FORMS = ("csv", "xlsx", "json")


def dictionary_csv(dictionary: Dictionary) -> str:
    """One row a term, with all columns."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for row in dictionary_to_rows(dictionary):
        writer.writerow(harmless_row(row[name] for name in COLUMNS))
    return out.getvalue()


def dictionary_xlsx(dictionary: Dictionary) -> bytes:
    """The same rows as a workbook; all cells are text."""
    buffer = io.BytesIO()
    options = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    book = xlsxwriter.Workbook(buffer, options)
    sheet = book.add_worksheet("Dictionary")
    sheet.write_row(0, 0, COLUMNS, book.add_format({"bold": True}))
    for at, row in enumerate(dictionary_to_rows(dictionary), 1):
        for column, name in enumerate(COLUMNS):
            if row[name]:
                sheet.write_string(at, column, row[name])
    sheet.freeze_panes(1, 0)
    sheet.autofit()
    book.close()
    return buffer.getvalue()


def dictionary_json(dictionary: Dictionary, version: int | None = None) -> str:
    """Categories in tree order with their terms, options and notes."""
    categories = [
        {
            "path": list(category.path),
            "description": category.description,
            "colour": category.colour + 1,
            "terms": [
                {
                    "term": term.source,
                    "case": term.match_case,
                    "accents": term.ignore_accents,
                    "forms": term.forms_of,
                    "note": term.note,
                }
                for term in category.terms
            ],
        }
        for category in dictionary.categories
    ]
    whole = {"name": dictionary.name, "version": version, "categories": categories}
    return json.dumps(whole, ensure_ascii=False, indent=1)


def write_dictionary_file(path: Path, dictionary: Dictionary, version: int | None = None) -> None:
    """By the ending of the name; CSV in UTF-8 with a mark, so that spreadsheets open it right."""
    ending = path.suffix.lower()
    if ending == ".xlsx":
        path.write_bytes(dictionary_xlsx(dictionary))
    elif ending == ".json":
        path.write_text(dictionary_json(dictionary, version), encoding="utf-8")
    else:
        path.write_text(dictionary_csv(dictionary), encoding="utf-8-sig")
