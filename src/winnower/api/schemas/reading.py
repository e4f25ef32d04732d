"""One text: corrections, notes, reference."""

from __future__ import annotations

import datetime as dt
from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model, Revision, Utc
from winnower.api.schemas.notes import NotePublic


class PlacePublic(Model):
    """A page, section, heading, speaker's turn or time; ``start`` counts code points."""

    kind: Literal["page", "section", "heading", "turn", "time"]
    start: int
    label: str


class ReferenceFields(Model):
    type: str = ""
    title: str = ""
    authors: str = ""
    year: str = ""
    container: str = ""
    volume: str = ""
    issue: str = ""
    pages: str = ""
    publisher: str = ""
    place: str = ""
    doi: str = ""
    url: str = ""
    date: str = ""


class ReferenceUpdate(ReferenceFields):
    revision: Revision


class ReferencePublic(Model):
    """``own`` says that the fields were given; else they follow from title, source and date."""

    fields: ReferenceFields
    own: bool
    author_date: str
    notes: str


class EditPublic(Model):
    """A correction; ``removed`` and ``added`` are the words around the first change."""

    id: int
    what: str
    made_by: str
    made_at: Utc
    removed: str
    added: str


class BodyUpdate(Model):
    body: str
    revision: int


class Aside(Model):
    """What stands beside a text: notes, places, reference, corrections."""

    places: list[PlacePublic]
    notes: list[NotePublic]
    reference: ReferencePublic
    edits: list[EditPublic]
    placeholder: bool


class TextCreate(Model):
    title: str = Field(min_length=1, max_length=500)
    body: str = Field(min_length=1)
    source: str | None = Field(default=None, max_length=300)
    date: dt.date | None = None
