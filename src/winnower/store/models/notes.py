"""Notes, the quotes in them, and paraphrases."""

from __future__ import annotations

import datetime as dt

from sqlalchemy import CheckConstraint, Index, Integer, String, Text
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import EXACT, Base, key_to, made_at


class NoteRow(Base):
    """A note on a text, on a stretch of it (``start`` to before ``end``, in code points), on a code, on the
    words under a code (a passage), on a finding or a question findings are grouped under, or, where it hangs on
    nothing, on the project.

    ``body`` is Markdown; quotes stand in it as links to ``quote:ID`` (see QuoteRow). ``kind`` is the type that
    people gave it; ``author`` names who wrote one that came with a file.
    """

    __tablename__ = "note"
    __table_args__ = (
        Index("note_of_text", "text_id", "id"),
        Index("note_of_project", "project_id", "id"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    text_id: Mapped[int | None] = key_to("text.id")
    code_id: Mapped[int | None] = key_to("code.id", ondelete="SET NULL")
    finding_id: Mapped[int | None] = key_to("finding.id", ondelete="SET NULL")
    question_id: Mapped[int | None] = key_to("finding_question.id", ondelete="SET NULL")
    kind: Mapped[str] = mapped_column(String(40, EXACT), server_default="")
    title: Mapped[str] = mapped_column(String(200, EXACT), server_default="")
    author: Mapped[str] = mapped_column(String(120))
    body: Mapped[str] = mapped_column(LONGTEXT(collation=EXACT))
    start: Mapped[int | None] = mapped_column(Integer)
    end: Mapped[int | None] = mapped_column(Integer)
    made_by: Mapped[int | None] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class QuoteRow(Base):
    """Words of a text pulled into a note; they stay the words of the text as it is corrected. ``words`` are kept
    for when text or words are gone: then ``start`` and ``end``, or ``text_id``, are null."""

    __tablename__ = "quote"
    __table_args__ = (Index("quote_of_text", "text_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    note_id: Mapped[int] = key_to("note.id")
    text_id: Mapped[int | None] = key_to("text.id", ondelete="SET NULL")
    start: Mapped[int | None] = mapped_column(Integer)
    end: Mapped[int | None] = mapped_column(Integer)
    words: Mapped[str] = mapped_column(LONGTEXT(collation=EXACT))


class ParaphraseRow(Base):
    """What a stretch of a text says, in somebody's own words; without a stretch its words are gone."""

    __tablename__ = "paraphrase"
    __table_args__ = (
        Index("paraphrase_of_text", "text_id", "start"),
        CheckConstraint("`start` is null or (`start` >= 0 and `start` < `end`)", name="paraphrase_stretch"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    text_id: Mapped[int] = key_to("text.id")
    start: Mapped[int | None] = mapped_column(Integer)
    end: Mapped[int | None] = mapped_column(Integer)
    body: Mapped[str] = mapped_column(Text(collation=EXACT))
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")
