"""Comparisons, evidence, and small answers."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model
from winnower.api.schemas.instruments import TermOptions
from winnower.api.schemas.scope import Scoped, Split
from winnower.api.schemas.texts import Mark


class CompareRequest(Scoped):
    dictionary_id: int
    split: Split = Split(field="source")
    measure: Literal["rate", "mean_rate", "share", "share_of_texts", "hits", "texts"] = "rate"


class Cell(Model):
    value: float | None
    low: float | None
    high: float | None
    hits: int
    texts: int
    residual: float | None


class CompareRow(Model):
    category_id: int
    label: str
    name: str
    depth: int
    colour: int
    tested: bool
    evenness: float | None
    cells: list[Cell]


class Group(Model):
    label: str
    texts: int
    words: int


class StatementPublic(Model):
    kind: str
    text: str
    strong: list[str]


class MethodPart(Model):
    heading: str
    words: str
    source: str


class ComparisonPublic(Model):
    dictionary: str
    version: int
    measure: str
    unit: str
    groups: list[Group]
    rows: list[CompareRow]
    statements: list[StatementPublic]
    test: dict
    method: list[MethodPart]
    texts_in_scope: int


class EvidenceRequest(Scoped):
    """The passages under a number: of a category, of terms or of a search, in a group of a split or
    everywhere; with ``kind`` those of one term in its first or second kind of company."""

    dictionary_id: int | None = None
    category_id: int | None = None
    terms: list[TermOptions] = Field(default=[], max_length=200)
    query: str | None = Field(default=None, max_length=2_000)
    split: Split = Split()
    group: str | None = None
    kind: Literal[0, 1] | None = None
    order: Literal["date", "source", "text"] = "date"
    form: Literal["context", "line"] = "context"
    start: int = Field(default=0, ge=0)
    most: int = Field(default=25, ge=1, le=200)


class PassagePublic(Model):
    """``before`` is the stretch of text to the passage's left, for lines; marks count from ``text``'s start."""

    text_id: int
    title: str
    source: str | None
    date: str | None
    paragraph: int
    start: int
    before: str
    text: str
    after: str
    marks: list[Mark]


class EvidencePage(Model):
    hits: int
    texts: int
    start: int
    next: int | None
    passages: list[PassagePublic]


class Done(Model):
    label: str


class GoToHit(Model):
    kind: Literal["text", "category", "term", "subcorpus", "source"]
    label: str
    detail: str
    id: int
    parent_id: int | None = None


class HelpPage(Model):
    topic: str
    html: str
