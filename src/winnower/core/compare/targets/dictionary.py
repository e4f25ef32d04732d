"""The categories of a dictionary as a target."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from annotated_types import Len

from winnower.core.compare.targets.base import Corpus, Known, MethodPart, Reference, Row, Target
from winnower.core.dictionary import Category, Dictionary, TermEntry, in_tree_order, texts_of_entries
from winnower.core.dictionary.hits import prepared
from winnower.core.errors import ComparisonError, Conflict
from winnower.core.pattern import Term
from winnower.core.places import Places, hits_in_texts
from winnower.core.scope import Condition

MOST_CATEGORIES = 1_000


@dataclass(frozen=True)
class OfDictionary(Reference):
    """The categories of a dictionary at a version, or as it is now (None).

    ``fingerprint`` says which state was meant by "now": where the dictionary is another one by then, it is
    not counted under a wrong name.
    """

    dictionary: int
    version: int | None = None
    fingerprint: str | None = None
    kind: Literal["dictionary"] = "dictionary"

    def resolve(self, known: Known, corpus: Corpus) -> DictionaryTarget:
        value, version = known.dictionary(self.dictionary, self.version)
        if self.fingerprint is not None and value.fingerprint() != self.fingerprint:
            raise Conflict("The dictionary was changed since this was counted. Count it again.")
        if not value.categories:
            raise ComparisonError(
                f"The dictionary “{value.name}” has no categories yet; add one with a term."
            )
        return DictionaryTarget(value, version)

    def pinned(self, target: Target) -> OfDictionary:
        assert isinstance(target, DictionaryTarget)
        if target.version is not None:
            return replace(self, version=target.version, fingerprint=None)
        return replace(self, fingerprint=target.value.fingerprint())


@dataclass(frozen=True)
class OfGiven(Reference):
    """A dictionary that comes with the comparison itself and is kept nowhere else."""

    name: str
    categories: Annotated[tuple[Category, ...], Len(1, MOST_CATEGORIES)]
    kind: Literal["given"] = "given"

    def resolve(self, known: Known, corpus: Corpus) -> DictionaryTarget:
        return DictionaryTarget(Dictionary(self.name, in_tree_order(self.categories)))


@dataclass(frozen=True)
class DictionaryTarget:
    """Rows are the categories in tree order, named by their path."""

    value: Dictionary
    version: int | None = None
    nouns: tuple[str, str] = ("category", "categories")
    conditions: tuple[Condition, ...] = ()
    fields: frozenset[str] = frozenset()

    @property
    def name(self) -> str:
        return f"Dictionary “{self.value.name}”"

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        place = {category.path: at for at, category in enumerate(self.value.categories)}
        return tuple(_row(category, place.get(category.path[:-1])) for category in self.value.categories)

    @cached_property
    def tested_rows(self) -> tuple[int, ...]:
        return self.value.tested_rows()

    def entries(self, row: int) -> tuple[TermEntry, ...]:
        """The terms of a category and of all below it."""
        categories = self.value.categories
        return tuple(term for at in self.value.with_children(row) for term in categories[at].terms)

    def terms(self, rows: Sequence[int]) -> tuple[Term, ...]:
        """The terms of some rows, each once."""
        found = (term for row in rows for term in prepared(self.entries(row)).terms)
        return tuple(dict.fromkeys(found))

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        return texts_of_entries(self.entries(row), corpus.index)

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        return hits_in_texts(self.terms(rows), corpus.index, wanted)

    def subject(self, row: int) -> str:
        return f"{self.rows[row].label} terms"

    def method(self, texts: int) -> list[MethodPart]:
        version = f", version {self.version}" if self.version is not None else ", current state"
        terms = sum(len(category.terms) for category in self.value.categories)
        many = len(self.value.categories)
        return [
            MethodPart(
                "What was counted",
                f"{self.name}{version}: {terms:,} terms in {many:,} categories, over {texts:,} texts.",
            ),
            MethodPart(
                "What is a hit",
                "A term hits where its words stand in a row within a sentence; case is ignored and accents count unless "
                "the term says otherwise. Within a category every word counts once: of overlapping hits "
                "the longest, then the leftmost, wins. A parent category counts the union of its "
                "children. Between categories hits are independent.",
            ),
        ]


def _row(category: Category, parent: int | None) -> Row:
    return Row(category.label, category.label, category.name, category.depth, parent, category.colour)
