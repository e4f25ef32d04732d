"""The corpus check."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model, Utc
from winnower.api.schemas.texts import TextLine
from winnower.core.check import Way


class LabelCount(Model):
    label: str
    texts: int


class MissingField(Model):
    key: str
    name: str
    texts: int


class CheckPublic(Model):
    """``state``: none (never checked), stale (texts changed since), ready. Counts that need reading the
    texts are 0 until it is ready."""

    state: Literal["none", "stale", "ready"]
    job_id: int | None
    threshold: float
    made_at: Utc | None
    texts: int
    same_groups: int
    same_texts: int
    near_groups: int
    near_texts: int
    empty: int
    tiny: int
    tiny_words: int
    aside: int
    damaged: int
    languages: list[LabelCount]
    missing: list[MissingField]


class CheckStart(Model):
    threshold: float = Field(default=0.6, ge=0.5, le=0.99)


class AlikeText(Model):
    text: TextLine
    alike: float
    aside: bool


class AlikeGroup(Model):
    """Texts that are alike, the earliest first; ``kept`` says that all of them were kept on purpose."""

    group: int
    texts: list[AlikeText]
    kept: bool


class AlikeGroups(Model):
    total: int
    groups: list[AlikeGroup]


class SettleGroups(Model):
    """Count each group once (all but its earliest text excluded), exclude it whole, or keep all."""

    kind: Literal["near", "same"]
    groups: list[int] | None = Field(default=None, max_length=10_000)
    way: Way


class DifferencePart(Model):
    kind: Literal["same", "removed", "added"]
    text: str


class DifferencesPublic(Model):
    parts: list[DifferencePart]
    whole: bool


class DamagedText(Model):
    text: TextLine
    lost: int
    can_repair: bool
    before: list[str]
    after: list[str]


class DamagedTexts(Model):
    total: int
    rows: list[DamagedText]


class RepairTexts(Model):
    ids: list[int] | None = Field(default=None, max_length=100_000)


class FoundTexts(Model):
    total: int
    rows: list[TextLine]


class CalendarPublic(Model):
    """Texts by source and period; ``counts`` has a row for each source."""

    period: str
    labels: list[str]
    first_days: list[str]
    last_days: list[str]
    sources: list[str | None]
    counts: list[list[int]]
