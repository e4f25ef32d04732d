"""``winnower import``."""

from __future__ import annotations

import sys
import time
from dataclasses import replace
from pathlib import Path
from typing import Annotated

import orjson
import typer

from winnower.cli.common import Desk, desk, say
from winnower.core.errors import ReadError, WinnowerError
from winnower.jobs.importing import ImportRun
from winnower.jobs.preview import guess_lot
from winnower.jobs.reading import PiecesApart
from winnower.jobs.report import ImportReport
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Lot, Mapping, Target, gather, list_files
from winnower.readers.guess import guess_kind
from winnower.readers.mapping import guess_documents
from winnower.readers.open_table import open_table
from winnower.store.jobs import make_job

PREVIEW_ROWS = 500


def import_texts(
    project: Annotated[str, typer.Argument(help="Name or number of the project.")],
    paths: Annotated[list[Path], typer.Argument(help="Files of any kind that is read, folders, archives.")],
    text: Annotated[str | None, typer.Option(help="Column that holds the text.")] = None,
    title: Annotated[str | None, typer.Option(help="Column of the title.")] = None,
    source: Annotated[
        str | None, typer.Option(help="Column of the source; for files, the source itself.")
    ] = None,
    date: Annotated[str | None, typer.Option(help="Column of the date.")] = None,
    key: Annotated[str | None, typer.Option(help="Column of a key that names a text for good.")] = None,
    variables: Annotated[
        str | None, typer.Option(help="Columns to keep as variables, parted by commas.")
    ] = None,
    encoding: Annotated[str | None, typer.Option(help="Encoding, if the guess is wrong.")] = None,
    month_first: Annotated[bool, typer.Option("--month-first", help="03/06 is 6 March.")] = False,
    report: Annotated[str, typer.Option(help="text or json.")] = "text",
) -> None:
    """Import texts. Without --text the columns of a table are guessed. Only what is new is taken."""
    with desk() as at:
        found = at.project(project)
        wanted = {"text": text, "title": title, "source": source, "date": date, "key": key}
        params = {
            "name": ", ".join(path.name for path in paths)[:300],
            "paths": [(path.name or str(path), str(path.resolve())) for path in paths],
            "encoding": encoding,
        }
        params |= _mappings(at, params, wanted, variables, month_first)
        with at.database.session() as session:
            job = make_job(session, found.id, at.account.id, "import", params)
        run = ImportRun(at.database, at.settings, job.id, _Progress(), PiecesApart)
        try:
            result = run.run()
        except WinnowerError:
            if report == "json":
                sys.stdout.buffer.write(orjson.dumps(run.report.plain()) + b"\n")
            raise
        _tell(result, report)


def _mappings(at: Desk, params: dict, wanted: dict, variables: str | None, month_first: bool) -> dict:
    """What is chosen for each lot: the options where they fit a table, else what is guessed."""
    paths = [(name, Path(path)) for name, path in params["paths"]]
    origins, problems = list_files(paths, at.settings.limit_archive_bytes)
    lots, more = gather(origins, at.settings.limit_text_chars)
    problems += more
    if not lots:
        raise ReadError(
            f"{problems[0].file}: {problems[0].reason}" if problems else "There is nothing to read."
        )
    chosen: dict[str, dict] = {}
    reasons = []
    for lot in lots:
        try:
            if lot.is_table:
                mapping = _table_mapping(lot, at, params["encoding"], wanted, variables, month_first)
            else:
                mapping = replace(guess_documents(lot.kind), source_name=wanted["source"])
        except ReadError as error:
            reasons.append(error.message)
            continue
        chosen[lot.key] = {"mapping": mapping_to_plain(mapping), "encoding": params["encoding"]}
    if not chosen:
        raise ReadError(reasons[0])
    return {"lots": chosen}


def _table_mapping(
    lot: Lot, at: Desk, encoding: str | None, wanted: dict, variables: str | None, month_first: bool
) -> Mapping:
    name = lot.origins[0].name
    reader = open_table(lot.origins[0], at.settings.limit_text_chars, encoding=encoding)
    rows = next((batch.rows[:PREVIEW_ROWS] for batch in reader.batches()), [])
    guessed = guess_lot(lot, rows)
    if wanted["text"] is None:
        if guessed.column("text") is None and not guessed.placeholders:
            raise ReadError(f"{name} has no column that looks like text. Columns: {', '.join(lot.header)}.")
        return replace(guessed, day_first=guessed.day_first and not month_first)
    roles = {column: role for role, column in wanted.items() if column}
    names = [name.strip() for name in variables.split(",")] if variables else []
    unknown = [column for column in [*roles, *names] if column not in lot.header]
    if unknown:
        raise ReadError(f"{name} has no column “{unknown[0]}”. Columns: {', '.join(lot.header)}.")
    targets = [Target(column, role) for column, role in roles.items()]
    for column in names:
        kind, separator = guess_kind([v for row in rows if (v := row[lot.header.index(column)].strip())])
        targets.append(Target(column, "variable", column, kind, separator))
    return Mapping(tuple(targets), day_first=guessed.day_first and not month_first)


class _Progress:
    """One line on stderr that is written over, at most five times a second."""

    def __init__(self) -> None:
        self._last = 0.0

    def __call__(self, progress: dict) -> None:
        now = time.monotonic()
        if now - self._last < 0.2:
            return
        self._last = now
        share = progress["done"] / max(progress["total"], 1)
        left = progress["seconds"] / share * (1 - share) if share > 0.02 else None
        rate = progress["new"] / progress["seconds"] if progress["seconds"] > 0.5 else None
        line = f"{progress['stage']}: {share:.0%}, {progress['new']:,} texts"
        line += f", {rate:,.0f} a second" if rate else ""
        line += f", about {left:,.0f} s left" if left is not None else ""
        end = "\r" if sys.stderr.isatty() else "\n"
        print(f"{line:<78}", end=end, file=sys.stderr, flush=True)


def _tell(result: ImportReport, form: str) -> None:
    if form == "json":
        sys.stdout.buffer.write(orjson.dumps(result.plain()) + b"\n")
        return
    print(
        f"new {result.new:,}, known {result.known:,}, changed {result.changed:,}, refused {result.refused:,}"
    )
    for notice in result.notices:
        print(notice)
    for place in [*result.refusals[:20], *result.changes[:20], *result.remarks[:20]]:
        print(
            f"{place['file']}, row {place['row']}: {place['reason']}"
            if place["row"]
            else f"{place['file']}: {place['reason']}"
        )
    if result.refused + result.changed + result.remarks_total > 60:
        say("More are listed with --report json.")
