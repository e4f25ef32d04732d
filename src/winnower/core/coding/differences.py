"""What differs between two states of a text, in stretches that can be shown."""

from __future__ import annotations

from typing import NamedTuple

from winnower.core.coding.anchor import Moves

#: Words around a change are shown up to so many characters to each side.
AROUND = 60
MOST_CHARS = 4_000
MOST_STRETCHES = 60


class Stretch(NamedTuple):
    """``kind`` is "same", "gone" (only in the first state), "new" (only in the second) or "left out"."""

    kind: str
    text: str


def differences(before: str, after: str) -> list[Stretch]:
    """The stretches of both states in order; long ones that both share are shortened in their middle."""
    out: list[Stretch] = []
    low = there = 0
    for start, start_after, size in [*Moves(before, after).blocks, (len(before), len(after), 0)]:
        if start > low:
            out.append(Stretch("gone", before[low:start][:MOST_CHARS]))
        if start_after > there:
            out.append(Stretch("new", after[there:start_after][:MOST_CHARS]))
        if size:
            out += _shared(before[start : start + size], first=not out, last=start + size == len(before))
        low, there = start + size, start_after + size
        if len(out) > MOST_STRETCHES:
            return [*out, Stretch("left out", "…")]
    return out


def _shared(text: str, first: bool, last: bool) -> list[Stretch]:
    if len(text) <= 2 * AROUND + 20:
        return [Stretch("same", text)]
    # cut between words
    head = [] if first else [Stretch("same", text[: text.rfind(" ", 0, AROUND) + 1] or text[:AROUND])]
    tail = [] if last else [Stretch("same", text[max(text.find(" ", len(text) - AROUND), 0) :][-AROUND:])]
    return [*head, Stretch("left out", " … "), *tail]


__all__ = ["Stretch", "differences"]
