"""Values of variables from a table whose rows are matched to texts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from winnower.core.dates import guess_day_first
from winnower.core.errors import ReadError
from winnower.core.numbers import guess_decimal
from winnower.core.scope import TextColumn, value_at
from winnower.jobs.identity import key_identity
from winnower.readers import list_files
from winnower.readers.open_table import open_table
from winnower.store.again import lines_of
from winnower.store.bulk import chunks
from winnower.store.history import Recorder
from winnower.store.imports import ids_by_identity
from winnower.store.opened import OpenCorpus
from winnower.store.variables import BadValue, make_variable, parse_value, set_values, variable_of

MOST_ROWS = 2_000_000
MOST_LISTED = 50
KEYS_AT_ONCE = 5_000


def fill_from_table(
    recorder: Recorder,
    corpus_of: Callable[[], OpenCorpus],
    table: tuple[list[str], list[list[str]]],
    key_column: str,
    by: str,
    columns: list[dict[str, Any]],
) -> dict[str, Any]:
    """Fill variables from a table's header and rows; the report as plain values. Cells that are empty leave
    what is there.

    ``by`` is "key", the key texts were imported with, or a field whose value names the text. Each of
    ``columns`` has ``column`` and either ``field`` or ``name`` and ``kind`` of a variable to make.
    Raises ReadError.
    """
    header, rows = table
    missing = [name for name in [key_column, *(c["column"] for c in columns)] if name not in header]
    if missing:
        raise ReadError(f"The table has no column “{missing[0]}”. Columns: {', '.join(header)}.")
    keys = [row[header.index(key_column)].strip() for row in rows]
    fields = [(header.index(c["column"]), _field(recorder, c)) for c in columns]
    corpus = corpus_of()
    matches = _by_key(recorder, corpus, keys) if by == "key" else _by_field(corpus, by, keys)
    bad: list[str] = []
    touched: set[int] = set()
    changed = 0
    for at, field in fields:
        places, values = _values(recorder, rows, at, field, keys, matches, bad)
        if len(places):
            corpus = corpus_of()
            changed += set_values(recorder, corpus, field, places, values)
            touched.update(places.tolist())
    unmatched = [key for key in dict.fromkeys(keys) if key not in matches]
    return {
        "rows": len(rows),
        "matched_rows": sum(key in matches for key in keys),
        "texts": len({place for found in matches.values() for place in found}),
        "changed": changed,
        "unmatched": [key[:100] or "(empty)" for key in unmatched[:MOST_LISTED]],
        "unmatched_total": len(unmatched),
        "bad_values": bad[:MOST_LISTED],
        "bad_values_total": len(bad),
    }


def table_rows(
    path: tuple[str, Path], limit_chars: int, limit_archive: int
) -> tuple[list[str], list[list[str]]]:
    """Header and rows of a table. Raises ReadError."""
    origins, problems = list_files([path], limit_archive)
    tables = [origin for origin in origins if origin.is_table]
    if not tables:
        raise ReadError(problems[0].reason if problems else "This is not a table.")
    origin = tables[0]
    if origin.kind == "sheets":
        from winnower.readers.sheets import open_workbook

        origin = replace(origin, sheet=open_workbook(origin).sheet_names[0])
    reader = open_table(origin, limit_chars)
    rows: list[list[str]] = []
    for batch in reader.batches():
        rows += batch.rows
        if len(rows) > MOST_ROWS:
            raise ReadError(f"The table has more than {MOST_ROWS:,} rows.")
    return reader.header, rows


def _field(recorder: Recorder, column: dict[str, Any]) -> str:
    if column.get("field"):
        found: str = column["field"]
        return found
    row = make_variable(recorder, column.get("name") or column["column"], column.get("kind") or "category")
    return f"v{row.id}"


def _by_key(recorder: Recorder, corpus: OpenCorpus, keys: list[str]) -> dict[str, list[int]]:
    """Places by key: texts are known by the hash of the key they came with, in any kind of delivery."""
    lines = ["", *(line.token for line in lines_of(recorder.session, recorder.project_id))]
    wanted = {key_identity(key, line): key for line in lines for key in dict.fromkeys(keys) if key}
    out: dict[str, list[int]] = {}
    for part in chunks(list(wanted), KEYS_AT_ONCE):
        rows = ids_by_identity(recorder.session, recorder.project_id, part)
        places = corpus.places_of(np.asarray([text_id for text_id, _ in rows], np.int64))
        for (_, identity), place in zip(rows, places, strict=True):
            if place >= 0:
                out.setdefault(wanted[identity], []).append(int(place))
    return out


def _by_field(corpus: OpenCorpus, field: str, keys: list[str]) -> dict[str, list[int]]:
    column = corpus.columns.field(field)
    wanted = set(keys) - {""}
    out: dict[str, list[int]] = {}
    if isinstance(column, TextColumn):
        values = column.values.to_list()
    else:
        values = [value_at(column, place) for place in range(corpus.columns.n_texts)]
    for place, value in enumerate(values):
        written = f"{value:g}" if isinstance(value, float) else value
        if isinstance(written, str) and written in wanted:
            out.setdefault(written, []).append(place)
    return out


def _values(
    recorder: Recorder,
    rows: list[list[str]],
    at: int,
    field: str,
    keys: list[str],
    matches: dict[str, Any],
    bad: list[str],
) -> tuple[np.ndarray, list[Any]]:
    """Places and values of one column; the last row counts where a key comes twice."""
    name, kind = field.capitalize(), {"source": "category", "title": "text", "date": "date"}.get(field, "")
    if not kind:
        variable = variable_of(recorder.session, recorder.project_id, int(field[1:]))
        name, kind = variable.name, variable.kind
    day_first = kind != "date" or guess_day_first(row[at] for row in rows)
    decimal = guess_decimal(row[at] for row in rows) if kind == "number" else None
    found: dict[int, object] = {}
    for number, (row, key) in enumerate(zip(rows, keys, strict=True), 2):
        if key not in matches or not row[at].strip():
            continue
        try:
            value = parse_value(kind, row[at], name, day_first, decimal)
        except BadValue as error:
            bad.append(f"Row {number}: {error.message}")
            continue
        for place in matches[key]:
            found[place] = value
    return np.fromiter(found, np.int64, len(found)), list(found.values())
