"""Dictionaries: tree, categories, terms."""

from __future__ import annotations

from fastapi import APIRouter

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.core.errors import TermError
from winnower.store import dictionaries as store
from winnower.store.category_tree import merge_categories, split_category
from winnower.store.category_tree import move_category as move
from winnower.store.models import DictionaryRow, TermRow

router = APIRouter(prefix="/projects/{project_id}")


def loaded(desk: Desk, dictionary_id: int) -> store.StoredDictionary:
    return store.load(desk.session, store.dictionary_row(desk.session, desk.project.id, dictionary_id))


def held(desk: Desk, dictionary_id: int) -> store.StoredDictionary:
    """A dictionary that is to be changed: nobody else changes it until the end of the request."""
    return store.load(desk.session, store.hold_dictionary(desk.session, desk.project.id, dictionary_id))


def dictionary_public(row: DictionaryRow) -> s.DictionaryPublic:
    return s.DictionaryPublic(id=row.id, name=row.name, description=row.description, revision=row.revision)


@router.get("/dictionaries")
def list_dictionaries(desk: Reading) -> list[s.DictionaryPublic]:
    rows = store.dictionaries_of(desk.session, desk.project.id)
    return [dictionary_public(row) for row in rows]


@router.post("/dictionaries", status_code=201)
def make_dictionary(desk: Writing, given: s.DictionaryCreate) -> s.DictionaryPublic:
    recorder = desk.recorder(f"New dictionary {given.name}")
    row = store.make_dictionary(recorder, given.name)
    recorder.save()
    return dictionary_public(row)


@router.get("/dictionaries/{dictionary_id}")
def dictionary(desk: Reading, dictionary_id: int) -> s.DictionaryTree:
    stored = loaded(desk, dictionary_id)
    version, is_kept = store.newest_version(desk.session, stored.row.id, stored.value)
    return s.DictionaryTree(
        id=stored.row.id,
        name=stored.row.name,
        description=stored.row.description,
        revision=stored.row.revision,
        version=version,
        version_kept=is_kept,
        categories=[
            s.CategoryPublic(
                id=row.id,
                parent_id=row.parent_id,
                name=row.name,
                path=value.label,
                depth=value.depth,
                description=row.description,
                colour=row.colour,
                revision=row.revision,
                terms=[term_public(term) for term in stored.terms[row.id]],
            )
            for row, value in zip(stored.categories, stored.value.categories, strict=True)
        ],
    )


def term_public(row: TermRow) -> s.TermPublic:
    return s.TermPublic(
        id=row.id,
        category_id=row.category_id,
        source=row.source,
        match_case=bool(row.match_case),
        ignore_accents=bool(row.ignore_accents),
        forms_of=row.forms_of,
        note=row.note,
        revision=row.revision,
        written=store.entry_of(row).written,
    )


@router.delete("/dictionaries/{dictionary_id}", status_code=204)
def delete_dictionary(desk: Writing, dictionary_id: int, revision: Seen) -> None:
    stored = held(desk, dictionary_id)
    recorder = desk.recorder(f"Delete dictionary {stored.row.name}")
    store.delete_dictionary(recorder, stored, revision)
    recorder.save()


@router.post("/dictionaries/{dictionary_id}/categories", status_code=201)
def make_category(desk: Writing, dictionary_id: int, given: s.CategoryCreate) -> s.Done:
    recorder = desk.recorder(f"New category {given.name}")
    row = store.make_category(
        recorder, held(desk, dictionary_id), given.name, given.parent_id, given.description
    )
    recorder.save()
    return s.Done(label=str(row.id))


@router.patch("/dictionaries/{dictionary_id}/categories/{category_id}")
def change_category(desk: Writing, dictionary_id: int, category_id: int, given: s.CategoryUpdate) -> s.Done:
    stored = held(desk, dictionary_id)
    values = given.model_dump(exclude={"revision"}, exclude_none=True)
    recorder = desk.recorder(f"Change category {store.category_in(stored, category_id).name}")
    store.change_category(recorder, stored, category_id, values, given.revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/move")
def move_category(desk: Writing, dictionary_id: int, category_id: int, given: s.CategoryMove) -> s.Done:
    """Put a category under another or at the top, before a sibling or last."""
    stored = held(desk, dictionary_id)
    recorder = desk.recorder(f"Move category {store.category_in(stored, category_id).name}")
    move(recorder, stored, category_id, given.parent_id, given.before_id, given.revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/merge")
def merge_category(desk: Writing, dictionary_id: int, category_id: int, given: s.CategoryMerge) -> s.Done:
    """Take a category's terms into another and remove it."""
    stored = held(desk, dictionary_id)
    names = [store.category_in(stored, one).name for one in (category_id, given.into_id)]
    recorder = desk.recorder(f"Merge category {names[0]} into {names[1]}")
    merge_categories(recorder, stored, category_id, given.into_id)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/split", status_code=201)
def split(desk: Writing, dictionary_id: int, category_id: int, given: s.CategorySplit) -> s.Done:
    """Take some terms of a category out into a new one beside it."""
    stored = held(desk, dictionary_id)
    name = store.category_in(stored, category_id).name
    recorder = desk.recorder(f"Split {given.name} off {name}")
    split_category(recorder, stored, category_id, given.name, given.term_ids)
    recorder.save()
    return s.Done(label=recorder.label)


@router.patch("/dictionaries/{dictionary_id}")
def change_dictionary(desk: Writing, dictionary_id: int, given: s.DictionaryUpdate) -> s.DictionaryPublic:
    """Rename or describe a dictionary."""
    stored = held(desk, dictionary_id)
    recorder = desk.recorder(f"Change dictionary {stored.row.name}")
    row = store.change_dictionary(
        recorder, stored, given.model_dump(exclude={"revision"}, exclude_none=True), given.revision
    )
    recorder.save()
    return dictionary_public(row)


@router.post("/dictionaries/{dictionary_id}/copy", status_code=201)
def copy_dictionary(desk: Writing, dictionary_id: int, given: s.DictionaryCreate) -> s.DictionaryPublic:
    """The same dictionary under another name."""
    stored = held(desk, dictionary_id)
    recorder = desk.recorder(f"Copy dictionary {stored.row.name}")
    row = store.import_dictionary(recorder, given.name, stored.value)
    recorder.save()
    return dictionary_public(row)


@router.delete("/dictionaries/{dictionary_id}/categories/{category_id}", status_code=204)
def delete_category(desk: Writing, dictionary_id: int, category_id: int, revision: Seen) -> None:
    stored = held(desk, dictionary_id)
    recorder = desk.recorder(f"Delete category {store.category_in(stored, category_id).name}")
    store.delete_category(recorder, stored, category_id, revision)
    recorder.save()


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/terms", status_code=201)
def add_terms(desk: Writing, dictionary_id: int, category_id: int, given: s.TermsCreate) -> s.TermsAdded:
    """Add one or many terms; those that cannot be searched are told and the others taken."""
    entries, refused = [], []
    for term in given.terms:
        entry = term.entry()
        try:
            entry.parse()
            entries.append(entry)
        except TermError as error:
            if len(given.terms) == 1:
                raise
            refused.append(s.Refusal(what=term.source, reason=error.message))
    label = f"Add term {given.terms[0].source}" if len(given.terms) == 1 else f"Add {len(entries)} terms"
    recorder = desk.recorder(label)
    rows, doubles = store.add_terms(recorder, held(desk, dictionary_id), category_id, entries)
    recorder.save()
    return s.TermsAdded(added=len(rows), doubles=doubles, refused=refused)


@router.patch("/dictionaries/{dictionary_id}/terms/{term_id}")
def change_term(desk: Writing, dictionary_id: int, term_id: int, given: s.TermUpdate) -> s.TermPublic:
    stored = held(desk, dictionary_id)
    recorder = desk.recorder(f"Change term {store.term_in(stored, term_id).source}")
    values = given.model_dump(exclude={"revision"}, exclude_none=True)
    row = store.change_term(recorder, stored, term_id, values, given.revision)
    recorder.save()
    return term_public(row)


@router.delete("/dictionaries/{dictionary_id}/terms/{term_id}", status_code=204)
def delete_term(desk: Writing, dictionary_id: int, term_id: int, revision: Seen) -> None:
    term = store.term_in(held(desk, dictionary_id), term_id)
    recorder = desk.recorder(f"Delete term {term.source}")
    recorder.delete(term, revision)
    recorder.save()
