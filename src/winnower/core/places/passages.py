"""Passages: the sentences places stand in, as stretches of the stored text."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.index import Segment, TokenIndex
from winnower.core.places.places import Places


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


def passages(
    found: Places, index: TokenIndex, first: int, most: int, *, each_hit: bool = False
) -> tuple[list[Passage], int]:
    """Passages from place number ``first`` on, at most ``most``, and the number of the next place.

    Places in one sentence are one passage, unless ``each_hit``.
    """
    out: list[Passage] = []
    at = first
    while at < found.hits and len(out) < most:
        segment, local = index.locate(int(found.text[at]))
        low, high = _sentence(segment, local, int(found.start[at]))
        last = at + 1
        while (
            not each_hit
            and last < found.hits
            and found.text[last] == found.text[at]
            and found.start[last] < high
        ):
            last += 1
        out.append(_passage(segment, local, found, at, last, low, high))
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
    segment: Segment, local: int, found: Places, first: int, last: int, low: int, high: int
) -> Passage:
    begin, end = int(segment.text_start[local]), int(segment.text_start[local + 1])

    def token_end(token: int) -> int:
        return int(segment.char_start[token] + segment.form_chars[segment.codes[token]])

    marks = []
    for hit in range(first, last):
        start, length = int(found.start[hit]), int(found.length[hit])
        marks.append((int(segment.char_start[start]), token_end(start + length - 1)))
        high = max(high, start + length)
    paragraphs = segment.paragraph_start
    before = np.searchsorted(paragraphs, begin, side="left")
    return Passage(
        text=int(found.text[first]),
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


def place_passage(place: int, start: int, end: int, index: TokenIndex) -> Passage | None:
    """The passage around the characters ``start`` to ``end`` of a text; None where no token begins there."""
    segment, local = index.locate(place)
    low, high = int(segment.text_start[local]), int(segment.text_start[local + 1])
    chars = segment.char_start[low:high]
    first = int(np.searchsorted(chars, start))
    if first >= len(chars) or chars[first] != start:
        return None
    last = int(np.searchsorted(chars, end)) - 1
    one = Places(np.array([place]), np.array([low + first]), np.array([max(last - first + 1, 1)]))
    return passages(one, index, 0, 1)[0][0]
