"""Which hits have something near them, or lie inside something: searches in sorted positions.

Within n words: the words between two hits are fewer than n, so neighbours are one word apart. Both
stand in one text and do not overlap. In a sentence: the other hit lies wholly in the sentence in
which the hit begins.
"""

from __future__ import annotations

import numpy as np

from winnower.core.index import Segment
from winnower.core.pattern.spans import Hits, place_in
from winnower.core.pattern.term import Condition


def fulfilled(condition: Condition, hits: Hits, others: Hits, segment: Segment) -> np.ndarray:
    """bool per hit: one of ``others`` stands to it as the condition says; ``unless`` is not looked at."""
    if not len(others.start):
        return np.zeros(len(hits.start), bool)
    if condition.relation == "part-of":
        return _inside(hits, others, segment.n_tokens)
    low, high = _reach(condition.within, hits, segment)
    found = np.zeros(len(hits.start), bool)
    if condition.relation in ("near", "before"):
        found |= _follows(hits, others, high, segment.n_tokens, whole=condition.within is None)
    if condition.relation in ("near", "after"):
        found |= _precedes(hits, others, low, segment.n_tokens, whole=condition.within is None)
    return found


def _reach(within: int | None, hits: Hits, segment: Segment) -> tuple[np.ndarray, np.ndarray]:
    """First token that may be used before each hit, and the token after the last one behind it."""
    text = segment.text_of[hits.start]
    low, high = segment.text_start[text], segment.text_start[text + 1]
    if within is None:
        at = place_in(segment.sentence_start, hits.start, segment.n_tokens, "right")
        ends = np.append(segment.sentence_start, segment.n_tokens)
        return segment.sentence_start[at - 1].astype(np.int64), np.minimum(ends[at], high)
    if segment.stretch_start is not None:
        at = place_in(segment.stretch_start, hits.start, segment.n_tokens, "right")
        low, high = segment.stretch_start[at - 1], np.append(segment.stretch_start, segment.n_tokens)[at]
    return np.maximum(low, hits.start - within), np.minimum(high, hits.start + hits.length + within)


def _follows(hits: Hits, others: Hits, high: np.ndarray, n: int, *, whole: bool) -> np.ndarray:
    """Another begins at or after the hit's end and before ``high`` (``whole``: ends by then, too)."""
    at = place_in(others.start, hits.start + hits.length, n)
    there = np.minimum(at, len(others.start) - 1)
    if not whole:
        answer: np.ndarray = (at < len(others.start)) & (others.start[there] < high)
        return answer
    first_end = np.minimum.accumulate((others.start + others.length)[::-1])[::-1]
    found: np.ndarray = (at < len(others.start)) & (first_end[there] <= high)
    return found


def _precedes(hits: Hits, others: Hits, low: np.ndarray, n: int, *, whole: bool) -> np.ndarray:
    """Another ends at or before the hit's start and after ``low`` (``whole``: begins there or later)."""
    end = others.start + others.length
    order = np.argsort(end, kind="stable") if (np.diff(end) < 0).any() else slice(None)
    end, start = end[order], others.start[order]
    at = place_in(end, hits.start, n, "right") - 1
    there = np.maximum(at, 0)
    if not whole:
        answer: np.ndarray = (at >= 0) & (end[there] > low)
        return answer
    found: np.ndarray = (at >= 0) & (np.maximum.accumulate(start)[there] >= low)
    return found


def _inside(hits: Hits, others: Hits, n: int) -> np.ndarray:
    at = place_in(others.start, hits.start, n, "right") - 1
    furthest = np.maximum.accumulate(others.start + others.length)
    found: np.ndarray = (at >= 0) & (furthest[np.maximum(at, 0)] >= hits.start + hits.length)
    return found
