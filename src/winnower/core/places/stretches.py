"""Stretches of texts in code points as places in tokens."""

from __future__ import annotations

import numpy as np

from winnower.core.index import Segment, TokenIndex
from winnower.core.places.places import Places

#: A place is written as one number, text * STEP + code point.
STEP = 1 << 32


def as_places(text: np.ndarray, start: np.ndarray, end: np.ndarray, index: TokenIndex) -> Places:
    """The tokens that stretches touch. ``text`` are places in the index, ``start`` and ``end`` code points.
    A stretch without a token (signs alone) is the token after it, in a text without any it is left out."""
    parts = []
    of_segment = np.searchsorted(index.base, text, side="right") - 1
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        here = np.flatnonzero(of_segment == at)
        if len(here):
            local = text[here].astype(np.int64) - int(base)
            parts.append(_in_segment(segment, int(base), local, start[here], end[here]))
    return Places.joined(parts)


def words_covered(places: Places, index: TokenIndex) -> tuple[np.ndarray, np.ndarray]:
    """Texts, and how many of the words of each lie in one of the places at least; places in any order."""
    texts, counted = [np.empty(0, np.int64)], [np.empty(0, np.int64)]
    of_segment = np.searchsorted(index.base, places.text, side="right") - 1
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        here = np.flatnonzero(of_segment == at)
        if not len(here):
            continue
        here = here[np.argsort(places.start[here], kind="stable")]
        low = places.start[here].astype(np.int64)
        high = np.maximum.accumulate(low + places.length[here])
        # only what reaches beyond all that began before it is new
        low = np.maximum(low, np.concatenate([[0], high[:-1]]))
        before = _words_before(segment)
        new = before[high] - before[low]
        of_text = places.text[here] - int(base)
        found = np.bincount(of_text, weights=new, minlength=segment.n_texts).astype(np.int64)
        covered = np.flatnonzero(found)
        texts.append(covered + int(base))
        counted.append(found[covered])
    return np.concatenate(texts), np.concatenate(counted)


def _words_before(segment: Segment) -> np.ndarray:
    """int64 per token, and one more: the words before it."""

    def make() -> np.ndarray:
        return np.concatenate([[0], np.cumsum(segment.vocabulary["is_word"].to_numpy()[segment.codes])])

    found: np.ndarray = segment.remember(("words before",), make)
    return found


def _in_segment(segment: Segment, base: int, local: np.ndarray, start: np.ndarray, end: np.ndarray) -> Places:
    texts = np.unique(local)
    lows, highs = segment.text_start[texts].astype(np.int64), segment.text_start[texts + 1].astype(np.int64)
    tokens = _ranges(lows, highs)
    of_text = np.repeat(texts, highs - lows)
    begins = of_text * STEP + segment.char_start[tokens]
    ends = begins + segment.form_chars[segment.codes[tokens]]
    first = np.searchsorted(ends, local * STEP + start, "right")
    after = np.searchsorted(begins, local * STEP + end, "left")
    first = np.minimum(first, len(tokens) - 1) if len(tokens) else first
    after = np.maximum(after, first + 1)
    inside = np.zeros(len(local), bool)
    if len(tokens):
        # signs at the very end of a text belong to its last token
        over = of_text[first] != local
        first = np.where(over, np.maximum(first - 1, 0), first)
        after = np.where(over, first + 1, after)
        inside = of_text[first] == local
    kept = first[inside]
    return Places(local[inside] + base, tokens[kept] if len(kept) else kept, (after - first)[inside])


def _ranges(lows: np.ndarray, highs: np.ndarray) -> np.ndarray:
    """All numbers from each low to before its high, one after the other."""
    lengths = highs - lows
    ends = np.cumsum(lengths)
    total = int(ends[-1]) if len(ends) else 0
    found: np.ndarray = np.arange(total) + np.repeat(lows - (ends - lengths), lengths)
    return found
