"""Sentences, paragraphs or texts of a corpus, numbered through; and which of them places touch."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.index import TokenIndex
from winnower.core.places.places import Places


@dataclass(frozen=True)
class Units:
    """Units of an index in its order; int64 per unit.

    start   its first token, counted over all segments
    after   the token after its last
    text    the place of its text
    base    the first token of each segment, and one more
    """

    start: np.ndarray
    after: np.ndarray
    text: np.ndarray
    base: np.ndarray

    def __len__(self) -> int:
        return len(self.start)

    def spans(self, places: Places, index: TokenIndex) -> tuple[np.ndarray, np.ndarray]:
        """The first unit of each place, and the one after its last."""
        segment = np.searchsorted(index.base, places.text, side="right") - 1
        first = self.base[segment] + places.start
        last = first + np.maximum(places.length, 1) - 1
        low = self._of_tokens(first, places.text)
        high = low + 1
        over = np.flatnonzero(last >= self.after[low])  # few reach beyond the unit they begin in
        high[over] = np.searchsorted(self.start, last[over], "right")
        return low, high

    def _of_tokens(self, token: np.ndarray, text: np.ndarray) -> np.ndarray:
        """The unit of each token in a text. Searched in its text only: among all units the steps would lie far apart in
        memory, which takes five times as long for a million places."""
        if not len(token):
            return np.empty(0, np.int64)
        ends = np.cumsum(np.bincount(self.text, minlength=int(text.max()) + 1))
        after = ends[text]
        low = np.where(text > 0, ends[text - 1], 0)
        while (after - low > 1).any():
            middle = (low + after) >> 1
            begun = self.start[middle] <= token
            low, after = np.where(begun, middle, low), np.where(begun, after, middle)
        return low

    def touched(self, places: Places, index: TokenIndex) -> np.ndarray:
        """bool per unit: at least one of the places has a token in it."""
        low, high = self.spans(places, index)
        change = np.zeros(len(self) + 1, np.int64)
        np.add.at(change, low, 1)
        np.add.at(change, high, -1)
        found: np.ndarray = np.cumsum(change[:-1]) > 0
        return found

    def places(self, at: np.ndarray, index: TokenIndex) -> Places:
        """Units by their numbers as places."""
        segment = np.searchsorted(self.base, self.start[at], side="right") - 1
        return Places(self.text[at], self.start[at] - self.base[segment], self.after[at] - self.start[at])


def units_of(index: TokenIndex, unit: str) -> Units:
    """Units of a kind: "sentence", "paragraph" or "text"."""
    base = np.concatenate([[0], np.cumsum([segment.n_tokens for segment in index.segments])]).astype(np.int64)
    starts, texts = [np.empty(0, np.int64)], [np.empty(0, np.int64)]
    for segment, tokens, first in zip(index.segments, base, index.base, strict=False):
        if unit == "text":
            some = segment.text_start[:-1][np.diff(segment.text_start) > 0].astype(np.int64)
        else:
            some = (segment.sentence_start if unit == "sentence" else segment.paragraph_start).astype(
                np.int64
            )
        starts.append(some + tokens)
        texts.append(segment.text_of[some].astype(np.int64) + int(first))
    start = np.concatenate(starts)
    return Units(start, np.append(start[1:], base[-1]), np.concatenate(texts), base)
