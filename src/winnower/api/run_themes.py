"""Themes of the texts: noun phrases under their head words, to be ticked and coded."""

from __future__ import annotations

import math

import numpy as np
from fastapi import APIRouter

from winnower.api.codebook import passages_of
from winnower.api.context import Desk, Reading
from winnower.api.schemas import learning as le
from winnower.api.words import stop_numbers
from winnower.core.index.lexicon import brought_together
from winnower.core.places.inside import tokens_inside
from winnower.core.places.stretches import as_places
from winnower.core.scope import Scope, Split
from winnower.core.themes import Head, Phrase, classes_of, find_themes
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES
from winnower.readers.word_classes import word_uses
from winnower.store.opened import OpenCorpus
from winnower.store.words import NO_LANGUAGE, language_of

router = APIRouter(prefix="/projects/{project_id}/runs")
MOST_GROUPS = 60


@router.post("/themes")
def themes(desk: Reading, asked: le.ThemesRequest) -> le.ThemesPublic:
    """The most frequent noun phrases of a scope, gathered under their heads, with how much of them is coded."""
    desk.look_at(asked.texts)
    corpus = desk.corpus
    language = language_of(desk.session, desk.project.id)
    ground = corpus.ground(asked.texts, asked.split)
    split = asked.split if ground.groups.n_groups <= MOST_GROUPS else Split()
    stop = tuple(stop_numbers(desk).tolist())
    found: list[Head] = corpus.kept(
        ("themes", asked.texts, split, language, stop),
        lambda one: _found(desk, one, asked.texts, split, language, np.array(stop, np.int64)),
    )
    groups = corpus.ground(asked.texts, split).groups
    return le.ThemesPublic(
        heads=[
            le.ThemeHead(**_phrase(one.whole).model_dump(), phrases=[_phrase(part) for part in one.phrases])
            for one in found
        ],
        labels=list(groups.labels) if split.field is not None else [],
        language="" if language == NO_LANGUAGE else language,
        by_list=language == "en" and word_uses() is not None,
        texts=int(ground.mask.sum()),
    )


def _phrase(one: Phrase) -> le.ThemePhrase:
    return le.ThemePhrase(
        words=one.words,
        hits=one.hits,
        texts=one.texts,
        covered=one.covered,
        evenness=None if math.isnan(one.evenness) else one.evenness,
        groups=list(one.groups),
        forms=list(one.forms),
    )


def _found(
    desk: Desk, corpus: OpenCorpus, scope: Scope, split: Split, language: str, stop: np.ndarray
) -> list[Head]:
    lexicon = corpus.lexicon
    folds = lexicon.folds.to_list()
    known = language in LEMMA_LANGUAGES
    lemmas = brought_together(corpus.index, lexicon, language, "lemma").to_list() if known else folds
    uses = word_uses() if language == "en" else None
    functions = [folds[at] for at in stop.tolist()]
    classes = classes_of(folds, lemmas, lexicon.kinds, functions, uses)
    passages = passages_of(desk)
    place = corpus.places_of(passages.text_id)
    there = place >= 0
    places = as_places(place[there], passages.start[there], passages.end[there], corpus.index)
    coded = tokens_inside(corpus.index, places)
    return find_themes(corpus.index, lexicon, classes, corpus.ground(scope, split), coded)
