"""Dictionaries, their categories and terms, as rows; every change through a Recorder."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.dictionary.rows import MAX_NAME, read_path
from winnower.core.errors import Conflict, DictionaryError, NotFound
from winnower.core.tree import Tree, in_tree_order
from winnower.store.history import Recorder, plain
from winnower.store.models import CategoryRow, DictionaryRow, DictionaryVersion, Project, TermRow

NOUN, NOUNS, MAX_DEPTH = "category", "categories", 8


@dataclass(frozen=True)
class StoredDictionary:
    """A dictionary as a value, with the rows behind it in the same order."""

    row: DictionaryRow
    value: Dictionary
    categories: tuple[CategoryRow, ...]
    terms: dict[int, tuple[TermRow, ...]]


def dictionaries_of(session: Session, project_id: int) -> list[DictionaryRow]:
    return list(
        session.scalars(
            select(DictionaryRow).where(DictionaryRow.project_id == project_id).order_by(DictionaryRow.id)
        )
    )


def dictionary_row(session: Session, project_id: int, dictionary_id: int) -> DictionaryRow:
    """Raises NotFound."""
    row = session.get(DictionaryRow, dictionary_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such dictionary in this project.")
    return row


def hold_dictionary(session: Session, project_id: int, dictionary_id: int) -> DictionaryRow:
    """A dictionary that is to be changed, held until the end of the transaction: its tree and its terms are
    changed by one at a time, and each sees what the one before did. Raises NotFound."""
    # the project first, as undo does, so that nobody waits for the other way round
    session.execute(select(Project.id).where(Project.id == project_id).with_for_update(read=True))
    held = select(DictionaryRow).where(DictionaryRow.id == dictionary_id).with_for_update()
    session.scalar(held.execution_options(populate_existing=True))
    return dictionary_row(session, project_id, dictionary_id)


def dictionary_named(session: Session, project_id: int, name: str) -> DictionaryRow:
    """Raises NotFound, with the names there are."""
    rows = dictionaries_of(session, project_id)
    for row in rows:
        if row.name == name:
            return row
    names = ", ".join(f"“{row.name}”" for row in rows) or "none yet"
    raise NotFound(f"There is no dictionary “{name}”. Dictionaries: {names}.")


def load(session: Session, row: DictionaryRow) -> StoredDictionary:
    """Categories in tree order with their terms; two queries, whatever the size."""
    rows = session.scalars(
        select(CategoryRow)
        .where(CategoryRow.dictionary_id == row.id)
        .order_by(CategoryRow.position, CategoryRow.id)
    ).all()
    terms: dict[int, list[TermRow]] = {category.id: [] for category in rows}
    found = select(TermRow).join(CategoryRow).where(CategoryRow.dictionary_id == row.id).order_by(TermRow.id)
    for term in session.scalars(found):
        terms[term.category_id].append(term)
    entries = {key: tuple(map(entry_of, value)) for key, value in terms.items()}
    ordered, value = _in_order(row, rows, entries)
    plain_terms = {key: tuple(value) for key, value in terms.items()}
    return StoredDictionary(row, value, ordered, plain_terms)


def load_value(session: Session, row: DictionaryRow) -> Dictionary:
    """The dictionary as a value alone, for what only counts with it: no rows to be changed are made of its
    terms, which takes a fifth of the time."""
    of_dictionary = CategoryRow.dictionary_id == row.id
    by_place = (CategoryRow.position, CategoryRow.id)
    rows = session.scalars(select(CategoryRow).where(of_dictionary).order_by(*by_place)).all()
    entries: dict[int, tuple[TermEntry, ...]] = {category.id: () for category in rows}
    of_term = (TermRow.source, TermRow.match_case, TermRow.ignore_accents, TermRow.note, TermRow.forms_of)
    found = session.execute(
        select(TermRow.category_id, *of_term)
        .join(CategoryRow)
        .where(of_dictionary)
        .order_by(TermRow.category_id, TermRow.id)
    )
    for category_id, group in groupby(found, key=lambda term: term[0]):
        entries[category_id] = tuple(TermEntry(s, bool(c), bool(a), n, f) for _, s, c, a, n, f in group)
    return _in_order(row, rows, entries)[1]


def _in_order(
    row: DictionaryRow, rows: Sequence[CategoryRow], entries: dict[int, tuple[TermEntry, ...]]
) -> tuple[tuple[CategoryRow, ...], Dictionary]:
    tree = Tree(rows, NOUN, NOUNS, MAX_DEPTH)
    ordered = tuple(in_tree_order(rows, tree))
    values = (Category(tree.path(c.id), entries[c.id], c.description, c.colour) for c in ordered)
    return ordered, Dictionary(row.name, tuple(values))


def tree_of(stored: StoredDictionary) -> Tree:
    """The categories of a dictionary as a tree."""
    return Tree(stored.categories, NOUN, NOUNS, MAX_DEPTH)


def entry_of(term: TermRow) -> TermEntry:
    """The term as a value."""
    return TermEntry(term.source, bool(term.match_case), bool(term.ignore_accents), term.note, term.forms_of)


def newest_version(session: Session, dictionary_id: int, value: Dictionary) -> tuple[int, bool]:
    """The version that the present state is, and True; else the newest one kept (0: none), and False."""
    versions = select(DictionaryVersion.number).where(DictionaryVersion.dictionary_id == dictionary_id)
    fingerprint = value.fingerprint()
    known = session.scalar(versions.where(DictionaryVersion.fingerprint == fingerprint))
    if known is not None:
        return known, True
    return session.scalar(versions.order_by(DictionaryVersion.number.desc()).limit(1)) or 0, False


def kept_version(session: Session, dictionary_id: int, value: Dictionary) -> int | None:
    """The version that the present state is, None where it is not kept as one."""
    number, now = newest_version(session, dictionary_id, value)
    return number if now else None


def keep_version(session: Session, stored: StoredDictionary, account_id: int) -> int:
    """Keep the present state as a version where it is none yet; its number.

    Done when something is kept, exported or named, so that a number can always be traced to the terms
    behind it. Reading and counting keep nothing.
    """
    fingerprint = stored.value.fingerprint()
    known = select(DictionaryVersion.number).where(
        DictionaryVersion.dictionary_id == stored.row.id, DictionaryVersion.fingerprint == fingerprint
    )
    if (number := session.scalar(known)) is not None:
        return number
    newest = select(func.max(DictionaryVersion.number)).where(
        DictionaryVersion.dictionary_id == stored.row.id
    )
    try:
        with session.begin_nested():
            version = DictionaryVersion(
                dictionary_id=stored.row.id,
                number=(session.scalar(newest) or 0) + 1,
                fingerprint=fingerprint,
                content=stored.value.content(),
                made_by=account_id,
            )
            session.add(version)
        return version.number
    except IntegrityError:
        return session.scalar(known.with_for_update()) or 0


def make_dictionary(recorder: Recorder, name: str) -> DictionaryRow:
    """Raises DictionaryError for a bad name, Conflict where it is taken."""
    name = _name(name, 200, "dictionary")
    taken = select(DictionaryRow).where(
        DictionaryRow.project_id == recorder.project_id, DictionaryRow.name == name
    )
    if recorder.session.scalar(taken):
        raise Conflict(f"There is a dictionary named “{name}” already.")
    found: DictionaryRow = recorder.insert(
        DictionaryRow(project_id=recorder.project_id, name=name, made_by=recorder.account_id)
    )
    return found


def change_dictionary(
    recorder: Recorder, stored: StoredDictionary, values: dict[str, Any], revision: int | None
) -> DictionaryRow:
    """Rename or describe. Raises DictionaryError, Conflict."""
    if "name" in values:
        values["name"] = _name(values["name"], 200, "dictionary")
        others = dictionaries_of(recorder.session, recorder.project_id)
        if any(row.name == values["name"] and row.id != stored.row.id for row in others):
            raise Conflict(f"There is a dictionary named “{values['name']}” already.")
    recorder.update(stored.row, values, revision)
    return stored.row


def delete_dictionary(recorder: Recorder, stored: StoredDictionary, revision: int | None = None) -> None:
    """Remove a dictionary with all in it and its kept versions; can be undone. Raises Conflict."""
    if revision is not None and stored.row.revision != revision:
        raise Conflict("Somebody changed this in the meantime.", plain(stored.row))
    kept = select(DictionaryVersion).where(DictionaryVersion.dictionary_id == stored.row.id)
    for version in recorder.session.scalars(kept):
        recorder.delete(version)
    for category in reversed(stored.categories):
        _delete_one(recorder, stored, category)
    recorder.delete(stored.row)


def _name(written: str, most: int, what: str) -> str:
    name = " ".join(written.split())
    if not name:
        raise DictionaryError(f"A {what} needs a name.")
    if len(name) > most:
        raise DictionaryError(f"A {what} name can have at most {most} characters; this one has {len(name)}.")
    return name


def make_category(
    recorder: Recorder,
    stored: StoredDictionary,
    name: str,
    parent_id: int | None = None,
    description: str = "",
) -> CategoryRow:
    """A category at the end of its level. Raises DictionaryError, Conflict or NotFound."""
    name = read_path(_name(name, MAX_NAME, "category"))[-1]
    if parent_id is not None:
        category_in(stored, parent_id)
    tree = tree_of(stored)
    tree.free_name(name, parent_id)
    used = {c.colour for c in stored.categories}
    colour = next((c for c in range(10) if c not in used), len(stored.categories) % 10)
    found: CategoryRow = recorder.insert(
        CategoryRow(
            dictionary_id=stored.row.id,
            parent_id=parent_id,
            name=name,
            description=description,
            colour=colour,
            position=tree.last_position(parent_id),
        )
    )
    return found


def category_in(stored: StoredDictionary, category_id: int) -> CategoryRow:
    """Raises NotFound."""
    for category in stored.categories:
        if category.id == category_id:
            return category
    raise NotFound("There is no such category in this dictionary.")


def change_category(
    recorder: Recorder,
    stored: StoredDictionary,
    category_id: int,
    values: dict[str, Any],
    revision: int | None,
) -> CategoryRow:
    """Rename, describe, recolour. Raises NotFound, Conflict, DictionaryError."""
    category = category_in(stored, category_id)
    if "name" in values:
        values["name"] = read_path(_name(values["name"], MAX_NAME, "category"))[-1]
        tree_of(stored).free_name(values["name"], category.parent_id, but=category.id)
    recorder.update(category, values, revision)
    return category


def delete_category(
    recorder: Recorder, stored: StoredDictionary, category_id: int, revision: int | None = None
) -> None:
    """Remove a category with its terms and all below it; can be undone. Raises Conflict."""
    category = category_in(stored, category_id)
    if revision is not None and category.revision != revision:
        raise Conflict("Somebody changed this in the meantime.", plain(category))
    at = stored.categories.index(category)
    for place in reversed(stored.value.with_children(at)):
        _delete_one(recorder, stored, stored.categories[place])


def _delete_one(recorder: Recorder, stored: StoredDictionary, category: CategoryRow) -> None:
    for term in stored.terms[category.id]:
        recorder.delete(term)
    recorder.delete(category)


def add_terms(
    recorder: Recorder, stored: StoredDictionary, category_id: int, entries: Iterable[TermEntry]
) -> tuple[list[TermRow], int]:
    """Add terms; those the category has already are left out and counted. Raises TermError, NotFound."""
    category = category_in(stored, category_id)
    seen = {entry_of(term).key for term in stored.terms[category.id]}
    rows, doubles = [], 0
    for entry in entries:
        settled = entry.settled()
        if settled.key in seen:
            doubles += 1
            continue
        seen.add(settled.key)
        rows.append(term_row(recorder, category.id, settled))
    recorder.insert_many(rows)
    return rows, doubles


def term_row(recorder: Recorder, category_id: int, entry: TermEntry) -> TermRow:
    """A new row for a settled entry."""
    return TermRow(
        category_id=category_id,
        source=entry.source,
        match_case=entry.match_case,
        ignore_accents=entry.ignore_accents,
        forms_of=entry.forms_of,
        note=entry.note,
        made_by=recorder.account_id,
    )


def term_in(stored: StoredDictionary, term_id: int) -> TermRow:
    """Raises NotFound."""
    for terms in stored.terms.values():
        for term in terms:
            if term.id == term_id:
                return term
    raise NotFound("There is no such term in this dictionary; it may have been deleted.")


def change_term(
    recorder: Recorder, stored: StoredDictionary, term_id: int, values: dict[str, Any], revision: int | None
) -> TermRow:
    """Change wording, options, note or category of a term. Raises NotFound, Conflict, TermError."""
    term = term_in(stored, term_id)
    if "category_id" in values:
        category_in(stored, values["category_id"])
    options = ("source", "match_case", "ignore_accents", "forms_of")
    given = {name: values.get(name, getattr(term, name)) for name in options}
    entry = TermEntry(
        given["source"],
        bool(given["match_case"]),
        bool(given["ignore_accents"]),
        forms_of=given["forms_of"],
    ).settled()
    values = values | dict(zip(options, entry.key, strict=True))
    home = values.get("category_id", term.category_id)
    for other in stored.terms[home]:
        if other.id != term.id and entry_of(other).key == entry.key:
            raise Conflict(f"“{entry.source}” stands in this category already.")
    recorder.update(term, values, revision)
    return term


def import_dictionary(recorder: Recorder, name: str, dictionary: Dictionary) -> DictionaryRow:
    """Store a dictionary value as a new dictionary. Raises Conflict where the name is taken."""
    row = make_dictionary(recorder, name)
    ids: dict[tuple[str, ...], int] = {}
    for depth in range(max((c.depth for c in dictionary.categories), default=-1) + 1):
        level = [(at, c) for at, c in enumerate(dictionary.categories) if c.depth == depth]
        rows = [
            CategoryRow(
                dictionary_id=row.id,
                parent_id=ids.get(category.path[:-1]),
                name=category.name,
                description=category.description,
                colour=category.colour,
                position=at,
            )
            for at, category in level
        ]
        recorder.insert_many(rows)
        ids.update({category.path: stored.id for (_, category), stored in zip(level, rows, strict=True)})
    recorder.insert_many(
        [term_row(recorder, ids[c.path], t.settled()) for c in dictionary.categories for t in c.terms]
    )
    return row
