"""``winnower concordance`` and ``texts``."""

from __future__ import annotations

import sys
from typing import Annotated

import orjson
import typer

from winnower.cli.common import desk
from winnower.core.pattern import parse_term
from winnower.core.places import passages, whole_sentence
from winnower.core.scope import Columns, Scope, value_at
from winnower.store.texts import all_bodies, bodies

CONTEXT_CHARS = 60


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
        evidence = corpus.hits((parse_term(term),), Scope(), "date")
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
                    "title": value_at(corpus.columns.fields["title"], passage.text),
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
        titles = columns.fields["title"]
        with at.database.session() as session:
            stream = (
                all_bodies(session, columns.text_id.tolist()) if format == "jsonl" and bodies_too else None
            )
            for place, text_id in enumerate(columns.text_id.tolist()):
                row = {
                    "id": text_id,
                    "title": value_at(titles, place),
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
