"""What counts as a hit of a category: every token position once, the longest hit first.

Within one category overlapping hits count once: the longest wins, then the leftmost. Between
categories hits are independent. A term alone is counted as a category of one term.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from winnower.core.dictionary.dictionary import TermEntry
from winnower.core.index import Segment, TokenIndex
from winnower.core.pattern import (
    Hits,
    Singles,
    Term,
    find_term,
    longest_first,
    positions_in_order,
    rows_of_each,
    union,
)


def category_hits(terms: Sequence[Term], segment: Segment) -> Hits:
    """All hits of the terms taken together, none overlapping another."""
    singles = [term for term in terms if term.single]
    found = [find_term(term, segment) for term in terms if not term.single]
    if singles:
        positions = positions_in_order(segment, Singles(singles).forms(segment))
        found.append(Hits(positions, np.ones(len(positions), np.int64)))
    return longest_first(union(found))


def texts_of_hits(terms: Sequence[Term], index: TokenIndex) -> np.ndarray:
    """The text of every hit of the terms taken together, one entry a hit, in no order.

    Where all terms are single words no position can be hit twice, so the inversion gives the texts
    at once and nothing is sorted.
    """
    return _texts(terms, Singles(terms) if all(term.single for term in terms) else None, index)


def _texts(terms: Sequence[Term], singles: Singles | None, index: TokenIndex) -> np.ndarray:
    parts = []
    for segment, base in zip(index.segments, index.base, strict=False):
        if singles is not None:
            texts = segment.texts_of(singles.forms(segment))
        else:
            texts = segment.text_of[category_hits(terms, segment).start]
        parts.append(texts.astype(np.int64) + base if base else texts)
    return np.concatenate(parts) if parts else np.empty(0, np.int64)


class Caught(NamedTuple):
    """Hits of many terms, each counted as if it were alone: ``of`` the place of the term, ``start`` and
    ``length`` as in Hits; int64, by term for single words, the others after them."""

    of: np.ndarray
    start: np.ndarray
    length: np.ndarray


def caught_by_each(terms: Sequence[Term], segment: Segment, mask: np.ndarray | None = None) -> Caught:
    """The hits of every term by itself, in the texts of ``mask`` (bool per text of the segment).

    Terms of single words, the bulk of any dictionary, are looked up together.
    """
    single = [at for at, term in enumerate(terms) if term.single]
    of, forms = rows_of_each([terms[at] for at in single], segment)
    low, size = segment.form_start[forms], np.diff(segment.form_start)[forms]
    at = np.arange(int(size.sum())) + np.repeat(low - (np.cumsum(size) - size), size)
    of_term = np.repeat(np.array(single, np.int64)[of], size)
    if mask is not None:
        inside = mask[segment.order_text[at]]
        at, of_term = at[inside], of_term[inside]
    parts = [Caught(of_term, segment.order[at].astype(np.int64), np.ones(len(at), np.int64))]
    for place, term in enumerate(terms):
        if term.single:
            continue
        found = category_hits([term], segment)
        inside = slice(None) if mask is None else mask[segment.text_of[found.start]]
        start = found.start[inside].astype(np.int64)
        parts.append(Caught(np.full(len(start), place, np.int64), start, found.length[inside]))
    return Caught(*(np.concatenate(part) for part in zip(*parts, strict=True)))


def count_each(terms: Sequence[Term], index: TokenIndex, mask: np.ndarray | None = None) -> np.ndarray:
    """Hits of every term by itself, int64, in the texts of ``mask`` (bool per text)."""
    hits = np.zeros(len(terms), np.int64)
    for segment, base in zip(index.segments, index.base, strict=False):
        inside = None if mask is None else mask[base : base + segment.n_texts]
        hits += np.bincount(caught_by_each(terms, segment, inside).of, minlength=len(terms))
    return hits


class Prepared(NamedTuple):
    """Terms read, and looked up together where all are single words."""

    terms: tuple[Term, ...]
    singles: Singles | None


@lru_cache(maxsize=5_000)
def prepared(entries: tuple[TermEntry, ...]) -> Prepared:
    """The terms of a category, read once. Raises TermError."""
    terms = tuple(entry.parse() for entry in entries)
    return Prepared(terms, Singles(terms) if all(term.single for term in terms) else None)


def texts_of_entries(entries: tuple[TermEntry, ...], index: TokenIndex) -> np.ndarray:
    """The same as ``texts_of_hits`` for entries of a dictionary."""
    terms, singles = prepared(entries)
    return _texts(terms, singles, index)


__all__ = [
    "Caught",
    "Hits",
    "category_hits",
    "caught_by_each",
    "count_each",
    "prepared",
    "texts_of_entries",
    "texts_of_hits",
]
