"""Keywords, co-occurrence, networks, maps, changes over time, events, findings."""

from __future__ import annotations

import datetime as dt
from typing import Any, Literal

from pydantic import Field

from winnower.api.schemas.base import MOST_INT, Model, Revision, Utc
from winnower.api.schemas.comparing import EvidenceRequest, MethodPart, StatementPublic
from winnower.core.compare import Comparison
from winnower.core.finding import AnyView, ChangesView
from winnower.core.keyness import Keywords
from winnower.core.network import Network
from winnower.core.scope import Conditions, Split
from winnower.core.together import Together

KeywordOrder = Literal["g2", "ratio", "odds", "p", "hits", "texts", "evenness", "name"]


class GroupsRequest(Model):
    """Which groups a split gives in a scope."""

    scope: Conditions = ()
    split: Split = Split()


class KeywordsRequest(Model):
    """A page of keywords; ``rare`` for the words that are rarer in the group, ``find`` characters in the word, ``sure``
    for those alone that differ by more than chance."""

    asked: Keywords
    order: KeywordOrder = "g2"
    descending: bool = True
    rare: bool = False
    sure: bool = False
    find: str = Field(default="", max_length=100)
    start: int = Field(default=0, ge=0, le=MOST_INT)
    most: int = Field(default=60, ge=1, le=500)


class Keyword(Model):
    """Numbers of the group and of what it is set against; rates for a million words; ``one_text``: the part of its hits
    in the group that stands in one text; ``term`` finds it."""

    name: str
    kind: str
    term: str
    hits: list[int]
    texts: list[int]
    rates: list[float]
    ratio: float
    g2: float
    odds: float | None
    p: float | None
    adjusted: float | None
    evenness: float | None
    one_text: float


class KeywordSide(Model):
    label: str
    texts: int
    words: int


class KeywordPoint(Model):
    """A word in the scatter: its rate for a million words of both sides, and its log ratio."""

    name: str
    rate: float
    ratio: float
    g2: float
    sure: bool


class KeywordsPage(Model):
    """``total`` rows fit, ``other`` those of the other direction; ``points`` are the furthest of both directions."""

    asked: Keywords
    sides: list[KeywordSide]
    total: int
    other: int
    start: int
    rows: list[Keyword]
    points: list[KeywordPoint]
    statements: list[StatementPublic]
    method: list[MethodPart]
    language: str
    can_merge: list[Literal["lemma", "stem"]]


class MatrixRow(Model):
    key: str
    label: str
    name: str
    depth: int
    colour: int
    units: int


class MatrixCell(Model):
    """``together`` units (or places of the row), in so many ``texts`` (None where that is not known); ``kin``: the same
    row, or one it is part of; ``sign``: more or less than chance would give, 0 where that is not clear."""

    together: int
    texts: int | None
    jaccard: float | None
    lift: float | None
    z: float | None
    p: float | None
    kin: bool
    sign: Literal[-1, 0, 1]


class MatrixPublic(Model):
    asked: Together
    name: str
    noun: str
    nouns: str
    unit: str
    units: int
    same: bool
    rows: list[MatrixRow]
    columns: list[MatrixRow]
    cells: list[list[MatrixCell]]
    statements: list[StatementPublic]
    method: list[MethodPart]


class PairEvidence(EvidenceRequest):
    """The passages under a cell of a matrix."""

    comparison: Comparison | None = None  # type: ignore[assignment]
    asked: Together
    row: str = Field(max_length=2_000)
    column: str = Field(max_length=2_000)


class TopicEvidence(EvidenceRequest):
    """The passages with two words of a topic or more."""

    comparison: Comparison | None = None  # type: ignore[assignment]
    asked: Network
    words: list[str] = Field(min_length=1, max_length=300)


class NetworkWord(Model):
    name: str
    units: int
    texts: int
    topic: int
    betweenness: float
    x: float
    y: float


class NetworkTie(Model):
    """``holds``: significantly stronger than between shuffled words."""

    first: int
    second: int
    weight: float
    together: int
    holds: bool


class TopicPublic(Model):
    """``words`` are places among the words; ``name`` its strongest three; ``stays`` the share of its pairs of words that stay
    together when texts are drawn again."""

    name: str
    words: list[int]
    inside: float
    stays: float
    units: int
    texts: int


class GapPublic(Model):
    first: int
    second: int
    ratio: float
    bridges: list[str]


class NetworkPublic(Model):
    asked: Network
    words: list[NetworkWord]
    ties: list[NetworkTie]
    topics: list[TopicPublic]
    gaps: list[GapPublic]
    units: int
    texts: int
    statements: list[StatementPublic]
    method: list[MethodPart]


class MapPoint(Model):
    """``quality``: the part of it that lies in the plane; ``contributions`` to both axes."""

    key: str
    label: str
    x: float
    y: float
    mass: float
    quality: float
    contributions: list[float]


class MapPublic(Model):
    comparison: Comparison
    noun: str
    rows: list[MapPoint]
    groups: list[MapPoint]
    shares: list[float]
    statements: list[StatementPublic]
    method: list[MethodPart]


class ChangePublic(Model):
    """From the group ``at`` (by place) on; it lies between ``low`` and ``high``; rates as they are shown."""

    row: str
    at: int
    low: int
    high: int
    before: float
    after: float
    p: float


class SmoothRow(Model):
    row: str
    values: list[float | None]


class ChangesPublic(Model):
    asked: ChangesView
    changes: list[ChangePublic]
    smooth: list[SmoothRow]
    statements: list[StatementPublic]
    method: list[MethodPart]


class EventPublic(Model):
    id: int
    day: dt.date
    name: str
    revision: int


class EventGiven(Model):
    day: dt.date
    name: str = Field(min_length=1, max_length=200)


class EventChange(EventGiven):
    revision: Revision


class FindingQuestionPublic(Model):
    id: int
    words: str
    revision: int


class FindingQuestionGiven(Model):
    words: str = Field(min_length=1, max_length=500)


class FindingQuestionChange(FindingQuestionGiven):
    revision: Revision


class FindingPublic(Model):
    """A finding in the list: what it is called and says, not its numbers. ``first`` is its first sentence."""

    id: int
    view: str
    title: str
    remark: str
    question_id: int | None
    frozen: bool
    request: dict[str, Any]
    drawn: dict[str, Any]
    said_at: Utc
    author: str
    mine: bool
    changed: list[str]
    first: str
    base: str
    revision: int


class FindingsPublic(Model):
    questions: list[FindingQuestionPublic]
    findings: list[FindingPublic]


class FindingGiven(Model):
    view: AnyView
    title: str = Field(min_length=1, max_length=300)
    remark: str = Field(default="", max_length=100_000)
    drawn: dict[str, str] = {}
    question_id: int | None = None


class FindingChange(Model):
    """What is given is changed; ``question_id`` 0 puts it under no question."""

    title: str | None = Field(default=None, min_length=1, max_length=300)
    remark: str | None = Field(default=None, max_length=100_000)
    drawn: dict[str, str] | None = None
    question_id: int | None = None
    frozen: bool | None = None
    revision: Revision


class FindingPlace(Model):
    id: int
    question_id: int | None = None


class FindingOrder(Model):
    """The order wanted, and the one that was seen before."""

    findings: list[FindingPlace] = Field(max_length=5_000)
    seen: list[FindingPlace] = Field(max_length=5_000)


class SheetColumn(Model):
    name: str
    form: Literal["text", "number", "percent", "count", "p"]
    key: bool


class SheetPublic(Model):
    name: str
    columns: list[SheetColumn]
    rows: list[list[str | int | float | None]]


class CellChanged(Model):
    sheet: str
    row: list[str | int | float | None]
    column: str
    form: Literal["text", "number", "percent", "count", "p"]
    was: str | int | float | None
    now: str | int | float | None


class FindingAnswer(Model):
    """What a finding said and says now. ``failed`` is why its view cannot be answered any more; ``same``: every number
    is; ``cells`` are the first of ``changed`` of ``compared``; ``gone`` and ``new`` rows."""

    finding: FindingPublic
    sheets: list[SheetPublic]
    statements: list[StatementPublic]
    method: list[MethodPart]
    failed: str | None
    same: bool
    changed: int
    compared: int
    cells: list[CellChanged]
    gone: list[str]
    new: list[str]


class BesideRequest(Model):
    """The finding over other texts; ``since``: over those that came after it was kept, beside those it was kept of."""

    scope: Conditions = ()
    since: bool = False


class ApartPublic(Model):
    row: str
    group: str
    first: float | None
    second: float | None
    ratio: float | None
    low: float | None
    high: float | None
    p: float | None


class BesidePublic(Model):
    first_texts: int
    second_texts: int
    unit: str
    form: Literal["number", "percent", "count"]
    cells: list[ApartPublic]
    statements: list[StatementPublic]


class FindingsExport(Model):
    findings: list[int] = Field(min_length=1, max_length=500)
