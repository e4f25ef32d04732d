"""Texts that say nearly the same, found from the token index without reading a text.

A text is the set of its shingles, five words in a row. How alike two texts are is the share of
shingles they have in common (Jaccard). MinHash signatures and banding find the pairs worth comparing
(Broder 1997, On the resemblance and containment of documents; Leskovec, Rajaraman and Ullman, Mining
of Massive Datasets, chapter 3); each pair found is then compared exactly.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
import polars as pl
from scipy import sparse
from scipy.sparse.csgraph import connected_components

from winnower.core.index import Segment, TokenIndex

SHINGLE = 5
HASHES = 64
BANDS = 32
#: Texts that agree in a band are paired with so many before them, and with the first.
BACK = 3
#: Texts with fewer words are too short for the share of shingles to mean something.
LEAST_WORDS = 12
TOKENS_AT_ONCE = 2_000_000
_FACTORS = np.random.default_rng(20310401).integers(1, 2**63, size=(HASHES + SHINGLE, 2), dtype=np.uint64)
_NEVER = np.uint64(2**64 - 1)


@dataclass(frozen=True)
class NearGroups:
    """``group`` int32 per text, -1 where a text is like no other; ``alike`` float32: how alike it is to
    the first text of its group, 1 for that one."""

    group: np.ndarray
    alike: np.ndarray

    @property
    def n_groups(self) -> int:
        return int(self.group.max(initial=-1)) + 1


def near_duplicates(
    index: TokenIndex,
    threshold: float = 0.6,
    rank: np.ndarray | None = None,
    tell: Callable[[float], None] = lambda share: None,
) -> NearGroups:
    """Groups of texts that are alike from ``threshold`` on (0.5 to 1), directly or through others.

    The first text of a group is the one with the lowest ``rank`` (per text; their places by default).
    ``tell`` hears the share that is done and may raise to end it.
    """
    signatures = np.full((index.n_texts, HASHES), _NEVER, np.uint64)
    done = 0
    for segment, base in zip(index.segments, index.base, strict=False):
        for low, high in _blocks(segment):
            shingles, start = _shingles(segment, low, high)
            _sign(shingles, start, signatures[base + low : base + high])
            done += int(segment.text_start[high] - segment.text_start[low])
            tell(0.7 * done / max(index.n_tokens, 1))
    long_enough = (index.words >= LEAST_WORDS) & (signatures[:, 0] != _NEVER)
    pairs = _candidates(signatures, np.flatnonzero(long_enough), threshold)
    alike = _compare(index, pairs, tell)
    rank = np.arange(index.n_texts) if rank is None else rank
    return _groups(index, pairs[alike >= threshold], alike[alike >= threshold], rank)


def _blocks(segment: Segment) -> Iterator[tuple[int, int]]:
    """Stretches of texts with about TOKENS_AT_ONCE tokens."""
    low = 0
    while low < segment.n_texts:
        limit = segment.text_start[low] + TOKENS_AT_ONCE
        high = max(int(np.searchsorted(segment.text_start, limit, side="right")) - 1, low + 1)
        yield low, min(high, segment.n_texts)
        low = high


def _form_hashes(segment: Segment) -> np.ndarray:
    """uint64 per form, the same in every segment; 0 for forms that are no words."""
    hashes = segment.vocabulary["fold"].hash(seed=7).to_numpy().copy()
    hashes[~segment.vocabulary["is_word"].to_numpy()] = 0
    return hashes


def _shingles(segment: Segment, low: int, high: int) -> tuple[np.ndarray, np.ndarray]:
    """Shingle hashes of texts low to high, and where each text's begin (one more at the end)."""
    first, last = int(segment.text_start[low]), int(segment.text_start[high])
    hashes = _form_hashes(segment)[segment.codes[first:last]]
    text = segment.text_of[first:last] - low
    words = hashes != 0
    hashes, text = hashes[words], text[words]
    n = max(len(hashes) - SHINGLE + 1, 0)
    if n == 0:
        return np.empty(0, np.uint64), np.zeros(high - low + 1, np.int64)
    mixed = np.zeros(n, np.uint64)
    for at in range(SHINGLE):
        mixed += hashes[at : at + n] * (_FACTORS[HASHES + at, 0] | np.uint64(1))
    mixed ^= mixed >> np.uint64(29)
    whole = text[:n] == text[SHINGLE - 1 :]
    start = np.searchsorted(text[:n][whole], np.arange(high - low + 1)).astype(np.int64)
    return mixed[whole], start


def _sign(shingles: np.ndarray, start: np.ndarray, out: np.ndarray) -> None:
    """The smallest of each hash over each text's shingles; texts without any stay as they are."""
    filled = np.flatnonzero(np.diff(start) > 0)
    if not len(filled):
        return
    begins = start[:-1][filled]
    for at in range(HASHES):
        values = shingles * (_FACTORS[at, 0] | np.uint64(1)) + _FACTORS[at, 1]
        out[filled, at] = np.minimum.reduceat(values, begins)


def _candidates(signatures: np.ndarray, texts: np.ndarray, threshold: float) -> np.ndarray:
    """int64 (n, 2): pairs that agree in a band and look alike enough by their signatures."""
    rows = HASHES // BANDS
    found = []
    for band in range(BANDS):
        part = np.ascontiguousarray(signatures[texts, band * rows : (band + 1) * rows])
        keys = part @ (_FACTORS[:rows, 1] | np.uint64(1))
        order = np.argsort(keys, kind="stable")
        same = keys[order][1:] == keys[order][:-1]
        begins = np.maximum.accumulate(np.where(np.concatenate([[True], ~same]), np.arange(len(order)), 0))
        at = np.flatnonzero(same) + 1
        for other in (np.maximum(at - back, begins[at]) for back in range(1, BACK + 1)):
            found.append(np.stack([texts[order[other]], texts[order[at]]], 1))
        found.append(np.stack([texts[order[begins[at]]], texts[order[at]]], 1))
    pairs = np.concatenate(found) if found else np.empty((0, 2), np.int64)
    pairs = np.unique(np.sort(pairs, 1), axis=0)
    pairs = pairs[pairs[:, 0] != pairs[:, 1]]
    keep = np.ones(len(pairs), bool)
    for low in range(0, len(pairs), 200_000):
        part = pairs[low : low + 200_000]
        agree = (signatures[part[:, 0]] == signatures[part[:, 1]]).mean(1)
        keep[low : low + 200_000] = agree >= threshold - 0.2
    answer: np.ndarray = pairs[keep]
    return answer


def _compare(index: TokenIndex, pairs: np.ndarray, tell: Callable[[float], None]) -> np.ndarray:
    """float32 per pair: the share of shingles in common."""
    sets: dict[int, np.ndarray] = {}
    out = np.zeros(len(pairs), np.float32)
    for number, (first, second) in enumerate(pairs.tolist()):
        if len(sets) > 20_000:
            sets.clear()
        for text in (first, second):
            if text not in sets:
                segment, local = index.locate(text)
                sets[text] = np.unique(_shingles_of_one(segment, local))
        a, b = sets[first], sets[second]
        common = len(np.intersect1d(a, b, assume_unique=True))
        out[number] = common / max(len(a) + len(b) - common, 1)
        if number % 2_000 == 0:
            tell(0.7 + 0.3 * number / len(pairs))
    return out


def _shingles_of_one(segment: Segment, local: int) -> np.ndarray:
    first, last = int(segment.text_start[local]), int(segment.text_start[local + 1])
    codes = segment.codes[first:last]
    forms, inverse = np.unique(codes, return_inverse=True)
    table = segment.vocabulary[forms]
    hashes = table["fold"].hash(seed=7).to_numpy().copy()
    hashes[~table["is_word"].to_numpy()] = 0
    row = hashes[inverse]
    row = row[row != 0]
    n = max(len(row) - SHINGLE + 1, 0)
    mixed = np.zeros(n, np.uint64)
    for at in range(SHINGLE):
        mixed += row[at : at + n] * (_FACTORS[HASHES + at, 0] | np.uint64(1))
    mixed ^= mixed >> np.uint64(29)
    return mixed


def _groups(index: TokenIndex, pairs: np.ndarray, alike: np.ndarray, order_of: np.ndarray) -> NearGroups:
    """Pairs joined into groups, numbered by their first text; likeness to that first text."""
    n = index.n_texts
    group = np.full(n, -1, np.int32)
    likeness = np.zeros(n, np.float32)
    if not len(pairs):
        return NearGroups(group, likeness)
    graph = sparse.coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(n, n))
    _, label = connected_components(graph, directed=False)
    members = np.unique(pairs)
    members = members[np.argsort(order_of[members], kind="stable")]
    _, first, place = np.unique(label[members], return_index=True, return_inverse=True)
    number = np.argsort(np.argsort(first, kind="stable"), kind="stable")
    group[members] = number[place]
    leaders = members[first][place]
    known = pl.DataFrame(
        {
            "a": np.concatenate([pairs[:, 0], pairs[:, 1]]),
            "b": np.concatenate([pairs[:, 1], pairs[:, 0]]),
            "alike": np.concatenate([alike, alike]),
        }
    )
    wanted = pl.DataFrame({"a": leaders, "b": members})
    found = wanted.join(known, on=["a", "b"], how="left", maintain_order="left")["alike"].to_numpy()
    unknown = np.flatnonzero(np.isnan(found.astype(np.float64)) & (leaders != members))
    if len(unknown):
        more = np.stack([leaders[unknown], members[unknown]], 1)
        found = found.astype(np.float32).copy()
        found[unknown] = _compare(index, more, lambda share: None)
    likeness[members] = np.where(leaders == members, 1.0, found)
    return NearGroups(group, likeness)
