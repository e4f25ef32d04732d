"""Dictionaries: tree, categories, terms, live counts."""

from __future__ import annotations

import math
from typing import Annotated

from fastapi import APIRouter, File, Response, UploadFile

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Writing
from winnower.core.compare import dictionary_overview
from winnower.core.dictionary import TermEntry
from winnower.core.dictionary.profile import COMMON_SHARE, TermProfile, profile_term
from winnower.core.errors import TermError, WinnowerError
from winnower.core.pattern import Term, parse_term
from winnower.core.scope import Scope, Split
from winnower.readers.dictionary_file import read_dictionary_bytes
from winnower.store import dictionaries as store
from winnower.store.history import Recorder
from winnower.store.opened import OpenCorpus
from winnower.writers.dictionary_file import dictionary_csv

router = APIRouter(prefix="/projects/{project_id}")
MAX_FILE_BYTES = 20_000_000


def loaded(desk: Desk, dictionary_id: int) -> store.StoredDictionary:
    return store.load(desk.session, store.dictionary_row(desk.session, desk.project.id, dictionary_id))


def _recorder(desk: Desk, label: str) -> Recorder:
    return Recorder(desk.session, desk.project.id, desk.account.id, label)


@router.get("/dictionaries")
def list_dictionaries(desk: Reading) -> list[s.DictionaryPublic]:
    rows = store.dictionaries_of(desk.session, desk.project.id)
    return [s.DictionaryPublic(id=row.id, name=row.name) for row in rows]


@router.post("/dictionaries", status_code=201)
def make_dictionary(desk: Writing, given: s.DictionaryCreate) -> s.DictionaryPublic:
    recorder = _recorder(desk, f"New dictionary {given.name}")
    row = store.make_dictionary(recorder, given.name)
    recorder.save()
    return s.DictionaryPublic(id=row.id, name=row.name)


@router.post("/dictionaries/import", status_code=201)
def import_dictionary(desk: Writing, file: Annotated[UploadFile, File()]) -> s.TermsAdded:
    """A dictionary from a CSV with the columns category and term."""
    content = file.file.read(MAX_FILE_BYTES + 1)
    if len(content) > MAX_FILE_BYTES:
        raise WinnowerError(f"A dictionary file can have at most {MAX_FILE_BYTES:,} bytes.")
    read = read_dictionary_bytes(content, file.filename or "dictionary.csv")
    recorder = _recorder(desk, f"Import dictionary {read.dictionary.name}")
    store.import_dictionary(recorder, read.dictionary.name, read.dictionary)
    recorder.save()
    terms = sum(len(c.terms) for c in read.dictionary.categories)
    refused = [s.Refusal(what=f"Row {row}", reason=reason) for row, reason in read.refused]
    refused += [s.Refusal(what=f"Column {name}", reason="Not used.") for name in read.unknown_columns]
    return s.TermsAdded(added=terms, doubles=read.doubles, refused=refused)


@router.get("/dictionaries/{dictionary_id}")
def dictionary(desk: Reading, dictionary_id: int) -> s.DictionaryTree:
    stored = loaded(desk, dictionary_id)
    version = store.version_of(desk.session, stored, desk.account.id)
    return s.DictionaryTree(
        id=stored.row.id,
        name=stored.row.name,
        version=version,
        categories=[
            s.CategoryPublic(
                id=row.id,
                parent_id=row.parent_id,
                name=row.name,
                depth=value.depth,
                description=row.description,
                colour=row.colour,
                revision=row.revision,
                terms=[_term(term) for term in stored.terms[row.id]],
            )
            for row, value in zip(stored.categories, stored.value.categories, strict=True)
        ],
    )


def _term(row) -> s.TermPublic:
    return s.TermPublic(
        id=row.id,
        category_id=row.category_id,
        source=row.source,
        match_case=bool(row.match_case),
        ignore_accents=bool(row.ignore_accents),
        note=row.note,
        revision=row.revision,
    )


@router.delete("/dictionaries/{dictionary_id}", status_code=204)
def delete_dictionary(desk: Writing, dictionary_id: int) -> None:
    stored = loaded(desk, dictionary_id)
    recorder = _recorder(desk, f"Delete dictionary {stored.row.name}")
    store.delete_dictionary(recorder, stored)
    recorder.save()


@router.get("/dictionaries/{dictionary_id}/export")
def export_dictionary(desk: Reading, dictionary_id: int) -> Response:
    """CSV; it can be imported again."""
    stored = loaded(desk, dictionary_id)
    version = store.version_of(desk.session, stored, desk.account.id)
    name = f"{stored.row.name} v{version}.csv"
    return download("\ufeff" + dictionary_csv(stored.value), name, "text/csv; charset=utf-8")


def download(content: str | bytes, name: str, media_type: str) -> Response:
    """A file to keep; its name in ASCII and in full."""
    from urllib.parse import quote

    plain = "".join(c if c.isascii() and (c.isalnum() or c in " .-_") else "_" for c in name)
    disposition = f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    return Response(content, media_type=media_type, headers={"Content-Disposition": disposition})


@router.post("/dictionaries/{dictionary_id}/categories", status_code=201)
def make_category(desk: Writing, dictionary_id: int, given: s.CategoryCreate) -> s.Done:
    recorder = _recorder(desk, f"New category {given.name}")
    row = store.make_category(
        recorder, loaded(desk, dictionary_id), given.name, given.parent_id, given.description
    )
    recorder.save()
    return s.Done(label=str(row.id))


@router.patch("/dictionaries/{dictionary_id}/categories/{category_id}")
def change_category(desk: Writing, dictionary_id: int, category_id: int, given: s.CategoryUpdate) -> s.Done:
    stored = loaded(desk, dictionary_id)
    values = given.model_dump(exclude={"revision"}, exclude_none=True)
    recorder = _recorder(desk, f"Change category {store.category_in(stored, category_id).name}")
    store.change_category(recorder, stored, category_id, values, given.revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.delete("/dictionaries/{dictionary_id}/categories/{category_id}", status_code=204)
def delete_category(desk: Writing, dictionary_id: int, category_id: int) -> None:
    stored = loaded(desk, dictionary_id)
    recorder = _recorder(desk, f"Delete category {store.category_in(stored, category_id).name}")
    store.delete_category(recorder, stored, category_id)
    recorder.save()


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/terms", status_code=201)
def add_terms(desk: Writing, dictionary_id: int, category_id: int, given: s.TermsCreate) -> s.TermsAdded:
    """Add one or many terms; those that cannot be searched are told and the others taken."""
    entries, refused = [], []
    for term in given.terms:
        entry = TermEntry(term.source, term.match_case, term.ignore_accents, term.note)
        try:
            entry.parse()
            entries.append(entry)
        except TermError as error:
            if len(given.terms) == 1:
                raise
            refused.append(s.Refusal(what=term.source, reason=error.message))
    label = f"Add term {given.terms[0].source}" if len(given.terms) == 1 else f"Add {len(entries)} terms"
    recorder = _recorder(desk, label)
    rows, doubles = store.add_terms(recorder, loaded(desk, dictionary_id), category_id, entries)
    recorder.save()
    return s.TermsAdded(added=len(rows), doubles=doubles, refused=refused)


@router.patch("/dictionaries/{dictionary_id}/terms/{term_id}")
def change_term(desk: Writing, dictionary_id: int, term_id: int, given: s.TermUpdate) -> s.TermPublic:
    stored = loaded(desk, dictionary_id)
    recorder = _recorder(desk, f"Change term {store.term_in(stored, term_id).source}")
    values = given.model_dump(exclude={"revision"}, exclude_none=True)
    row = store.change_term(recorder, stored, term_id, values, given.revision)
    recorder.save()
    return _term(row)


@router.delete("/dictionaries/{dictionary_id}/terms/{term_id}", status_code=204)
def delete_term(desk: Writing, dictionary_id: int, term_id: int) -> None:
    term = store.term_in(loaded(desk, dictionary_id), term_id)
    recorder = _recorder(desk, f"Delete term {term.source}")
    recorder.delete(term)
    recorder.save()


@router.post("/terms/try")
def try_term(desk: Reading, given: s.TryRequest) -> s.TriedTerm:
    """What a term catches in the scope, while it is typed."""
    term = parse_term(given.source, match_case=given.match_case, ignore_accents=given.ignore_accents)
    corpus, scope, split = desk.corpus, given.scope_value(), given.split.value()
    ground = corpus.ground(scope, split)
    return s.TriedTerm(groups=list(ground.groups.labels), profile=_profile(corpus, term, scope, split))


def _profile(corpus: OpenCorpus, term: Term, scope: Scope, split: Split) -> s.TermProfile:
    def make(corpus: OpenCorpus) -> TermProfile:
        ground = corpus.ground(scope, split)
        return profile_term(term, corpus.index, ground.mask, ground.groups, ground.words)

    found = corpus.profile((term, scope, split), make)
    remark = None
    if found.share_of_words > COMMON_SHARE:
        remark = f"This is {found.share_of_words:.0%} of all words; as a term it says little about a text."
    return s.TermProfile(
        hits=found.hits,
        texts=found.texts,
        forms=[s.FormCount(form=form, hits=hits) for form, hits in found.forms],
        forms_total=found.forms_total,
        group_hits=found.group_hits.tolist(),
        group_rates=[plain(v) for v in found.group_rates],
        evenness=plain(found.evenness),
        share_of_words=found.share_of_words,
        remark=remark,
    )


def plain(value: float) -> float | None:
    """None where a number is not defined."""
    return None if math.isnan(value) else float(value)


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/profile")
def profile_category(
    desk: Reading, dictionary_id: int, category_id: int, asked: s.ProfileRequest
) -> s.CategoryProfiles:
    """Every term of a category: hits, texts, where it falls, evenness, forms."""
    stored = loaded(desk, dictionary_id)
    store.category_in(stored, category_id)
    corpus, scope, split = desk.corpus, asked.scope_value(), asked.split.value()
    groups = corpus.ground(scope, split).groups
    found = {}
    for row in stored.terms[category_id]:
        term = parse_term(
            row.source, match_case=bool(row.match_case), ignore_accents=bool(row.ignore_accents)
        )
        found[row.id] = _profile(corpus, term, scope, split)
    return s.CategoryProfiles(groups=list(groups.labels), terms=found)


@router.post("/dictionaries/{dictionary_id}/counts")
def count_dictionary(desk: Reading, dictionary_id: int, asked: s.ProfileRequest) -> s.DictionaryCounts:
    """Counts of all categories, texts matched at all, and terms to look after."""
    stored = loaded(desk, dictionary_id)
    corpus, scope, split = desk.corpus, asked.scope_value(), asked.split.value()
    key = ("counts", stored.value.fingerprint(), stored.row.id, scope)
    return corpus.kept(key, lambda corpus: _count(stored, corpus, scope, split))


def _count(
    stored: store.StoredDictionary, corpus: OpenCorpus, scope: Scope, split: Split
) -> s.DictionaryCounts:
    ground = corpus.ground(scope, Split())
    found = dictionary_overview(stored.value, corpus.index, ground)
    term_ids = [term.id for category in stored.categories for term in stored.terms[category.id]]
    return s.DictionaryCounts(
        groups=list(corpus.ground(scope, split).groups.labels),
        categories=[
            s.CategoryCount(id=row.id, hits=int(hits), texts=int(texts))
            for row, hits, texts in zip(stored.categories, found.hits, found.texts, strict=True)
        ],
        texts_in_scope=int(ground.mask.sum()),
        texts_matched=found.texts_matched,
        empty_terms=[term_ids[at] for at in found.empty_terms],
        double_terms=[term_ids[at] for at in found.double_terms],
    )
