"""``winnower count``, ``concordance`` and ``texts``."""

from __future__ import annotations

import csv
import math
import sys
from pathlib import Path
from typing import Annotated

import orjson
import typer

from winnower.cli.common import desk
from winnower.core.compare import Comparison, Table, compare, passages, whole_sentence
from winnower.core.errors import ScopeError
from winnower.core.pattern import parse_term
from winnower.core.scope import Columns, Scope, Split, value_at
from winnower.readers.dictionary_file import read_dictionary_file
from winnower.store.texts import all_bodies, bodies
from winnower.writers.tables import test_values

CONTEXT_CHARS = 60


def split_by(columns: Columns, by: str | None) -> Split:
    """A split from a variable's name; a date may carry a period: "date:month"."""
    if by is None:
        return Split()
    name, _, period = by.partition(":")
    for key, label in columns.names.items():
        if name in (key, label) or name.lower() == label.lower():
            return Split(key, period or None)
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
    """Count the categories of a dictionary across a variable."""
    with desk() as at:
        read = read_dictionary_file(dictionary)
        for row, reason in read.refused:
            print(f"{dictionary.name}, row {row}: {reason}", file=sys.stderr)
        corpus = at.corpus(at.project(project))
        comparison = Comparison(Scope(), read.dictionary, split_by(corpus.columns, by), measure)
        table = compare(comparison, corpus.index, corpus.columns)
        if format == "json":
            sys.stdout.buffer.write(
                orjson.dumps(count_json(table), option=orjson.OPT_SERIALIZE_NUMPY) + b"\n"
            )
        else:
            _write_table(table, format)


def count_json(table: Table) -> dict:
    """The table in plain values; what is not defined is null."""
    measured = table.measure(table.comparison.measure)
    return {
        "groups": list(table.groups.labels),
        "categories": [category.label for category in table.comparison.target.categories],
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


def _write_table(table: Table, form: str) -> None:
    measured = table.measure(table.comparison.measure).value
    whole = table.comparison.measure in ("hits", "texts")
    rows = [["category", *table.groups.labels]]
    for category, values in zip(table.comparison.target.categories, measured, strict=True):
        shown = ["" if math.isnan(v) else str(int(v)) if whole else f"{v:.6g}" for v in values]
        rows.append([category.label, *shown])
    if form == "csv":
        csv.writer(sys.stdout, lineterminator="\n").writerows(rows)
        return
    widths = [max(len(row[at]) for row in rows) for at in range(len(rows[0]))]
    for row in rows:
        print(
            "  ".join(
                cell.ljust(w) if at == 0 else cell.rjust(w)
                for at, (cell, w) in enumerate(zip(row, widths, strict=True))
            )
        )


def concordance(
    project: str,
    term: str,
    limit: Annotated[int, typer.Option(min=1, help="Most lines.")] = 50,
    format: Annotated[str, typer.Option(help="table or json.")] = "table",
) -> None:
    """Every hit of a term in its line, by date."""
    with desk() as at:
        found = at.project(project)
        corpus = at.corpus(found)
        evidence = corpus.evidence((parse_term(term),), Scope(), Split(), None, "date")
        shown, _ = passages(evidence, corpus.index, 0, limit, each_hit=True)
        with at.database.session() as session:
            body = bodies(session, [p.text_id for p in shown])
        lines = []
        for passage in shown:
            text, (start, end) = body[passage.text_id], passage.marks[0]
            low, high = whole_sentence(text, passage)
            lines.append(
                {
                    "text": passage.text_id,
                    "title": corpus.columns.fields["title"].values[passage.text],
                    **_fields(corpus.columns, passage.text, only=("source", "date")),
                    "left": text[max(start - CONTEXT_CHARS, 0) : start],
                    "hit": text[start:end],
                    "right": text[end : end + CONTEXT_CHARS],
                    "sentence": text[low:high],
                    "start": start,
                    "end": end,
                }
            )
        if format == "json":
            out = {"term": term, "hits": evidence.hits, "texts": evidence.texts, "lines": lines}
            sys.stdout.buffer.write(orjson.dumps(out) + b"\n")
            return
        for line in lines:
            left, right = line["left"].replace("\n", " "), line["right"].replace("\n", " ")
            print(f"{left:>{CONTEXT_CHARS}} [{line['hit']}] {right}")
        print(f"{evidence.hits:,} hits in {evidence.texts:,} texts", file=sys.stderr)


def texts(
    project: str,
    format: Annotated[str, typer.Option(help="table or jsonl.")] = "table",
    bodies_too: Annotated[
        bool, typer.Option("--bodies/--no-bodies", help="With the texts themselves (jsonl).")
    ] = True,
) -> None:
    """List all texts with their variables."""
    with desk() as at:
        corpus = at.corpus(at.project(project))
        columns = corpus.columns
        titles = columns.fields["title"].values
        with at.database.session() as session:
            stream = (
                all_bodies(session, columns.text_id.tolist()) if format == "jsonl" and bodies_too else None
            )
            for place, text_id in enumerate(columns.text_id.tolist()):
                row = {
                    "id": text_id,
                    "title": titles[place],
                    **_fields(columns, place, only=("source", "date")),
                }
                row["variables"] = {
                    columns.names[key]: value_at(columns.fields[key], place)
                    for key in columns.fields
                    if key.startswith("v")
                }
                row["words"] = int(columns.words[place])
                if format == "jsonl":
                    if stream is not None:
                        row["body"] = next(stream)[1]
                    sys.stdout.buffer.write(orjson.dumps(row) + b"\n")
                else:
                    values = [str(v or "") for v in row["variables"].values()]
                    print(
                        "\t".join(
                            [str(text_id), row["title"], row["source"] or "", row["date"] or "", *values]
                        )
                    )


def _fields(columns: Columns, place: int, only: tuple[str, ...]) -> dict:
    return {key: value_at(columns.fields[key], place) for key in only}
