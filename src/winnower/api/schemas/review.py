"""Review: samples to judge, verdicts on places and on texts without one."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model, Utc
from winnower.api.schemas.comparing import PassagePublic
from winnower.api.schemas.scope import Scoped


class SampleRequest(Scoped):
    """Draw hits of the subject or of one of its parts, or texts without a hit of it."""

    kind: Literal["hit", "text"] = "hit"
    part: int | None = None
    size: int = Field(default=20, ge=1, le=500)
    seed: int | None = Field(default=None, ge=1, le=999_999)


class Verdict(Model):
    by: str
    mine: bool
    verdict: int
    version: int
    made_at: Utc


class SampleItem(Model):
    """``passage`` shows the hit in its sentence, for a text its beginning; None: the words are gone."""

    text_id: int
    start: int
    end: int
    passage: PassagePublic | None
    verdicts: list[Verdict]


class SamplePublic(Model):
    """``part`` is the part it was drawn from as it was written then, or empty."""

    id: int
    kind: Literal["hit", "text"]
    subject: str
    subject_id: int
    part: str
    seed: int
    size: int
    judged: int
    version: int
    by: str
    made_at: Utc


class SampleItems(Model):
    sample: SamplePublic
    items: list[SampleItem]


class VerdictsRequest(Scoped):
    """Verdicts on the subject, or on one of its parts; ``judge`` is one person’s account."""

    kind: Literal["hit", "text"] = "hit"
    show: Literal["all", "right", "wrong", "differ", "idle"] = "all"
    part: int | None = None
    judge: int | None = None
    start: int = Field(default=0, ge=0)
    most: int = Field(default=50, ge=1, le=200)


class Judge(Model):
    """A person with verdicts, how many, and how many of those say that it fits (or was missed)."""

    id: int
    name: str
    verdicts: int
    yes: int


class VerdictsPage(Model):
    """Places with verdicts, in the order of their texts. ``sizes``: how many there are of each kind of
    ``show``; "all" counts those that make the precision, "idle" those whose words are no hit of the
    scope now."""

    sizes: dict[str, int]
    judges: list[Judge]
    start: int
    next: int | None
    items: list[SampleItem]


class JudgeRequest(Model):
    """A verdict on words of a text, or on a text; None takes it back."""

    kind: Literal["hit", "text"] = "hit"
    text_id: int
    start: int = Field(default=-1, ge=-1)
    end: int = Field(default=-1, ge=-1)
    verdict: Literal[0, 1] | None
    found_by: str = Field(default="", max_length=800)


class QualityPublic(Model):
    """``share`` right, weighted by source, with its interval; None where nothing is judged. ``unseen`` part of all
    hits are in sources without any verdict."""

    judged: int
    right: int
    share: float | None
    low: float | None
    high: float | None
    unseen: float


class MissedPublic(Model):
    share: QualityPublic
    texts: list[float | None]
    recall: list[float | None]
    without_hit: int
    with_hit: int


class ReviewQuality(Model):
    """Precision of the subject and of each part with verdicts; ``disagreements`` are words on which people
    gave different verdicts."""

    whole: QualityPublic
    parts: dict[int, QualityPublic]
    missed: MissedPublic
    disagreements: int
    judges: list[str]
