"""Hits in line, ordered by what stands beside them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.index import Lexicon, TokenIndex
from winnower.core.places import Places

REACH = 3
#: What lines can be sorted by: the text's date or source, or the first to third word to a side.
SORTS = ("date", "source", "left1", "left2", "left3", "right1", "right2", "right3")


@dataclass(frozen=True)
class Concordance:
    """Hits with the folds beside them.

    places    in reading order by date or source
    beside    int32 (2 * REACH, hits): numbers of the folds at -3, -2, -1, 1, 2, 3 words; -1 where the
              text ends before
    """

    places: Places
    beside: np.ndarray

    def at(self, offset: int) -> np.ndarray:
        """The folds at an offset from the hit, -3 to 3, not 0."""
        found: np.ndarray = self.beside[offset + REACH - (offset > 0)]
        return found


def neighbours(places: Places, index: TokenIndex, lexicon: Lexicon) -> Concordance:
    """The concordance of some hits."""
    beside = np.full((2 * REACH, places.hits), -1, np.int32)
    of_segment = np.searchsorted(index.base, places.text, side="right") - 1
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        hits = np.flatnonzero(of_segment == at)
        local = places.text[hits] - base
        begin, end = segment.text_start[local], segment.text_start[local + 1]
        start, stop = places.start[hits], places.start[hits] + places.length[hits]
        for row, offset in enumerate((*range(-REACH, 0), *range(1, REACH + 1))):
            position = start + offset if offset < 0 else stop + offset - 1
            there = (position >= begin) & (position < end)
            beside[row, hits[there]] = lexicon.of_tokens(segment, at, position[there])
    return Concordance(places, beside)


def sort_hits(found: Concordance, sort: str) -> np.ndarray:
    """int64: the hits in order; by a neighbour, ties go to the next words on that side, then reading
    order. Hits without that neighbour stand last. "date" and "source" keep the order of the places."""
    if sort in ("date", "source"):
        return np.arange(found.places.hits)
    if sort not in SORTS:
        raise ValueError(f"“{sort}” is no order; orders: {', '.join(SORTS)}")
    step = -1 if sort.startswith("left") else 1
    offsets = [step * k for k in range(int(sort[-1]), REACH + 1)]
    keys = [np.where(key < 0, np.iinfo(np.int32).max, key) for key in map(found.at, offsets)]
    return np.lexsort(keys[::-1])


def counted_neighbours(found: Concordance, offset: int) -> tuple[np.ndarray, np.ndarray]:
    """Folds at an offset and how many hits have them, the most frequent first."""
    folds, hits = np.unique(found.at(offset), return_counts=True)
    known = folds >= 0
    folds, hits = folds[known], hits[known]
    order = np.argsort(-hits, kind="stable")
    return folds[order], hits[order]
