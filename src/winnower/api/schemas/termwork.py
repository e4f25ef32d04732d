"""Working on terms: their two forms, what they catch, what to look after, what may be missing."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model
from winnower.api.schemas.scope import Scoped


class CellModel(Model):
    """Words next to each other, or one expression; ``least`` and ``most`` words lie before it."""

    text: str = Field(max_length=700)
    kind: Literal["words", "expression"] = "words"
    least: int = Field(default=0, ge=0, le=20)
    most: int = Field(default=0, ge=0, le=20)


class ConditionModel(Model):
    """``within`` in words; None stands for the sentence."""

    relation: Literal["near", "before", "after", "part-of"]
    unless: bool
    within: int | None = Field(default=5, ge=1, le=100)
    rows: list[list[CellModel]] = Field(max_length=60)


class TermFieldsModel(Model):
    rows: list[list[CellModel]] = Field(max_length=60)
    conditions: list[ConditionModel] = Field(default=[], max_length=10)
    match_case: bool = False
    ignore_accents: bool = False
    forms_of: str = Field(default="", max_length=8)


class TermText(Model):
    """``source`` is the text without options, ``written`` with them."""

    source: str
    written: str
    match_case: bool
    ignore_accents: bool
    forms_of: str


class ExcludeForm(Model):
    revision: int
    form: str = Field(max_length=300)


class OverlapPublic(Model):
    first: int
    second: int
    words: int


class CarryingTerm(Model):
    term_id: int
    share: float


class MixedTerm(Model):
    """A term with two kinds of company, and the words typical of each."""

    term_id: int
    share: float
    sizes: list[int]
    words: list[list[str]]


class CarePublic(Model):
    """What to look after in a dictionary; ``company`` says whether meanings could be looked at."""

    overlaps: list[OverlapPublic]
    idle: list[int]
    carrying: list[CarryingTerm]
    mixed: list[MixedTerm]
    company: Literal["ready", "working", "none"]


class SuggestionPublic(Model):
    text: str
    term: str
    hits: int
    reason: Literal["form", "spelling", "compound", "company", "synonym", "typical"]
    like: str


class SuggestionsRequest(Scoped):
    most_each: int = Field(default=8, ge=1, le=40)


class SuggestionsPublic(Model):
    """``company`` says whether words in the same company could be looked for; ``job`` works on it."""

    suggestions: list[SuggestionPublic]
    company: Literal["ready", "working", "none"]
    thesaurus: bool
    judged_right: int


class DismissRequest(Model):
    form: str = Field(min_length=1, max_length=200)
