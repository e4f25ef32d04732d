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


__all__ = ["Hits", "category_hits", "prepared", "texts_of_entries", "texts_of_hits"]
