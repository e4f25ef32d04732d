"""Comparisons, evidence, and small answers."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model, Standing
from winnower.api.schemas.texts import Mark
from winnower.core.compare import AnyTarget, Cell, Comparison
from winnower.core.dictionary import TermEntry
from winnower.core.scope import AnyCondition


class MeasurePublic(Model):
    """What can be shown in a cell; ``form`` says how its values are written; ``needs``: fields held equal, or
    verdicts on categories, for it to be asked for."""

    name: str
    label: str
    unit: str
    axis: str
    form: Literal["number", "percent", "count"]
    has_interval: bool
    needs: Literal["", "held", "judged", "numbers"]


class TableCell(Model):
    """``counted``: sentences, paragraphs or words with a hit where those are counted, else the hits; ``distance``: from the rate of all other groups, in standard errors; ``stands_out``: 1 more hits than chance
    in all cells together would give, -1 fewer."""

    value: float | None
    low: float | None
    high: float | None
    hits: int
    texts: int
    counted: int
    distance: float | None
    stands_out: Literal[-1, 0, 1]


class TableRow(Model):
    """``p``: that its rate differs between the groups, adjusted over the tested rows."""

    key: str
    label: str
    name: str
    depth: int
    colour: int
    tested: bool
    p: float | None
    evenness: float | None
    cells: list[TableCell]


class Group(Model):
    """``pair``: the labels of both fields, where two are crossed."""

    label: str
    texts: int
    words: int
    pair: list[str] = []


class GroupsPublic(Model):
    """The groups of a split in a scope; ``across`` is what it is called."""

    groups: list[Group]
    across: str


class StatementPublic(Model):
    """A sentence about a result, and its details in the terms of the field; ``strong`` are parts of the sentence."""

    kind: str
    headline: str
    strong: list[str]
    details: str


class MethodPart(Model):
    heading: str
    words: str
    source: str


class TablePublic(Model):
    """The answer to a comparison. ``comparison`` names the very state of its target that was counted;
    ``version`` is None where that is not kept as one; ``unit`` is what was drawn at random: "the text"."""

    comparison: Comparison
    target: str
    version: int | None
    noun: str
    nouns: str
    across: str
    measure: MeasurePublic
    unit: str
    groups: list[Group]
    rows: list[TableRow]
    statements: list[StatementPublic]
    test: dict
    method: list[MethodPart]
    texts_in_scope: int


class ModelCell(Model):
    """How many times as often as in the reference, all else equal; 0 without hits, None without words."""

    ratio: float | None
    low: float | None
    high: float | None


class ModelRow(Model):
    """``p``: that the field tells anything while the others are held equal, adjusted over the rows; ``reason``: why
    there is no model, and then no cells."""

    key: str
    label: str
    colour: int
    reason: str | None
    p: float | None
    cells: list[ModelCell]


class ModelLevel(Model):
    """``condition`` narrows the scope to the texts of the level; None for a group, which has its cells."""

    label: str
    words: int
    condition: AnyCondition | None


class ModelField(Model):
    """The groups, or a field held equal; ``reference`` is the place of the level the others are set against."""

    name: str
    reference: int
    levels: list[ModelLevel]
    rows: list[ModelRow]


class ModelPublic(Model):
    """The rate model; the groups are the first field."""

    statements: list[StatementPublic]
    fields: list[ModelField]


class SingleTerm(Model):
    """A category without one of its terms: ``share`` of its hits are gone; p and the spread between the groups with
    the term and without it; ``turns``: whether the category differs changes with it."""

    row: str
    label: str
    colour: int
    term: TermEntry
    share: float
    p: float | None
    p_without: float | None
    between: float | None
    between_without: float | None
    turns: bool


class SingleTerms(Model):
    statements: list[StatementPublic]
    terms: list[SingleTerm]


class EvidenceRequest(Model):
    """The passages under a cell of a comparison; with ``company`` those of one term in its first or second
    kind of company."""

    comparison: Comparison
    cell: Cell = Cell()
    company: Literal[0, 1] | None = None
    order: Literal["date", "source", "text", "high", "low"] = "date"
    form: Literal["context", "line"] = "context"
    start: int = Field(default=0, ge=0)
    most: int = Field(default=25, ge=1, le=200)


class Marked(Model):
    """What is marked in a text: all rows of a target, or one of them."""

    target: AnyTarget
    row: str | None = None


class PassagePublic(Model):
    """``before`` is the stretch of text to the passage's left, for lines; marks count from ``text``'s start. ``number`` is
    what a mean is made of: the text's, or the sentence's."""

    text_id: int
    title: str
    source: str | None
    date: str | None
    paragraph: int
    standing: Standing
    start: int
    before: str
    text: str
    after: str
    marks: list[Mark]
    number: float | None = None


class EvidencePage(Model):
    """``wordless``: texts with a number, but without a word that could be shown."""

    hits: int
    texts: int
    start: int
    next: int | None
    passages: list[PassagePublic]
    wordless: int = 0
    #: The number of the cell, where that counts units and not hits, and which units.
    units: int | None = None
    unit: str = ""


class Done(Model):
    label: str


class Made(Done):
    """Something that was made, by its id."""

    id: int


class GoToHit(Model):
    kind: Literal["text", "category", "term", "subcorpus", "source"]
    label: str
    detail: str
    id: int
    parent_id: int | None = None


class HelpPage(Model):
    topic: str
    html: str
