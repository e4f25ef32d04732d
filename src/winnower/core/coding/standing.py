"""Where words stand in their text: who speaks there, on which page, at what time of a recording."""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from collections.abc import Iterable, Sequence
from typing import NamedTuple

#: Kinds of places that say it. Each holds until the next one of its kind in the text.
KINDS = ("turn", "page", "time")


class Standing(NamedTuple):
    """``speaker`` is who speaks, ``page`` and ``time`` as they are labelled; empty where the text does not say."""

    speaker: str = ""
    page: str = ""
    time: str = ""


class Standings:
    """The places of some texts (text id, kind, start, label), asked for by code point."""

    def __init__(self, places: Iterable[tuple[int, str, int, str]]) -> None:
        by_kind: dict[tuple[int, str], list[tuple[int, str]]] = defaultdict(list)
        for text_id, kind, start, label in places:
            by_kind[text_id, kind].append((start, label))
        self._by_kind = {
            key: ([start for start, _ in found], [label for _, label in found])
            for key, found in ((key, sorted(found)) for key, found in by_kind.items())
        }

    def at(self, text_id: int, start: int) -> Standing:
        """Where the words stand that begin at a code point of a text."""
        return Standing(*(self._last(text_id, kind, start) for kind in KINDS))

    def speakers(self, text_id: int) -> tuple[tuple[int, str], ...]:
        """(code point, name) where somebody begins to speak in a text, in order."""
        starts, labels = self._by_kind.get((text_id, "turn"), ((), ()))
        return tuple(zip(starts, labels, strict=True))

    def _last(self, text_id: int, kind: str, start: int) -> str:
        starts, labels = self._by_kind.get((text_id, kind), ((), ()))
        at = bisect_right(starts, start)
        return labels[at - 1] if at else ""


def origin_in_words(
    standing: Standing, source: str | None, date: str | None, title: str, paragraph: int
) -> str:
    """Where words are from, as it stands under a quote.

    >>> origin_in_words(Standing("Rosa Thirl", "4"), "Hill Farmer", "2031-04-02", "Nine pages", 2)
    'Rosa Thirl, in: Hill Farmer, 2031-04-02, Nine pages, p. 4, paragraph 2'
    """
    parts: Sequence[str | None] = (
        source, date, title, f"p. {standing.page}" if standing.page else "", standing.time, f"paragraph {paragraph}",
    )  # fmt: skip
    where = ", ".join(part for part in parts if part)
    return f"{standing.speaker}, in: {where}" if standing.speaker else where
