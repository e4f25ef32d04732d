"""The codebook, and passages under its codes."""

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
)
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import EXACT, Base, key_to, made_at


class CodeRow(Base):
    """A code. ``technical`` ones are for the work itself and are folded away; ``colour`` is one of ten."""

    __tablename__ = "code"
    __table_args__ = (
        Index("code_tree", "project_id", "parent_id", "position"),
        # names are unique among siblings; parent_key stands for the parent where there is none
        UniqueConstraint("project_id", "parent_key", "name", name="code_once"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    parent_id: Mapped[int | None] = key_to("code.id")
    parent_key: Mapped[int | None] = mapped_column(Computed("coalesce(`parent_id`, 0)", persisted=False))
    name: Mapped[str] = mapped_column(String(120, EXACT))
    description: Mapped[str] = mapped_column(Text, server_default="")
    rule: Mapped[str] = mapped_column(Text, server_default="")
    example: Mapped[str] = mapped_column(Text, server_default="")
    counter_example: Mapped[str] = mapped_column(Text, server_default="")
    colour: Mapped[int] = mapped_column(SmallInteger, server_default="0")
    symbol: Mapped[str] = mapped_column(String(16, EXACT), server_default="")
    technical: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    position: Mapped[int] = mapped_column(Integer, server_default="0")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class PassageRow(Base):
    """A stretch of a text (``start`` to before ``end``, in code points) that one person put under a code.

    The same words under one code by one person are one passage; by two people they are two.
    """

    __tablename__ = "passage"
    __table_args__ = (
        UniqueConstraint("text_id", "code_id", "start", "end", "made_by", name="passage_once"),
        CheckConstraint("`start` >= 0 and `start` < `end`", name="passage_stretch"),
        CheckConstraint("strength between 1 and 5", name="passage_strength"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    text_id: Mapped[int] = key_to("text.id")
    code_id: Mapped[int] = key_to("code.id")
    start: Mapped[int] = mapped_column(Integer)
    end: Mapped[int] = mapped_column(Integer)
    strength: Mapped[int | None] = mapped_column(SmallInteger)
    comment: Mapped[str] = mapped_column(String(2000, EXACT), server_default="")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class LostPassage(Base):
    """A passage whose words went with a correction: what it held, until it is put elsewhere or let go.
    ``was_at`` is where it began."""

    __tablename__ = "lost_passage"
    id: Mapped[int] = mapped_column(primary_key=True)
    text_id: Mapped[int] = key_to("text.id")
    code_id: Mapped[int] = key_to("code.id")
    was_at: Mapped[int] = mapped_column(Integer)
    words: Mapped[str] = mapped_column(LONGTEXT(collation=EXACT))
    strength: Mapped[int | None] = mapped_column(SmallInteger)
    comment: Mapped[str] = mapped_column(String(2000, EXACT), server_default="")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class GroupOfCodes(Base):
    """Codes that belong together across the tree."""

    __tablename__ = "group_of_codes"
    __table_args__ = (UniqueConstraint("project_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(120, EXACT))
    position: Mapped[int] = mapped_column(Integer, server_default="0")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class CodeInGroup(Base):
    __tablename__ = "code_in_group"
    __table_args__ = (UniqueConstraint("group_id", "code_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    group_id: Mapped[int] = key_to("group_of_codes.id")
    code_id: Mapped[int] = key_to("code.id")


class CodebookVersion(Base):
    """The codes as they were when this was kept: ``content`` as the codebook's table gives them."""

    __tablename__ = "codebook_version"
    __table_args__ = (UniqueConstraint("project_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    number: Mapped[int] = mapped_column(Integer)
    name: Mapped[str] = mapped_column(String(120, EXACT), server_default="")
    note: Mapped[str] = mapped_column(Text, server_default="")
    content: Mapped[list[Any]] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class KeptQuestion(Base):
    """A question to the passages under a name, in its plain form."""

    __tablename__ = "kept_question"
    __table_args__ = (UniqueConstraint("project_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(200, EXACT))
    question: Mapped[dict[str, Any]] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class CodingDone(Base):
    """Somebody is through with a text."""

    __tablename__ = "coding_done"
    __table_args__ = (UniqueConstraint("text_id", "made_by"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    text_id: Mapped[int] = key_to("text.id")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class CodingChange(Base):
    """Which texts have other passages since a revision of a project's coding; ``texts`` is null where it may
    be any. From these a copy of the passages is brought up to date without reading all of them."""

    __tablename__ = "coding_change"
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    revision: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=False)
    texts: Mapped[list[int] | None] = mapped_column(JSON(none_as_null=True))
