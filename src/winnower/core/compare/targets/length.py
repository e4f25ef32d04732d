"""Texts by their number of words, in bands, as a target."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from annotated_types import Len

from winnower.core.compare.targets.base import Corpus, Known, MethodPart, Reference, Row, single_rows
from winnower.core.index import TokenIndex
from winnower.core.places import Places
from winnower.core.scope import Condition
from winnower.core.scope.derive import band_labels


def whole_texts(wanted: np.ndarray, index: TokenIndex) -> Places:
    """Texts (bool per text) as places: each at its first word; those without a word have none."""
    parts = []
    for segment, base in zip(index.segments, index.base, strict=False):
        has = wanted[base : base + segment.n_texts] & (np.diff(segment.text_start) > 0)
        local = np.flatnonzero(has)
        starts = segment.text_start[local].astype(np.int64)
        parts.append(Places(local + int(base), starts, np.ones(len(local), np.int64)))
    return Places.joined(parts)


@dataclass(frozen=True)
class OfLength(Reference):
    """Bands of words: each cut is the lowest number of the band above it."""

    cuts: Annotated[tuple[int, ...], Len(1, 50)] = (50, 200, 1_000)
    kind: Literal["length"] = "length"

    def resolve(self, known: Known, corpus: Corpus) -> LengthTarget:
        return LengthTarget(self.cuts, band_labels(self.cuts, whole=True))


@dataclass(frozen=True)
class LengthTarget:
    """Each band is a row; a text is a hit of its band, at its first word."""

    cuts: tuple[int, ...]
    labels: tuple[str, ...]
    name: str = "Texts by their number of words"
    nouns: tuple[str, str] = ("band", "bands")
    version: int | None = None
    conditions: tuple[Condition, ...] = ()
    fields: frozenset[str] = frozenset()

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        named = [f"{label} words" for label in self.labels[:-1]]
        return single_rows([*named, f"from {self.cuts[-1]:,} words"])

    @property
    def tested_rows(self) -> tuple[int, ...]:
        return tuple(range(len(self.labels)))

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        words = corpus.index.words
        found: np.ndarray = np.flatnonzero((self._bands(words) == row) & (words > 0))
        return found

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        words = corpus.index.words
        return whole_texts(wanted & (words > 0) & np.isin(self._bands(words), list(rows)), corpus.index)

    def _bands(self, words: np.ndarray) -> np.ndarray:
        return np.searchsorted(np.asarray(self.cuts), words, side="right")

    def subject(self, row: int) -> str:
        return f"Texts of {self.rows[row].label}"

    def method(self, texts: int) -> list[MethodPart]:
        return [
            MethodPart(
                "What was counted", f"{self.name}, in {len(self.rows):,} bands, over {texts:,} texts."
            ),
            MethodPart(
                "What is a hit",
                "A text is one hit of the band its number of words lies in; texts without words are in none.",
            ),
        ]
