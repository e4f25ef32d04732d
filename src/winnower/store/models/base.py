"""What all tables share."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import JSON, BigInteger, DateTime, ForeignKey, func
from sqlalchemy.orm import DeclarativeBase, mapped_column

EXACT = "utf8mb4_bin"
ROLES = ("owner", "coder", "reader")
KINDS = ("category", "several", "number", "date", "text")
#: Variables with a part of their own: the main group, the sets, and whether a text is excluded.
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
