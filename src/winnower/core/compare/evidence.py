"""The passages under a number."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from winnower.core.dictionary import category_hits
from winnower.core.index import Segment, TokenIndex
from winnower.core.pattern import Term
from winnower.core.scope import NO_DATE, Columns, DateColumn

ORDERS = ("date", "source", "text")


@dataclass(frozen=True)
class Evidence:
    """Hits behind a number, in reading order: three int64 arrays of one length.

    text    place of the text in the index
    start   first token of the hit, counted within its segment
    length  tokens of the hit
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


@dataclass(frozen=True)
class Passage:
    """A sentence with its hits. All places are code points in the stored text.

    ``start`` and ``end`` are the first token's start and the last token's end; ``room_start`` and
    ``room_end`` where the neighbours' tokens end and begin, for taking in quotes and full stops.
    """

    text: int
    text_id: int
    paragraph: int
    start: int
    end: int
    room_start: int
    room_end: int | None
    marks: tuple[tuple[int, int], ...]


def find_evidence(
    terms: Sequence[Term],
    index: TokenIndex,
    columns: Columns,
    wanted: np.ndarray,
    order: str = "date",
) -> Evidence:
    """All hits of the terms taken together in the ``wanted`` texts (bool per text)."""
    found = hits_in_texts(terms, index, wanted)
    by = np.lexsort((found.start, found.text, *_order_keys(order, columns, found.text)))
    return Evidence(found.text[by], found.start[by], found.length[by])


def hits_in_texts(terms: Sequence[Term], index: TokenIndex, wanted: np.ndarray) -> Evidence:
    """The same in the order of the index."""
    texts, starts, lengths = [], [], []
    for segment, base in zip(index.segments, index.base, strict=False):
        hits = category_hits(terms, segment)
        text = segment.text_of[hits.start].astype(np.int64) + base
        inside = wanted[text]
        texts.append(text[inside])
        starts.append(hits.start[inside].astype(np.int64))
        lengths.append(hits.length[inside])
    parts = (texts, starts, lengths)
    return Evidence(*(np.concatenate(part) if part else np.empty(0, np.int64) for part in parts))


def _order_keys(order: str, columns: Columns, text: np.ndarray) -> tuple[np.ndarray, ...]:
    if order == "text":
        return ()
    date = columns.fields["date"]
    assert isinstance(date, DateColumn)
    days = date.days[text].astype(np.int64)
    days[days == NO_DATE] = 2**40
    if order == "source":
        return days, columns.fields["source"].codes[text]
    return (days,)


def passages(
    evidence: Evidence, index: TokenIndex, first: int, most: int, *, each_hit: bool = False
) -> tuple[list[Passage], int]:
    """Passages from hit number ``first`` on, at most ``most``, and the number of the next hit.

    Hits of one sentence are one passage, unless ``each_hit``.
    """
    out: list[Passage] = []
    at = first
    while at < evidence.hits and len(out) < most:
        segment, local = index.locate(int(evidence.text[at]))
        low, high = _sentence(segment, local, int(evidence.start[at]))
        last = at + 1
        while (
            not each_hit
            and last < evidence.hits
            and evidence.text[last] == evidence.text[at]
            and evidence.start[last] < high
        ):
            last += 1
        out.append(_passage(segment, local, evidence, at, last, low, high))
        at = last
    return out, at


def _sentence(segment: Segment, local: int, token: int) -> tuple[int, int]:
    """First token of the sentence a token stands in, and first token after it."""
    at = int(np.searchsorted(segment.sentence_start, token, side="right"))
    low = int(segment.sentence_start[at - 1])
    text_end = int(segment.text_start[local + 1])
    high = int(segment.sentence_start[at]) if at < len(segment.sentence_start) else text_end
    return low, min(high, text_end)


def _passage(
    segment: Segment, local: int, evidence: Evidence, first: int, last: int, low: int, high: int
) -> Passage:
    begin, end = int(segment.text_start[local]), int(segment.text_start[local + 1])

    def token_end(token: int) -> int:
        return int(segment.char_start[token] + segment.form_chars[segment.codes[token]])

    marks = []
    for hit in range(first, last):
        start, length = int(evidence.start[hit]), int(evidence.length[hit])
        marks.append((int(segment.char_start[start]), token_end(start + length - 1)))
        high = max(high, start + length)
    paragraphs = segment.paragraph_start
    before = np.searchsorted(paragraphs, begin, side="left")
    return Passage(
        text=int(evidence.text[first]),
        text_id=int(segment.text_id[local]),
        paragraph=int(np.searchsorted(paragraphs, low, side="right") - before),
        start=int(segment.char_start[low]),
        end=token_end(high - 1),
        room_start=token_end(low - 1) if low > begin else 0,
        room_end=int(segment.char_start[high]) if high < end else None,
        marks=tuple(marks),
    )


def whole_sentence(body: str, passage: Passage) -> tuple[int, int]:
    """The passage with the quotes and full stops that belong to it: start and end in ``body``.

    In the gap between two sentences, what stands before the first white space belongs to the
    sentence before it, the rest to the one after it.
    """
    head = body[passage.room_start : passage.start]
    start = passage.start - len(head)
    if passage.room_start:
        start += next((at for at, c in enumerate(head) if c.isspace()), len(head))
    start += len(body[start : passage.start]) - len(body[start : passage.start].lstrip())
    tail = body[passage.end : passage.room_end]
    end = passage.end + next((at for at, c in enumerate(tail) if c.isspace()), len(tail))
    return start, end
