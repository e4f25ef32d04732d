"""What names rows of other tables in plain values, where no key of the database does: parts of reports, kept questions,
scopes of subcorpora and sets, rules, views of findings, recipes of runs; and what the links in notes name."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.store.bulk import chunks
from winnower.store.models import (
    Base,
    CodingRun,
    FindingRow,
    KeptQuestion,
    NoteRow,
    ReportPiece,
    ReportRow,
    Subcorpus,
    Variable,
    VariableCategory,
)

#: What a name in plain values names, as a table. A request's names are the same (``api/wall.py``).
NAMED: dict[str, str] = {
    "text_id": "text", "text": "text", "texts": "text",
    "code_id": "code", "code": "code", "codes": "code",
    "passage_id": "passage", "passages": "passage",
    "note_id": "note", "note": "note",
    "finding_id": "finding", "finding": "finding", "findings": "finding",
    "question_id": "finding_question", "question": "finding_question",
    "variable_id": "variable",
    "dictionary_id": "dictionary", "dictionary": "dictionary",
    "category_id": "category", "categories": "category",
    "run_id": "coding_run", "run": "coding_run", "tone": "coding_run",
    "list_id": "tone_list",
}  # fmt: skip
#: A field of the texts that is a variable, by its key.
_FIELD = re.compile(r"v(\d+)")
#: Tables whose rows can be named so.
CAN_BE_NAMED = {*NAMED.values()} - {"text", "passage"}
#: Where plain values name other rows: the column, and how its rows are of a project.
_HOLDERS: tuple[tuple[type[Base], str], ...] = (
    (ReportPiece, "piece"),
    (KeptQuestion, "question"),
    (Subcorpus, "scope"),
    (Variable, "rule"),
    (VariableCategory, "rule"),
    (FindingRow, "request"),
    (CodingRun, "recipe"),
)
ROWS_AT_ONCE = 1_000
#: Tables that links in notes name, as ``code:3``.
LINKED = {"code", "text", "passage"}


def named_by(value: object, name: str = "") -> Iterator[tuple[str, int]]:
    """(table, id) of each row that a plain value names."""
    if isinstance(value, dict):
        if value.get("kind") == "tone" and isinstance(value.get("words"), int):
            yield "tone_list", value["words"]
        for key, inside in value.items():
            yield from named_by(inside, name if name == "codes" and isinstance(inside, int) else key)
    elif isinstance(value, list):
        for inside in value:
            yield from named_by(inside, name)
    elif isinstance(value, int) and not isinstance(value, bool) and name in NAMED:
        yield NAMED[name], value
    elif isinstance(value, str) and (found := _FIELD.fullmatch(value)):
        yield "variable", int(found.group(1))


def naming(
    session: Session, project_id: int, table: str, ids: Collection[int]
) -> list[tuple[type[Base], list[int]]]:
    """Rows of a project that name rows of a table, by their model. Few rows hold such values, and all are read."""
    found: list[tuple[type[Base], list[int]]] = []
    if table in LINKED:
        linked = linked_in_notes(session, project_id, table)
        if notes := [note for note, named in linked.items() if not named.isdisjoint(ids)]:
            found.append((NoteRow, notes))
    if table not in CAN_BE_NAMED:
        return found
    wanted = {(table, one) for one in ids}
    for model, column in _HOLDERS:
        rows = session.execute(_values(model, column, project_id)).all()
        naming_ids = [row_id for row_id, value in rows if wanted & set(named_by(value))]
        own = set(ids) if model.__tablename__ == table else set()
        if hits := [one for one in naming_ids if one not in own]:
            found.append((model, hits))
    return found


def holders_of(session: Session, project_id: int) -> Iterator[tuple[Any, str]]:
    """Rows of a project with plain values that name others, and the column that holds them."""
    for model, column in _HOLDERS:
        ids = [row_id for row_id, value in session.execute(_values(model, column, project_id)) if value]
        for some in chunks(ids, ROWS_AT_ONCE):
            for row in session.scalars(select(model).where(model.__table__.c.id.in_(some))):
                yield row, column


def linked_in_notes(session: Session, project_id: int, table: str) -> dict[int, set[int]]:
    """Ids of rows of a table by the note whose links name them."""
    linking = select(NoteRow.id, NoteRow.body).where(
        NoteRow.project_id == project_id, NoteRow.body.contains(f"]({table}:", autoescape=True)
    )
    link = re.compile(rf"\]\({table}:(\d+)\)")
    return {note: {int(one) for one in link.findall(body)} for note, body in session.execute(linking)}


def _values(model: type[Base], column: str, project_id: int) -> Any:
    columns = model.__table__.c
    asked = select(columns.id, columns[column]).where(columns[column].is_not(None))
    if "project_id" in columns:
        return asked.where(columns.project_id == project_id)
    if model is ReportPiece:
        report = ReportRow.__table__.c.project_id
        return asked.join(ReportRow, ReportRow.id == columns.report_id).where(report == project_id)
    variable = Variable.__table__.c.project_id
    return asked.join(Variable, Variable.id == columns.variable_id).where(variable == project_id)
