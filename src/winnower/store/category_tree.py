"""Categories moved, merged and put in order; every change through a Recorder."""

from __future__ import annotations

from sqlalchemy import select

from winnower.core.dictionary.rows import MAX_NAME
from winnower.core.errors import Conflict, DictionaryError
from winnower.store.dictionaries import StoredDictionary, category_in
from winnower.store.history import Recorder
from winnower.store.models import CategoryRow, Judgement

MAX_DEPTH = 8


def below(stored: StoredDictionary, category_id: int) -> set[int]:
    """Ids of a category and of all under it."""
    at = stored.categories.index(category_in(stored, category_id))
    return {stored.categories[place].id for place in stored.value.with_children(at)}


def move_category(
    recorder: Recorder,
    stored: StoredDictionary,
    category_id: int,
    parent_id: int | None,
    before_id: int | None = None,
    revision: int | None = None,
) -> CategoryRow:
    """Put a category under another (None: the top), before one of the categories there or last.

    Raises DictionaryError where it would lie in itself or too deep, Conflict for a taken name.
    """
    category = category_in(stored, category_id)
    own = below(stored, category_id)
    if parent_id in own or before_id == category_id:
        raise DictionaryError(f"“{category.name}” cannot be moved into itself. Nothing was changed.")
    parent_depth = -1
    if parent_id is not None:
        parent = category_in(stored, parent_id)
        parent_depth = stored.value.categories[stored.categories.index(parent)].depth
    depths = {
        row.id: value.depth for row, value in zip(stored.categories, stored.value.categories, strict=True)
    }
    height = max(depths[one] for one in own) - depths[category_id]
    if parent_depth + 1 + height >= MAX_DEPTH:
        raise DictionaryError(f"Categories can lie at most {MAX_DEPTH} levels deep. Nothing was changed.")
    siblings = [c for c in stored.categories if c.parent_id == parent_id and c.id != category_id]
    if any(c.name == category.name for c in siblings):
        raise Conflict(
            f"There is a category named “{category.name}” on that level already; merge them instead."
        )
    place = next((at for at, c in enumerate(siblings) if c.id == before_id), len(siblings))
    recorder.update(category, {"parent_id": parent_id}, revision)
    for position, sibling in enumerate([*siblings[:place], category, *siblings[place:]]):
        if sibling.position != position:
            recorder.update(sibling, {"position": position})
    return category


def merge_categories(recorder: Recorder, stored: StoredDictionary, from_id: int, into_id: int) -> int:
    """Take the terms, categories and judgements of one category into another and remove it; how many
    terms moved. Terms and categories that both have stay once. Raises DictionaryError."""
    source, target = category_in(stored, from_id), category_in(stored, into_id)
    if into_id in below(stored, from_id):
        raise DictionaryError(f"“{source.name}” cannot be merged into itself or what lies in it.")
    have = {(t.source, t.match_case, t.ignore_accents, t.forms_of) for t in stored.terms[into_id]}
    moved = 0
    for term in stored.terms[from_id]:
        if (term.source, term.match_case, term.ignore_accents, term.forms_of) in have:
            recorder.delete(term)
        else:
            recorder.update(term, {"category_id": into_id})
            moved += 1
    names = {c.name for c in stored.categories if c.parent_id == into_id and c.id != from_id}
    for child in [c for c in stored.categories if c.parent_id == from_id]:
        name = child.name
        while name in names:
            name = f"{name} ({source.name})"[:MAX_NAME] if name == child.name else f"{name[: MAX_NAME - 1]}+"
        names.add(name)
        recorder.update(child, {"parent_id": into_id, "name": name})
    if source.description and source.description not in target.description:
        joined = "\n".join(part for part in (target.description, source.description) if part)
        recorder.update(target, {"description": joined})
    _move_judgements(recorder, from_id, into_id)
    recorder.delete(source)
    return moved


def _move_judgements(recorder: Recorder, from_id: int, into_id: int) -> None:
    """A person's verdict on the same words in both categories: that of the category that stays."""
    rows = recorder.session.scalars(
        select(Judgement).where(Judgement.category_id.in_([from_id, into_id]))
    ).all()

    def words(row: Judgement) -> tuple:
        return row.text_id, row.kind, row.start, row.end, row.made_by

    taken = {words(row) for row in rows if row.category_id == into_id}
    for row in rows:
        if row.category_id == from_id and words(row) not in taken:
            recorder.update(row, {"category_id": into_id})
