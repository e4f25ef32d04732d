"""Word lists, the stop list, the language of a project."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from fastapi import APIRouter, Response

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Writing
from winnower.api.files import EXCEL, download
from winnower.api.numbers import plain
from winnower.api.schemas import words as w
from winnower.core.compare import words_method
from winnower.core.errors import NotFound
from winnower.core.index import KINDS
from winnower.core.measure import RATE_UNIT, per_words
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES, STEM_LANGUAGES
from winnower.core.words import (
    Pick,
    WordCounts,
    count_phrases,
    count_words,
    form_term,
    merge_forms,
    pick_rows,
    row_term,
)
from winnower.store import answering
from winnower.store import words as store
from winnower.store.opened import OpenCorpus
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}/words")
MOST_EXPORTED = 1_000_000
MOST_IN_EXCEL = 200_000


def counts_in_scope(corpus: OpenCorpus, scope, split) -> WordCounts:
    """Every fold of the scope, as it stands."""
    return corpus.kept(
        ("words", scope, split),
        lambda corpus: count_words(corpus.index, corpus.lexicon, corpus.ground(scope, split)),
        corpus.scope_fields(scope, split),
    )


def stop_numbers(desk: Desk) -> np.ndarray:
    """Numbers of the folds on the stop list."""
    return answering.stop_numbers(desk.session, desk.project, desk.corpus)


@dataclass(frozen=True)
class Listing:
    """A word list as it was asked for: its counts, the rows the stop list leaves out, and ``key``, all that
    decides what it is."""

    counts: WordCounts
    left_out: np.ndarray
    key: tuple[Hashable, ...]


def _listing(desk: Desk, asked: w.WordsRequest, language: str) -> Listing:
    desk.look_at(asked.texts)
    corpus, scope, split = desk.corpus, asked.texts, asked.split
    stop = stop_numbers(desk) if asked.stop else np.empty(0, np.int64)
    ground = corpus.ground(scope, split)
    fields = corpus.scope_fields(scope, split)
    nothing = np.empty(0, np.int64)
    where = (scope, split, stop.tobytes())
    key: tuple[Hashable, ...]
    if asked.unit == "phrase":
        least = max(asked.least_hits, 2)
        key = ("phrases", *where, asked.length, least)
        found = corpus.kept(
            key,
            lambda corpus: count_phrases(corpus.index, corpus.lexicon, ground, asked.length, stop, least),
            fields,
        )
        return Listing(found, nothing, key)
    counts = counts_in_scope(corpus, scope, split)
    if asked.merge != "none":
        key = ("merged", *where, language, asked.merge)
        merged = corpus.kept(
            key,
            lambda corpus: merge_forms(
                counts, corpus.index, corpus.lexicon, ground, language, asked.merge, stop
            ),
            fields,
        )
        return Listing(merged, nothing, key)
    rows = counts.row_of[stop]
    return Listing(counts, rows[rows >= 0], ("words", *where))


def _picked(desk: Desk, asked: w.WordsRequest, listing: Listing) -> np.ndarray:
    corpus = desk.corpus
    labels = corpus.ground(asked.texts, asked.split).groups.labels
    if asked.sort == "group" and asked.group not in labels:
        raise NotFound(f"There is no group “{asked.group}” in this split any more.")
    pick = Pick(
        () if asked.unit == "phrase" else tuple(KINDS.index(kind) for kind in asked.kinds),
        asked.least_hits,
        asked.least_texts,
        asked.least_chars,
        asked.find,
        asked.sort,
        labels.index(asked.group) if asked.sort == "group" and asked.group else 0,
        asked.descending,
    )
    return corpus.kept(
        ("picked", listing.key, pick),
        lambda _: pick_rows(listing.counts, pick, listing.left_out),
        corpus.scope_fields(asked.texts, asked.split),
    )


@router.post("")
def word_list(desk: Reading, asked: w.WordsRequest) -> w.WordsPage:
    """Words or phrases of the scope with hits, texts and evenness, a page at a time."""
    corpus = desk.corpus
    language = store.language_of(desk.session, desk.project.id)
    listing = _listing(desk, asked, language)
    counts, rows = listing.counts, _picked(desk, asked, listing)
    ground = corpus.ground(asked.texts, asked.split)
    shown = rows[asked.start : asked.start + asked.most]
    words = int(corpus.index.words[ground.mask].sum())
    can_merge = [
        way for way, known in (("lemma", LEMMA_LANGUAGES), ("stem", STEM_LANGUAGES)) if language in known
    ]
    return w.WordsPage(
        total=len(rows),
        start=asked.start,
        groups=list(ground.groups.labels),
        words_in_scope=words,
        texts_in_scope=int(ground.mask.sum()),
        left_out=len(listing.left_out),
        language=language,
        can_merge=can_merge,  # type: ignore[arg-type]
        rows=_rows(corpus, asked, counts, shown, words, language),
        method=[
            s.MethodPart(heading=h, words=v, source=c)
            for h, v, c in words_method(asked.unit, asked.length, asked.merge, asked.stop, language)
        ],
    )


def _rows(
    corpus: OpenCorpus, asked: w.WordsRequest, counts: WordCounts, rows: np.ndarray, words: int, language: str
) -> list[w.WordRow]:
    rates = per_words(counts.group_hits[rows], counts.group_words)
    whole = per_words(counts.hits[rows], words)
    evenness = counts.evenness(rows)
    names = counts.names.gather(rows).to_list()
    out = []
    for at, row in enumerate(rows.tolist()):
        forms = counts.forms(corpus.lexicon, row) if asked.merge != "none" else []
        if asked.unit == "phrase":
            forms = []
        out.append(
            w.WordRow(
                name=names[at],
                kind=KINDS[counts.kinds[row]],  # type: ignore[arg-type]
                term=row_term(names[at], [form for form, _ in forms], asked.unit, asked.merge, language),
                hits=int(counts.hits[row]),
                texts=int(counts.texts[row]),
                rate=plain(whole[at]),
                evenness=plain(evenness[at]),
                group_hits=counts.group_hits[row].astype(int).tolist(),
                group_rates=[plain(rate) for rate in rates[at]],
                forms=[s.FormCount(form=form, hits=hits, term=form_term(form)) for form, hits in forms],
            )
        )
    return out


@router.post("/export")
def export_words(desk: Reading, asked: w.WordsRequest, form: Literal["csv", "xlsx"] = "csv") -> Response:
    """The whole list as CSV or Excel, in its order."""
    language = store.language_of(desk.session, desk.project.id)
    listing = _listing(desk, asked, language)
    counts, rows = (
        listing.counts,
        _picked(desk, asked, listing)[: MOST_IN_EXCEL if form == "xlsx" else MOST_EXPORTED],
    )
    ground = desk.corpus.ground(asked.texts, asked.split)
    words = ground.words
    columns = [
        Column("phrase" if asked.unit == "phrase" else "word", counts.names.gather(rows).to_list()),
        Column("kind", [KINDS[kind] for kind in counts.kinds[rows]]),
        Column("hits", counts.hits[rows].tolist()),
        Column("texts", counts.texts[rows].tolist()),
        Column("evenness", [plain(value) for value in counts.evenness(rows)]),
    ]
    for at, label in enumerate(ground.groups.labels):
        hits = counts.group_hits[rows, at]
        columns.append(Column(f"hits: {label}", hits.astype(int).tolist()))
        rate = per_words(hits, words[at])
        columns.append(Column(f"{RATE_UNIT}: {label}", [plain(value) for value in rate]))
    method = words_method(asked.unit, asked.length, asked.merge, asked.stop, language)
    name = f"{'phrases' if asked.unit == 'phrase' else 'words'} by {asked.split.field or 'all'}.{form}"
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), name, "text/csv; charset=utf-8")
    return download(listing_xlsx(columns, method), name, EXCEL)


@router.get("/settings")
def word_settings(desk: Reading) -> w.WordSettings:
    """The language and the stop list."""
    language = store.language_of(desk.session, desk.project.id)
    added, kept = store.own_stop_words(desk.session, desk.project.id)
    return w.WordSettings(
        language=language,
        languages=list(store.known_languages()),
        has_lemmas=language in LEMMA_LANGUAGES,
        shipped=sorted(store.shipped_list(language)),
        added=sorted(added),
        kept=sorted(kept),
    )


@router.put("/language")
def choose_language(desk: Writing, given: w.LanguageChoice) -> s.Done:
    """Choose the language whose stop list and word forms are used."""
    recorder = desk.recorder(f"Language of the words: {given.language}")
    store.choose_language(recorder, given.language, given.seen)
    recorder.save()
    return s.Done(label=given.language)


@router.post("/stop-list")
def change_stop_list(desk: Writing, given: w.StopWords) -> s.Done:
    """Put words on the stop list, or take them off."""
    what = f"“{given.forms[0]}”" if len(given.forms) == 1 else f"{len(given.forms)} words"
    label = f"{what} on the stop list" if given.listed else f"{what} off the stop list"
    recorder = desk.recorder(label)
    changed = store.list_words(recorder, given.forms, given.listed)
    recorder.save()
    return s.Done(label=str(changed))
