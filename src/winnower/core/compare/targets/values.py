"""The values of a field as a target: each value is a row, and a text that has it is one hit."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from dataclasses import field as field_of
from functools import cached_property
from typing import Literal

import numpy as np

from winnower.core.compare.targets.base import Corpus, Known, MethodPart, Reference, Row, single_rows
from winnower.core.compare.targets.length import whole_texts
from winnower.core.errors import ComparisonError
from winnower.core.places import Places
from winnower.core.scope import Condition, Groups, Split, split_groups
from winnower.core.scope.split import Period

#: More values than these are no table anybody reads.
MOST_VALUES = 500


@dataclass(frozen=True)
class OfValues(Reference):
    """The values of a field; of a date its periods. Two fields set against each other are this across the other."""

    field: str
    period: Period | None = None
    kind: Literal["values"] = "values"

    def resolve(self, known: Known, corpus: Corpus) -> ValuesTarget:
        everything = np.ones(corpus.index.n_texts, bool)
        groups = split_groups(Split(self.field, self.period), corpus.columns, everything)
        name = corpus.columns.names[self.field]
        if groups.n_groups > MOST_VALUES:
            raise ComparisonError(
                f"“{name}” has {groups.n_groups:,} values; at most {MOST_VALUES} can be rows. Bring them together in bands "
                "or groups, or take another field."
            )
        if not groups.n_groups:
            raise ComparisonError(f"No text has a value of “{name}”.")
        return ValuesTarget(self.field, name, groups)


@dataclass(frozen=True)
class ValuesTarget:
    """Each value is a row; a text is a hit of its values, at its first word."""

    field: str
    called: str
    groups: Groups = field_of(repr=False)
    nouns: tuple[str, str] = ("value", "values")
    version: int | None = None
    conditions: tuple[Condition, ...] = ()

    @property
    def name(self) -> str:
        return f"Values of “{self.called}”"

    @property
    def fields(self) -> frozenset[str]:
        return frozenset({self.field})

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        return single_rows(self.groups.labels)

    @property
    def tested_rows(self) -> tuple[int, ...]:
        return tuple(range(len(self.rows)))

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        found: np.ndarray = self.groups.text[self.groups.group == row]
        return found

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        inside = np.zeros(corpus.index.n_texts, bool)
        inside[self.groups.text[np.isin(self.groups.group, list(rows))]] = True
        return whole_texts(inside & wanted, corpus.index)

    def subject(self, row: int) -> str:
        return f"Texts with {self.called} “{self.rows[row].label}”"

    def method(self, texts: int) -> list[MethodPart]:
        return [
            MethodPart("What was counted", f"{self.name}, {len(self.rows):,} of them, over {texts:,} texts."),
            MethodPart(
                "What is a hit",
                "A text is one hit of each value it has. Texts without a value are in no row, but they are among the texts "
                "of a group.",
            ),
        ]
