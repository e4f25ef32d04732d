"""New rows that are nearly a text that is there: perhaps its corrected form, which somebody has to say."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from winnower.core.scope import NO_DATE, CategoryColumn, DateColumn
from winnower.readers.prepare import PreparedTexts
from winnower.store.database import Session
from winnower.store.opened import OpenCorpus
from winnower.store.texts import bodies

#: Words that two forms of a text share, as a part of all words of the two.
ALIKE = 0.6
#: So many texts that are there are compared with the rows of a batch, at most.
MOST_COMPARED = 3_000
_EPOCH_ORDINAL = 719_163


class Nearly(NamedTuple):
    """A new row, the text that it nearly is, and what that one says."""

    at: int
    text_id: int
    body: str
    share: float


class NearTexts:
    """Texts of a project by source and date, in which nearly the same ones are looked for."""

    def __init__(self, corpus: OpenCorpus) -> None:
        self._of: dict[tuple[str, int], list[int]] = defaultdict(list)
        source, date = corpus.columns.fields["source"], corpus.columns.fields["date"]
        if not isinstance(source, CategoryColumn) or not isinstance(date, DateColumn):
            return
        known = np.flatnonzero((source.codes >= 0) & (date.days != NO_DATE))
        ids = corpus.columns.text_id
        for place in known.tolist():
            self._of[source.labels[source.codes[place]], int(date.days[place])].append(int(ids[place]))

    def find(self, session: Session, texts: PreparedTexts, new: Sequence[int]) -> list[Nearly]:
        """Those of the ``new`` rows that share most words with a text of the same source and day, with that text."""
        candidates = {at: found for at in new if (found := self._same_day(texts, at))}
        wanted = list(dict.fromkeys(one for found in candidates.values() for one in found))[:MOST_COMPARED]
        if not wanted:
            return []
        stored = bodies(session, wanted)
        words = {text_id: _words(body) for text_id, body in stored.items()}
        out = []
        for at, found in candidates.items():
            mine = _words(texts.body[at])
            best = max(
                (one for one in found if one in words),
                key=lambda one: _shared(mine, words[one]),
                default=None,
            )
            if best is not None and (share := _shared(mine, words[best])) >= ALIKE:
                out.append(Nearly(at, best, stored[best], share))
        return out

    def _same_day(self, texts: PreparedTexts, at: int) -> list[int]:
        source, date = texts.source[at], texts.date[at]
        if source is None or date is None or not texts.body[at]:
            return []
        return self._of.get((source, date.toordinal() - _EPOCH_ORDINAL), [])


def _words(body: str) -> frozenset[str]:
    return frozenset(body.casefold().split())


def _shared(one: frozenset[str], other: frozenset[str]) -> float:
    return len(one & other) / max(len(one | other), 1)
