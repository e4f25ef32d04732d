"""Several segments seen as one: texts are numbered through, from 0."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np

from winnower.core.index.segment import Segment


class TokenIndex:
    """The texts of a corpus as token arrays. A text is named by its place, 0 to n_texts - 1."""

    def __init__(self, segments: Sequence[Segment]) -> None:
        self.segments = tuple(segments)
        sizes = [segment.n_texts for segment in self.segments]
        self.base = np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64)
        self.n_texts = int(self.base[-1])
        self.n_tokens = sum(segment.n_tokens for segment in self.segments)

    @cached_property
    def text_id(self) -> np.ndarray:
        """int64 per text: the store's id."""
        return _joined([segment.text_id for segment in self.segments], np.int64)

    @cached_property
    def words(self) -> np.ndarray:
        """int32 per text: tokens that count as words."""
        return _joined([segment.words for segment in self.segments], np.int32)

    def locate(self, text: int) -> tuple[Segment, int]:
        """The segment of a text, and its place there."""
        at = int(np.searchsorted(self.base, text, side="right")) - 1
        return self.segments[at], text - int(self.base[at])


def _joined(arrays: list[np.ndarray], dtype: type) -> np.ndarray:
    if len(arrays) == 1:
        return arrays[0]
    return np.concatenate(arrays) if arrays else np.empty(0, dtype)
