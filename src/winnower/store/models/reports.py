"""Reports, their pieces, and what frozen ones said."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import JSON, Index, Integer, LargeBinary, String
from sqlalchemy.dialects.mysql import LONGBLOB
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import EXACT, Base, key_to, made_at


class ReportSaid(Base):
    """What a report came to when it was frozen, packed (store/reports.py). Never changed."""

    __tablename__ = "report_said"
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    packed: Mapped[bytes] = mapped_column(LargeBinary().with_variant(LONGBLOB(), "mysql", "mariadb"))
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()


class ReportRow(Base):
    """A report; with ``said_id`` it is frozen and shows that."""

    __tablename__ = "report"
    __table_args__ = (Index("report_of_project", "project_id", "id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    title: Mapped[str] = mapped_column(String(300, EXACT))
    said_id: Mapped[int | None] = key_to("report_said.id", ondelete="RESTRICT")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")


class ReportPiece(Base):
    """A piece of a report in its plain form (core/report/pieces.py), in the order of ``place``."""

    __tablename__ = "report_piece"
    __table_args__ = (Index("piece_of_report", "report_id", "place"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    report_id: Mapped[int] = key_to("report.id")
    place: Mapped[int] = mapped_column(Integer, server_default="0")
    piece: Mapped[dict[str, Any]] = mapped_column(JSON)
    revision: Mapped[int] = mapped_column(Integer, server_default="1")
