"""Scope, splits, fields, subcorpora. Conditions are the core's own, in their plain form."""

from __future__ import annotations

from typing import Annotated, Literal

from annotated_types import Len
from pydantic import Field

from winnower.api.schemas.base import Model
from winnower.core import scope as core
from winnower.core.scope import AnyCondition, Conditions
from winnower.core.scope.plain import MOST_CONDITIONS

#: A scope that says something.
SomeConditions = Annotated[tuple[AnyCondition, ...], Len(1, MOST_CONDITIONS)]


class Scoped(Model):
    """Anything that is asked of the texts in a scope."""

    scope: Conditions = ()

    @property
    def texts(self) -> core.Scope:
        return core.Scope(self.scope)


class ScopeSize(Model):
    """``aside`` texts of the corpus are excluded and counted nowhere unless asked for."""

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
    scope: SomeConditions


class SubcorpusPublic(Model):
    id: int
    name: str
    scope: Conditions
    revision: int
