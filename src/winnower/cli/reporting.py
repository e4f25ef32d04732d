"""``winnower report``: a report of a project as a file."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from winnower.cli.common import desk
from winnower.core.errors import NotFound, WinnowerError
from winnower.core.report import Report
from winnower.store.answering import Room
from winnower.store.coding_fields import with_coding
from winnower.store.memory import Memory
from winnower.store.models import Project
from winnower.store.reading_passages import PassageCache
from winnower.store.report_assembled import assembled
from winnower.store.reports import reports_of, said_by
from winnower.writers.report_files import PICTURES, report_file


def report(
    project: str,
    title: Annotated[
        str, typer.Argument(help="Its title; without one the titles there are are listed.")
    ] = "",
    out: Annotated[Path, typer.Option(help="Where to: .docx, .pdf, .html, or .zip for Markdown.")] = Path(
        "report.docx"
    ),
) -> None:
    """Write a report as Word, PDF, HTML, or Markdown with its pictures."""
    form = out.suffix.lower().lstrip(".").replace("zip", "md")
    with desk() as at:
        if form not in PICTURES:
            raise WinnowerError(f"A report is written as .docx, .pdf, .html or .zip, not “{out.suffix}”.")
        mine = at.project(project)
        corpus = at.corpus(mine)
        with at.database.session() as session:
            there = reports_of(session, mine.id)
            if not title:
                print("\n".join(row.title for row, _, _ in there) or "There is no report yet.")
                return
            row = next((row for row, _, _ in there if row.title == title), None)
            if row is None:
                names = ", ".join(f"“{one.title}”" for one, _, _ in there) or "none yet"
                raise NotFound(f"There is no report “{title}”. Reports: {names}.")
            if row.said_id is not None:
                whole = said_by(session, row)[1]
            else:
                here = session.get_one(Project, mine.id)
                room = Room(session, here, with_coding(session, here, corpus))
                cache = PassageCache(Memory())
                whole = assembled(room, lambda: cache.open(session, here, corpus.folder), row)
        out.write_bytes(_written(whole, form))
        print(out)


def _written(report: Report, form: str) -> bytes:
    # what draws takes a second to load
    from winnower.writers.report_pictures import all_drawn

    return report_file(report, all_drawn(report.drawings, PICTURES[form]), form)
