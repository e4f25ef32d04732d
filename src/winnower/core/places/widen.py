"""A place widened to its sentence, paragraph or text."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from winnower.core.index import TokenIndex

WIDTHS = ("sentence", "paragraph", "text")


class Stretch(NamedTuple):
    """Code points ``start`` to ``end`` of a text; ``whole`` where that is all of it."""

    start: int
    end: int
    whole: bool


def widen(place: int, start: int, to: str, body: str, index: TokenIndex) -> Stretch:
    """The stretch of one of WIDTHS around the character ``start`` of the text at ``place``.

    Quotes that open before the first word of what follows belong to what follows.
    """
    if to == "text":
        return Stretch(0, len(body), True)
    segment, local = index.locate(place)
    begin, end = int(segment.text_start[local]), int(segment.text_start[local + 1])
    token = begin + int(np.searchsorted(segment.char_start[begin:end], start, side="right")) - 1
    starts = segment.sentence_start if to == "sentence" else segment.paragraph_start
    at = int(np.searchsorted(starts, max(token, begin), side="right"))
    first = int(starts[at - 1])
    low = 0 if first == begin else int(segment.char_start[first])
    following = int(starts[at]) if at < len(starts) else end
    high = int(segment.char_start[following]) if following < end else len(body)
    stretch = body[low:high].rstrip()
    if following < end:
        stretch = stretch.rstrip("“„«([‘").rstrip()
    return Stretch(low, low + len(stretch), first == begin and following >= end)
