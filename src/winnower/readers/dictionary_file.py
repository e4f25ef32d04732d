"""A dictionary from a CSV, a workbook, JSON, or a plain list of words."""

from __future__ import annotations

import io
import json
from pathlib import Path

from winnower.core.cells import as_given
from winnower.core.dictionary import DictionaryRows, dictionary_from_rows
from winnower.core.dictionary.rows import COLUMNS
from winnower.core.errors import DictionaryError, ReadError
from winnower.readers.encoding import open_text
from winnower.readers.files import Origin
from winnower.readers.problems import Problem
from winnower.readers.reasons import why
from winnower.readers.tables import TableReader

WORKBOOKS = (".xlsx", ".xlsm", ".xls", ".ods")
LISTS = (".txt", ".lst", ".text")
Rows = list[tuple[int, dict[str, str]]]


def read_dictionary_file(path: Path) -> DictionaryRows:
    """Read a dictionary file. Raises DictionaryError or ReadError."""
    try:
        content = path.read_bytes()
    except OSError as error:
        raise ReadError(f"{path.name} cannot be read: {error.strerror}.") from error
    return read_dictionary_bytes(content, path.name)


def read_dictionary_bytes(content: bytes, name: str) -> DictionaryRows:
    """The same from the bytes of a file; unreadable rows are listed with the others."""
    if not content.strip():
        raise DictionaryError(f"{name} is empty.")
    ending = Path(name).suffix.lower()
    problems: list[Problem] = []
    if ending == ".json":
        columns, rows = _from_json(content, name)
    elif ending in LISTS:
        columns, rows = ["category", "term"], _from_list(content, Path(name).stem)
    elif ending in WORKBOOKS:
        columns, rows, problems = _from_workbook(content, name)
    else:
        reader = TableReader(io.BytesIO(content), name)
        columns, problems = reader.header, reader.problems
        rows = [(line, {name: as_given(cell) for name, cell in row.items()}) for line, row in _rows(reader)]
    read = dictionary_from_rows(Path(name).stem, columns, rows)
    refused = [(p.row, p.reason) for p in problems]
    return DictionaryRows(
        read.dictionary, tuple(sorted([*read.refused, *refused])), read.doubles, read.unknown_columns
    )


def _rows(reader) -> Rows:
    out: Rows = []
    for batch in reader.batches():
        out += [
            (line, dict(zip(reader.header, cells, strict=True)))
            for line, cells in zip(batch.lines, batch.rows, strict=True)
        ]
    return out


def _from_workbook(content: bytes, name: str) -> tuple[list[str], Rows, list[Problem]]:
    """The first sheet that has the columns a dictionary needs, or the first one there is."""
    from winnower.readers.sheets import SheetReader, open_workbook

    origin = Origin(name, "sheets", len(content), lambda: io.BytesIO(content))
    book = open_workbook(origin)
    readers = []
    for sheet in book.sheet_names:
        try:
            readers.append(SheetReader(origin, book, sheet))
        except ReadError:
            if sheet == book.sheet_names[-1] and not readers:
                raise
            continue  # an empty sheet beside others
    fits = (r for r in readers if {"category", "term"} <= {h.strip().lower() for h in r.header})
    reader = next(fits, readers[0])
    return reader.header, _rows(reader), reader.problems


def _from_list(content: bytes, name: str) -> Rows:
    """One term a line, all in one category named like the file; lines that begin with # are notes
    where a space follows (a hashtag has none)."""
    lines = _decoded(content).splitlines()
    return [
        (number, {"category": name.replace(">", " "), "term": line.strip()})
        for number, line in enumerate(lines, 1)
        if line.strip() and not line.startswith("# ")
    ]


def _from_json(content: bytes, name: str) -> tuple[list[str], Rows]:
    """The form that is exported: {"categories": [{"path": [...], "terms": [{"term": ...}]}]}; terms may
    be plain text, and a list of rows with the columns of the CSV is read as well."""
    try:
        given = json.loads(_decoded(content))
    except ValueError as error:
        raise DictionaryError(f"{name} is not whole JSON: {why(error)}.") from error
    categories = given.get("categories") if isinstance(given, dict) else given
    if not isinstance(categories, list):
        raise DictionaryError(f"{name} holds no list of categories.")
    if categories and all(isinstance(one, dict) and "term" in one for one in categories):
        rows = [(at, {str(k): _cell(v) for k, v in one.items()}) for at, one in enumerate(categories, 1)]
        return sorted({key for _, row in rows for key in row}), rows
    rows, seen = [], set(COLUMNS)
    for at, one in enumerate(categories, 1):
        if not isinstance(one, dict):
            rows.append((at, {"category": "", "term": _cell(one)}))
            continue
        path = one.get("path", one.get("name", ""))
        start = {
            "category": " > ".join(map(str, path)) if isinstance(path, list) else str(path),
            "description": _cell(one.get("description")),
            "colour": _cell(one.get("colour")),
        }
        seen |= {str(key) for key in one} - {"path", "name", "terms"}
        terms = one.get("terms") or [""]
        rows += [(at, start | _term_cells(term)) for term in (terms if isinstance(terms, list) else [terms])]
    return [*COLUMNS, *sorted(seen - set(COLUMNS))], rows


def _term_cells(term) -> dict[str, str]:
    if not isinstance(term, dict):
        return {"term": _cell(term)}
    signs = {"case": "match", "accents": "ignore"}
    cells = {str(key): _cell(value) for key, value in term.items()}
    return cells | {key: word for key, word in signs.items() if term.get(key) is True}


def _decoded(content: bytes) -> str:
    return open_text(io.BytesIO(content)).lines.read()


def _cell(value) -> str:
    return "" if value is None or value is False else str(value)
