"""``winnower import``: the same look, guesses, limits and report as on the screen."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Annotated, Any

import orjson
import typer

from winnower.cli.common import Desk, desk, say
from winnower.cli.look_listing import describe_look
from winnower.core.errors import ReadError, WinnowerError
from winnower.jobs.apart import Apart
from winnower.jobs.delivery import choice_of, import_params, look_at_delivery
from winnower.jobs.importing import ImportRun
from winnower.jobs.look import FirstLook, LotLook
from winnower.jobs.reading import PiecesApart
from winnower.jobs.report import ImportReport
from winnower.readers import Mapping, Target
from winnower.readers.guess import guess_kind
from winnower.store.jobs import make_job
from winnower.store.models import Project

#: Columns that were named on the command line by their role, and what else was.
Wanted = dict[str, str | None]


def import_texts(
    project: Annotated[str, typer.Argument(help="Name or number of the project.")],
    paths: Annotated[list[Path], typer.Argument(help="Files of any kind that is read, folders, archives.")],
    text: Annotated[str | None, typer.Option(help="Column that holds the text.")] = None,
    title: Annotated[str | None, typer.Option(help="Column of the title.")] = None,
    source: Annotated[
        str | None, typer.Option(help="Column of the source; for documents, the source itself.")
    ] = None,
    date: Annotated[str | None, typer.Option(help="Column of the date.")] = None,
    key: Annotated[str | None, typer.Option(help="Column of a key that names a text for good.")] = None,
    variables: Annotated[
        str | None, typer.Option(help="Columns to keep as variables, separated by commas.")
    ] = None,
    encoding: Annotated[str | None, typer.Option(help="Encoding, if the guess is wrong.")] = None,
    month_first: Annotated[bool, typer.Option("--month-first", help="03/06 is 6 March.")] = False,
    mapping: Annotated[Path | None, typer.Option(help="A mapping that was kept with --keep-mapping.")] = None,
    keep_mapping: Annotated[
        Path | None, typer.Option(help="Write how the files are taken to this file, for the next delivery.")
    ] = None,
    look: Annotated[
        bool, typer.Option("--look", help="Show how the files would be read; store nothing.")
    ] = False,
    report: Annotated[str, typer.Option(help="text or json.")] = "text",
) -> None:
    """Import texts. What is not said is guessed, and shown. Only what is new is taken."""
    with desk() as at:
        found = at.project(project)
        files = [(path.name or str(path), path.resolve()) for path in paths]
        for path in paths:
            if not path.exists():
                raise ReadError(f"{path.name or path}: There is no such file.")
        wanted = {"text": text, "title": title, "source": source, "date": date, "key": key}
        looked = _looked(
            at, found, files, kept_mapping(mapping), wanted, variables, encoding, month_first, again=look
        )
        _show(looked, report, alone=look)
        lots = {one.lot.key: choice_of(one) for one in looked.lots}
        if keep_mapping is not None:
            keep_mapping.write_bytes(orjson.dumps({"lots": lots}, option=orjson.OPT_INDENT_2))
            say(f"How the files are taken is in {keep_mapping}.")
        if look:
            return
        check_delivery(looked)
        run = import_run(at, found, files, lots, ImportProgress())
        try:
            result = run.run()
        except WinnowerError:
            if report == "json":
                sys.stdout.buffer.write(orjson.dumps(run.report.plain()) + b"\n")
            raise
        tell_import(result, report)


def import_run(
    at: Desk,
    project: Project,
    files: list[tuple[str, Path]],
    lots: dict[str, Any],
    progress: Callable[[dict], None],
) -> ImportRun:
    """The import of files as its job of the project, not begun yet."""
    params = import_params(files, lots)
    with at.database.session() as session:
        job = make_job(session, project.id, at.account.id, "import", params)
    return ImportRun(at.database, at.settings, job.id, progress, PiecesApart)


def kept_mapping(mapping: Path | None) -> dict[str, Any]:
    """By lot, what a file kept by --keep-mapping says. Raises ReadError."""
    if mapping is None:
        return {}
    try:
        lots = orjson.loads(mapping.read_bytes())["lots"]
        if not isinstance(lots, dict) or not all(isinstance(one, dict) for one in lots.values()):
            raise ValueError("it holds no mapping of files")
    except FileNotFoundError as error:
        raise ReadError(f"{mapping.name}: There is no such file.") from error
    except (ValueError, KeyError, TypeError) as error:
        raise ReadError(f"{mapping.name} is no mapping kept by --keep-mapping.") from error
    return lots


def _looked(
    at: Desk,
    project: Project,
    files: list[tuple[str, Path]],
    chosen: dict[str, Any],
    wanted: Wanted,
    variables: str | None,
    encoding: str | None,
    month_first: bool,
    *,
    again: bool,
) -> FirstLook:
    """What a look finds, with what was named on the command line; ``again`` looks once more how that is read. Raises
    ReadError."""
    apart = Apart(at.settings)

    def look(lots: dict[str, Any]) -> FirstLook:
        with at.database.session() as session:
            return look_at_delivery(apart, at.settings, session, project.id, files, lots)

    found = look(chosen)
    if not found.lots:
        first = found.problems[0] if found.problems else None
        raise ReadError(f"{first.file}: {first.reason}" if first else "There is nothing to read.")
    said = month_first or encoding or variables or any(wanted.values())
    if not said:
        return found
    lots = {one.lot.key: choice_of(one) | {"encoding": encoding} for one in found.lots}
    if encoding:
        found = look(lots)  # names of columns can be others
    unfit = []
    for one in found.lots:
        try:
            mapping = _with_named(one, wanted, variables)
        except ReadError as error:  # another table of the delivery may have what was named
            unfit.append(error)
            one.choice, one.aside = replace(one.choice, leave_out=True), error.message
            continue
        one.mapping = replace(mapping, day_first=mapping.day_first and not month_first)
        one.choice = replace(one.choice, encoding=encoding or one.choice.encoding)
        if wanted["text"] and one.lot.is_table:
            one.choice = replace(one.choice, leave_out=False)
        one.doubts, one.kept = [], False
    if len(unfit) == len(found.lots):
        raise unfit[0]
    return look({one.lot.key: choice_of(one) for one in found.lots}) if again else found


def _with_named(one: LotLook, wanted: Wanted, variables: str | None) -> Mapping:
    """The mapping of a look with the columns that were named. With --text only what is named is taken; without, the
    rest stays as it was guessed. Raises ReadError."""
    lot, mapping = one.lot, one.mapping
    if not lot.is_table:
        return replace(mapping, source_name=wanted["source"]) if wanted["source"] else mapping
    roles = {column: role for role, column in wanted.items() if column}
    names = [name.strip() for name in variables.split(",") if name.strip()] if variables else []
    unknown = [column for column in [*roles, *names] if column not in lot.header]
    if unknown:
        name = lot.origins[0].name
        raise ReadError(f"{name} has no column “{unknown[0]}”. Columns: {', '.join(lot.header)}.")
    guessed = {target.column: target for target in mapping.targets}
    targets = [replace(guessed[column], role=role, kind="category") for column, role in roles.items()]
    targets += [_variable(one, guessed[column]) for column in names if column not in roles]
    if wanted["text"] is None:
        taken = {target.column for target in targets}
        targets += [
            # what was guessed for a role that another column has now is kept as a variable
            replace(target, role="variable", name=target.name or target.column)
            if target.role in roles.values()
            else target
            for target in mapping.targets
            if target.column not in taken
        ]
    return replace(mapping, targets=tuple(targets))


def _variable(one: LotLook, guessed: Target) -> Target:
    """A column as a variable, of the kind its values have."""
    if guessed.role == "variable":
        return replace(guessed, name=guessed.name or guessed.column)
    at = one.lot.header.index(guessed.column)
    kind, separator = guess_kind([value for row in one.rows if (value := row[at].strip())])
    return Target(guessed.column, "variable", guessed.column, kind, separator)


def check_delivery(looked: FirstLook) -> None:
    """Raises ReadError where nothing of the delivery can be taken as it stands."""
    taken = [one for one in looked.lots if not one.choice.leave_out]
    if any(one.mapping.texts or one.mapping.placeholders for one in taken):
        return
    one = (taken or looked.lots)[0]
    raise ReadError(
        one.reason
        or f"{one.lot.origins[0].name} has no column that looks like text. Columns: {', '.join(one.lot.header)}."
    )


def _show(looked: FirstLook, report: str, *, alone: bool) -> None:
    """How the files are taken: to read beside an import, as the output of --look."""
    if report == "json":
        if alone:
            plain = {
                "lots": {one.lot.key: choice_of(one) for one in looked.lots},
                "problems": [
                    {"file": p.file, "row": p.row, "reason": p.reason, "kept": p.kept}
                    for p in looked.problems
                ],
                "problems_total": looked.problems_total,
                "checked": looked.checked,
                "everything": looked.everything,
                "notices": looked.notices,
            }
            sys.stdout.buffer.write(orjson.dumps(plain) + b"\n")
        return
    for line in describe_look(looked):
        print(line, file=sys.stdout if alone else sys.stderr)


class ImportProgress:
    """One line on stderr that is written over, at most five times a second."""

    def __init__(self) -> None:
        self._last = 0.0

    def __call__(self, progress: dict) -> None:
        now = time.monotonic()
        if now - self._last < 0.2:
            return
        self._last = now
        share = progress["done"] / max(progress["total"], 1)
        rate = progress["new"] / progress["seconds"] if progress["seconds"] > 0.5 else None
        line = f"{progress['stage']}: {share:.0%}, {progress['new']:,} texts"
        line += f", {rate:,.0f} a second" if rate else ""
        end = "\r" if sys.stderr.isatty() else "\n"
        print(f"{line:<78}", end=end, file=sys.stderr, flush=True)


def tell_import(result: ImportReport, form: str) -> None:
    """What an import did, on stdout."""
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
