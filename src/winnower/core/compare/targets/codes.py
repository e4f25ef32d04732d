"""The codes of the codebook as a target: what is counted are coded passages."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np

from winnower.core.coding import Passages
from winnower.core.compare.targets.base import CodeNode, Corpus, Known, MethodPart, Reference, Row, Target
from winnower.core.errors import ComparisonError
from winnower.core.places import Places
from winnower.core.places.stretches import token_spans, words_covered
from winnower.core.scope import Condition

_HITS = {
    "passages": (
        "Each coded passage is one hit of its code. The same words of two coders are two passages. A code "
        "counts with all codes below it; there the same words of one coder count once."
    ),
    "words": (
        "Each word that lies in a passage of a code is one hit of it, once however many passages or coders "
        "cover it. A code counts with all codes below it. A rate of 150 per 1,000 words means that 15% of the "
        "words are under the code."
    ),
}


@dataclass(frozen=True)
class OfCodes(Reference):
    """Passages under the codes of the codebook, or the words they cover, by everybody or by some ``coders``
    (accounts).

    ``revision`` is the state of the coding that was counted; coding goes on, so that what is opened later
    is what is coded then.
    """

    coders: tuple[int, ...] = ()
    counted: Literal["passages", "words"] = "passages"
    revision: int | None = None
    kind: Literal["codes"] = "codes"

    @property
    def of_coding(self) -> bool:
        return True

    def resolve(self, known: Known, corpus: Corpus) -> CodesTarget:
        codes, passages, revision = known.codes()
        if not codes:
            raise ComparisonError("The codebook has no codes yet; read a text and code some words.")
        if self.coders:
            passages = passages.taken(np.isin(passages.made_by, self.coders))
        return CodesTarget(codes, passages, revision, self.counted, people=tuple(known.coders().items()))

    def pinned(self, target: Target) -> OfCodes:
        assert isinstance(target, CodesTarget)
        return replace(self, revision=target.revision)


@dataclass(frozen=True)
class CodesTarget:
    """Rows are the codes in the order of their tree; a code counts with all below it, and there the same
    words of one coder once."""

    codes: tuple[CodeNode, ...]
    passages: Passages = field(repr=False)
    revision: int
    counted: Literal["passages", "words"] = "passages"
    name: str = "Codebook"
    version: int | None = None
    nouns: tuple[str, str] = ("code", "codes")
    conditions: tuple[Condition, ...] = ()
    fields: frozenset[str] = frozenset()
    people: tuple[tuple[str, int], ...] = ()

    def of_coder(self, name: str) -> CodesTarget:
        """What one of the people who code has coded, by their name among the values of the field of coders."""
        account = dict(self.people).get(name)
        taken = (
            self.passages.made_by == account if account is not None else np.zeros(len(self.passages), bool)
        )
        return replace(self, passages=self.passages.taken(taken))

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        at = {code.path: place for place, code in enumerate(self.codes)}
        return tuple(
            Row(
                " > ".join(code.path),
                " > ".join(code.path),
                code.path[-1],
                len(code.path) - 1,
                at.get(code.path[:-1]),
                code.colour,
            )
            for code in self.codes
        )

    @property
    def tested_rows(self) -> tuple[int, ...]:
        """The top level, or the next one where the top is single."""
        for depth in range(max(row.depth for row in self.rows) + 1):
            rows = tuple(at for at, row in enumerate(self.rows) if row.depth == depth)
            if len(rows) > 1:
                return rows
        return (0,)

    def under(self, rows: Sequence[int]) -> np.ndarray:
        """Places, among the passages, of those of some codes and all below them."""
        return self.passages.under({code for row in rows for code in self._below[row]})

    @cached_property
    def _below(self) -> list[set[int]]:
        """For each row the ids of its code and all below it."""
        out: list[set[int]] = [set() for _ in self.codes]
        for at, code in enumerate(self.codes):
            place: int | None = at
            while place is not None:
                out[place].add(code.id)
                place = self.rows[place].parent
        return out

    def texts_of_passages(self, corpus: Corpus) -> np.ndarray:
        """The place of each passage's text in the corpus, -1 where it is not in it; worked out once."""
        ids = corpus.columns.text_id
        kept = self.__dict__.get("_placed")
        if kept is None or kept[0] is not ids:
            kept = (ids, _places_of_texts(self.passages.text_id, ids))
            self.__dict__["_placed"] = kept
        found: np.ndarray = kept[1]
        return found

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        if self.counted == "words":
            places = self.places([row], corpus, np.ones(corpus.index.n_texts, bool))
            return np.repeat(*words_covered(places, corpus.index))
        found = self.texts_of_passages(corpus)[self.under([row])]
        inside: np.ndarray = found[found >= 0]
        return inside

    def _spans(self, corpus: Corpus) -> tuple[np.ndarray, np.ndarray]:
        """The first token of each passage and how many it has, 0 for one that is not in the corpus; worked out once."""
        kept = self.__dict__.get("_spanned")
        if kept is None or kept[0] is not corpus.index:
            text = self.texts_of_passages(corpus)
            here = np.flatnonzero(text >= 0)
            first, length = np.zeros(len(text), np.int64), np.zeros(len(text), np.int64)
            stretch = (self.passages.start[here], self.passages.end[here])
            first[here], length[here] = token_spans(text[here], *stretch, corpus.index)
            kept = (corpus.index, first, length)
            self.__dict__["_spanned"] = kept
        return kept[1], kept[2]

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        return self.placed(rows, corpus, wanted)[0]

    def places_by_row(self, corpus: Corpus, wanted: np.ndarray) -> tuple[Places, np.ndarray]:
        """The places of all rows, and the row of each: what ``places`` gives row by row, in no order."""
        text, (first, length) = self.texts_of_passages(corpus), self._spans(corpus)
        row_of = self._lone_row()
        inside = (text >= 0) & (length > 0) & (row_of >= 0)
        inside[inside] = wanted[text[inside]]
        parts, labels = [Places(text[inside], first[inside], length[inside])], [row_of[inside]]
        for row, below in enumerate(self._below):
            if len(below) > 1:
                parts.append(self.places([row], corpus, wanted))
                labels.append(np.full(parts[-1].hits, row))
        return Places.joined(parts), np.concatenate(labels)

    def _lone_row(self) -> np.ndarray:
        """int64 per passage: the row of its code where it has none below, else -1; worked out once."""
        kept = self.__dict__.get("_lone")
        if kept is None:
            kept = np.full(len(self.passages), -1, np.int64)
            for row, below in enumerate(self._below):
                if len(below) == 1:
                    kept[self.passages.by_code.get(next(iter(below)), np.empty(0, np.int64))] = row
            self.__dict__["_lone"] = kept
        return kept

    def placed(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> tuple[Places, np.ndarray]:
        """The places, and of each which passage it is."""
        at = self.under(rows)
        text = self.texts_of_passages(corpus)[at]
        first, length = self._spans(corpus)
        inside = (text >= 0) & (length[at] > 0)
        inside[inside] = wanted[text[inside]]
        return Places(text[inside], first[at[inside]], length[at[inside]]), at[inside]

    def subject(self, row: int) -> str:
        what = "Words" if self.counted == "words" else "Passages"
        return f"{what} coded {self.rows[row].label}"

    def method(self, texts: int) -> list[MethodPart]:
        many, coded = len(self.codes), len(np.unique(self.passages.text_id))
        return [
            MethodPart(
                "What was counted",
                f"{len(self.passages):,} passages under {many:,} codes of the codebook, as coded at step "
                f"{self.revision:,} of the work, over {texts:,} texts. {coded:,} texts of the project have "
                "passages; those nobody has coded yet count as without.",
            ),
            MethodPart(
                "What is a hit",
                _HITS[self.counted],
            ),
        ]


def _places_of_texts(text_ids: np.ndarray, ids: np.ndarray) -> np.ndarray:
    if not len(ids) or not len(text_ids):
        return np.full(len(text_ids), -1, np.int64)
    order = np.argsort(ids, kind="stable")
    at = order[np.minimum(np.searchsorted(ids, text_ids, sorter=order), len(ids) - 1)]
    found: np.ndarray = np.where(ids[at] == text_ids, at, -1)
    return found
