"""The codebook, and passages under its codes."""

from __future__ import annotations

import datetime as dt

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


class CodingChange(Base):
    """Which texts have other passages since a revision of a project's coding; ``texts`` is null where it may
    be any. From these a copy of the passages is brought up to date without reading all of them."""

    __tablename__ = "coding_change"
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    revision: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=False)
    texts: Mapped[list[int] | None] = mapped_column(JSON(none_as_null=True))
