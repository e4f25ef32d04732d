"""Versions of a dictionary: kept when it is counted with, exported or named; put back when asked."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.errors import DictionaryError, NotFound
from winnower.store.dictionaries import StoredDictionary, keep_version, term_row
from winnower.store.history import Recorder
from winnower.store.models import Account, CategoryRow, DictionaryRow, DictionaryVersion

MAX_VERSION_NAME = 120


def versions_of(session: Session, stored: StoredDictionary) -> list[tuple[DictionaryVersion, str]]:
    """All kept versions, the newest first, with who made each."""
    rows = session.execute(
        select(DictionaryVersion, Account.full_name)
        .join(Account, Account.id == DictionaryVersion.made_by)
        .where(DictionaryVersion.dictionary_id == stored.row.id)
        .order_by(DictionaryVersion.number.desc())
    )
    return [(row[0], row[1]) for row in rows]


def version_numbered(session: Session, of: DictionaryRow, number: int) -> DictionaryVersion:
    """Raises NotFound."""
    row = session.scalar(
        select(DictionaryVersion).where(
            DictionaryVersion.dictionary_id == of.id, DictionaryVersion.number == number
        )
    )
    if row is None:
        raise NotFound(f"“{of.name}” has no version {number}.")
    return row


def as_dictionary(of: DictionaryRow, version: DictionaryVersion) -> Dictionary:
    return Dictionary.from_content(of.name, version.content)


def name_version(session: Session, stored: StoredDictionary, account_id: int, name: str, note: str) -> int:
    """Give the present state a name; its number. Raises DictionaryError."""
    name = " ".join(name.split())
    if not name:
        raise DictionaryError("Give the version a name.")
    if len(name) > MAX_VERSION_NAME:
        raise DictionaryError(f"A version name can have at most {MAX_VERSION_NAME} characters.")
    number = keep_version(session, stored, account_id)
    row = version_numbered(session, stored.row, number)
    row.name, row.note = name, note
    row.content = stored.value.content()  # notes and descriptions as they are when it is named
    session.flush()
    return number


def put_back(recorder: Recorder, stored: StoredDictionary, wanted: Dictionary) -> None:
    """Make the dictionary what it was in a version. Categories and terms that are in both keep their
    rows, so that verdicts stay with them; can be undone."""
    rows = {value.path: row for row, value in zip(stored.categories, stored.value.categories, strict=True)}
    kept = {category.path: category for category in wanted.categories}
    for category in wanted.categories:
        row = rows.get(category.path)
        if row is None:
            parent = rows.get(category.path[:-1])
            rows[category.path] = _made(recorder, stored, category, parent.id if parent else None)
        else:
            _terms_put_back(recorder, stored, row, category)
    for row, value in reversed(list(zip(stored.categories, stored.value.categories, strict=True))):
        if value.path not in kept:
            for term in stored.terms[row.id]:
                recorder.delete(term)
            recorder.delete(row)
    for position, category in enumerate(wanted.categories):
        row = rows[category.path]
        values = {"position": position, "description": category.description, "colour": category.colour}
        if any(getattr(row, name) != value for name, value in values.items()):
            recorder.update(row, values)


def _made(
    recorder: Recorder, stored: StoredDictionary, category: Category, parent_id: int | None
) -> CategoryRow:
    row = recorder.insert(
        CategoryRow(
            dictionary_id=stored.row.id,
            parent_id=parent_id,
            name=category.name,
            description=category.description,
            colour=category.colour,
            position=0,
        )
    )
    recorder.insert_many([term_row(recorder, row.id, term) for term in category.terms])
    found: CategoryRow = row
    return found


def _terms_put_back(
    recorder: Recorder, stored: StoredDictionary, row: CategoryRow, category: Category
) -> None:
    wanted: dict[tuple[Any, ...], TermEntry] = {term.key: term for term in category.terms}
    for term in stored.terms[row.id]:
        key = (term.source, bool(term.match_case), bool(term.ignore_accents), term.forms_of)
        entry = wanted.pop(key, None)
        if entry is None:
            recorder.delete(term)
        elif entry.note != term.note:
            recorder.update(term, {"note": entry.note})
    recorder.insert_many([term_row(recorder, row.id, entry) for entry in wanted.values()])
