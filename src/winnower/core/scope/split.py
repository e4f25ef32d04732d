"""Across what a comparison runs: the groups of a field, and which texts belong to each."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar, Literal

import numpy as np

from winnower.core.errors import ScopeError
from winnower.core.scope.columns import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
)

PERIODS = ("day", "week", "month", "quarter", "year")
MAX_GROUPS = 2_000
MAX_NUMBER_GROUPS = 100


@dataclass(frozen=True)
class Split:
    """A field; for a date also the period it is cut into. Without a field all texts are one group."""

    field: str | None = None
    period: Literal["day", "week", "month", "quarter", "year"] | None = None

    __pydantic_config__: ClassVar = {"extra": "forbid"}


@dataclass(frozen=True)
class Groups:
    """Which texts belong to which group.

    labels     of the groups, in their order
    text       int64, sorted: texts, one entry for each group a text belongs to
    group      int32, beside ``text``
    disjoint   no text belongs to two groups
    of_text    int32 per text: its group or -1; only where ``disjoint``
    """

    labels: tuple[str, ...]
    text: np.ndarray
    group: np.ndarray
    disjoint: bool
    of_text: np.ndarray | None

    @property
    def n_groups(self) -> int:
        return len(self.labels)

    @cached_property
    def member_of_text(self) -> np.ndarray:
        """int32 per text: its place in ``text``, or -1; only where ``disjoint``."""
        assert self.of_text is not None
        place = np.full(len(self.of_text), -1, np.int32)
        place[self.text] = np.arange(len(self.text), dtype=np.int32)
        return place

    def members(self, texts: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """For texts (unique): places in ``texts`` and in ``self.text``, one pair for each membership."""
        if self.of_text is not None:
            member = self.member_of_text[texts]
            at = np.flatnonzero(member >= 0)
            return at, member[at]
        low = np.searchsorted(self.text, texts, side="left")
        count = np.searchsorted(self.text, texts, side="right") - low
        at = np.repeat(np.arange(len(texts)), count)
        before = np.cumsum(count) - count
        return at, np.arange(int(count.sum())) + np.repeat(low - before, count)

    def expand(self, texts: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """For texts (unique): places in ``texts`` and groups, one pair for each membership."""
        at, member = self.members(texts)
        return at, self.group[member]


def split_groups(split: Split, columns: Columns, mask: np.ndarray) -> Groups:
    """The groups of the texts in ``mask`` (bool per text). Texts without a value are in no group.

    Groups without any text in scope are left out, except periods between the first and the last,
    which stay as gaps. Raises ScopeError where the field cannot split.
    """
    if split.field is None:
        return _disjoint(np.where(mask, 0, -1).astype(np.int32), ("All texts",))
    column = columns.field(split.field)
    name = columns.names[split.field]
    if isinstance(column, CategoryColumn):
        return _used_only(np.where(mask, column.codes, -1).astype(np.int32), column.labels)
    if isinstance(column, SeveralColumn):
        return _several(column, mask)
    if isinstance(column, DateColumn):
        return _periods(column.days, mask, split.period or "month", name)
    if isinstance(column, NumberColumn):
        return _numbers(column.values, mask, name)
    raise ScopeError(f"“{name}” is free text and cannot split the corpus.")


def _disjoint(of_text: np.ndarray, labels: tuple[str, ...]) -> Groups:
    text = np.flatnonzero(of_text >= 0)
    return Groups(labels, text, of_text[text], True, of_text)


def _used_only(codes: np.ndarray, labels: tuple[str, ...]) -> Groups:
    used = np.zeros(len(labels) + 1, bool)
    used[codes] = True
    used[-1] = False
    if used.sum() > MAX_GROUPS:
        raise ScopeError(f"That gives {int(used.sum()):,} groups; at most {MAX_GROUPS:,} can be compared.")
    new = np.where(used, np.cumsum(used) - 1, -1).astype(np.int32)
    kept = tuple(label for label, use in zip(labels, used, strict=False) if use)
    return _disjoint(new[codes], kept)


def _several(column: SeveralColumn, mask: np.ndarray) -> Groups:
    text = np.repeat(np.arange(len(mask)), np.diff(column.start))
    keep = mask[text]
    text, codes = text[keep], column.codes[keep]
    used = np.unique(codes)
    new = np.zeros(len(column.labels), np.int32)
    new[used] = np.arange(len(used))
    disjoint = len(np.unique(text)) == len(text)
    labels = tuple(column.labels[at] for at in used)
    if disjoint:
        of_text = np.full(len(mask), -1, np.int32)
        of_text[text] = new[codes]
        return _disjoint(of_text, labels)
    return Groups(labels, text, new[codes], False, None)


def _numbers(values: np.ndarray, mask: np.ndarray, name: str) -> Groups:
    has = mask & ~np.isnan(values)
    found, codes = np.unique(values[has], return_inverse=True)
    if len(found) > MAX_NUMBER_GROUPS:
        raise ScopeError(
            f"“{name}” has {len(found):,} different numbers; a split takes at most {MAX_NUMBER_GROUPS}."
        )
    of_text = np.full(len(mask), -1, np.int32)
    of_text[has] = codes
    return _disjoint(of_text, tuple(f"{value:g}" for value in found))


def _periods(days: np.ndarray, mask: np.ndarray, period: str, name: str) -> Groups:
    has = mask & (days != NO_DATE)
    if not has.any():
        return _disjoint(np.full(len(mask), -1, np.int32), ())
    number = period_number(days[has], period)
    first, last = int(number.min()), int(number.max())
    if last - first + 1 > MAX_GROUPS:
        raise ScopeError(
            f"“{name}” by {period} gives {last - first + 1:,} periods; at most {MAX_GROUPS:,} can be "
            "compared. Choose a longer period or narrow the dates."
        )
    of_text = np.full(len(mask), -1, np.int32)
    of_text[has] = number - first
    return _disjoint(of_text, tuple(period_label(at, period) for at in range(first, last + 1)))


def period_number(days: np.ndarray, period: str) -> np.ndarray:
    """Periods counted from that of 1970-01-01 (weeks begin on Monday)."""
    dates = days.astype("datetime64[D]")
    if period == "day":
        return days.astype(np.int64)
    if period == "week":
        return (days.astype(np.int64) + 3) // 7
    if period == "year":
        return dates.astype("datetime64[Y]").astype(np.int64)
    months = dates.astype("datetime64[M]").astype(np.int64)
    if period == "month":
        return months
    if period == "quarter":
        return months // 3
    raise ScopeError(f"“{period}” is no period; choose {', '.join(PERIODS)}.")


def period_label(number: int, period: str) -> str:
    """How a period is written: 2031-04-07, 2031-W15, 2031-04, 2031-Q2, 2031."""
    if period == "day":
        return str(np.datetime64(number, "D"))
    if period == "week":
        monday = np.datetime64(number * 7 - 3, "D").astype(object)
        year, week, _ = monday.isocalendar()
        return f"{year}-W{week:02d}"
    if period == "year":
        return str(1970 + number)
    if period == "quarter":
        return f"{1970 + number // 4}-Q{number % 4 + 1}"
    return str(np.datetime64(number, "M"))
