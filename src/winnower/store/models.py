"""The tables. What the code relies on is said here as keys and checks."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import (
    JSON,
    BigInteger,
    CheckConstraint,
    Date,
    DateTime,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    SmallInteger,
    String,
    Text,
    UniqueConstraint,
    func,
)
from sqlalchemy.dialects.mysql import BINARY, DOUBLE, LONGBLOB, LONGTEXT
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

EXACT = "utf8mb4_bin"
ROLES = ("owner", "coder", "reader")
KINDS = ("category", "several", "number", "date", "text")
#: Variables with a part of their own: the main group, the sets, and whether a text is set aside.
VARIABLE_ROLES = ("", "group", "sets", "aside")
DELIVERY_STATES = ("running", "done", "undone")
JOB_STATES = ("queued", "running", "done", "failed", "cancelled")


def one_of(column: str, values: tuple[str, ...]) -> str:
    listed = ", ".join(f"'{value}'" for value in values)
    return f"{column} in ({listed})"


def key_to(target: str, *, ondelete: str = "CASCADE") -> Any:
    return mapped_column(ForeignKey(target, ondelete=ondelete))


class Base(DeclarativeBase):
    """Tables in utf8mb4; names compare letter by letter."""

    type_annotation_map = {dict: JSON, list: JSON, int: BigInteger, dt.datetime: DateTime}


def made_at() -> Any:
    return mapped_column(DateTime(), server_default=func.current_timestamp())


class Account(Base):
    __tablename__ = "account"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80, EXACT), unique=True)
    full_name: Mapped[str] = mapped_column(String(120))
    password_hash: Mapped[str] = mapped_column(String(255))
    made_at: Mapped[dt.datetime] = made_at()


class SignIn(Base):
    """A session; the token itself is known to the browser only."""

    __tablename__ = "sign_in"
    token_hash: Mapped[bytes] = mapped_column(
        LargeBinary(32).with_variant(BINARY(32), "mysql", "mariadb"), primary_key=True
    )
    account_id: Mapped[int] = key_to("account.id")
    expires_at: Mapped[dt.datetime] = mapped_column(DateTime())


class Project(Base):
    __tablename__ = "project"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(200, EXACT))
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    corpus_revision: Mapped[int] = mapped_column(Integer, server_default="0")
    values_revision: Mapped[int] = mapped_column(Integer, server_default="0")


class Member(Base):
    __tablename__ = "member"
    __table_args__ = (CheckConstraint(one_of("role", ROLES), name="member_role"),)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"), primary_key=True)
    role: Mapped[str] = mapped_column(String(10))


class Job(Base):
    """Long work: what was asked, how far it is, what came of it."""

    __tablename__ = "job"
    __table_args__ = (CheckConstraint(one_of("state", JOB_STATES), name="job_state"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    account_id: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    kind: Mapped[str] = mapped_column(String(40))
    state: Mapped[str] = mapped_column(String(12), server_default="queued")
    params: Mapped[dict] = mapped_column(JSON)
    done: Mapped[int] = mapped_column(server_default="0")
    total: Mapped[int] = mapped_column(server_default="0")
    stage: Mapped[str] = mapped_column(String(200), server_default="")
    batches_done: Mapped[int] = mapped_column(Integer, server_default="0")
    checkpoint: Mapped[dict | None] = mapped_column(JSON)
    result: Mapped[dict | None] = mapped_column(JSON)
    message: Mapped[str | None] = mapped_column(Text)
    cancel: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    heartbeat: Mapped[dt.datetime | None] = mapped_column(DateTime())
    made_at: Mapped[dt.datetime] = made_at()
    started_at: Mapped[dt.datetime | None] = mapped_column(DateTime())
    ended_at: Mapped[dt.datetime | None] = mapped_column(DateTime())


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
    report: Mapped[dict | None] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


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
    reference: Mapped[dict | None] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class TextPlace(Base):
    """Where a page, section or heading begins in a text."""

    __tablename__ = "text_place"
    text_id: Mapped[int] = mapped_column(
        ForeignKey("text.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    seq: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=False)
    kind: Mapped[str] = mapped_column(String(10))
    start: Mapped[int] = mapped_column(Integer)
    label: Mapped[str] = mapped_column(String(300, EXACT))


class TextNote(Base):
    """A note on a text, or on a stretch of it (``start`` to before ``end``, in code points)."""

    __tablename__ = "text_note"
    __table_args__ = (Index("note_of_text", "text_id", "id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    text_id: Mapped[int] = key_to("text.id")
    author: Mapped[str] = mapped_column(String(120))
    body: Mapped[str] = mapped_column(LONGTEXT(collation=EXACT))
    start: Mapped[int | None] = mapped_column(Integer)
    end: Mapped[int | None] = mapped_column(Integer)
    made_by: Mapped[int | None] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


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
    rule: Mapped[dict | None] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class FieldRevision(Base):
    """How often a field was changed since the index parts were written; see store/fields.py."""

    __tablename__ = "field_revision"
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    field: Mapped[str] = mapped_column(String(40), primary_key=True)
    revision: Mapped[int] = mapped_column(Integer)


class VariableCategory(Base):
    __tablename__ = "variable_category"
    __table_args__ = (UniqueConstraint("variable_id", "label"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    variable_id: Mapped[int] = key_to("variable.id")
    label: Mapped[str] = mapped_column(String(300, EXACT))
    position: Mapped[int] = mapped_column(Integer)
    rule: Mapped[list | None] = mapped_column(JSON)
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
    __table_args__ = (Index("category_tree", "dictionary_id", "parent_id", "position"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    dictionary_id: Mapped[int] = key_to("dictionary.id")
    parent_id: Mapped[int | None] = key_to("category.id")
    name: Mapped[str] = mapped_column(String(120, EXACT))
    description: Mapped[str] = mapped_column(Text, server_default="")
    colour: Mapped[int] = mapped_column(SmallInteger, server_default="0")
    position: Mapped[int] = mapped_column(Integer, server_default="0")
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class TermRow(Base):
    __tablename__ = "term"
    __table_args__ = (UniqueConstraint("category_id", "source", "match_case", "ignore_accents"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    category_id: Mapped[int] = key_to("category.id")
    source: Mapped[str] = mapped_column(String(500, EXACT))
    match_case: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    ignore_accents: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    note: Mapped[str] = mapped_column(Text, server_default="")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class DictionaryVersion(Base):
    """A state of a dictionary that was counted with or exported, as it was then."""

    __tablename__ = "dictionary_version"
    __table_args__ = (
        UniqueConstraint("dictionary_id", "number"),
        UniqueConstraint("dictionary_id", "fingerprint"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    dictionary_id: Mapped[int] = key_to("dictionary.id")
    number: Mapped[int] = mapped_column(Integer)
    fingerprint: Mapped[str] = mapped_column(String(64))
    content: Mapped[list] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class Subcorpus(Base):
    """A scope kept under a name."""

    __tablename__ = "subcorpus"
    __table_args__ = (UniqueConstraint("project_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(200, EXACT))
    scope: Mapped[list] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class Command(Base):
    """A change with its author, time and inverse: rows as they were before and after."""

    __tablename__ = "command"
    __table_args__ = (Index("command_of_account", "project_id", "account_id", "id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    account_id: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    label: Mapped[str] = mapped_column(String(300))
    changes: Mapped[list] = mapped_column(JSON)
    undone: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    made_at: Mapped[dt.datetime] = made_at()


class CommandData(Base):
    """What a command did to many texts at once: before and after, packed (see store/values.py)."""

    __tablename__ = "command_data"
    command_id: Mapped[int] = mapped_column(ForeignKey("command.id", ondelete="CASCADE"), primary_key=True)
    seq: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=False)
    data: Mapped[bytes] = mapped_column(LONGBLOB)


class KeptMapping(Base):
    """How files with the same columns were taken the last time."""

    __tablename__ = "kept_mapping"
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    lot: Mapped[str] = mapped_column(String(20), primary_key=True)
    choice: Mapped[dict] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class Preference(Base):
    """What one person chose for a view of a project."""

    __tablename__ = "preference"
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"), primary_key=True)
    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    value: Mapped[list] = mapped_column(JSON)


class Upload(Base):
    """Files received for an import, before and while they are read."""

    __tablename__ = "upload"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    account_id: Mapped[int] = key_to("account.id")
    files: Mapped[list] = mapped_column(JSON)
    made_at: Mapped[dt.datetime] = made_at()


class IdBlock(Base):
    """The next free number of a series, handed out in blocks."""

    __tablename__ = "id_block"
    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    next: Mapped[int] = mapped_column(server_default="1")
