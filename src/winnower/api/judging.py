"""Samples to judge, verdicts, and what they say about terms and categories."""

from __future__ import annotations

import datetime as dt
import secrets

import numpy as np
from fastapi import APIRouter

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Writing
from winnower.api.instruments import loaded
from winnower.api.judged import hits_under, place_passage, terms_under, verdict_public
from winnower.api.numbers import plain
from winnower.api.schemas import judging as j
from winnower.core.errors import DictionaryError
from winnower.core.pattern import write_term
from winnower.core.places import Places, hits_in_texts, places_in_texts
from winnower.core.review.quality import Quality, balanced_sample, missed_texts, precision, quality_of
from winnower.core.review.verdicts import (
    judged_hits,
    standing,
    standing_texts,
    texts_without,
)
from winnower.core.scope import CategoryColumn, Scope, Split, scope_to_plain
from winnower.store import dictionaries as store
from winnower.store import judging as kept
from winnower.store.fields import lock_project
from winnower.store.models import JudgingSample
from winnower.store.opened import OpenCorpus
from winnower.store.texts import bodies

router = APIRouter(prefix="/projects/{project_id}/dictionaries/{dictionary_id}")


def _sources(corpus: OpenCorpus) -> np.ndarray:
    source = corpus.columns.fields["source"]
    assert isinstance(source, CategoryColumn)
    return source.codes


@router.post("/categories/{category_id}/samples", status_code=201)
def draw(desk: Writing, dictionary_id: int, category_id: int, asked: j.SampleRequest) -> j.SamplePublic:
    """Draw a seeded sample: hits in equal numbers from each source, or texts without a hit."""
    stored = loaded(desk, dictionary_id)
    category = store.category_in(stored, category_id)
    scope, corpus = asked.texts, desk.corpus
    terms, name = terms_under(stored, category_id), ""
    if asked.term_id is not None:
        term = store.entry_of(store.term_in(stored, asked.term_id)).parse()
        terms, name = (term,), write_term(term)
    if not terms:
        raise DictionaryError(f"“{category.name}” has no terms yet, so there is nothing to judge.")
    seed = asked.seed or 1 + secrets.randbelow(999_999)
    found = hits_under(desk, terms, scope)
    if asked.kind == "hit":
        if not found.hits:
            raise DictionaryError("There is no hit in this scope to judge.")
        chosen = balanced_sample(_sources(corpus)[found.text], asked.size, seed)
        part = found.some(chosen)
        items = [list(row) for row in places_in_texts(part, corpus.index).iter_rows()]
    else:
        places = np.flatnonzero(texts_without(found, corpus.index, corpus.ground(scope, Split()).mask))
        if not len(places):
            raise DictionaryError("Every text of this scope has a hit; nothing is left to look through.")
        size = min(asked.size, len(places))
        places = np.random.default_rng(seed).choice(places, size, replace=False)
        items = [[int(i)] for i in corpus.columns.text_id[places]]
    row = kept.keep_sample(
        desk.session,
        JudgingSample(
            project_id=desk.project.id,
            dictionary_id=dictionary_id,
            category_id=category_id,
            term=name[:800],
            kind=asked.kind,
            seed=seed,
            scope=scope_to_plain(scope),
            items=items,
            version=store.keep_version(desk.session, stored, desk.account.id),
            made_by=desk.account.id,
        ),
    )
    return _sample(desk, row, desk.account.full_name)


def _sample(desk: Desk, row: JudgingSample, by: str) -> j.SamplePublic:
    ids = sorted({item[0] for item in row.items})
    given = kept.verdicts_in_texts(desk.session, row.category_id, row.kind, ids)
    places = {(v.text_id, v.start, v.end) for v, _ in given}
    keys = [tuple(item) if row.kind == "hit" else (item[0], -1, -1) for item in row.items]
    return j.SamplePublic(
        id=row.id,
        kind=row.kind,  # type: ignore[arg-type]
        category_id=row.category_id,
        term=row.term,
        seed=row.seed,
        size=len(row.items),
        judged=sum(key in places for key in keys),
        version=row.version,
        by=by,
        made_at=row.made_at.replace(tzinfo=dt.UTC),
    )


@router.get("/categories/{category_id}/samples")
def samples(desk: Reading, dictionary_id: int, category_id: int) -> list[j.SamplePublic]:
    """Samples drawn so far, the newest first."""
    store.category_in(loaded(desk, dictionary_id), category_id)
    return [_sample(desk, row, by) for row, by in kept.samples_of(desk.session, desk.project.id, category_id)]


@router.get("/samples/{sample_id}")
def sample(desk: Reading, dictionary_id: int, sample_id: int) -> j.SampleItems:
    """A sample with its passages and the verdicts so far, in the order drawn."""
    loaded(desk, dictionary_id)
    row = kept.sample_in(desk.session, desk.project.id, sample_id)
    ids = sorted({item[0] for item in row.items})
    body = bodies(desk.session, ids)
    verdicts: dict[tuple, list[j.Verdict]] = {}
    for one, by in kept.verdicts_in_texts(desk.session, row.category_id, row.kind, ids):
        verdicts.setdefault((one.text_id, one.start, one.end), []).append(verdict_public(desk, one, by))
    items = []
    for item in row.items:
        text_id, start, end = item if row.kind == "hit" else (item[0], -1, -1)
        items.append(
            j.SampleItem(
                text_id=text_id,
                start=start,
                end=end,
                passage=place_passage(desk, text_id, start, end, body.get(text_id)),
                verdicts=verdicts.get((text_id, start, end), []),
            )
        )
    by = next(
        (
            name
            for one, name in kept.samples_of(desk.session, desk.project.id, row.category_id)
            if one.id == row.id
        ),
        "",
    )
    return j.SampleItems(sample=_sample(desk, row, by), items=items)


@router.post("/categories/{category_id}/judge")
def judge(desk: Writing, dictionary_id: int, category_id: int, given: j.JudgeRequest) -> s.Done:
    """Give a verdict, change it, or take it back; can be undone."""
    lock_project(desk.session, desk.project)  # two quick verdicts on one hit come one after the other
    stored = loaded(desk, dictionary_id)
    name = store.category_in(stored, category_id).name
    desk.corpus.place_of(given.text_id)
    recorder = desk.recorder(f"Judge a {given.kind} of {name}")
    kept.judge(
        recorder,
        category_id=category_id,
        kind=given.kind,
        place=(given.text_id, given.start, given.end),
        verdict=given.verdict,
        term=given.term,
        version=store.keep_version(desk.session, stored, desk.account.id),
    )
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/categories/{category_id}/quality")
def quality(
    desk: Reading, dictionary_id: int, category_id: int, asked: s.ProfileRequest
) -> j.CategoryQuality:
    """Precision of the category and its terms from all verdicts, and what is missed."""
    stored = loaded(desk, dictionary_id)
    at = stored.categories.index(store.category_in(stored, category_id))
    corpus, scope = desk.corpus, asked.texts
    under = [stored.categories[place].id for place in stored.value.with_children(at)]
    frames = kept.verdicts(desk.session, under, "hit")
    terms = terms_under(stored, category_id)
    found = hits_under(desk, terms, scope) if terms else None
    own = frames[category_id]
    whole = quality_of(judged_hits(found, corpus.index, own)) if found else precision(0, 0)
    by_term = {}
    mask = corpus.ground(scope, Split()).mask
    judged_texts = mask & np.isin(corpus.index.text_id, own["text_id"].to_numpy())
    for row in stored.terms[category_id] if len(own) else []:
        one = hits_in_texts([store.entry_of(row).parse()], corpus.index, judged_texts)
        judged = quality_of(judged_hits(one, corpus.index, own))
        if judged.judged:
            by_term[row.id] = _quality(judged)
    places = standing(own, found, corpus.index) if found and len(own) else None
    different = int((places["stands"] & places["differ"]).sum()) if places is not None else 0
    return j.CategoryQuality(
        category=_quality(whole),
        terms=by_term,
        missed=_missed(desk, category_id, found, scope, whole),
        disagreements=different,
        judges=kept.judges_of(desk.session, category_id),
    )


def _quality(found: Quality) -> j.QualityPublic:
    return j.QualityPublic(
        judged=found.judged,
        right=found.right,
        share=plain(found.share),
        low=plain(found.low),
        high=plain(found.high),
    )


def _missed(
    desk: Desk, category_id: int, found: Places | None, scope: Scope, whole: Quality
) -> j.MissedPublic:
    """Only verdicts on texts that still have no hit, in the scope, count."""
    corpus = desk.corpus
    mask = corpus.ground(scope, Split()).mask
    places = texts_without(found, corpus.index, mask)
    given = kept.verdicts(desk.session, [category_id], "text")[category_id]
    verdict = standing_texts(given, places, corpus.index).filter("stands")["verdict"]
    without = int(places.sum())
    with_hit = int((mask & (corpus.index.words > 0)).sum()) - without
    missed = missed_texts(int(verdict.sum()), len(verdict), without, with_hit, whole)
    return j.MissedPublic(
        share=_quality(missed.share),
        texts=[plain(v) for v in missed.texts],
        recall=[plain(v) for v in missed.recall],
        without_hit=without,
        with_hit=with_hit,
    )
