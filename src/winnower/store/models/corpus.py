"""Texts, what describes them, and scopes kept under a name."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import (
    JSON,
    CheckConstraint,
    Date,
    ForeignKey,
    Index,
    Integer,
    SmallInteger,
    String,
    Text,
    UniqueConstraint,
)
from sqlalchemy.dialects.mysql import BINARY, DOUBLE, LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import (
    DELIVERY_STATES,
    EXACT,
    KINDS,
    VARIABLE_ROLES,
    Base,
    key_to,
    made_at,
    one_of,
)


class Delivery(Base):
    """One import: its texts are part of the project while it is "done".

    An undone delivery keeps its texts, so that it can be done again, until the next import begins.
    """

    __tablename__ = "delivery"
    __table_args__ = (CheckConstraint(one_of("state", DELIVERY_STATES), name="delivery_state"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    job_id: Mapped[int | None] = key_to("job.id", ondelete="SET NULL")
    name: Mapped[str] = mapped_column(String(300))
    state: Mapped[str] = mapped_column(String(8), server_default="running")
    report: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class DeliveryLine(Base):
    """A kind of delivery: rows with keys of their own, and the columns it came with at last. ``token`` goes
    into the identity of its texts."""

    __tablename__ = "delivery_line"
    __table_args__ = (UniqueConstraint("project_id", "token"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    token: Mapped[str] = mapped_column(String(40, EXACT))
    name: Mapped[str] = mapped_column(String(300))
    mapping: Mapped[dict[str, Any]] = mapped_column(JSON)


class TextBrought(Base):
    """A text that was there, and a later delivery that brought it again: should the first be undone, the
    text is the later one's."""

    __tablename__ = "text_brought"
    text_id: Mapped[int] = mapped_column(
        ForeignKey("text.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    delivery_id: Mapped[int] = mapped_column(
        ForeignKey("delivery.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )


class Source(Base):
    __tablename__ = "source"
    __table_args__ = (UniqueConstraint("project_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(300, EXACT))


class TextRow(Base):
    """A text without its body. ``identity`` is the hash of its key, else of its content."""

    __tablename__ = "text"
    __table_args__ = (
        UniqueConstraint("project_id", "identity"),
        Index("text_delivery", "delivery_id", "id"),
    )
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    project_id: Mapped[int] = key_to("project.id")
    delivery_id: Mapped[int] = key_to("delivery.id")
    identity: Mapped[bytes] = mapped_column(BINARY(16))
    content: Mapped[bytes] = mapped_column(BINARY(16))
    title: Mapped[str] = mapped_column(String(500, EXACT))
    source_id: Mapped[int | None] = key_to("source.id", ondelete="RESTRICT")
    date: Mapped[dt.date | None] = mapped_column(Date)
    words: Mapped[int] = mapped_column(Integer)
    origin: Mapped[str] = mapped_column(String(500))
    placeholder: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    reference: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class TextIdentity(Base):
    """A further identity of a text: that of a delivered row that was taken as its corrected form."""

    __tablename__ = "text_identity"
    __table_args__ = (UniqueConstraint("project_id", "identity"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    text_id: Mapped[int] = key_to("text.id")
    identity: Mapped[bytes] = mapped_column(BINARY(16))


class TextPlace(Base):
    """Where a page, section or heading begins in a text. ``level`` is that of a heading, 1 the highest; 0 where it
    is not known."""

    __tablename__ = "text_place"
    text_id: Mapped[int] = mapped_column(
        ForeignKey("text.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    seq: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=False)
    kind: Mapped[str] = mapped_column(String(10))
    start: Mapped[int] = mapped_column(Integer)
    label: Mapped[str] = mapped_column(String(300, EXACT))
    level: Mapped[int] = mapped_column(SmallInteger, server_default="0")


class TextEdit(Base):
    """A correction: the body as it was before, who changed it and when."""

    __tablename__ = "text_edit"
    __table_args__ = (Index("edit_of_text", "text_id", "id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    text_id: Mapped[int] = key_to("text.id")
    before: Mapped[str] = mapped_column(LONGTEXT(collation=EXACT))
    what: Mapped[str] = mapped_column(String(200))
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class TextBody(Base):
    __tablename__ = "text_body"
    text_id: Mapped[int] = mapped_column(
        ForeignKey("text.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    body: Mapped[str] = mapped_column(LONGTEXT(collation=EXACT))


class Variable(Base):
    """``away``: it came with a delivery that was undone, and no text of the project has a value of it."""

    __tablename__ = "variable"
    __table_args__ = (
        UniqueConstraint("project_id", "name"),
        CheckConstraint(one_of("kind", KINDS), name="variable_kind"),
        CheckConstraint(one_of("role", VARIABLE_ROLES), name="variable_role"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(200, EXACT))
    kind: Mapped[str] = mapped_column(String(10))
    position: Mapped[int] = mapped_column(Integer)
    role: Mapped[str] = mapped_column(String(10), server_default="")
    description: Mapped[str] = mapped_column(String(2000), server_default="")
    rule: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    away: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class FieldRevision(Base):
    """How often a field was changed since the index parts were written; see store/fields.py."""

    __tablename__ = "field_revision"
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    field: Mapped[str] = mapped_column(String(40), primary_key=True)
    revision: Mapped[int] = mapped_column(Integer)


class VariableCategory(Base):
    """``away`` as for variables."""

    __tablename__ = "variable_category"
    __table_args__ = (UniqueConstraint("variable_id", "label"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    variable_id: Mapped[int] = key_to("variable.id")
    label: Mapped[str] = mapped_column(String(300, EXACT))
    position: Mapped[int] = mapped_column(Integer)
    rule: Mapped[list[Any] | None] = mapped_column(JSON)
    away: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class TextValue(Base):
    """One value; several values of one variable are told apart by ``seq``."""

    __tablename__ = "text_value"
    text_id: Mapped[int] = mapped_column(
        ForeignKey("text.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    variable_id: Mapped[int] = mapped_column(
        ForeignKey("variable.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    seq: Mapped[int] = mapped_column(SmallInteger, primary_key=True, autoincrement=False)
    category_id: Mapped[int | None] = key_to("variable_category.id", ondelete="RESTRICT")
    number: Mapped[float | None] = mapped_column(DOUBLE)
    day: Mapped[dt.date | None] = mapped_column(Date)
    string: Mapped[str | None] = mapped_column(Text(collation=EXACT))


class Subcorpus(Base):
    """A scope kept under a name."""

    __tablename__ = "subcorpus"
    __table_args__ = (UniqueConstraint("project_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(200, EXACT))
    scope: Mapped[list[Any]] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")
