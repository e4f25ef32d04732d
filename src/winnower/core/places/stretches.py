"""Stretches of texts in code points as places in tokens."""

from __future__ import annotations

from collections.abc import Iterator

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


def token_spans(
    text: np.ndarray, start: np.ndarray, end: np.ndarray, index: TokenIndex
) -> tuple[np.ndarray, np.ndarray]:
    """As ``as_places``, one entry for each stretch in its order: its first token within the segment, and how many it
    has; 0 where its text has no token."""
    first, length = np.zeros(len(text), np.int64), np.zeros(len(text), np.int64)
    of_segment = np.searchsorted(index.base, text, side="right") - 1
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        here = np.flatnonzero(of_segment == at)
        if not len(here) or not segment.n_tokens:
            continue
        local = text[here].astype(np.int64) - int(base)
        low, high = _tokens(segment, local, start[here], end[here])
        inside = segment.text_of[np.minimum(low, segment.n_tokens - 1)] == local
        first[here], length[here] = low, np.where(inside, high - low, 0)
    return first, length


def spans_of(
    text: np.ndarray, start: np.ndarray, end: np.ndarray, index: TokenIndex, unit: str
) -> tuple[np.ndarray, np.ndarray]:
    """int64 per stretch: its first word (or paragraph) in the corpus, and the one after its last. ``text`` are places
    in the index, ``start`` and ``end`` code points; all units of a corpus are numbered through."""
    first, after = np.zeros(len(text), np.int64), np.zeros(len(text), np.int64)
    of_segment = np.searchsorted(index.base, text, side="right") - 1
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        here = np.flatnonzero(of_segment == at)
        if not len(here) or not segment.n_tokens:
            continue
        local = text[here].astype(np.int64) - int(base)
        low, high = _tokens(segment, local, start[here], end[here])
        if unit == "words":
            before = _words_before(segment)
            first[here], after[here] = before[low], before[high]
        else:
            starts = segment.paragraph_start
            first[here] = np.searchsorted(starts, low, "right")
            after[here] = np.searchsorted(starts, np.maximum(high - 1, low), "right") + 1
    return first, after


def covered(first: np.ndarray, after: np.ndarray) -> int:
    """How many units lie in one of some spans at least: from its first unit to before the one after its last."""
    if not len(first):
        return 0
    order = np.argsort(first, kind="stable")
    low, high = first[order], np.maximum.accumulate(after[order])
    new = np.maximum(low, np.concatenate([[low[0]], high[:-1]]))
    return int(np.maximum(high - new, 0).sum())


def words_covered(places: Places, index: TokenIndex) -> tuple[np.ndarray, np.ndarray]:
    """Texts, and how many of the words of each lie in one of the places at least; places in any order."""
    texts, counted = [np.empty(0, np.int64)], [np.empty(0, np.int64)]
    for segment, base, text, low, high in _new_stretches(places, index):
        before = _words_before(segment)
        new = before[high] - before[low]
        found = np.bincount(text - base, weights=new, minlength=segment.n_texts).astype(np.int64)
        covered = np.flatnonzero(found)
        texts.append(covered + base)
        counted.append(found[covered])
    return np.concatenate(texts), np.concatenate(counted)


def covered_words(places: Places, index: TokenIndex) -> np.ndarray:
    """int64, sorted: the words that lie in one of the places at least, as tokens counted over all segments."""
    offset = dict(
        zip(index.base.tolist(), np.cumsum([0, *(one.n_tokens for one in index.segments)]), strict=False)
    )
    found = [np.empty(0, np.int64)]
    for segment, base, _, low, high in _new_stretches(places, index):
        tokens = _ranges(low, np.maximum(high, low))
        is_word = segment.vocabulary["is_word"].to_numpy()[segment.codes[tokens]]
        found.append(tokens[is_word] + offset[base])
    return np.concatenate(found)


def _new_stretches(
    places: Places, index: TokenIndex
) -> Iterator[tuple[Segment, int, np.ndarray, np.ndarray, np.ndarray]]:
    """By segment, with its first text: the text of each place, and from which token to before which it reaches beyond
    all places that begin before it."""
    of_segment = np.searchsorted(index.base, places.text, side="right") - 1
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        here = np.flatnonzero(of_segment == at)
        if not len(here):
            continue
        here = here[np.argsort(places.start[here], kind="stable")]
        low = places.start[here].astype(np.int64)
        high = np.maximum.accumulate(low + places.length[here])
        low = np.maximum(low, np.concatenate([[0], high[:-1]]))
        yield segment, int(base), places.text[here], low, high


def _words_before(segment: Segment) -> np.ndarray:
    """int64 per token, and one more: the words before it."""

    def make() -> np.ndarray:
        return np.concatenate([[0], np.cumsum(segment.vocabulary["is_word"].to_numpy()[segment.codes])])

    found: np.ndarray = segment.remember(("words before",), make)
    return found


def _in_segment(segment: Segment, base: int, local: np.ndarray, start: np.ndarray, end: np.ndarray) -> Places:
    first, after = _tokens(segment, local, start, end)
    inside = segment.text_of[first] == local if segment.n_tokens else np.zeros(len(local), bool)
    kept = first[inside]
    return Places(local[inside] + base, kept.astype(np.int64), (after - first)[inside])


def _tokens(
    segment: Segment, local: np.ndarray, start: np.ndarray, end: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """The first token each stretch touches, and the one after its last; ``local`` are texts of the segment. Signs at
    the very end of a text belong to its last token; a text without tokens gets one of another text."""
    texts = np.unique(local)
    lows, highs = segment.text_start[texts].astype(np.int64), segment.text_start[texts + 1].astype(np.int64)
    tokens = _ranges(lows, highs)
    of_text = np.repeat(texts, highs - lows)
    begins = of_text * STEP + segment.char_start[tokens]
    ends = begins + segment.form_chars[segment.codes[tokens]]
    if not len(tokens):
        nothing = np.zeros(len(local), np.int64)
        return nothing, nothing + 1
    first = np.minimum(np.searchsorted(ends, local * STEP + start, "right"), len(tokens) - 1)
    after = np.maximum(np.searchsorted(begins, local * STEP + end, "left"), first + 1)
    over = of_text[first] != local
    first = np.where(over, np.maximum(first - 1, 0), first)
    after = np.where(over, first + 1, after)
    return tokens[first], tokens[first] + (after - first)


def _ranges(lows: np.ndarray, highs: np.ndarray) -> np.ndarray:
    """All numbers from each low to before its high, one after the other."""
    lengths = highs - lows
    ends = np.cumsum(lengths)
    total = int(ends[-1]) if len(ends) else 0
    found: np.ndarray = np.arange(total) + np.repeat(lows - (ends - lengths), lengths)
    return found
