"""Hits as spans of tokens: join sets of them, free them of overlaps."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, NamedTuple

import numpy as np

from winnower.core.index import Segment

Side = Literal["left", "right"]


class Hits(NamedTuple):
    """Hits in one segment, int64: first token positions (sorted) and how many tokens each spans."""

    start: np.ndarray
    length: np.ndarray


def place_in(ascending: np.ndarray, asked: np.ndarray, n_tokens: int, side: Side = "left") -> np.ndarray:
    """``np.searchsorted`` for token positions (0 to n_tokens): many questions are answered by counting
    through the tokens once, few by searching."""
    if len(asked) * 12 < n_tokens:
        return np.searchsorted(ascending, asked, side=side)
    upto = np.zeros(n_tokens + 2, np.int32)
    upto[1:] = np.cumsum(np.bincount(ascending, minlength=n_tokens + 1), dtype=np.int32)
    found: np.ndarray = upto[np.clip(asked + (side == "right"), 0, n_tokens + 1)]
    return found


def nothing() -> Hits:
    return Hits(np.empty(0, np.int64), np.empty(0, np.int64))


def union(found: Sequence[Hits]) -> Hits:
    """All spans, each once, sorted by start, then length."""
    found = [hits for hits in found if len(hits.start)]
    if not found:
        return nothing()
    if len(found) == 1 and _ordered(found[0]):
        return found[0]
    start = np.concatenate([hits.start for hits in found])
    length = np.concatenate([hits.length for hits in found])
    most = int(length.max()) + 1
    keys = np.unique(start * most + length)
    return Hits(keys // most, keys % most)


def _ordered(hits: Hits) -> bool:
    step = np.diff(hits.start)
    return bool((step > 0).all()) or bool(((step > 0) | ((step == 0) & (np.diff(hits.length) > 0))).all())


def longest_first(hits: Hits) -> Hits:
    """Of overlapping hits keep the longest, then the leftmost, then the next that overlaps none kept."""
    if len(hits.start) < 2 or (hits.start[1:] >= (hits.start + hits.length)[:-1]).all():
        return hits
    kept = nothing()
    for n in np.unique(hits.length)[::-1].tolist():
        candidates = hits.start[hits.length == n]
        taken = leftmost(_free(candidates, n, kept), n)
        start = np.concatenate([kept.start, taken])
        length = np.concatenate([kept.length, np.full(len(taken), n, np.int64)])
        by_place = np.argsort(start, kind="stable")
        kept = Hits(start[by_place], length[by_place])
    return kept


def _free(candidates: np.ndarray, n: int, kept: Hits) -> np.ndarray:
    """Candidates of ``n`` tokens that touch none of the hits taken before."""
    if not len(kept.start) or not len(candidates):
        return candidates
    before = np.searchsorted(kept.start, candidates, side="right") - 1
    end_before = np.where(before >= 0, (kept.start + kept.length)[np.maximum(before, 0)], -1)
    after = np.searchsorted(kept.start, candidates, side="left")
    last = len(kept.start) - 1
    start_after = np.where(after <= last, kept.start[np.minimum(after, last)], np.iinfo(np.int64).max)
    return candidates[(end_before <= candidates) & (start_after >= candidates + n)]


def leftmost(start: np.ndarray, length: int) -> np.ndarray:
    """Of overlapping hits of one length, keep the leftmost, then the next that does not overlap it.

    ``start`` is sorted and without doubles. Hits fall into runs of neighbours that overlap; all runs
    are walked at once, the few long ones that are left one after another.
    """
    if len(start) < 2 or not (np.diff(start) < length).any():
        return start
    after = np.searchsorted(start, start + length)
    here = np.flatnonzero(np.concatenate([[True], np.diff(start) >= length]))
    ends = np.append(here[1:], len(start))
    keep = np.zeros(len(start), bool)
    while len(here) > 64:
        keep[here] = True
        going = after[here] < ends
        here, ends = after[here][going], ends[going]
    for at, end in zip(here.tolist(), ends.tolist(), strict=True):
        while at < end:
            keep[at] = True
            at = int(after[at])
    return start[keep]


def in_one_sentence(segment: Segment, first: np.ndarray, last: np.ndarray) -> np.ndarray:
    """Whether tokens lie in one sentence: words in a row do not run on over its end, here as in word lists."""
    starts, n = segment.sentence_start, segment.n_tokens
    found: np.ndarray = place_in(starts, first, n, "right") == place_in(starts, last, n, "right")
    return found


def positions_in_order(segment: Segment, forms: np.ndarray) -> np.ndarray:
    """int64 positions of all tokens of these forms, ascending."""
    if len(forms) == 1:
        single: np.ndarray = segment.positions_of(forms).astype(np.int64)
        return single
    if segment.count_of(forms) * 16 > segment.n_tokens:  # looking at every token is quicker than sorting
        wanted = np.zeros(segment.n_forms, bool)
        wanted[forms] = True
        return np.flatnonzero(wanted[segment.codes])
    return np.sort(segment.positions_of(forms)).astype(np.int64)
