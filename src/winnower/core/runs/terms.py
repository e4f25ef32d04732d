"""Hits of terms, widened to what a run codes around them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from winnower.core.dictionary.hits import category_hits, caught_by_each
from winnower.core.index import Segment, TokenIndex
from winnower.core.pattern import Term
from winnower.core.runs.found import Found
from winnower.core.runs.recipe import Unit


@dataclass(frozen=True)
class Target:
    """What comes under one code: a name, and the terms that find it, with the number of the reason each one is; at
    least so many hits that begin with different words are to lie in a stretch."""

    name: str
    terms: tuple[Term, ...]
    reasons: tuple[int, ...]
    least: int = 1


def find_terms(
    targets: Sequence[Target], index: TokenIndex, mask: np.ndarray, unit: Unit, around: int = 10
) -> Found:
    """The stretches around hits of each target in the texts of ``mask`` (bool per text). Hits in one stretch are one
    passage; windows of words that overlap are one as well. Its reason is the first hit in it."""
    parts = []
    for number, target in enumerate(targets):
        for segment, base in zip(index.segments, index.base, strict=False):
            found = _in_segment(target, segment, mask[base : base + segment.n_texts], unit, around)
            if found is not None:
                text, start, end, reason, mark, after, hits = found
                of = np.full(len(text), number, np.int64)
                parts.append(Found.plain(text + int(base), start, end, of, reason, mark, after, hits))
    found_all = Found.joined(parts)
    return found_all.some(np.lexsort((found_all.start, found_all.target, found_all.text)))


def _in_segment(
    target: Target, segment: Segment, mask: np.ndarray, unit: Unit, around: int
) -> tuple[np.ndarray, ...] | None:
    if not segment.n_tokens or not target.terms:
        return None
    hits = category_hits(target.terms, segment)
    inside = mask[segment.text_of[hits.start]]
    start, length = hits.start[inside].astype(np.int64), hits.length[inside].astype(np.int64)
    if not len(start):
        return None
    order = np.argsort(start, kind="stable")
    start, after = start[order], (start + length)[order]
    low, high = stretches(segment, start, after, unit, around)
    # a stretch begins where it reaches beyond all before it
    begins = np.ones(len(low), bool)
    begins[1:] = low[1:] >= np.maximum.accumulate(high)[:-1]
    first = np.flatnonzero(begins)
    last_high = np.maximum.reduceat(high, first)
    hits_in = np.diff(np.append(first, len(low)))
    if target.least > 1:
        rich = _different(segment, start, begins) >= target.least
        first, last_high, hits_in = first[rich], last_high[rich], hits_in[rich]
        if not len(first):
            return None
    reason = _reasons(target, segment, mask, start[first], after[first])
    text = segment.text_of[start[first]].astype(np.int64)
    return text, low[first], last_high, reason, start[first], after[first], hits_in


def _different(segment: Segment, start: np.ndarray, begins: np.ndarray) -> np.ndarray:
    """For each stretch how many different words its hits begin with; ``begins`` (bool) where a new one does."""
    stretch = np.cumsum(begins) - 1
    pairs = np.unique(stretch * np.int64(max(segment.n_folds, 1)) + segment.fold_of[segment.codes[start]])
    return np.bincount(pairs // max(segment.n_folds, 1), minlength=int(stretch[-1]) + 1)


def stretches(
    segment: Segment, start: np.ndarray, after: np.ndarray, unit: Unit, around: int
) -> tuple[np.ndarray, np.ndarray]:
    """The first token of what is coded around hits of a segment (``start`` to before ``after``), and the one after
    its last. A hit that reaches over several sentences or paragraphs takes all of them."""
    if unit == "hit":
        return start, after
    text = segment.text_of[start]
    begin, end = segment.text_start[text].astype(np.int64), segment.text_start[text + 1].astype(np.int64)
    if unit == "text":
        return begin, end
    if unit == "words":  # they stay in the paragraph: in the next one somebody else may speak
        low, high = _whole(segment.paragraph_start.astype(np.int64), segment.n_tokens, start, after)
        low, high = np.maximum(low, start - around), np.minimum(high, after + around)
        return np.maximum(low, begin), np.minimum(high, end)
    starts = (segment.sentence_start if unit == "sentence" else segment.paragraph_start).astype(np.int64)
    low, high = _whole(starts, segment.n_tokens, start, after)
    return np.maximum(low, begin), np.minimum(high, end)


def _whole(
    starts: np.ndarray, n_tokens: int, start: np.ndarray, after: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """First token of the units (by their ``starts``) that hits touch, and the one after their last."""
    low = starts[np.searchsorted(starts, start, "right") - 1]
    return low, np.append(starts, n_tokens)[np.searchsorted(starts, after - 1, "right")]


def _reasons(
    target: Target, segment: Segment, mask: np.ndarray, start: np.ndarray, after: np.ndarray
) -> np.ndarray:
    """The reason of hits: of the terms that hit these very tokens the first, as they stand in the target."""
    if len(target.terms) == 1:
        return np.full(len(start), target.reasons[0], np.int64)
    caught = caught_by_each(target.terms, segment, mask)
    length = caught.length.astype(np.int64)
    most = int(max(length.max(initial=1), (after - start).max())) + 1
    key = caught.start * most + length
    order = np.lexsort((caught.of, key))
    # a term's own hit may have given way to an overlapping one of the same term: then the nearest before it
    at = np.minimum(np.searchsorted(key[order], start * most + (after - start)), len(order) - 1)
    found: np.ndarray = np.asarray(target.reasons, np.int64)[caught.of[order[at]]]
    return found
