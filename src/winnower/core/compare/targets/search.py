"""A search as a target: the hits of its terms in the texts it finds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from annotated_types import Len

from winnower.core.compare.targets.base import Corpus, Known, MethodPart, Reference, Row, single_rows
from winnower.core.dictionary import texts_of_hits
from winnower.core.pattern import Term, matching_texts, parse_query, terms_of
from winnower.core.places import Places, hits_in_texts
from winnower.core.scope import Condition, Matches


@dataclass(frozen=True)
class OfSearch(Reference):
    """Terms joined by AND, OR, NOT (see pattern/query.py)."""

    query: Annotated[str, Len(1, 2_000)]
    kind: Literal["search"] = "search"

    def resolve(self, known: Known, corpus: Corpus) -> SearchTarget:
        parse_query(self.query)
        return SearchTarget(self.query)


@dataclass(frozen=True)
class SearchTarget:
    """One row, the search."""

    query: str
    nouns: tuple[str, str] = ("search", "searches")
    version: int | None = None
    tested_rows: tuple[int, ...] = (0,)
    fields: frozenset[str] = frozenset()

    @property
    def name(self) -> str:
        return f"Search “{self.query}”"

    @property
    def rows(self) -> tuple[Row, ...]:
        return single_rows([self.query])

    @property
    def conditions(self) -> tuple[Condition, ...]:
        return (Matches(self.query),)

    @cached_property
    def terms(self) -> tuple[Term, ...]:
        return terms_of(parse_query(self.query))

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        texts = texts_of_hits(self.terms, corpus.index)
        found: np.ndarray = texts[matching_texts(parse_query(self.query), corpus.index)[texts]]
        return found

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        return hits_in_texts(
            self.terms, corpus.index, wanted & matching_texts(parse_query(self.query), corpus.index)
        )

    def subject(self, row: int) -> str:
        return f"Hits of “{self.query}”"

    def method(self, texts: int) -> list[MethodPart]:
        return [
            MethodPart("What was counted", f"{self.name} over {texts:,} texts."),
            MethodPart(
                "What is a hit",
                "Words of the search in the texts it finds; a text is found as a whole, and words after NOT "
                "are no hits.",
            ),
        ]
