"""Categories moved, merged and split; the tree itself is worked out in core/tree.py."""

from __future__ import annotations

from collections.abc import Collection

from winnower.core.errors import DictionaryError
from winnower.core.tree import Tree
from winnower.store.dictionaries import StoredDictionary, category_in, make_category, tree_of
from winnower.store.history import Recorder
from winnower.store.models import CategoryRow
from winnower.store.review import move_verdicts


def move_category(
    recorder: Recorder,
    stored: StoredDictionary,
    category_id: int,
    parent_id: int | None,
    before_id: int | None = None,
    revision: int | None = None,
) -> CategoryRow:
    """Put a category under another (None: the top), before one of the categories there or last.

    Raises TreeError where it would lie in itself or too deep, Conflict for a taken name or a stale revision.
    """
    placements = tree_of(stored).move(category_id, parent_id, before_id)
    for placement in placements:
        row = category_in(stored, placement.id)
        recorder.update(row, dict(placement.values), revision if placement.id == category_id else None)
        revision = None  # the same row may be placed again
    return category_in(stored, category_id)


def merge_categories(recorder: Recorder, stored: StoredDictionary, from_id: int, into_id: int) -> int:
    """Take the terms, categories and verdicts of one category into another and remove it; how many terms
    moved. Terms and categories that both have stay once. Raises TreeError."""
    source, target = category_in(stored, from_id), category_in(stored, into_id)
    placements = tree_of(stored).merge(from_id, into_id)
    have = {(t.source, t.match_case, t.ignore_accents, t.forms_of) for t in stored.terms[into_id]}
    moved = 0
    for term in stored.terms[from_id]:
        if (term.source, term.match_case, term.ignore_accents, term.forms_of) in have:
            recorder.delete(term)
        else:
            recorder.update(term, {"category_id": into_id})
            moved += 1
    for placement in placements:
        recorder.update(category_in(stored, placement.id), dict(placement.values))
    if source.description and source.description not in target.description:
        joined = "\n".join(part for part in (target.description, source.description) if part)
        recorder.update(target, {"description": joined})
    move_verdicts(recorder, "category", from_id, into_id)
    recorder.delete(source)
    return moved


def split_category(
    recorder: Recorder, stored: StoredDictionary, category_id: int, name: str, term_ids: Collection[int]
) -> CategoryRow:
    """Take some terms of a category out into a new one beside it, which comes right after it.

    Verdicts stay with the category they were given for. Raises DictionaryError without any term, Conflict for
    a taken name, NotFound for terms that are gone.
    """
    category = category_in(stored, category_id)
    own = {term.id: term for term in stored.terms[category_id]}
    chosen = [own[one] for one in dict.fromkeys(term_ids) if one in own]
    if not chosen:
        raise DictionaryError("Choose the terms that are to become a category of their own.")
    made = make_category(recorder, stored, name, category.parent_id)
    for term in chosen:
        recorder.update(term, {"category_id": made.id})
    rows = (*stored.categories, made)
    siblings = Tree(rows, "category", "categories").children[category.parent_id]
    after = siblings.index(category) + 1
    if siblings[after] is not made:
        by_id = {row.id: row for row in rows}
        for placement in Tree(rows, "category", "categories").move(
            made.id, category.parent_id, siblings[after].id
        ):
            if placement.values != {"parent_id": category.parent_id}:
                recorder.update(by_id[placement.id], dict(placement.values))
    return made
