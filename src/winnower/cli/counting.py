"""``winnower count`` and ``compare``."""

from __future__ import annotations

import csv
import math
import sys
from pathlib import Path
from typing import Annotated, Any, cast

import orjson
import typer

from winnower.cli.common import Desk, desk
from winnower.core.cells import harmless_row
from winnower.core.compare import (
    Comparison,
    DictionaryTarget,
    Modelled,
    OfGiven,
    Table,
    compare,
    from_plain,
    to_plain,
)
from winnower.core.errors import ComparisonError, ScopeError
from winnower.core.finding import Answer, AnyView, sheets_to_plain, view_from_plain, view_to_plain
from winnower.core.scope import Columns, DateColumn, Split
from winnower.readers.dictionary_file import read_dictionary_file
from winnower.readers.reasons import why
from winnower.store.answering import Room, answered
from winnower.store.coding_fields import with_coding
from winnower.store.comparing import look_up, modelled, table_of
from winnower.store.inside import looked_at
from winnower.store.models import Project
from winnower.writers.sheets import answer_csv, answer_text, answer_xlsx
from winnower.writers.tables import comparison_csv, comparison_xlsx, test_values

Format = Annotated[str, typer.Option(help="table, csv, json or, into a file, xlsx.")]


def split_by(columns: Columns, by: str | None) -> Split:
    """A split from a variable's name; a date may carry a period: "date:month"."""
    if by is None:
        return Split()
    name, _, period = by.partition(":")
    for key, label in columns.names.items():
        if name in (key, label) or name.lower() == label.lower():
            if period and not isinstance(columns.field(key), DateColumn):
                raise ScopeError(f"“{label}” is no date, so it cannot be split by {period}.")
            # a period there is none of is told where the split is made
            return Split(key, cast(Any, period) or None)
    raise ScopeError(f"This corpus has no field “{name}”. Fields: {', '.join(columns.names.values())}.")


def count(
    project: str,
    dictionary: Annotated[Path, typer.Option(help="CSV with the columns category and term.")],
    by: Annotated[
        str, typer.Option(help="Variable to split by; a date may carry a period: date:month.")
    ] = "source",
    measure: Annotated[
        str, typer.Option(help="hits, rate, share or texts (also mean_rate, share_of_texts).")
    ] = "hits",
    format: Annotated[str, typer.Option(help="table, csv or json.")] = "table",
) -> None:
    """Count the categories of a dictionary file across a variable."""
    with desk() as at:
        read = read_dictionary_file(dictionary)
        for row, reason in read.refused:
            print(f"{dictionary.name}, row {row}: {reason}", file=sys.stderr)
        corpus = at.corpus(at.project(project))
        if not read.dictionary.categories:
            raise ComparisonError(f"{dictionary.name} has no categories with terms.")
        target = OfGiven(read.dictionary.name, read.dictionary.categories)
        comparison = Comparison(target, split=split_by(corpus.columns, by), measure=measure)
        _write(compare(comparison, DictionaryTarget(read.dictionary), corpus), format)


def compare_request(
    project: str,
    request: Annotated[
        Path,
        typer.Option(help="A comparison or another view in its plain form, as JSON; - for standard input."),
    ],
    format: Format = "table",
    out: Annotated[Path | None, typer.Option(help="Into this file; else to standard output.")] = None,
) -> None:
    """Compute a comparison, or any other view, from its plain form: what the interface and findings export as JSON."""
    asked = _request(request)
    with desk() as at:
        if isinstance(asked, dict) and asked.get("view", "comparison") != "comparison":
            _any_view(at, project, view_from_plain(asked), format, out)
            return
        plain = asked["comparison"] if isinstance(asked, dict) and "view" in asked else asked
        table, model = _table(at, project, from_plain(plain), format)
        if out is not None:
            out.write_bytes(_file(table, model, format))
            print(f"{len(table.target.rows):,} rows by {table.groups.n_groups:,} groups in {out}")
        elif format == "xlsx":
            raise ComparisonError("A workbook goes into a file: name it with --out.")
        else:
            _write(table, format)


def _any_view(at: Desk, project: str, view: AnyView, format: str, out: Path | None) -> None:
    """Keywords, co-occurrence, networks, maps and changes: their sheets."""
    if format == "xlsx" and out is None:
        raise ComparisonError("A workbook goes into a file: name it with --out.")
    found = at.project(project)
    corpus = at.corpus(found)
    with at.database.session() as session:
        row = session.get_one(Project, found.id)
        room = Room(session, row, with_coding(session, row, corpus)).looking(view)
        pinned, answer = answered(room, view)
    content = _answer_file(answer, pinned, format)
    if out is not None:
        out.write_bytes(content)
        print(
            f"{sum(len(sheet.rows) for sheet in answer.sheets):,} rows in {len(answer.sheets)} sheets in {out}"
        )
    else:
        sys.stdout.buffer.write(content)


def _answer_file(answer: Answer, view: AnyView, format: str) -> bytes:
    if format == "xlsx":
        return answer_xlsx([answer], [view])
    if format == "json":
        whole = {"request": view_to_plain(view), "sheets": sheets_to_plain(answer.sheets)}
        return orjson.dumps(whole) + b"\n"
    if format == "csv":
        return ("\ufeff" + answer_csv(answer)).encode()
    return (answer_text(answer, view) + "\n" + answer_csv(answer)).encode()


def _request(path: Path) -> object:
    written = sys.stdin.buffer.read() if str(path) == "-" else path.read_bytes()
    try:
        return orjson.loads(written)
    except orjson.JSONDecodeError as error:
        raise ComparisonError(f"{path.name} is not JSON: {why(error)}.") from error


def _table(at: Desk, project: str, comparison: Comparison, format: Format) -> tuple[Table, Modelled | None]:
    """With the rate model where a workbook is to hold it."""
    found = at.project(project)
    corpus = at.corpus(found)
    with at.database.session() as session:
        row = session.get_one(Project, found.id)
        corpus = looked_at(
            session, row, with_coding(session, row, corpus), comparison.texts, comparison.split
        )
        asked = look_up(session, found.id, corpus, comparison)
        model = modelled(corpus, asked) if format == "xlsx" and comparison.adjust else None
        return table_of(corpus, asked), model


def _file(table: Table, model: Modelled | None, format: str) -> bytes:
    if format == "xlsx":
        return comparison_xlsx(table, model)
    if format == "csv":
        return ("\ufeff" + comparison_csv(table)).encode()
    return _json(table)


def _json(table: Table) -> bytes:
    return orjson.dumps(count_json(table), option=orjson.OPT_SERIALIZE_NUMPY) + b"\n"


def count_json(table: Table) -> dict[str, object]:
    """The table in plain values; what is not defined is null."""
    measured = table.measure(table.comparison.measure)
    return {
        "comparison": to_plain(table.comparison),
        "groups": list(table.groups.labels),
        "rows": [row.label for row in table.target.rows],
        "measure": table.comparison.measure,
        "values": [[_number(v) for v in row] for row in measured.value],
        "low": [[_number(v) for v in row] for row in measured.low],
        "high": [[_number(v) for v in row] for row in measured.high],
        "hits": table.hits.tolist(),
        "texts_with_hit": table.texts_with_hit.tolist(),
        "words": table.words.tolist(),
        "texts": table.texts.tolist(),
        "test": test_values(table),
    }


def _number(value: float) -> float | None:
    return None if math.isnan(value) else float(value)


def _write(table: Table, form: str) -> None:
    if form == "json":
        sys.stdout.buffer.write(_json(table))
        return
    measured = table.measure(table.comparison.measure).value
    whole = table.shown.form == "count"
    rows = [[table.target.nouns[0], *table.groups.labels]]
    for named, values in zip(table.target.rows, measured, strict=True):
        shown = ["" if math.isnan(v) else str(int(v)) if whole else f"{v:.6g}" for v in values]
        rows.append([named.label, *shown])
    if form == "csv":
        csv.writer(sys.stdout, lineterminator="\n").writerows(map(harmless_row, rows))
        return
    widths = [max(len(row[at]) for row in rows) for at in range(len(rows[0]))]
    for row in rows:
        cells = enumerate(zip(row, widths, strict=True))
        print("  ".join(cell.ljust(w) if at == 0 else cell.rjust(w) for at, (cell, w) in cells))
