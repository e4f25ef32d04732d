"""Across what a comparison runs: the groups of a field, and which texts belong to each."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, ClassVar, Literal

import numpy as np
from annotated_types import Len, MaxLen

from winnower.core.errors import ScopeError
from winnower.core.scope.columns import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
    TextColumn,
)
from winnower.core.scope.conditions import Scope, fields_of
from winnower.core.scope.plain import Conditions

PERIODS = ("day", "week", "month", "quarter", "year")
MAX_GROUPS = 2_000
MAX_NUMBER_GROUPS = 100
#: So many texts can be groups, each by itself.
MAX_TEXT_GROUPS = 200


Period = Literal["day", "week", "month", "quarter", "year"]
Label = Annotated[str, Len(1, 300)]
#: The key of the field that says whose words a text holds, in a corpus laid out by codes (see ``Split.codes``).
UNDER = "under"
#: The label of the words under none of the codes.
REST = "all other words"


@dataclass(frozen=True)
class Part:
    """Texts for which all conditions hold, as a group with a name: a subcorpus, or the time before an event."""

    name: Label
    conditions: Conditions = ()

    __pydantic_config__: ClassVar = {"extra": "forbid"}


@dataclass(frozen=True)
class Crossed:
    """A second field that a split is crossed with."""

    field: str
    period: Period | None = None

    __pydantic_config__: ClassVar = {"extra": "forbid"}


@dataclass(frozen=True)
class Merged:
    """Groups taken together under one name."""

    name: Label
    groups: Annotated[tuple[str, ...], Len(1, 2_000)]

    __pydantic_config__: ClassVar = {"extra": "forbid"}


@dataclass(frozen=True)
class Split:
    """A field; for a date also the period it is cut into. Without a field all texts are one group.

    Instead of a field: ``parts`` of the corpus with a name, which may share texts, or the words under each of some
    ``codes``, such as speakers, with those under none of them as a group of their own (``rest``). ``crossed`` is a
    second field: its values within each group. ``merged`` groups are one, those in ``without`` are left out; both
    name groups as they are called without that.
    """

    field: str | None = None
    period: Period | None = None
    parts: Annotated[tuple[Part, ...], MaxLen(50)] = ()
    codes: Annotated[tuple[Label, ...], MaxLen(100)] = ()
    rest: bool = False
    crossed: Crossed | None = None
    merged: Annotated[tuple[Merged, ...], MaxLen(200)] = ()
    without: Annotated[tuple[str, ...], MaxLen(2_000)] = ()

    __pydantic_config__: ClassVar = {"extra": "forbid"}

    def __post_init__(self) -> None:
        if bool(self.field) + bool(self.parts) + bool(self.codes) > 1:
            raise ScopeError("A split is by a field, by parts of the corpus, or by codes: by one of them.")
        names = [part.name for part in self.parts]
        if len(set(names)) < len(names):
            raise ScopeError(
                "Two parts of the corpus have the same name; groups are identified by their names."
            )
        if self.crossed and not (self.field or self.parts or self.codes):
            raise ScopeError("Say what is crossed: a split by a second field needs a first one.")
        if self.crossed and self.crossed.field == self.field:
            raise ScopeError("A field is not crossed with itself.")

    @property
    def divides(self) -> bool:
        """Whether there is anything to compare across."""
        return bool(self.field or self.parts or self.codes)

    @property
    def plain(self) -> bool:
        """Whether it is nothing but a field (or nothing), as what only takes a field wants it."""
        return not (self.parts or self.codes or self.crossed or self.merged or self.without)


def fields_of_split(split: Split) -> frozenset[str]:
    """Keys of the fields that decide which group a text belongs to."""
    found = {split.field} if split.field else set()
    if split.crossed:
        found.add(split.crossed.field)
    for part in split.parts:
        found |= fields_of(Scope(part.conditions))
    return frozenset(found | ({"codes"} if split.codes else set()))


def split_name(split: Split, columns: Columns) -> str:
    """What a comparison runs across, in words: "Date by month", "Source and Age", "parts of the corpus"."""
    names = columns.names
    if split.codes:
        found = "the words under codes"
    elif split.parts:
        found = "parts of the corpus"
    elif split.field is None:
        return "all texts"
    else:
        found = names.get(split.field, split.field) + (f" by {split.period}" if split.period else "")
    if split.crossed:
        second = names.get(split.crossed.field, split.crossed.field)
        found += f" and {second}" + (f" by {split.crossed.period}" if split.crossed.period else "")
    return found


@dataclass(frozen=True)
class Groups:
    """Which texts belong to which group.

    labels     of the groups, in their order
    text       int64, sorted: texts, one entry for each group a text belongs to
    group      int32, beside ``text``
    disjoint   no text belongs to two groups
    of_text    int32 per text: its group or -1; only where ``disjoint``
    pairs      where two fields are crossed: the labels of both, for each group
    """

    labels: tuple[str, ...]
    text: np.ndarray
    group: np.ndarray
    disjoint: bool
    of_text: np.ndarray | None
    pairs: tuple[tuple[str, str], ...] = ()

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
    which stay as gaps. Raises ScopeError where the field cannot split. Only the field is looked at; all of a split
    is worked out by ``groups_of``.
    """
    if split.field is None:
        return disjoint(np.where(mask, 0, -1).astype(np.int32), ("All texts",))
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
    if split.field == "title" and isinstance(column, TextColumn):
        return _each_text(column, mask)
    raise ScopeError(f"“{name}” is free text and cannot split the corpus.")


def _each_text(column: TextColumn, mask: np.ndarray) -> Groups:
    """Each text a group of its own, called by its title."""
    texts = np.flatnonzero(mask)
    if len(texts) > MAX_TEXT_GROUPS:
        raise ScopeError(
            f"These are {len(texts):,} texts; at most {MAX_TEXT_GROUPS} can be compared one by one. Narrow the scope."
        )
    of_text = np.full(len(mask), -1, np.int32)
    of_text[texts] = np.arange(len(texts))
    titles = [title or "Untitled" for title in column.values.gather(texts).to_list()]
    seen: dict[str, int] = {}
    labels = []
    for title in titles:
        seen[title] = seen.get(title, 0) + 1
        labels.append(title if seen[title] == 1 else f"{title} ({seen[title]})")
    return disjoint(of_text, tuple(labels))


def disjoint(of_text: np.ndarray, labels: tuple[str, ...]) -> Groups:
    """Groups of texts that are in one at most: ``of_text`` (int32 per text) says in which, -1 in none."""
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
    return disjoint(new[codes], kept)


def _several(column: SeveralColumn, mask: np.ndarray) -> Groups:
    text = np.repeat(np.arange(len(mask)), np.diff(column.start))
    keep = mask[text]
    text, codes = text[keep], column.codes[keep]
    used = np.unique(codes)
    new = np.zeros(len(column.labels), np.int32)
    new[used] = np.arange(len(used))
    alone = len(np.unique(text)) == len(text)
    labels = tuple(column.labels[at] for at in used)
    if alone:
        of_text = np.full(len(mask), -1, np.int32)
        of_text[text] = new[codes]
        return disjoint(of_text, labels)
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
    return disjoint(of_text, tuple(f"{value:g}" for value in found))


def _periods(days: np.ndarray, mask: np.ndarray, period: str, name: str) -> Groups:
    has = mask & (days != NO_DATE)
    if not has.any():
        return disjoint(np.full(len(mask), -1, np.int32), ())
    number = period_number(days[has], period)
    first, last = int(number.min()), int(number.max())
    if last - first + 1 > MAX_GROUPS:
        raise ScopeError(
            f"“{name}” by {period} gives {last - first + 1:,} periods; at most {MAX_GROUPS:,} can be "
            "compared. Choose a longer period or narrow the dates."
        )
    of_text = np.full(len(mask), -1, np.int32)
    of_text[has] = number - first
    return disjoint(of_text, tuple(period_label(at, period) for at in range(first, last + 1)))


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
