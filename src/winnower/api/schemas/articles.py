"""The search for articles and studies."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from winnower.api.schemas.base import Model
from winnower.core.assist import Statement

Short = Annotated[str, Field(max_length=200)]


class ArticlesAsked(Model):
    """A page of what a query and filters find."""

    words: str = Field(default="", max_length=500)
    kinds: list[Short] = Field(default=[], max_length=20)
    outlets: list[Short] = Field(default=[], max_length=100)
    first: int | None = Field(default=None, ge=0, le=9_999)
    last: int | None = Field(default=None, ge=0, le=9_999)
    newest: bool = False
    start: int = Field(default=0, ge=0, le=100_000)
    most: int = Field(default=50, ge=1, le=200)


class ArticleLine(Model):
    """A record; ``there`` where the project has a text with this reference."""

    id: str
    kind: str
    title: str
    authors: list[str]
    year: int
    outlet: str
    subjects: list[str]
    words: str
    there: bool


class Tally(Model):
    name: str
    records: int


class ArticlesPage(Model):
    """``kinds``, ``outlets`` and ``years`` count what the words alone find; ``summary`` of the first five, each statement
    with the place of its record among them, from 1."""

    service: str
    total: int
    start: int
    records: list[ArticleLine]
    kinds: list[Tally]
    outlets: list[Tally]
    years: list[int]
    summary: list[Statement]


class ArticlePublic(Model):
    """A whole record, and how two usual styles cite it."""

    line: ArticleLine
    volume: str
    pages: str
    publisher: str
    author_date: str
    notes: str


class ArticlesTaken(Model):
    ids: list[Annotated[str, Field(min_length=1, max_length=60)]] = Field(min_length=1, max_length=2_000)
