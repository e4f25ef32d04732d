"""How often words stand in a row: phrases of two to five tokens within a sentence."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.index import KINDS, Lexicon, TokenIndex
from winnower.core.scope import Ground
from winnower.core.words.frequency import WordCounts, hits_by_group

LENGTHS = (2, 3, 4, 5)


@dataclass
class _Tokens:
    """Tokens of the scope one after another: fold numbers, texts, and where each one's sentence ends."""

    fold: np.ndarray
    text: np.ndarray
    sentence_end: np.ndarray


@dataclass(frozen=True)
class PhraseHits:
    """names of R phrases, ascending by alphabet; of each hit its phrase (place among them) and its text."""

    names: pl.Series
    code: np.ndarray
    text: np.ndarray


def find_phrases(
    index: TokenIndex, lexicon: Lexicon, wanted: np.ndarray, n: int, stop: np.ndarray, least_hits: int = 2
) -> PhraseHits:
    """Phrases of ``n`` tokens with at least ``least_hits`` in the ``wanted`` texts (bool per text).

    Phrases that begin or end with a fold of ``stop`` (numbers), and those with a web address, are
    left out. A phrase can only be as frequent as its beginning, so each length keeps what can
    still be frequent enough.
    """
    if n not in LENGTHS:
        raise ValueError(f"phrases have {LENGTHS[0]} to {LENGTHS[-1]} tokens")
    tokens = _tokens(index, lexicon, wanted)
    stopped = np.zeros(len(lexicon), bool)
    stopped[stop] = True
    outside = lexicon.kinds == KINDS.index("address")
    often = np.bincount(tokens.fold, minlength=len(lexicon)) >= least_hits
    start = np.flatnonzero((often & ~stopped & ~outside)[tokens.fold])
    code = tokens.fold[start].astype(np.int64)
    for length in range(2, n + 1):
        inside = start + length <= tokens.sentence_end[start]
        start, code = start[inside], code[inside]
        last = tokens.fold[start + length - 1]
        keep = (often & ~outside)[last]
        if length == n:
            keep &= ~stopped[last]
        start, key = start[keep], code[keep] * len(lexicon) + last[keep]
        start, code = _frequent(start, key, least_hits)
    apart = _apart(start, code, n)
    start, code = _frequent(start[apart], code[apart], least_hits)
    first = np.full(int(code.max()) + 1 if len(code) else 0, -1, np.int64)
    first[code[::-1]] = start[::-1]
    words = [lexicon.folds.gather(tokens.fold[first + k]).alias(f"w{k}") for k in range(n)]
    names = pl.DataFrame(words).select(pl.concat_str(pl.all(), separator=" ").alias("fold"))["fold"]
    return PhraseHits(names, code, tokens.text[start])


def count_phrases(
    index: TokenIndex, lexicon: Lexicon, ground: Ground, n: int, stop: np.ndarray, least_hits: int = 2
) -> WordCounts:
    """Phrases of ``find_phrases`` in a scope, by group; they have no forms."""
    found = find_phrases(index, lexicon, ground.mask, n, stop, least_hits)
    r = len(found.names)
    pairs = pl.DataFrame({"code": found.code, "text": found.text}).group_by("code", "text").len()
    row, texts, times = (pairs[name].to_numpy() for name in ("code", "text", "len"))
    nowhere = np.empty(0, np.int64)
    return WordCounts(
        found.names,
        np.zeros(r, np.uint8),
        np.bincount(found.code, minlength=r),
        np.bincount(row, minlength=r),
        hits_by_group(row, texts, times, r, ground.groups),
        ground.words,
        nowhere,
        nowhere,
    )


def _tokens(index: TokenIndex, lexicon: Lexicon, wanted: np.ndarray) -> _Tokens:
    fold, text, ends, before = [], [], [], 0
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        if not segment.n_tokens:
            continue
        sizes = np.diff(np.append(segment.sentence_start, segment.n_tokens))
        inside = np.repeat(wanted[base : base + segment.n_texts], np.diff(segment.text_start))
        first = np.asarray(segment.sentence_start)
        whole = inside[first]  # a sentence lies in one text
        fold.append(lexicon.places[at][segment.fold_of[segment.codes[inside]]])
        text.append(segment.text_of[inside].astype(np.int64) + base)
        end = np.cumsum(sizes[whole]) + before
        ends.append(np.repeat(end, sizes[whole]))
        before += int(sizes[whole].sum())
    if not fold:
        empty = np.empty(0, np.int64)
        return _Tokens(empty, empty, empty)
    return _Tokens(*(np.concatenate(part) for part in (fold, text, ends)))


def _frequent(start: np.ndarray, key: np.ndarray, least: int) -> tuple[np.ndarray, np.ndarray]:
    """Places whose key stands at least so often, and the keys numbered through in ascending order."""
    frame = pl.DataFrame({"key": key})
    kept = frame.group_by("key").len().filter(pl.col("len") >= least)["key"].sort()
    code = kept.search_sorted(frame["key"]).to_numpy().astype(np.int64)
    known = kept.to_numpy()
    if not len(known):
        return start[:0], code[:0]
    found = known[np.minimum(code, len(known) - 1)] == key
    return start[found], code[found]


def _apart(start: np.ndarray, code: np.ndarray, n: int) -> np.ndarray:
    """Places without those that overlap one of the same phrase before them, as hits of a term never do: "no no no"
    holds "no no" once. Hardly any phrase overlaps itself, so only those that do are looked at one by one."""
    order = np.lexsort((start, code))
    near = (np.diff(start[order]) < n) & (np.diff(code[order]) == 0)
    keep = np.ones(len(start), bool)
    kept, before = 0, -1
    for at in np.flatnonzero(near).tolist():
        if at != before + 1 or not near[before]:
            kept = at
        here = order[at + 1]
        if start[here] - start[order[kept]] < n:
            keep[here] = False
        else:
            kept = at + 1
        before = at
    return np.flatnonzero(keep)
