"""What counts as a hit of a category: every token position once, the longest hit first.

Within one category overlapping hits count once: the longest wins, then the leftmost. Between
categories hits are independent.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from winnower.core.index import Segment, TokenIndex
from winnower.core.pattern import Hits, Term, find_term, leftmost, resolve


class CategoryHits(NamedTuple):
    """Hits of one category in one segment; ``start`` is sorted."""

    start: np.ndarray
    length: np.ndarray


def category_hits(terms: Sequence[Term], segment: Segment) -> CategoryHits:
    """All hits of the terms taken together, none overlapping another."""
    by_length: dict[int, list[Term]] = {}
    for term in terms:
        by_length.setdefault(term.length, []).append(term)
    found = [(n, _starts(by_length[n], n, segment)) for n in sorted(by_length, reverse=True)]
    return combine(found)


def combine(found: Sequence[tuple[int, np.ndarray]]) -> CategoryHits:
    """Hits by falling length (``(length, sorted starts)``) made free of overlaps.

    >>> combine([(2, np.array([4])), (1, np.array([1, 4, 5]))]).start.tolist()
    [1, 4]
    """
    start, length = np.empty(0, np.int64), np.empty(0, np.int64)
    for n, candidates in found:
        kept = leftmost(_free(candidates, n, start, length), n)
        start = np.concatenate([start, kept])
        length = np.concatenate([length, np.full(len(kept), n, np.int64)])
        by_place = np.argsort(start, kind="stable")
        start, length = start[by_place], length[by_place]
    return CategoryHits(start, length)


def _free(candidates: np.ndarray, n: int, start: np.ndarray, length: np.ndarray) -> np.ndarray:
    """Candidates of ``n`` tokens that touch none of the hits taken before."""
    if not len(start) or not len(candidates):
        return candidates
    before = np.searchsorted(start, candidates, side="right") - 1
    end_before = np.where(before >= 0, (start + length)[np.maximum(before, 0)], -1)
    after = np.searchsorted(start, candidates, side="left")
    start_after = np.where(
        after < len(start), start[np.minimum(after, len(start) - 1)], np.iinfo(np.int64).max
    )
    return candidates[(end_before <= candidates) & (start_after >= candidates + n)]


def _starts(terms: Sequence[Term], n: int, segment: Segment) -> np.ndarray:
    if n == 1:
        return np.sort(segment.positions_of(single_forms(terms, segment)))
    return np.unique(np.concatenate([find_term(term, segment) for term in terms]))


def single_forms(terms: Sequence[Term], segment: Segment) -> np.ndarray:
    """The forms that one-word terms stand for, each once, sorted."""
    found = [resolve(term, segment)[0] for term in terms]
    return np.unique(np.concatenate(found)) if found else np.empty(0, np.int64)


def texts_of_hits(terms: Sequence[Term], index: TokenIndex) -> np.ndarray:
    """The text of every hit of the terms taken together, one entry a hit, in no order.

    Where all terms are single words no position can be hit twice, so the inversion gives the texts
    at once and nothing is sorted.
    """
    parts = []
    singles = all(term.length == 1 for term in terms)
    for segment, base in zip(index.segments, index.base, strict=False):
        if singles:
            texts = segment.texts_of(single_forms(terms, segment))
        else:
            texts = segment.text_of[category_hits(terms, segment).start]
        parts.append(texts.astype(np.int64) + base if base else texts)
    return np.concatenate(parts) if parts else np.empty(0, np.int64)


__all__ = ["CategoryHits", "Hits", "category_hits", "combine", "single_forms", "texts_of_hits"]
