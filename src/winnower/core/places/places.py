"""Places: stretches of tokens in texts, as columns. Hits, coded passages and sentences are all places."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.dictionary import category_hits
from winnower.core.errors import ScopeError
from winnower.core.index import TokenIndex
from winnower.core.pattern import Term
from winnower.core.scope import NO_DATE, CategoryColumn, Columns, DateColumn

ORDERS = ("date", "source", "text")


@dataclass(frozen=True)
class Places:
    """Places in texts: three int64 arrays of one length.

    text    place of the text in the index
    start   first token, counted within its segment
    length  tokens
    """

    text: np.ndarray
    start: np.ndarray
    length: np.ndarray

    @property
    def hits(self) -> int:
        return len(self.text)

    @property
    def texts(self) -> int:
        return int(np.count_nonzero(np.diff(np.sort(self.text), prepend=-1)))

    def some(self, rows: np.ndarray) -> Places:
        """The places at these rows (numbers or bool), in their order."""
        return Places(self.text[rows], self.start[rows], self.length[rows])

    @property
    def nbytes(self) -> int:
        return self.text.nbytes + self.start.nbytes + self.length.nbytes

    @classmethod
    def joined(cls, parts: Sequence[Places]) -> Places:
        """Several one after the other."""
        if not parts:
            nothing = np.empty(0, np.int64)
            return cls(nothing, nothing, nothing)
        return cls(
            *(np.concatenate([getattr(p, name) for p in parts]) for name in ("text", "start", "length"))
        )


def find_hits(
    terms: Sequence[Term],
    index: TokenIndex,
    columns: Columns,
    wanted: np.ndarray,
    order: str = "date",
) -> Places:
    """All hits of the terms taken together in the ``wanted`` texts (bool per text), in reading order."""
    return in_order(hits_in_texts(terms, index, wanted), columns, order)


def hits_in_texts(terms: Sequence[Term], index: TokenIndex, wanted: np.ndarray) -> Places:
    """The same in the order of the index."""
    parts = []
    for segment, base in zip(index.segments, index.base, strict=False):
        hits = category_hits(terms, segment)
        text = segment.text_of[hits.start].astype(np.int64) + base
        inside = wanted[text]
        starts, lengths = hits.start[inside].astype(np.int64), hits.length[inside]
        parts.append(Places(text[inside], starts, lengths))
    return Places.joined(parts)


def in_order(places: Places, columns: Columns, order: str) -> Places:
    """The places in one of ORDERS: by date (texts without one last), by source and date, or by text. Raises
    ScopeError for another one."""
    if order not in ORDERS:
        raise ScopeError("Only what has one number can be put in the order of it.")
    keys: tuple[np.ndarray, ...] = ()
    if order != "text":
        date = columns.fields["date"]
        assert isinstance(date, DateColumn)
        days = date.days[places.text].astype(np.int64)
        days[days == NO_DATE] = 2**40
        keys = (days,)
        if order == "source":
            source = columns.fields["source"]
            assert isinstance(source, CategoryColumn)
            keys = (days, source.codes[places.text])
    return places.some(np.lexsort((places.start, places.text, *keys)))


def distinct_texts(texts: np.ndarray, n_texts: int) -> tuple[np.ndarray, np.ndarray]:
    """Texts with at least one entry, sorted, and how many each has."""
    if len(texts) * 8 > n_texts:
        counts = np.bincount(texts, minlength=n_texts)
        found = np.flatnonzero(counts)
        return found, counts[found]
    return np.unique(texts, return_counts=True)


def places_in_texts(places: Places, index: TokenIndex) -> pl.DataFrame:
    """text_id, start and end (code points in the text) of places, in their order."""
    text_id = np.empty(places.hits, np.int64)
    start, end = np.empty(places.hits, np.int32), np.empty(places.hits, np.int32)
    of_segment = np.searchsorted(index.base, places.text, side="right") - 1
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        here = np.flatnonzero(of_segment == at)
        first, last = places.start[here], places.start[here] + places.length[here] - 1
        text_id[here] = segment.text_id[places.text[here] - base]
        start[here] = segment.char_start[first]
        end[here] = segment.char_start[last] + segment.form_chars[segment.codes[last]]
    return pl.DataFrame({"text_id": text_id, "start": start, "end": end})
