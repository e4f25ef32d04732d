"""``winnower dictionary``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from winnower.cli.common import desk, say
from winnower.readers.dictionary_file import read_dictionary_file
from winnower.store.dictionaries import (
    dictionaries_of,
    dictionary_named,
    import_dictionary,
    keep_version,
    load,
)
from winnower.store.history import Recorder
from winnower.writers.dictionary_file import write_dictionary_file

dictionaries = typer.Typer(help="Dictionaries as CSV, Excel or JSON.", no_args_is_help=True)


@dictionaries.command("import")
def take_in(
    project: str,
    file: Path,
    name: Annotated[str | None, typer.Option(help="Its name; else that of the file.")] = None,
) -> None:
    """Import a dictionary: CSV or workbook with the columns category and term, JSON, or a plain list."""
    with desk() as at:
        found = at.project(project)
        read = read_dictionary_file(file)
        with at.database.session() as session:
            recorder = Recorder(session, found.id, at.account.id, f"Import dictionary {file.name}")
            import_dictionary(recorder, name or file.stem, read.dictionary)
            recorder.save()
        for row, reason in read.refused:
            say(f"{file.name}, row {row}: {reason}")
        if read.unknown_columns:
            say(f"Columns not used: {', '.join(read.unknown_columns)}")
        terms = sum(len(c.terms) for c in read.dictionary.categories)
        doubled = f", {read.doubles:,} doubles left out" if read.doubles else ""
        print(
            f"{terms:,} terms in {len(read.dictionary.categories):,} categories{doubled}, {len(read.refused):,} rows refused"
        )


@dictionaries.command("export")
def give_out(
    project: str,
    file: Path,
    name: Annotated[str | None, typer.Option(help="Which one, where there are several.")] = None,
) -> None:
    """Export a dictionary as CSV, Excel or JSON, by the ending of the name; it can be imported again."""
    with desk() as at:
        found = at.project(project)
        with at.database.session() as session:
            rows = dictionaries_of(session, found.id)
            row = (
                rows[0]
                if rows and name is None and len(rows) == 1
                else dictionary_named(session, found.id, name or "")
            )
            stored = load(session, row)
            version = keep_version(session, stored, at.account.id)
        write_dictionary_file(file, stored.value, version)
        print(
            f"“{row.name}”, version {version}: {sum(len(c.terms) for c in stored.value.categories):,} terms"
        )
