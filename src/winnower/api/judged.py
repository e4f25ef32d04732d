"""What judging and the list of verdicts share: the hits of a category, a place as a passage, a verdict."""

from __future__ import annotations

import datetime as dt

import numpy as np

from winnower.api import schemas as s
from winnower.api.context import Desk
from winnower.api.evidence import passage_public
from winnower.api.schemas import judging as j
from winnower.core.compare import Evidence, passages
from winnower.core.pattern import Term
from winnower.core.scope import Scope, Split, value_at
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


def hits_under(desk: Desk, terms: tuple[Term, ...], scope: Scope) -> Evidence:
    return desk.corpus.evidence(terms, scope, Split(), None, "text")


def place_passage(desk: Desk, text_id: int, start: int, end: int, body: str | None) -> s.PassagePublic | None:
    """The sentence around words, or the beginning of a text; None where they are gone."""
    corpus = desk.corpus
    place = int(corpus.places_of(np.array([text_id]))[0])
    if place < 0 or body is None:
        return None
    if start < 0:
        fields = corpus.columns.fields
        return s.PassagePublic(
            text_id=text_id,
            title=fields["title"].values[place],  # type: ignore[union-attr]
            source=value_at(fields["source"], place),  # type: ignore[arg-type]
            date=value_at(fields["date"], place),  # type: ignore[arg-type]
            paragraph=1,
            start=0,
            before="",
            text=body[:BEGINNING_CHARS],
            after=body[BEGINNING_CHARS : BEGINNING_CHARS + 1],
            marks=[],
        )
    segment, local = corpus.index.locate(place)
    low, high = int(segment.text_start[local]), int(segment.text_start[local + 1])
    chars = segment.char_start[low:high]
    first = int(np.searchsorted(chars, start))
    if first >= len(chars) or chars[first] != start:
        return None
    last = int(np.searchsorted(chars, end)) - 1
    hit = Evidence(np.array([place]), np.array([low + first]), np.array([max(last - first + 1, 1)]))
    found, _ = passages(hit, corpus.index, 0, 1)
    return passage_public(desk, found[0], body, "context")


def verdict_public(desk: Desk, one: Judgement, by: str) -> j.Verdict:
    return j.Verdict(
        by=by,
        mine=one.made_by == desk.account.id,
        verdict=one.verdict,
        version=one.version,
        made_at=one.made_at.replace(tzinfo=dt.UTC),
    )
