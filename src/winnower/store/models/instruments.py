"""Dictionaries, word lists, judgements."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import (
    JSON,
    CheckConstraint,
    Computed,
    ForeignKey,
    Index,
    Integer,
    SmallInteger,
    String,
    Text,
    UniqueConstraint,
    text,
)
from sqlalchemy.dialects.mysql import DATETIME
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import EXACT, Base, key_to, made_at, one_of


class DictionaryRow(Base):
    __tablename__ = "dictionary"
    __table_args__ = (UniqueConstraint("project_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(200, EXACT))
    description: Mapped[str] = mapped_column(Text, server_default="")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class CategoryRow(Base):
    __tablename__ = "category"
    __table_args__ = (
        Index("category_tree", "dictionary_id", "parent_id", "position"),
        # names are unique among siblings; parent_key stands for the parent where there is none
        UniqueConstraint("dictionary_id", "parent_key", "name", name="category_once"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    dictionary_id: Mapped[int] = key_to("dictionary.id")
    parent_id: Mapped[int | None] = key_to("category.id")
    parent_key: Mapped[int | None] = mapped_column(Computed("coalesce(`parent_id`, 0)", persisted=False))
    name: Mapped[str] = mapped_column(String(120, EXACT))
    description: Mapped[str] = mapped_column(Text, server_default="")
    colour: Mapped[int] = mapped_column(SmallInteger, server_default="0")
    position: Mapped[int] = mapped_column(Integer, server_default="0")
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class TermRow(Base):
    __tablename__ = "term"
    __table_args__ = (
        UniqueConstraint(
            "category_id", "source", "match_case", "ignore_accents", "forms_of", name="term_once"
        ),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    category_id: Mapped[int] = key_to("category.id")
    source: Mapped[str] = mapped_column(String(700, EXACT))
    match_case: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    ignore_accents: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    forms_of: Mapped[str] = mapped_column(String(8), server_default="")
    note: Mapped[str] = mapped_column(Text, server_default="")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class DictionaryVersion(Base):
    """A state of a dictionary that was counted with, exported or named, as it was then."""

    __tablename__ = "dictionary_version"
    __table_args__ = (
        UniqueConstraint("dictionary_id", "number"),
        UniqueConstraint("dictionary_id", "fingerprint"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    dictionary_id: Mapped[int] = key_to("dictionary.id")
    number: Mapped[int] = mapped_column(Integer)
    fingerprint: Mapped[str] = mapped_column(String(64))
    content: Mapped[list[Any]] = mapped_column(JSON)
    name: Mapped[str] = mapped_column(String(120, EXACT), server_default="")
    note: Mapped[str] = mapped_column(Text, server_default="")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class ToneListRow(Base):
    """A list of words for tone (core/tone): one that ships, and by role and word what is different in this one; None
    for a word that was taken out."""

    __tablename__ = "tone_list"
    __table_args__ = (
        UniqueConstraint("project_id", "name"),
        CheckConstraint(one_of("base", ("english", "none")), name="tone_base"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(200, EXACT))
    base: Mapped[str] = mapped_column(String(12))
    changes: Mapped[dict[str, dict[str, float | None]]] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class ToneVersion(Base):
    """A state of a list that a run was made with, or that was exported."""

    __tablename__ = "tone_version"
    __table_args__ = (
        UniqueConstraint("tone_list_id", "number"),
        UniqueConstraint("tone_list_id", "fingerprint"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    tone_list_id: Mapped[int] = key_to("tone_list.id")
    number: Mapped[int] = mapped_column(Integer)
    fingerprint: Mapped[str] = mapped_column(String(64))
    base: Mapped[str] = mapped_column(String(12))
    changes: Mapped[dict[str, dict[str, float | None]]] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class StopWord(Base):
    """A form that word lists leave out (``listed``), or keep although the shipped list has it."""

    __tablename__ = "stop_word"
    __table_args__ = (UniqueConstraint("project_id", "form"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    form: Mapped[str] = mapped_column(String(120, EXACT))
    listed: Mapped[bool] = mapped_column(SmallInteger)


class WordSetting(Base):
    """The language whose stop list and word forms a project uses."""

    __tablename__ = "word_setting"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), unique=True)
    language: Mapped[str] = mapped_column(String(8), server_default="")
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class DismissedSuggestion(Base):
    """A word that is not to be offered for a category again. Categories may come back by undo, so
    nothing is deleted with them."""

    __tablename__ = "dismissed_suggestion"
    __table_args__ = (UniqueConstraint("category_id", "form"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    category_id: Mapped[int]
    form: Mapped[str] = mapped_column(String(200, EXACT))
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")


class ReviewSample(Base):
    """Hits of a subject or of one of its parts ("hit"), or texts without any ("text"), drawn to be judged.

    ``items`` are [text, start, end] in code points, or [text]; ``part`` is the part as it was written, or
    empty. What a subject can be: see store/subjects.py.
    """

    __tablename__ = "review_sample"
    __table_args__ = (CheckConstraint(one_of("kind", ("hit", "text")), name="sample_kind"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    subject: Mapped[str] = mapped_column(String(16))
    subject_id: Mapped[int]
    part: Mapped[str] = mapped_column(String(800, EXACT), server_default="")
    kind: Mapped[str] = mapped_column(String(8))
    seed: Mapped[int] = mapped_column(Integer)
    scope: Mapped[list[Any]] = mapped_column(JSON)
    items: Mapped[list[Any]] = mapped_column(JSON)
    version: Mapped[int] = mapped_column(Integer)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class VerdictRow(Base):
    """One person's verdict on the words of a hit, or on a text without a hit.

    For a hit: it belongs to the subject (1) or not (0). For a text: it should have had a hit (1) or
    not (0). It stays with the words, whatever becomes of what found them (``found_by``).
    """

    __tablename__ = "verdict"
    __table_args__ = (
        CheckConstraint(one_of("kind", ("hit", "text")), name="verdict_kind"),
        UniqueConstraint(
            "subject", "subject_id", "text_id", "kind", "start", "end", "made_by", name="verdict_once"
        ),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    subject: Mapped[str] = mapped_column(String(16))
    subject_id: Mapped[int]
    kind: Mapped[str] = mapped_column(String(8))
    text_id: Mapped[int] = key_to("text.id")
    start: Mapped[int] = mapped_column(Integer)
    end: Mapped[int] = mapped_column(Integer)
    verdict: Mapped[int] = mapped_column(SmallInteger)
    found_by: Mapped[str] = mapped_column(String(800, EXACT), server_default="")
    version: Mapped[int] = mapped_column(Integer)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = mapped_column(DATETIME(fsp=6), server_default=text("current_timestamp(6)"))
    revision: Mapped[int] = mapped_column(Integer, server_default="1")
