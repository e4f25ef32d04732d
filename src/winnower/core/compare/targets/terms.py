"""Terms, and words of a word list, as targets: each is a row."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from annotated_types import Len

from winnower.core.compare.targets.base import Corpus, Known, MethodPart, Reference, Row, single_rows
from winnower.core.dictionary import TermEntry, texts_of_hits
from winnower.core.errors import ComparisonError
from winnower.core.index import brought_together
from winnower.core.pattern import Term, parse_term, write_term
from winnower.core.places import Places, hits_in_texts
from winnower.core.scope import Condition
from winnower.core.words import row_term

MOST_TERMS = 500


@dataclass(frozen=True)
class OfTerms(Reference):
    """Terms with their options, each a row of its own."""

    terms: Annotated[tuple[TermEntry, ...], Len(1, MOST_TERMS)]
    kind: Literal["terms"] = "terms"

    def resolve(self, known: Known, corpus: Corpus) -> TermsTarget:
        terms = dict.fromkeys(entry.parse() for entry in self.terms)
        return TermsTarget({write_term(term): term for term in terms})


@dataclass(frozen=True)
class OfWords(Reference):
    """Words or phrases of a word list, with all forms of the lemma or stem where they were brought together."""

    words: Annotated[tuple[str, ...], Len(1, MOST_TERMS)]
    unit: Literal["word", "phrase"] = "word"
    merge: Literal["none", "lemma", "stem"] = "none"
    language: str = ""
    kind: Literal["words"] = "words"

    def resolve(self, known: Known, corpus: Corpus) -> TermsTarget:
        forms = self._forms(corpus) if self.unit == "word" and self.merge != "none" else {}
        terms = {
            word: parse_term(row_term(word, forms.get(word, []), self.unit, self.merge, self.language))
            for word in dict.fromkeys(word.strip() for word in self.words)
            if word
        }
        if not terms:
            raise ComparisonError("Name at least one word to count.")
        together = {"none": "", "lemma": ", all forms of each", "stem": ", all words with the stem of each"}
        return TermsTarget(terms, ("word", "words"), f"Words{together[self.merge]}")

    def _forms(self, corpus: Corpus) -> dict[str, list[str]]:
        """The forms that stand in the corpus under each word."""
        names = brought_together(corpus.index, corpus.lexicon, self.language, self.merge)
        rows = np.flatnonzero(names.is_in(list(self.words)).to_numpy())
        found: dict[str, list[str]] = {}
        for name, form in zip(names.gather(rows), corpus.lexicon.folds.gather(rows), strict=True):
            found.setdefault(name, []).append(form)
        return found


@dataclass(frozen=True)
class TermsTarget:
    """Terms by what their rows are called, each counted as if it were alone."""

    terms: dict[str, Term]
    nouns: tuple[str, str] = ("term", "terms")
    name: str = "Terms"
    version: int | None = None
    conditions: tuple[Condition, ...] = ()
    fields: frozenset[str] = frozenset()

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        return single_rows(list(self.terms))

    @property
    def tested_rows(self) -> tuple[int, ...]:
        return tuple(range(len(self.terms)))

    def some(self, rows: Sequence[int]) -> tuple[Term, ...]:
        """The terms of some rows."""
        return tuple(self.terms[self.rows[row].key] for row in rows)

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        return texts_of_hits(self.some([row]), corpus.index)

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        return hits_in_texts(self.some(rows), corpus.index, wanted)

    def subject(self, row: int) -> str:
        return f"Uses of “{self.rows[row].label}”"

    def method(self, texts: int) -> list[MethodPart]:
        named = ", ".join(f"“{row.label}”" for row in self.rows[:10])
        more = f" and {len(self.rows) - 10:,} more" if len(self.rows) > 10 else ""
        return [
            MethodPart("What was counted", f"{self.name}: {named}{more}, over {texts:,} texts."),
            MethodPart(
                "What is a hit",
                f"A {self.nouns[0]} hits where its words stand in a row; case is ignored and accents count "
                "unless it says otherwise. Each is counted as if it were alone: a word can count for several.",
            ),
        ]
