"""Codes and passages."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnower.api.schemas.base import MOST_INT, Model, Utc
from winnower.api.schemas.scope import Scoped

Id = Annotated[int, Field(ge=1, le=MOST_INT)]
Place = Annotated[int, Field(ge=0, le=2**31 - 1)]
Words = Annotated[str, Field(max_length=10_000)]
Relation = Literal["overlapping", "inside", "around", "followed by", "after", "in one text"]


class CodePublic(Model):
    """A code; ``depth`` 0 at the top, ``colour`` one of ten."""

    id: int
    parent_id: int | None
    depth: int
    name: str
    description: str
    rule: str
    example: str
    counter_example: str
    colour: int
    symbol: str
    technical: bool
    revision: int


class CodebookPublic(Model):
    """Codes in the order of their tree; ``revision`` counts changes of codes and passages."""

    codes: list[CodePublic]
    coders: list[CoderPublic]
    revision: int


class CoderPublic(Model):
    """Somebody who has coded here."""

    id: int
    name: str
    me: bool


class CodeTally(Model):
    """Passages of a code and all below it, and texts with one; ``own`` are those under the code itself."""

    id: int
    passages: int
    texts: int
    own: int


class CodebookCounts(Model):
    codes: list[CodeTally]
    passages: int
    texts: int


class CodeCreate(Model):
    name: str = Field(max_length=2_000)
    parent_id: Id | None = None
    colour: int | None = Field(default=None, ge=0, le=9)
    symbol: str = Field(default="", max_length=16)
    description: Words = ""


class CodeUpdate(Model):
    revision: int
    name: str | None = Field(default=None, max_length=2_000)
    description: Words | None = None
    rule: Words | None = None
    example: Words | None = None
    counter_example: Words | None = None
    colour: int | None = Field(default=None, ge=0, le=9)
    symbol: str | None = Field(default=None, max_length=16)
    technical: bool | None = None


class CodeMove(Model):
    parent_id: Id | None = None
    before_id: Id | None = None
    revision: int | None = None


class CodeMerge(Model):
    into_id: Id


class CodeSplit(Model):
    name: str = Field(max_length=2_000)
    passages: list[Id] = Field(min_length=1, max_length=100_000)


class CodedPassage(Model):
    """A stretch of a text under a code, in code points."""

    id: int
    code_id: int
    start: int
    end: int
    strength: int | None
    comment: str
    coder: str
    mine: bool
    made_at: Utc
    revision: int


class TextPassages(Model):
    """The passages of a text in the order of their words, and the state of the project's coding."""

    passages: list[CodedPassage]
    revision: int


class PassagesChanged(Model):
    """What a change left of the passages it spoke of, those that are gone by it, and the state of the coding
    after it."""

    passages: list[CodedPassage]
    gone: list[int]
    revision: int


class PassageCreate(Model):
    """Codes for a stretch; ``words`` are the words chosen, by which they are found again should the text
    have been corrected. ``new`` is the name of a code to make, under ``parent_id``."""

    start: Place
    end: Place
    words: str = Field(max_length=5_000_000)
    codes: list[Id] = Field(default=[], max_length=50)
    new: CodeCreate | None = None


class PassageUpdate(Model):
    revision: int | None = None
    start: Place | None = None
    end: Place | None = None
    code_id: Id | None = None
    comment: str | None = Field(default=None, max_length=2_000)
    strength: int | None = Field(default=None, ge=0, le=5)


class BesideAsked(Model):
    relation: Relation
    codes: list[Id] = Field(min_length=1, max_length=300)
    without: bool = False


class PassagesRequest(Scoped):
    """A question to the passages; ``start`` counts passages."""

    codes: list[Id] = Field(default=[], max_length=300)
    coders: list[Id] = Field(default=[], max_length=100)
    strength: int = Field(default=0, ge=0, le=5)
    beside: list[BesideAsked] = Field(default=[], max_length=10)
    start: int = Field(default=0, ge=0, le=MOST_INT)
    most: int = Field(default=60, ge=1, le=300)


class FoundPassage(CodedPassage):
    """A passage with where it is from: ``before`` and ``after`` are words around it."""

    text_id: int
    title: str
    source: str | None
    date: str | None
    before: str
    text: str
    after: str
    paragraph: int


class PassagesPage(Model):
    total: int
    texts: int
    start: int
    passages: list[FoundPassage]


class PassagesChange(Model):
    """Passages to move under another code, or to take off where none is given."""

    passages: list[Id] = Field(min_length=1, max_length=100_000)
    code_id: Id | None = None
