"""A project at a glance, what can be gone to by name, subcorpora, and what people chose for a view."""

from __future__ import annotations

from typing import Any, NamedTuple

from sqlalchemy import exists, func, select
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound
from winnower.core.scope import Scope, scope_to_plain
from winnower.store.history import Recorder
from winnower.store.models import (
    CategoryRow,
    Delivery,
    DictionaryRow,
    Job,
    Member,
    NoteRow,
    ParaphraseRow,
    Preference,
    Source,
    Subcorpus,
    TermRow,
    TextRow,
)

EACH = 6


class Counts(NamedTuple):
    """How many terms, dictionaries, unfinished jobs, notes and paraphrases a project has."""

    terms: int
    dictionaries: int
    running_jobs: int
    notes: int
    paraphrases: int


def counts_of(session: Session, project_id: int) -> Counts:
    terms = (
        select(func.count())
        .select_from(TermRow)
        .join(CategoryRow)
        .join(DictionaryRow)
        .where(DictionaryRow.project_id == project_id)
    )
    dictionaries = select(func.count()).where(DictionaryRow.project_id == project_id)
    jobs = select(func.count()).where(Job.project_id == project_id, Job.state.in_(("queued", "running")))
    notes = select(func.count()).where(NoteRow.project_id == project_id)
    paraphrases = (
        select(func.count())
        .select_from(ParaphraseRow)
        .join(TextRow, TextRow.id == ParaphraseRow.text_id)
        .where(TextRow.project_id == project_id)
    )
    asked = (terms, dictionaries, jobs, notes, paraphrases)
    return Counts(*(session.scalar(one) or 0 for one in asked))


def role_of(session: Session, project_id: int, account_id: int) -> str:
    asked = select(Member.role).where(Member.project_id == project_id, Member.account_id == account_id)
    return session.scalar(asked) or "reader"


class Named(NamedTuple):
    """Something found by its name; ``parent_id`` is the dictionary of a category or term."""

    kind: str
    label: str
    detail: str
    id: int
    parent_id: int | None = None


def named_like(session: Session, project_id: int, words: str) -> list[Named]:
    """Categories, terms, subcorpora and sources whose name contains the words, some of each."""
    like = "%" + words.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"

    def holds(column: Any) -> Any:
        return column.collate("utf8mb4_unicode_ci").like(like)

    categories = (
        select(CategoryRow.id, CategoryRow.name, DictionaryRow.name, DictionaryRow.id)
        .join(DictionaryRow)
        .where(DictionaryRow.project_id == project_id, holds(CategoryRow.name))
    )
    terms = (
        select(TermRow.category_id, TermRow.source, CategoryRow.name, DictionaryRow.id)
        .join(CategoryRow, CategoryRow.id == TermRow.category_id)
        .join(DictionaryRow)
        .where(DictionaryRow.project_id == project_id, holds(TermRow.source))
    )
    kept = select(Subcorpus.id, Subcorpus.name).where(
        Subcorpus.project_id == project_id, holds(Subcorpus.name)
    )
    with_text = exists().where(
        TextRow.source_id == Source.id, TextRow.delivery_id == Delivery.id, Delivery.state == "done"
    )
    sources = select(Source.id, Source.name).where(
        Source.project_id == project_id, holds(Source.name), with_text
    )
    found = [
        Named("category", name, dictionary, row_id, parent)
        for row_id, name, dictionary, parent in session.execute(categories.limit(EACH))
    ]
    found += [
        Named("term", source, name, category, parent)
        for category, source, name, parent in session.execute(terms.limit(EACH))
    ]
    found += [Named("subcorpus", name, "Subcorpus", i) for i, name in session.execute(kept.limit(EACH))]
    found += [Named("source", name, "Source", i) for i, name in session.execute(sources.limit(EACH))]
    return found


def subcorpora_of(session: Session, project_id: int) -> list[Subcorpus]:
    return list(
        session.scalars(select(Subcorpus).where(Subcorpus.project_id == project_id).order_by(Subcorpus.name))
    )


def keep_subcorpus(recorder: Recorder, name: str, scope: Scope) -> Subcorpus:
    """A scope under a name. Raises Conflict where it is taken."""
    project_id = recorder.project_id
    taken = select(Subcorpus).where(Subcorpus.project_id == project_id, Subcorpus.name == name)
    if recorder.session.scalar(taken):
        raise Conflict(f"There is a subcorpus named “{name}” already.")
    row: Subcorpus = recorder.insert(
        Subcorpus(project_id=project_id, name=name, scope=scope_to_plain(scope), made_by=recorder.account_id)
    )
    return row


def subcorpus_of(session: Session, project_id: int, subcorpus_id: int) -> Subcorpus:
    """Raises NotFound."""
    row = session.get(Subcorpus, subcorpus_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such subcorpus.")
    return row


def preference(session: Session, project_id: int, account_id: int, name: str) -> Any:
    """What a person chose for a view, None where nothing was."""
    row = session.get(Preference, (project_id, account_id, name))
    return row.value if row else None


def keep_preference(session: Session, project_id: int, account_id: int, name: str, value: Any) -> None:
    session.merge(Preference(project_id=project_id, account_id=account_id, name=name, value=value))
