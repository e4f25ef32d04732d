"""Which places overlap, or lie within some words of each other."""

from __future__ import annotations

import numpy as np

from winnower.core.errors import ComparisonError
from winnower.core.index import TokenIndex
from winnower.core.places import Places


def near_pairs(places: Places, index: TokenIndex, words: int, most: int) -> tuple[np.ndarray, np.ndarray]:
    """Pairs of different places of one text with at most ``words`` tokens between them, each in both directions; with 0
    those that share a token. Raises ComparisonError where there are more than ``most``.

    Places are sorted by their first token; those that begin before another one's end follow it directly.
    """
    base = np.concatenate([[0], np.cumsum([segment.n_tokens for segment in index.segments])]).astype(np.int64)
    segment = np.searchsorted(index.base, places.text, side="right") - 1
    # texts are moved apart, so that no place is near one of another text
    start = base[segment] + places.start + places.text * (words + 1)
    order = np.argsort(start, kind="stable")
    begin = start[order]
    reach = begin + np.maximum(places.length[order], 1) + (words if words else 0)
    until = np.searchsorted(begin, reach + (1 if words else 0), "left")
    count = until - np.arange(len(begin)) - 1
    if int(count.sum()) * 2 > most:
        raise ComparisonError(
            "There are too many places close to each other to go through them pair by pair; take the same "
            "sentence, or fewer words."
        )
    one = np.repeat(np.arange(len(begin)), count)
    ends = np.cumsum(count)
    other = np.arange(int(ends[-1]) if len(ends) else 0) - np.repeat(ends - count, count) + one + 1
    first, second = order[one], order[other]
    return np.concatenate([first, second]), np.concatenate([second, first])
