"""What judging and the list of verdicts share: the hits of a category, a place as a passage, a verdict."""

from __future__ import annotations

import datetime as dt

import numpy as np

from winnower.api import schemas as s
from winnower.api.context import Desk
from winnower.api.evidence import origin_of, passage_public
from winnower.api.schemas import judging as j
from winnower.core.pattern import Term
from winnower.core.places import Places
from winnower.core.places import place_passage as around
from winnower.core.scope import Scope
from winnower.store import dictionaries as store
from winnower.store.models import Judgement

BEGINNING_CHARS = 600


def terms_under(stored: store.StoredDictionary, category_id: int) -> tuple[Term, ...]:
    """Terms of a category and of all below it."""
    at = stored.categories.index(store.category_in(stored, category_id))
    return tuple(
        entry.parse()
        for place in stored.value.with_children(at)
        for entry in stored.value.categories[place].terms
    )


def hits_under(desk: Desk, terms: tuple[Term, ...], scope: Scope) -> Places:
    return desk.corpus.hits(terms, scope, "text")


def place_passage(desk: Desk, text_id: int, start: int, end: int, body: str | None) -> s.PassagePublic | None:
    """The sentence around words, or the beginning of a text; None where they are gone."""
    corpus = desk.corpus
    place = int(corpus.places_of(np.array([text_id]))[0])
    if place < 0 or body is None:
        return None
    if start < 0:
        title, source, date = origin_of(desk, place)
        return s.PassagePublic(
            text_id=text_id,
            title=title,
            source=source,
            date=date,
            paragraph=1,
            start=0,
            before="",
            text=body[:BEGINNING_CHARS],
            after=body[BEGINNING_CHARS : BEGINNING_CHARS + 1],
            marks=[],
        )
    found = around(place, start, end, corpus.index)
    return None if found is None else passage_public(desk, found, body, "context")


def verdict_public(desk: Desk, one: Judgement, by: str) -> j.Verdict:
    return j.Verdict(
        by=by,
        mine=one.made_by == desk.account.id,
        verdict=one.verdict,
        version=one.version,
        made_at=one.made_at.replace(tzinfo=dt.UTC),
    )
