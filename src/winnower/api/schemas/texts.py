"""The table of texts, and one text."""

from __future__ import annotations

from pydantic import Field

from winnower.api.schemas.base import Model
from winnower.api.schemas.scope import Scoped


class Mark(Model):
    """A stretch of a text in code points: from ``start`` to before ``end``."""

    start: int
    end: int


class NamedValue(Model):
    name: str
    value: str | float | list[str] | None


class PageRequest(Scoped):
    find: str = Field(default="", max_length=300)
    sort: str = "date"
    descending: bool = False
    start: int = Field(default=0, ge=0)
    most: int = Field(default=100, ge=1, le=500)


class TextLine(Model):
    """A row of the table of texts; ``values`` by field key."""

    id: int
    title: str
    source: str | None
    date: str | None
    words: int
    values: dict[str, str | float | list[str] | None]


class TextPage(Model):
    total: int
    start: int
    rows: list[TextLine]


class TextPublic(Model):
    """A text with its body; ``paragraphs`` are code point offsets at which they begin."""

    id: int
    title: str
    source: str | None
    date: str | None
    words: int
    origin: str
    revision: int
    body: str
    paragraphs: list[int]
    values: list[NamedValue]
    marks: list[Mark]


class AroundRequest(Scoped):
    sort: str = "date"
    descending: bool = False


class Around(Model):
    """Neighbours of a text in the table; ``position`` from 1, None outside the scope."""

    position: int | None
    total: int
    previous: int | None
    next: int | None


class PreferenceValue(Model):
    """What somebody chose for a view, as words; null where nothing was chosen yet."""

    value: list[str] | None = Field(max_length=500)
