"""People and projects."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import JSON, CheckConstraint, DateTime, ForeignKey, Index, Integer, LargeBinary, String
from sqlalchemy.dialects.mysql import BINARY, DATETIME
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import EXACT, ROLES, Base, key_to, made_at, one_of


class Account(Base):
    __tablename__ = "account"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80, EXACT), unique=True)
    full_name: Mapped[str] = mapped_column(String(120))
    password_hash: Mapped[str] = mapped_column(String(255))
    made_at: Mapped[dt.datetime] = made_at()
    #: nobody can sign in from then on; what was done stays under the name
    ended_at: Mapped[dt.datetime | None] = mapped_column(DateTime())


class SignIn(Base):
    """A session; the token itself is known to the browser only."""

    __tablename__ = "sign_in"
    goes_on_without_room = True
    token_hash: Mapped[bytes] = mapped_column(
        LargeBinary(32).with_variant(BINARY(32), "mysql", "mariadb"), primary_key=True
    )
    account_id: Mapped[int] = key_to("account.id")
    made_at: Mapped[dt.datetime] = made_at()
    expires_at: Mapped[dt.datetime] = mapped_column(DateTime())
    about: Mapped[str] = mapped_column(String(200), server_default="")


class FailedSignIn(Base):
    """Wrong passwords in a row, of a name or of where they came from (``whose``, a digest)."""

    __tablename__ = "failed_sign_in"
    goes_on_without_room = True
    __table_args__ = (Index("failed_sign_in_at", "last_at"),)
    whose: Mapped[bytes] = mapped_column(
        LargeBinary(32).with_variant(BINARY(32), "mysql", "mariadb"), primary_key=True
    )
    tries: Mapped[int] = mapped_column(Integer)
    last_at: Mapped[dt.datetime] = mapped_column(DATETIME(fsp=3))


class KnownBrowser(Base):
    """A browser in which somebody signed in before; the token itself is known to the browser only."""

    __tablename__ = "known_browser"
    goes_on_without_room = True
    token_hash: Mapped[bytes] = mapped_column(
        LargeBinary(32).with_variant(BINARY(32), "mysql", "mariadb"), primary_key=True
    )
    account_id: Mapped[int] = key_to("account.id")
    seen_at: Mapped[dt.datetime] = mapped_column(DateTime())


class Project(Base):
    __tablename__ = "project"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(200, EXACT))
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    corpus_revision: Mapped[int] = mapped_column(Integer, server_default="0")
    values_revision: Mapped[int] = mapped_column(Integer, server_default="0")
    coding_revision: Mapped[int] = mapped_column(Integer, server_default="0")
    notes_revision: Mapped[int] = mapped_column(Integer, server_default="0")


class Member(Base):
    __tablename__ = "member"
    __table_args__ = (CheckConstraint(one_of("role", ROLES), name="member_role"),)
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"), primary_key=True)
    role: Mapped[str] = mapped_column(String(10))


class Preference(Base):
    """What one person chose for a view of a project."""

    __tablename__ = "preference"
    project_id: Mapped[int] = mapped_column(ForeignKey("project.id", ondelete="CASCADE"), primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("account.id", ondelete="CASCADE"), primary_key=True)
    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    value: Mapped[list[Any]] = mapped_column(JSON)
