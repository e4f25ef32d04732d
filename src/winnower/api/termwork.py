"""Terms at work: what they catch while typed, their fields, warnings, suggestions."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Request

from winnower.api import schemas as s
from winnower.api.company import company_of
from winnower.api.context import Desk, Reading, Writing
from winnower.api.instruments import held, loaded, term_public
from winnower.api.numbers import plain
from winnower.api.review import subject_asked
from winnower.api.schemas import termwork as t
from winnower.api.searching import THESAURUS_LANGUAGE, lemma_series, thesaurus
from winnower.api.words import counts_in_scope, stop_numbers
from winnower.core.compare import dictionary_overview, look_over
from winnower.core.compare.profile import COMMON_SHARE, TermProfile, profile_term
from winnower.core.errors import TermError
from winnower.core.pattern import Piece, Term, write_piece, write_term
from winnower.core.pattern.exclude import exclude_form
from winnower.core.pattern.fields import Cell, FieldCondition, TermFields, from_fields, to_fields
from winnower.core.places import Places
from winnower.core.review import right_hits
from winnower.core.scope import Scope, Split
from winnower.core.suggest import (
    LEAST_JUDGED,
    Company,
    Sources,
    caught_folds,
    mixed_terms,
    suggest_for,
    words_of,
)
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES
from winnower.core.words import form_term
from winnower.store import dictionaries as store
from winnower.store import jobs
from winnower.store import words as word_store
from winnower.store.jobs import latest_job
from winnower.store.opened import OpenCorpus
from winnower.store.review import verdicts

router = APIRouter(prefix="/projects/{project_id}")


@router.post("/terms/try")
def try_term(desk: Reading, given: s.TryRequest) -> s.TriedTerm:
    """What a term catches in the scope, while it is typed."""
    term = given.entry().parse()
    desk.look_at(given.texts)
    corpus, scope, split = desk.corpus, given.texts, given.split
    ground = corpus.ground(scope, split)
    return s.TriedTerm(groups=list(ground.groups.labels), profile=_profile(corpus, term, scope, split))


def _profile(corpus: OpenCorpus, term: Term, scope: Scope, split: Split) -> s.TermProfile:
    def make(corpus: OpenCorpus) -> TermProfile:
        return profile_term(term, corpus.index, corpus.lexicon, corpus.ground(scope, split))

    found = corpus.kept(("profile", term, scope, split), make, corpus.scope_fields(scope, split))
    remark = None
    if found.share_of_words > COMMON_SHARE:
        remark = f"This is {found.share_of_words:.0%} of all words; as a term it says little about a text."
    return s.TermProfile(
        hits=found.hits,
        texts=found.texts,
        forms=[s.FormCount(form=form, hits=hits, term=form_term(form)) for form, hits in found.forms],
        forms_total=found.forms_total,
        group_hits=found.group_hits.tolist(),
        group_rates=[plain(v) for v in found.group_rates],
        evenness=plain(found.evenness),
        share_of_words=found.share_of_words,
        remark=remark,
    )


@router.post("/terms/fields")
def as_fields(desk: Reading, given: s.TermOptions) -> t.TermFieldsModel:
    """A term as the fields of a form. Raises TermError with the place."""
    found = to_fields(given.entry().parse())

    def cells(rows) -> list[list[t.CellModel]]:
        return [
            [
                t.CellModel(text=c.text, kind=c.kind, least=(c.gap or (0, 0))[0], most=(c.gap or (0, 0))[1])
                for c in row
            ]
            for row in rows
        ]

    return t.TermFieldsModel(
        rows=cells(found.rows),
        conditions=[
            t.ConditionModel(relation=c.relation, unless=c.unless, within=c.within, rows=cells(c.rows))
            for c in found.conditions
        ],
        match_case=found.match_case,
        ignore_accents=found.ignore_accents,
        forms_of=found.forms_of,
    )


@router.post("/terms/text")
def as_text(desk: Reading, given: t.TermFieldsModel) -> t.TermText:
    """The text of a term given as fields. Raises TermError."""

    def cells(rows: list[list[t.CellModel]]) -> tuple[tuple[Cell, ...], ...]:
        return tuple(
            tuple(Cell(c.text, c.kind, (c.least, max(c.least, c.most))) for c in row) for row in rows
        )

    fields = TermFields(
        cells(given.rows),
        tuple(FieldCondition(c.relation, c.unless, c.within, cells(c.rows)) for c in given.conditions),
        given.match_case,
        given.ignore_accents,
        given.forms_of,
    )
    term = from_fields(fields)
    return t.TermText(
        source=write_term(term, options=False),
        written=write_term(term),
        match_case=term.match_case,
        ignore_accents=term.ignore_accents,
        forms_of=term.forms_of,
    )


@router.post("/dictionaries/{dictionary_id}/terms/{term_id}/exclude")
def exclude(desk: Writing, dictionary_id: int, term_id: int, given: t.ExcludeForm) -> s.TermPublic:
    """Leave one of the forms a term catches out of it."""
    stored = held(desk, dictionary_id)
    row = store.term_in(stored, term_id)
    term = exclude_form(store.entry_of(row).parse(), given.form)
    recorder = desk.recorder(f"Leave “{given.form}” out of {row.source}")
    values = {"source": write_term(term, options=False)}
    changed = store.change_term(recorder, stored, term_id, values, given.revision)
    recorder.save()
    return term_public(changed)


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/profile")
def profile_category(
    desk: Reading, dictionary_id: int, category_id: int, asked: s.ProfileRequest
) -> s.CategoryProfiles:
    """Every term of a category: hits, texts, where it falls, evenness, forms."""
    stored = loaded(desk, dictionary_id)
    store.category_in(stored, category_id)
    desk.look_at(asked.texts)
    corpus, scope, split = desk.corpus, asked.texts, asked.split
    groups = corpus.ground(scope, split).groups
    found = {}
    for row in stored.terms[category_id]:
        try:
            found[row.id] = _profile(corpus, store.entry_of(row).parse(), scope, split)
        except TermError as error:  # one term that cannot be worked out must not hide the others
            found[row.id] = s.TermProfile(
                hits=0, texts=0, forms=[], forms_total=0, group_hits=[], group_rates=[], evenness=None,
                share_of_words=0.0, remark=error.message,
            )  # fmt: skip
    return s.CategoryProfiles(groups=list(groups.labels), terms=found)


@router.post("/dictionaries/{dictionary_id}/counts")
def count_dictionary(desk: Reading, dictionary_id: int, asked: s.ProfileRequest) -> s.DictionaryCounts:
    """Counts of all categories, texts matched at all, and terms that match nothing or stand twice."""
    stored = loaded(desk, dictionary_id)
    desk.look_at(asked.texts)
    corpus, scope, split = desk.corpus, asked.texts, asked.split
    key = ("counts", tuple(_term_ids(stored)), stored.value.fingerprint(), stored.row.id, scope, split)
    fields = corpus.scope_fields(scope, split)
    return corpus.kept(key, lambda corpus: _count(stored, corpus, scope, split), fields)


def _count(
    stored: store.StoredDictionary, corpus: OpenCorpus, scope: Scope, split: Split
) -> s.DictionaryCounts:
    ground = corpus.ground(scope, Split())
    found = dictionary_overview(stored.value, corpus, ground)
    term_ids = _term_ids(stored)
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


def _term_ids(stored: store.StoredDictionary) -> list[int]:
    return [term.id for category in stored.categories for term in stored.terms[category.id]]


@router.post("/company", status_code=201)
def start_company(desk: Writing, request: Request) -> s.JobPublic:
    """Work out which words keep which company; a run that is under way is told instead."""
    from winnower.api.imports import job_public

    job = latest_job(desk.session, desk.project.id, "company")
    if job is None or job.state not in ("queued", "running"):
        params = {"name": "Company of words"}
        job = jobs.make_job(desk.session, desk.project.id, desk.account.id, "company", params)
    desk.session.commit()
    request.app.state.runner.wake()
    return job_public(job)


@router.post("/dictionaries/{dictionary_id}/care")
def care(desk: Reading, dictionary_id: int, asked: s.ProfileRequest) -> t.CarePublic:
    """Overlaps, terms that add nothing, terms that carry most, likely double meanings."""
    stored = loaded(desk, dictionary_id)
    desk.look_at(asked.texts)
    corpus, scope = desk.corpus, asked.texts
    company, state = company_of(desk)
    key = ("care", tuple(_term_ids(stored)), stored.value.fingerprint(), stored.row.id, scope, state)
    fields = corpus.scope_fields(scope)
    return corpus.kept(key, lambda corpus: _care(stored, corpus, scope, company, state), fields)


def _care(stored, corpus: OpenCorpus, scope: Scope, company: Company | None, state: str) -> t.CarePublic:
    found = look_over(stored.value, corpus.index, corpus.ground(scope, Split()))
    ids = _term_ids(stored)
    mixed = []
    if company is not None:
        terms = [entry.parse() for category in stored.value.categories for entry in category.terms]
        mask = corpus.ground(scope, Split()).mask
        fields = corpus.scope_fields(scope)
        known: dict[Any, Any] = corpus.kept(
            ("mixed", scope, state), lambda _: {}, fields
        )  # an edit asks again of few terms
        for at, two in mixed_terms(terms, corpus.index, corpus.lexicon, company, mask, known).items():
            words = [list(side) for side in two.words]
            mixed.append(t.MixedTerm(term_id=ids[at], share=two.share, sizes=list(two.sizes), words=words))
    return t.CarePublic(
        overlaps=[
            t.OverlapPublic(
                first=stored.categories[o.first].id, second=stored.categories[o.second].id, words=o.words
            )
            for o in found.overlaps
        ],
        idle=[ids[at] for at in found.idle],
        carrying=[t.CarryingTerm(term_id=ids[at], share=share) for at, share in found.carrying],
        mixed=mixed,
        company=state,  # type: ignore[arg-type]
    )


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/suggestions")
def suggestions(
    desk: Reading, dictionary_id: int, category_id: int, asked: t.SuggestionsRequest
) -> t.SuggestionsPublic:
    """What the category may be missing: forms, spellings, same company, synonyms, typical words."""
    stored = loaded(desk, dictionary_id)
    category = store.category_in(stored, category_id)
    desk.look_at(asked.texts)
    corpus, scope = desk.corpus, asked.texts
    lexicon, hits = corpus.lexicon, counts_in_scope(corpus, scope, Split()).form_hits
    language = word_store.language_of(desk.session, desk.project.id)
    company, state = company_of(desk)
    entries = [entry for category in stored.value.categories for entry in category.terms]
    own = stored.value.categories[stored.categories.index(category)].terms
    left_out = caught_folds([entry.parse() for entry in entries], corpus.index, lexicon)
    left_out[lexicon.numbers_of(list(word_store.dismissed(desk.session, category_id)))] = True
    left_out[stop_numbers(desk)] = True
    has_thesaurus = thesaurus.available and language == THESAURUS_LANGUAGE
    right = _judged_right(desk, category_id)
    sources = Sources(
        language,
        lemma_series(corpus, language) if language in LEMMA_LANGUAGES else None,
        company,
        thesaurus.close_to if has_thesaurus else None,
        right,
    )
    words = words_of([entry.parse() for entry in own], corpus.index, lexicon, hits)
    found = suggest_for(words, corpus.index, lexicon, hits, left_out, sources, asked.most_each)
    return t.SuggestionsPublic(
        suggestions=[
            t.SuggestionPublic(
                text=one.text,
                term=write_piece(Piece(one.text)),
                hits=one.hits,
                reason=one.reason,  # type: ignore[arg-type]
                like=one.like,
            )
            for one in found
        ],
        company=state,  # type: ignore[arg-type]
        thesaurus=has_thesaurus,
        judged_right=right.hits if right is not None and right.hits >= LEAST_JUDGED else 0,
    )


def _judged_right(desk: Desk, category_id: int) -> Places | None:
    """Hits of the category that were judged right; None where nothing was judged."""
    subject = subject_asked(desk, "category", category_id)
    frame = verdicts(desk.session, subject.kind, [category_id], "hit")[category_id]
    if not len(frame) or not subject.has_hits(None):
        return None
    corpus = desk.corpus
    return right_hits(subject.hits(corpus, Scope()), corpus.index, frame)


@router.post("/dictionaries/{dictionary_id}/categories/{category_id}/dismiss")
def dismiss(desk: Writing, dictionary_id: int, category_id: int, given: t.DismissRequest) -> s.Done:
    """Do not offer a word for this category again; can be undone."""
    store.category_in(loaded(desk, dictionary_id), category_id)
    recorder = desk.recorder(f"Do not suggest “{given.form}” again")
    word_store.dismiss(recorder, category_id, given.form)
    recorder.save()
    return s.Done(label=given.form)
