"""Findings, the questions they are grouped under, and events in time."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import JSON, Boolean, CheckConstraint, Date, Index, Integer, LargeBinary, String
from sqlalchemy.dialects.mysql import LONGBLOB, LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import EXACT, Base, key_to, made_at, one_of

VIEWS = ("comparison", "map", "changes", "keywords", "together", "network")


class FindingQuestion(Base):
    """A question that findings are grouped under, in the order of ``place``."""

    __tablename__ = "finding_question"
    __table_args__ = (Index("question_of_project", "project_id", "place"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    words: Mapped[str] = mapped_column(String(500, EXACT))
    place: Mapped[int] = mapped_column(Integer, server_default="0")
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class FindingSaid(Base):
    """What a view said on a day: sheets, sentences and how it was counted, packed (store/findings.py), with the
    ``state`` of what it was counted from and the ``request`` with the very states of its instruments. Never changed."""

    __tablename__ = "finding_said"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    request: Mapped[dict[str, Any]] = mapped_column(JSON)
    state: Mapped[dict[str, Any]] = mapped_column(JSON)
    packed: Mapped[bytes] = mapped_column(LargeBinary().with_variant(LONGBLOB(), "mysql", "mariadb"))
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class FindingRow(Base):
    """A view that was kept: ``request`` as it is asked anew, ``drawn`` how it is drawn, ``said`` what it said when it was
    kept (or brought up to date). ``frozen`` findings show that, others what their view says now."""

    __tablename__ = "finding"
    __table_args__ = (
        Index("finding_of_project", "project_id", "place"),
        CheckConstraint(one_of("view", VIEWS), name="finding_view"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    question_id: Mapped[int | None] = key_to("finding_question.id", ondelete="SET NULL")
    place: Mapped[int] = mapped_column(Integer, server_default="0")
    view: Mapped[str] = mapped_column(String(12))
    title: Mapped[str] = mapped_column(String(300, EXACT))
    remark: Mapped[str] = mapped_column(LONGTEXT(collation=EXACT))
    request: Mapped[dict[str, Any]] = mapped_column(JSON)
    drawn: Mapped[dict[str, Any]] = mapped_column(JSON)
    frozen: Mapped[bool] = mapped_column(Boolean, server_default="0")
    said_id: Mapped[int] = key_to("finding_said.id", ondelete="RESTRICT")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class EventRow(Base):
    """Something that happened on a day, drawn where time is."""

    __tablename__ = "event"
    __table_args__ = (Index("event_of_project", "project_id", "day"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    day: Mapped[dt.date] = mapped_column(Date)
    name: Mapped[str] = mapped_column(String(200, EXACT))
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    revision: Mapped[int] = mapped_column(Integer, server_default="1")
