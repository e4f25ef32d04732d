"""Long work, and the history of changes."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import (
    JSON,
    CheckConstraint,
    DateTime,
    ForeignKey,
    Index,
    Integer,
    SmallInteger,
    String,
    Text,
    UniqueConstraint,
)
from sqlalchemy.dialects.mysql import DATETIME, LONGBLOB
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import EXACT, JOB_STATES, Base, key_to, made_at, one_of


class Job(Base):
    """Long work: what was asked, how far it is, what came of it."""

    __tablename__ = "job"
    __table_args__ = (CheckConstraint(one_of("state", JOB_STATES), name="job_state"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    account_id: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    kind: Mapped[str] = mapped_column(String(40))
    state: Mapped[str] = mapped_column(String(12), server_default="queued")
    params: Mapped[dict[str, Any]] = mapped_column(JSON)
    done: Mapped[int] = mapped_column(server_default="0")
    total: Mapped[int] = mapped_column(server_default="0")
    stage: Mapped[str] = mapped_column(String(200), server_default="")
    batches_done: Mapped[int] = mapped_column(Integer, server_default="0")
    checkpoint: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    result: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    message: Mapped[str | None] = mapped_column(Text)
    cancel: Mapped[bool] = mapped_column(SmallInteger, server_default="0")
    holder: Mapped[str | None] = mapped_column(String(120))
    lease_until: Mapped[dt.datetime | None] = mapped_column(DATETIME(fsp=6))
    attempts: Mapped[int] = mapped_column(Integer, server_default="0")
    deaths: Mapped[int] = mapped_column(Integer, server_default="0")
    made_at: Mapped[dt.datetime] = made_at()
    started_at: Mapped[dt.datetime | None] = mapped_column(DateTime())
    ended_at: Mapped[dt.datetime | None] = mapped_column(DateTime())


class Command(Base):
    """A change with its author, time and inverse: rows as they were before and after."""

    __tablename__ = "command"
    __table_args__ = (
        Index("command_of_account", "project_id", "account_id", "id"),
        UniqueConstraint("project_id", "account_id", "request_key", name="command_request"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    account_id: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    label: Mapped[str] = mapped_column(String(300))
    changes: Mapped[list[Any]] = mapped_column(JSON)
    undone: Mapped[int] = mapped_column(SmallInteger, server_default="0")
    #: the delivery it brought in, with what that changed in texts that were there
    delivery_id: Mapped[int | None] = key_to("delivery.id", ondelete="SET NULL")
    #: what a browser called the request that made it: asked again, it is not carried out again
    request_key: Mapped[str | None] = mapped_column(String(64, EXACT))
    made_at: Mapped[dt.datetime] = made_at()


class CommandData(Base):
    """What a command did to many texts at once: before and after, packed (see store/values.py)."""

    __tablename__ = "command_data"
    command_id: Mapped[int] = mapped_column(ForeignKey("command.id", ondelete="CASCADE"), primary_key=True)
    seq: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=False)
    data: Mapped[bytes] = mapped_column(LONGBLOB)


class IdBlock(Base):
    """The next free number of a series, handed out in blocks."""

    __tablename__ = "id_block"
    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    next: Mapped[int] = mapped_column(server_default="1")


class Upload(Base):
    """Files received for an import, before and while they are read."""

    __tablename__ = "upload"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    account_id: Mapped[int] = key_to("account.id")
    files: Mapped[list[Any]] = mapped_column(JSON)
    made_at: Mapped[dt.datetime] = made_at()


class KeptMapping(Base):
    """How files with the same columns were taken the last time."""

    __tablename__ = "kept_mapping"
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    lot: Mapped[str] = mapped_column(String(20), primary_key=True)
    choice: Mapped[dict[str, Any]] = mapped_column(JSON)
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
