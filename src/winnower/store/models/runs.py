"""Automatic coding: runs, what each looks for, and the places they found."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import (
    JSON,
    CheckConstraint,
    ForeignKey,
    Index,
    Integer,
    SmallInteger,
    String,
    UniqueConstraint,
)
from sqlalchemy.orm import Mapped, mapped_column

from winnower.store.models.base import EXACT, Base, key_to, made_at, one_of

RUN_STATES = ("making", "proposals", "applied", "taken back")


class CodingRun(Base):
    """A recipe with what it found (core/runs).

    ``state`` says what counts of it: of "proposals" what was judged right, of "applied" what was not judged wrong, of
    the others nothing. So a run of a million passages is applied or taken back by changing this one row.
    ``reasons`` are the terms (or values) as they were written; ``instrument`` with ``version`` is what they came
    from. ``texts_revision`` is the state of the texts it looked at, ``places`` how many it has. ``measured`` is what a
    learned code was worth when it was learned (see store/learning.py).
    """

    __tablename__ = "coding_run"
    __table_args__ = (
        CheckConstraint(one_of("state", RUN_STATES), name="run_state"),
        Index("run_of_project", "project_id", "id"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    project_id: Mapped[int] = key_to("project.id")
    name: Mapped[str] = mapped_column(String(200, EXACT))
    recipe: Mapped[dict[str, Any]] = mapped_column(JSON)
    state: Mapped[str] = mapped_column(String(12))
    reasons: Mapped[list[str]] = mapped_column(JSON)
    instrument: Mapped[str] = mapped_column(String(200, EXACT), server_default="")
    version: Mapped[int | None] = mapped_column(Integer)
    texts_revision: Mapped[int] = mapped_column(Integer, server_default="0")
    places: Mapped[int] = mapped_column(Integer, server_default="0")
    made_by: Mapped[int] = key_to("account.id", ondelete="RESTRICT")
    made_at: Mapped[dt.datetime] = made_at()
    revision: Mapped[int] = mapped_column(Integer, server_default="1")
    measured: Mapped[dict[str, Any] | None] = mapped_column(JSON)


class RunTarget(Base):
    """What of a run comes under one code, by ``number`` within the run; ``key`` is the category, value or search it
    stands for. Without a code (it was deleted) nothing of it counts."""

    __tablename__ = "run_target"
    __table_args__ = (UniqueConstraint("run_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    run_id: Mapped[int] = key_to("coding_run.id")
    number: Mapped[int] = mapped_column(SmallInteger)
    key: Mapped[str] = mapped_column(String(200, EXACT))
    name: Mapped[str] = mapped_column(String(1000, EXACT))
    code_id: Mapped[int | None] = key_to("code.id", ondelete="SET NULL")


class RunPlace(Base):
    """A stretch of a text a run found (code points), for the target of this number.

    ``reason`` is the place of a term in the run's reasons, ``mark_start`` to ``mark_end`` are the words that were
    hit, ``hits`` how many hits lie in the stretch, ``score`` thousandths of a tone or a probability. Rows are written in the order of their texts, so that their few
    keys grow at the end.
    """

    __tablename__ = "run_place"
    __table_args__ = (CheckConstraint("`start` >= 0 and `start` < `end`", name="run_place_stretch"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    run_id: Mapped[int] = mapped_column(ForeignKey("coding_run.id", ondelete="CASCADE"))
    text_id: Mapped[int] = key_to("text.id")
    start: Mapped[int] = mapped_column(Integer)
    end: Mapped[int] = mapped_column(Integer)
    target: Mapped[int] = mapped_column(SmallInteger)
    reason: Mapped[int] = mapped_column(Integer)
    mark_start: Mapped[int] = mapped_column(Integer)
    mark_end: Mapped[int] = mapped_column(Integer)
    hits: Mapped[int] = mapped_column(Integer)
    score: Mapped[int] = mapped_column(SmallInteger, server_default="0")
