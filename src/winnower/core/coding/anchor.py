"""Where a stretch of a text stands after the text was corrected."""

from __future__ import annotations

import bisect
import re
from difflib import SequenceMatcher

_PIECE = re.compile(r"\w+|\s+|[^\w\s]")
#: Beyond so many pieces in the changed part, it is taken as replaced as a whole.
MOST_PIECES = 20_000


class Moves:
    """Moves stretches from one state of a text to another. Offsets count code points.

    What both states begin and end with is set aside first; the changed part between them is compared
    by words (difflib's longest matching blocks).
    """

    def __init__(self, before: str, after: str) -> None:
        self.before, self.after = before, after
        self.blocks = _matching(before, after)
        self._starts = [low for low, _, _ in self.blocks]

    def point(self, at: int) -> int:
        """Where a point lies now; inside words that are gone, where they were."""
        block = bisect.bisect_right(self._starts, at) - 1
        if block < 0:
            return 0
        low, there, size = self.blocks[block]
        return there + min(at - low, size)

    def first_change(self) -> tuple[int, int, int]:
        """Where both states first differ, and where each goes on alike."""
        low = there = 0
        for start, start_after, size in self.blocks:
            if start > low or start_after > there:
                return low, start, start_after
            low, there = start + size, start_after + size
        return low, len(self.before), len(self.after)

    def stretch(self, start: int, end: int) -> tuple[int, int] | None:
        """The stretch on the same words; None where all of them are gone."""
        kept = [
            (max(start, low), min(end, low + size), there - low)
            for low, there, size in self.blocks
            if low < end and low + size > start
        ]
        kept = [(low, high, shift) for low, high, shift in kept if self.before[low:high].strip()]
        if not kept:
            return None
        low, high = kept[0][0] + kept[0][2], kept[-1][1] + kept[-1][2]
        words = self.after[low:high]
        return low + len(words) - len(words.lstrip()), high - (len(words) - len(words.rstrip()))


def _matching(before: str, after: str) -> list[tuple[int, int, int]]:
    """(start before, start after, length) of the stretches both states share, in order."""
    head = _common(before, after)
    tail = _common(before[head:][::-1], after[head:][::-1])
    # cut at the ends of words, so that no half word counts as kept
    while head and head < max(len(before), len(after)) and _inside(before, head) | _inside(after, head):
        head -= 1
    while tail and (_inside(before, len(before) - tail) | _inside(after, len(after) - tail)):
        tail -= 1
    middle_before, middle_after = before[head : len(before) - tail], after[head : len(after) - tail]
    blocks = [(0, 0, head)] if head else []
    old, new = _PIECE.findall(middle_before), _PIECE.findall(middle_after)
    if old and new and len(old) + len(new) <= MOST_PIECES:
        old_at, new_at = _offsets(old, head), _offsets(new, head)
        for a, b, size in SequenceMatcher(None, old, new, autojunk=False).get_matching_blocks():
            if size:
                blocks.append((old_at[a], new_at[b], old_at[a + size] - old_at[a]))
    if tail:
        blocks.append((len(before) - tail, len(after) - tail, tail))
    return blocks


def _common(first: str, second: str) -> int:
    low, high = 0, min(len(first), len(second))
    while low < high:
        middle = (low + high + 1) // 2
        if first[:middle] == second[:middle]:
            low = middle
        else:
            high = middle - 1
    return low


def _inside(text: str, at: int) -> bool:
    return 0 < at < len(text) and text[at - 1].isalnum() and text[at].isalnum()


def _offsets(pieces: list[str], base: int) -> list[int]:
    out = [base]
    for piece in pieces:
        out.append(out[-1] + len(piece))
    return out
