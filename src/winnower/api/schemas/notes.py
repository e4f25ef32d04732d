"""Notes, the quotes in them, paraphrases."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnower.api.schemas.base import MOST_INT, Model, Standing, Utc

Id = Annotated[int, Field(ge=1, le=MOST_INT)]
Place = Annotated[int, Field(ge=0, le=2**31 - 1)]
#: Longer ones are refused with a sentence of their own, not with a rule of the schema.
Body = Annotated[str, Field(max_length=20_000_000)]
Kind = Annotated[str, Field(max_length=40)]
Title = Annotated[str, Field(max_length=200)]


class QuotePublic(Model):
    """Words of a text in a note, as the text has them now; ``gone`` where text or words are no longer there, and
    then the words are those of the day they were quoted."""

    id: int
    text_id: int | None
    start: int | None
    end: int | None
    words: str
    gone: bool
    title: str
    source: str | None
    date: str | None
    paragraph: int | None
    standing: Standing


class NotePublic(Model):
    """A note in Markdown; in it ``[...](quote:ID)`` stands for a quote. ``words`` are the words of a text it is on."""

    id: int
    kind: str
    title: str
    body: str
    author: str
    mine: bool
    made_at: Utc
    revision: int
    text_id: int | None
    text_title: str | None
    start: int | None
    end: int | None
    words: str
    code_id: int | None
    code_name: str | None
    finding_id: int | None
    finding_title: str | None
    question_id: int | None
    question_words: str | None
    quotes: list[QuotePublic]


class NoteCreate(Model):
    """A note on a text, on a stretch of it, on a code, on both (a passage), on a finding or a
    question, or without any of them on the project."""

    body: Body = ""
    kind: Kind = ""
    title: Title = ""
    text_id: Id | None = None
    start: int | None = Field(default=None, ge=0, le=MOST_INT)
    end: int | None = Field(default=None, ge=1, le=MOST_INT)
    code_id: Id | None = None
    finding_id: Id | None = None
    question_id: Id | None = None


class NoteUpdate(Model):
    revision: int
    body: Body | None = None
    kind: Kind | None = None
    title: Title | None = None
    code_id: int | None = Field(default=None, ge=0, le=MOST_INT)


class NotesRequest(Model):
    find: str = Field(default="", max_length=300)
    kind: Kind | None = None
    author: Id | None = None
    on: Literal["project", "text", "passage", "code", "finding", "question"] | None = None
    code_id: Id | None = None
    text_id: Id | None = None
    finding_id: Id | None = None
    question_id: Id | None = None
    ids: list[Id] | None = Field(default=None, max_length=1_000)
    sort: Literal["newest", "oldest", "kind", "author", "on"] = "newest"
    start: int = Field(default=0, ge=0, le=MOST_INT)
    most: int = Field(default=60, ge=1, le=300)


class KindCount(Model):
    kind: str
    notes: int


class AuthorCount(Model):
    id: int
    name: str
    notes: int


class NotesPage(Model):
    total: int
    start: int
    notes: list[NotePublic]
    kinds: list[KindCount]
    authors: list[AuthorCount]


class QuotePlace(Model):
    text_id: Id
    start: Place
    end: Place


class QuotesCreate(Model):
    """Words to pull into a note, or into a new one of this title where none is named."""

    note_id: Id | None = None
    title: Title = ""
    places: list[QuotePlace] = Field(min_length=1, max_length=200)


class ParaphrasePublic(Model):
    """``words`` are those it puts in other words, empty where they are gone; ``codes`` were given to these very
    words by anybody."""

    id: int
    text_id: int
    title: str
    source: str | None
    date: str | None
    start: int | None
    end: int | None
    words: str
    body: str
    codes: list[int]
    author: str
    mine: bool
    made_at: Utc
    revision: int


class ParaphraseCreate(Model):
    start: Place
    end: Place
    words: str = Field(max_length=5_000_000)
    body: Body


class ParaphraseUpdate(Model):
    revision: int
    body: Body | None = None
    start: Place | None = None
    end: Place | None = None


class ParaphrasesRequest(Model):
    find: str = Field(default="", max_length=300)
    text_id: Id | None = None
    source: str | None = Field(default=None, max_length=300)
    author: Id | None = None
    sort: Literal["text", "source", "newest", "words"] = "text"
    start: int = Field(default=0, ge=0, le=MOST_INT)
    most: int = Field(default=100, ge=1, le=300)


class ParaphrasesPage(Model):
    total: int
    start: int
    paraphrases: list[ParaphrasePublic]


class Gather(Model):
    """Paraphrases whose words come under a code, or under a new one of this name."""

    paraphrases: list[Id] = Field(min_length=1, max_length=5_000)
    code_id: Id | None = None
    new: str = Field(default="", max_length=2_000)
