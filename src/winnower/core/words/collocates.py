"""Words in the company of hits: within some words of them, inside the sentence."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.index import Lexicon, Segment, TokenIndex
from winnower.core.measure import log_dice, log_likelihood, mutual_information
from winnower.core.places import Places
from winnower.core.words.frequency import WordCounts

MAX_WINDOW = 10


@dataclass(frozen=True)
class Collocates:
    """Words beside the hits, R of them, by falling G2.

    folds        int64 (R): numbers in the lexicon
    together     int64 (R): tokens of the word that stand in a window; each counts once
    total        int64 (R): tokens of the word in the scope
    g2, log_dice, pmi   float64 (R)
    by_position  int64 (R, 2 * window): at -window to -1, then 1 to window; a token between two hits
                 counts at both places here
    tokens       tokens in windows, each once
    """

    folds: np.ndarray
    together: np.ndarray
    total: np.ndarray
    g2: np.ndarray
    log_dice: np.ndarray
    pmi: np.ndarray
    by_position: np.ndarray
    tokens: int


def find_collocates(
    places: Places,
    index: TokenIndex,
    lexicon: Lexicon,
    words: WordCounts,
    *,
    window: int = 5,
    least: int = 3,
) -> Collocates:
    """Collocates of the hits. ``words`` are the counts of the same scope, without merging.

    A window does not leave the sentence in which the hit begins, and does not hold the hit itself.
    Expected counts take every token of the scope as equally likely to stand in a window.
    """
    if not 1 <= window <= MAX_WINDOW:
        raise ValueError(f"a window has 1 to {MAX_WINDOW} words")
    n = len(lexicon)
    together, tokens = np.zeros(n, np.int64), 0
    by_position = []
    of_segment = np.searchsorted(index.base, places.text, side="right") - 1
    for at, segment in enumerate(index.segments):
        hits = of_segment == at
        if not hits.any():
            continue
        fold, offset, position, _ = beside(segment, places.start[hits], places.length[hits], window)
        fold = lexicon.places[at][fold]
        by_position.append(np.stack([fold, offset]))
        first = np.unique(position, return_index=True)[1]
        together += np.bincount(fold[first], minlength=n)
        tokens += len(first)
    total = words.form_hits
    kept = np.flatnonzero(together >= max(least, 1))
    both, all_of_it = together[kept], total[kept]
    whole = int(total.sum())
    g2 = log_likelihood(both, tokens, all_of_it, whole) if len(kept) else np.empty(0)
    order = np.lexsort((kept, -g2))
    kept, both, all_of_it = kept[order], both[order], all_of_it[order]
    pairs = np.concatenate(by_position, axis=1) if by_position else np.empty((2, 0), np.int64)
    return Collocates(
        kept,
        both,
        all_of_it,
        g2[order],
        log_dice(both, places.hits, all_of_it),
        mutual_information(both, tokens, all_of_it, whole),
        _positions(pairs, kept, n, window),
        tokens,
    )


def _positions(pairs: np.ndarray, kept: np.ndarray, n: int, window: int) -> np.ndarray:
    row = np.full(n, -1, np.int64)
    row[kept] = np.arange(len(kept))
    inside = row[pairs[0]] >= 0
    key = row[pairs[0][inside]] * (2 * window) + pairs[1][inside]
    return np.bincount(key, minlength=len(kept) * 2 * window).reshape(len(kept), 2 * window)


def beside(
    segment: Segment, start: np.ndarray, length: np.ndarray, window: int
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """For every token within ``window`` tokens of a hit and in the sentence it begins in: its fold in the
    segment, its place in the window (0 to 2 * window - 1), its position, and which hit it is beside."""
    at = np.searchsorted(segment.sentence_start, start, side="right")
    low = segment.sentence_start[at - 1].astype(np.int64)
    high = np.append(segment.sentence_start, segment.n_tokens)[at]
    offsets = np.concatenate([np.arange(-window, 0), np.arange(window)])
    edge = np.where(offsets < 0, start[:, None], (start + length)[:, None])
    position = edge + offsets
    inside = (position >= low[:, None]) & (position < high[:, None])
    hit, place = np.nonzero(inside)
    position = position[inside]
    return segment.fold_of[segment.codes[position]], place, position, hit
