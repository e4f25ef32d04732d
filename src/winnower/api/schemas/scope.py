"""Scope, splits, fields, subcorpora."""

from __future__ import annotations

import datetime as dt
from typing import Annotated, Literal

from pydantic import Field

from winnower.api.schemas.base import Model
from winnower.core import scope as core


class HasValue(Model):
    kind: Literal["values"]
    field: str
    values: list[str | None] = Field(min_length=1, max_length=2000)
    exclude: bool = False

    def value(self) -> core.HasValue:
        return core.HasValue(self.field, tuple(self.values), self.exclude)


class DateRange(Model):
    kind: Literal["dates"]
    field: str
    low: dt.date | None = None
    high: dt.date | None = None
    exclude: bool = False

    def value(self) -> core.Between:
        return core.Between(self.field, self.low, self.high, self.exclude)


class NumberRange(Model):
    kind: Literal["numbers"]
    field: str
    low: float | None = None
    high: float | None = None
    exclude: bool = False

    def value(self) -> core.Between:
        return core.Between(self.field, self.low, self.high, self.exclude)


class HasTerm(Model):
    kind: Literal["terms"]
    terms: list[str] = Field(min_length=1, max_length=200)
    exclude: bool = False

    def value(self) -> core.HasTerm:
        return core.HasTerm(tuple(self.terms), self.exclude)


class InTitle(Model):
    kind: Literal["title"]
    contains: str = Field(min_length=1, max_length=300)
    field: str = "title"
    exclude: bool = False

    def value(self) -> core.InTitle:
        return core.InTitle(self.contains, self.field, self.exclude)


class Finds(Model):
    kind: Literal["finds"]
    words: str = Field(min_length=1, max_length=300)
    exclude: bool = False

    def value(self) -> core.Finds:
        return core.Finds(self.words, self.exclude)


class Matches(Model):
    """Found by a search: terms joined by AND, OR, NOT."""

    kind: Literal["matches"]
    query: str = Field(min_length=1, max_length=2_000)
    exclude: bool = False

    def value(self) -> core.Matches:
        return core.Matches(self.query, self.exclude)


Condition = Annotated[
    HasValue | DateRange | NumberRange | HasTerm | InTitle | Finds | Matches, Field(discriminator="kind")
]


class Scoped(Model):
    """Anything that is asked of the texts in a scope."""

    scope: list[Condition] = Field(default=[], max_length=50)

    def scope_value(self) -> core.Scope:
        return core.Scope(tuple(condition.value() for condition in self.scope))


class Split(Model):
    field: str | None = None
    period: Literal["day", "week", "month", "quarter", "year"] | None = None

    def value(self) -> core.Split:
        return core.Split(self.field, self.period)


class ScopeSize(Model):
    """``aside`` texts of the corpus are set aside and counted nowhere unless asked for."""

    aside: int = 0
    texts: int
    words: int
    all_texts: int
    all_words: int


class FieldValue(Model):
    label: str | None
    texts: int


class FieldInfo(Model):
    """A field of the corpus; ``values`` for categories (the most frequent), ``low`` and ``high`` for ranges."""

    key: str
    name: str
    kind: Literal["category", "several", "number", "date", "text"]
    can_split: bool
    missing: int
    different: int
    values: list[FieldValue]
    low: str | None
    high: str | None


class SubcorpusCreate(Model):
    name: str = Field(min_length=1, max_length=200)
    scope: list[Condition] = Field(min_length=1, max_length=50)


class SubcorpusPublic(Model):
    id: int
    name: str
    scope: list[Condition]
    revision: int
