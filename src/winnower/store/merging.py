"""Another dictionary taken into one that is there."""

from __future__ import annotations

from collections.abc import Collection

from winnower.core.dictionary import Dictionary, TermEntry
from winnower.core.dictionary.differences import MergeConflict, MergePlan, Path, plan_merge
from winnower.store.dictionaries import StoredDictionary, term_row
from winnower.store.history import Recorder
from winnower.store.models import CategoryRow, TermRow


def merge_into(
    recorder: Recorder, stored: StoredDictionary, theirs: Dictionary, take_theirs: Collection[str]
) -> MergePlan:
    """Add what is new; of the conflicts follow ``theirs`` where their key is in ``take_theirs``."""
    plan = plan_merge(stored.value, theirs)
    rows = {value.path: row for row, value in zip(stored.categories, stored.value.categories, strict=True)}
    for at, category in enumerate(plan.categories):
        parent = rows.get(category.path[:-1])
        rows[category.path] = recorder.insert(
            CategoryRow(
                dictionary_id=stored.row.id,
                parent_id=parent.id if parent else None,
                name=category.name,
                description=category.description,
                colour=category.colour,
                position=len(stored.categories) + at,
            )
        )
    recorder.insert_many([term_row(recorder, rows[path].id, entry.settled()) for path, entry in plan.terms])
    by_path = {(c.path, t.source): t for c in theirs.categories for t in c.terms}
    for conflict in plan.conflicts:
        if conflict.key in take_theirs:
            _follow(recorder, stored, rows, conflict, by_path)
    return plan


def _follow(
    recorder: Recorder,
    stored: StoredDictionary,
    rows: dict[Path, CategoryRow],
    conflict: MergeConflict,
    theirs: dict[tuple[Path, str], TermEntry],
) -> None:
    category = rows[conflict.path]
    if conflict.kind == "description":
        recorder.update(category, {"description": conflict.theirs})
        return
    entry = theirs[conflict.path, conflict.source]
    if conflict.kind == "category":
        home = rows[tuple(conflict.mine.split(" > "))]
        term = _term(stored, home.id, conflict.source)
        recorder.update(term, {"category_id": category.id})
        return
    term = _term(stored, category.id, conflict.source)
    if conflict.kind == "note":
        recorder.update(term, {"note": entry.note})
    else:
        recorder.update(
            term,
            {
                "match_case": entry.match_case,
                "ignore_accents": entry.ignore_accents,
                "forms_of": entry.forms_of,
            },
        )


def _term(stored: StoredDictionary, category_id: int, source: str) -> TermRow:
    return next(term for term in stored.terms[category_id] if term.source == source)
