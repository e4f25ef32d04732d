"""What hangs on a row: before a row goes by undo, whether somebody has built on it since."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cache
from typing import Any

from sqlalchemy import Column, Select, func, select
from sqlalchemy.orm import Session

from winnower.store.models import (
    Account,
    Base,
    Command,
    ReviewSample,
    VerdictRow,
)
from winnower.store.soft_references import naming

#: How people call one row of a table, and several.
NAMES = {
    "category": ("category", "categories"),
    "code": ("code", "codes"),
    "passage": ("passage", "passages"),
    "term": ("term", "terms"),
    "dictionary_version": ("kept version", "kept versions"),
    "variable_category": ("value", "values"),
    "text_value": ("text with a value", "texts with values"),
    "coding_run": ("automatic coding run", "automatic coding runs"),
    "run_target": ("automatic coding run", "automatic coding runs"),
    "run_place": ("passage of a run", "passages of runs"),
    "note": ("note", "notes"),
    "quote": ("quote", "quotes"),
    "paraphrase": ("paraphrase", "paraphrases"),
    "lost_passage": ("passage without words", "passages without words"),
    "code_in_group": ("group", "groups"),
    "coding_done": ("coder who is done with it", "coders who are done with it"),
    "text": ("text", "texts"),
    "verdict": ("verdict", "verdicts"),
    "report_piece": ("part of a report", "parts of reports"),
    "review_sample": ("drawn sample", "drawn samples"),
    "kept_question": ("kept question", "kept questions"),
    "subcorpus": ("subcorpus", "subcorpora"),
    "variable": ("variable", "variables"),
    "finding": ("finding", "findings"),
    "text_edit": ("correction", "corrections"),
}
#: Tables whose rows are not worth a refusal: they are found anew, or mean nothing without the other row.
_LIGHT = {"dismissed_suggestion", "field_revision", "text_identity"}
#: Later changes that are looked through for whose a row is.
MOST_LOOKED_AT = 500


@cache
def references(table: str) -> tuple[tuple[type[Base], Column[Any]], ...]:
    """Tables with a key to ``table``, and the column that holds it."""
    found = []
    for mapper in Base.registry.mappers:
        model = mapper.class_
        for column in model.__table__.columns:
            for key in column.foreign_keys:
                if key.column.table.name == table and model.__tablename__ not in _LIGHT:
                    found.append((model, column))
    return tuple(sorted(found, key=lambda one: (one[0].__tablename__, one[1].name)))


def hanging_on(session: Session, after: Command, table: str, ids: Sequence[int]) -> str:
    """What hangs on rows that are to go, and whose it is: "2 terms by Orla Venn"; empty where nothing does.

    ``after`` is the change that made the rows; whatever hangs on them was made later. The rows should be
    locked: whoever adds to them then waits, and nothing can be added unseen.
    """
    told: list[str] = []
    for model, column in references(table):
        told += told_of(session, after, model, select(model.__table__).where(column.in_(ids)))
    for model, named in naming(session, after.project_id, table, ids):
        told += told_of(session, after, model, select(model.__table__).where(model.__table__.c.id.in_(named)))
    if table == "category":
        for model in (VerdictRow, ReviewSample):
            of_category = (model.subject == "category", model.subject_id.in_(ids))
            told += told_of(session, after, model, select(model.__table__).where(*of_category))
    return ", ".join(told)


def told_of(session: Session, after: Command | None, model: type[Base], rows: Select[Any]) -> Iterator[str]:
    counted = session.scalar(select(func.count()).select_from(rows.subquery())) or 0
    if not counted:
        return
    one, many = NAMES.get(model.__tablename__, ("entry", "entries"))
    names = _whose(session, after, model, rows)
    by = f" by {' and '.join(names)}" if names else ""
    yield f"{counted:,} {one if counted == 1 else many}{by}"


def _whose(session: Session, after: Command | None, model: type[Base], rows: Select[Any]) -> list[str]:
    """Names of who made rows; by their column, else by the later changes of the project that made them."""
    some = rows.subquery()
    if "made_by" in some.c:
        asked = select(Account.full_name).where(Account.id.in_(select(some.c.made_by).distinct()))
        return sorted(session.scalars(asked))
    if after is None:
        return []
    key = "id" if "id" in some.c else "text_id"
    ids = set(session.scalars(select(some.c[key]).limit(50)))
    later = select(Command).where(
        Command.project_id == after.project_id, Command.id > after.id, Command.undone == 0
    )
    newest = session.scalars(later.order_by(Command.id.desc()).limit(MOST_LOOKED_AT))
    makers = {command.account_id for command in newest if _touches(command, model, ids)}
    return sorted(session.scalars(select(Account.full_name).where(Account.id.in_(makers))))


def _touches(command: Command, model: type[Base], ids: set[int]) -> bool:
    table = model.__tablename__
    for change in command.changes:
        if table == "text_value" and "data" in change:
            return True
        if change.get("table") == table and (change["after"] or {}).get("id") in ids:
            return True
    return False
