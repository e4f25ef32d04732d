"""Runs of automatic coding."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import MOST_INT, Model, Revision, Standing, Utc
from winnower.api.schemas.coding import CoderPublic, Id, PassageId
from winnower.api.schemas.review import QualityPublic
from winnower.api.schemas.scope import Scoped
from winnower.core.runs import Recipe
from winnower.core.runs.review import Order, Show
from winnower.core.scope import Split

RunState = Literal["making", "proposals", "applied", "taken back"]


class RunPreviewRequest(Model):
    """A recipe to try; counts are told by the groups of ``split``, and ``sample`` passages drawn with ``seed``."""

    recipe: Recipe
    split: Split = Split()
    seed: int = Field(default=1, ge=1, le=MOST_INT)
    sample: int = Field(default=12, ge=0, le=60)


class RunPiece(Model):
    """What comes under one code: passages and texts, and passages by group."""

    key: str
    name: str
    above: str | None
    places: int
    texts: int
    groups: list[int]


class RunWeighed(Model):
    """Words of a passage (code points of its text) and what they came to in its score."""

    start: int
    end: int
    value: float


class RunItem(Model):
    """A passage a run found, ``start`` to ``end`` of its text, with why: ``mark_start`` to ``mark_end`` of ``text`` (code points) are the words of
    ``reason``, ``hits`` how many hits lie in it, ``score`` a tone (-1 to 1) or a probability, ``words`` what made it.
    ``id`` is below zero, 0 where it is not stored. ``verdict`` is
    what people agreed on, ``mine`` what this person said: 1 right, 0 wrong."""

    id: int
    target: int
    name: str
    code_id: int | None
    text_id: int
    title: str
    source: str | None
    date: str | None
    paragraph: int
    standing: Standing
    start: int
    end: int
    before: str
    text: str
    after: str
    mark_start: int
    mark_end: int
    reason: str
    hits: int
    score: float | None = None
    words: list[RunWeighed] = []
    verdict: int | None = None
    mine: int | None = None
    differ: bool = False


class RunNamesRequest(Scoped):
    """Who speaks in the texts of a scope, by a ``pattern``; or with ``by`` what headings, sections or pages are
    called."""

    pattern: str = Field(default="", max_length=300)
    by: Literal["speakers", "heading", "section", "page", "item"] = "speakers"
    level: int = Field(0, ge=0, le=9)


class HeadingLevel(Model):
    """How many headings of a level there are in the texts looked at; 1 is the highest."""

    level: int
    headings: int


class RunName(Model):
    """A name or label found; ``field`` where its lines look like fields of the text ("Age: 34"), ``like`` another
    name it may be a spelling of."""

    name: str
    turns: int
    texts: int
    words: int
    field: bool
    like: str | None


class RunNames(Model):
    """``looked`` of the ``texts`` of the scope were looked through, spread evenly; of ``total`` names the most frequent
    are listed. ``levels`` are those of all headings, whichever were asked for."""

    names: list[RunName]
    total: int
    looked: int
    texts: int
    levels: list[HeadingLevel]


class RunFields(Scoped):
    """Labels whose lines become variables of the texts."""

    pattern: str = Field(default="", max_length=300)
    names: list[str] = Field(min_length=1, max_length=20)


class RunYesNo(Model):
    """Values of a field that become variables of 0 and 1; without any all of them."""

    field: str = Field(min_length=1, max_length=60)
    values: list[str] = Field(default=[], max_length=100)


class RunPreview(Model):
    """What a recipe would find, before anything is stored; ``looked`` where only so many texts were looked at, spread
    evenly over all."""

    places: int
    texts: int
    of_texts: int
    labels: list[str]
    pieces: list[RunPiece]
    sample: list[RunItem]
    instrument: str
    looked: int | None = None


class RunStart(Model):
    """``codes`` by the key of a piece: the code it comes under; without one it gets a new code of its name, under
    ``parent_id``, or under a code named ``parent_name``, which is made where it is not there."""

    recipe: Recipe
    name: str = Field(default="", max_length=190)
    state: Literal["proposals", "applied"] = "proposals"
    codes: dict[str, Id] = Field(default={}, max_length=1_000)
    parent_id: Id | None = None
    parent_name: str = Field(default="", max_length=120)


class RunLine(Model):
    """A run in the list of all; ``outdated`` where its dictionary or the texts changed since."""

    id: int
    name: str
    recipe: Recipe
    state: RunState
    instrument: str
    version: int | None
    places: int
    judged: int
    by: str
    made_at: Utc
    outdated: bool
    revision: int


class RunTally(Model):
    """``open`` passages are not judged yet; of ``differ`` people said different things."""

    places: int
    texts: int
    right: int
    wrong: int
    open: int
    differ: int
    precision: QualityPublic


class RunTargetPublic(RunTally):
    number: int
    name: str
    code_id: int | None


class Measured(Model):
    """With its interval over texts; None where it is not defined."""

    value: float | None
    low: float | None
    high: float | None


class RunTelling(Model):
    words: str
    weight: float


class RunLearned(Model):
    """What a learned code was worth when its run was made, at its threshold, over texts that were not learned from.
    ``right`` and ``wrong`` examples in ``texts``; words with their weights."""

    precision: Measured
    recall: Measured
    f1: Measured
    right: int
    wrong: int
    texts: int
    folds: int
    threshold: float
    speaks_for: list[RunTelling]
    speaks_against: list[RunTelling]


class RunPublic(RunLine):
    """A run with what came of it in the texts there are. Of ``several`` passages that two or more judged, ``alike`` are
    seen alike by all; ``alpha`` is their agreement."""

    whole: RunTally
    targets: list[RunTargetPublic]
    judges: list[str]
    several: int
    alike: int
    alpha: float | None
    learned: RunLearned | None = None


class RunUpdate(Model):
    revision: Revision
    name: str | None = Field(default=None, min_length=1, max_length=190)
    state: Literal["proposals", "applied", "taken back"] | None = None


class RunItemsRequest(Model):
    """Passages of a run to look at: which, in what order; ``seed`` for the order by chance."""

    show: Show = "open"
    order: Order = "text"
    target: int | None = Field(default=None, ge=0, le=32_000)
    text_id: Id | None = None
    seed: int = Field(default=1, ge=1, le=MOST_INT)
    start: int = Field(default=0, ge=0, le=MOST_INT)
    most: int = Field(default=40, ge=1, le=200)


class RunItems(Model):
    total: int
    start: int
    items: list[RunItem]


class RunJudge(Model):
    """A verdict on passages, or none to take it back. With ``code_id`` the words come under that code by hand and the
    run was wrong; with ``widen`` the wider words come under its code by hand and the run was right."""

    passages: list[PassageId] = Field(min_length=1, max_length=1_000)
    verdict: Literal[0, 1] | None = None
    code_id: Id | None = None
    widen: Literal["sentence", "paragraph", "text"] | None = None


class RunJudgeAll(RunItemsRequest):
    """One verdict on all passages asked for, with at least so many hits, and a score at least so far from 0."""

    verdict: Literal[0, 1]
    least_hits: int = Field(default=1, ge=1, le=MOST_INT)
    least_score: float = Field(default=0, ge=0, le=1)


class RunTextLine(Model):
    text_id: int
    title: str
    source: str | None
    date: str | None
    places: int
    codes: int


class RunTexts(Model):
    total: int
    texts: list[RunTextLine]


class RunStep(Model):
    """What bringing a run in step would do: passages that come and go, that stay, and that are found no more and stay
    since somebody judged them."""

    added: int
    removed: int
    same: int
    held: int
    sample_added: list[RunItem]
    sample_removed: list[RunItem]
    new_codes: list[str]


class MatchedCode(Model):
    """A code of a run is held against this code of the coding by hand."""

    code_id: Id
    hand_id: Id


class RunBesideRequest(Model):
    """A run beside coding by hand, over units of the texts that somebody (or one of ``coders``) coded. A code is held
    against the same code, or the one it is ``matched`` with."""

    unit: Literal["sentence", "paragraph", "text"] = "sentence"
    coders: list[Id] = Field(default=[], max_length=100)
    matched: list[MatchedCode] = Field(default=[], max_length=400)


class RunBesideUnits(RunBesideRequest):
    """The units of one code that both have, only the run, or only people."""

    code_id: Id
    which: Literal["both", "only the run", "only by hand"]
    start: int = Field(default=0, ge=0, le=MOST_INT)
    most: int = Field(default=30, ge=1, le=100)


class RunBesideRow(Model):
    """``label`` is a code or a source, ``hand_id`` the code by hand it is held against; ``both``, ``only_run``, ``only_hand`` and ``neither`` count units."""

    label: str
    code_id: int | None
    hand_id: int | None
    both: int
    only_run: int
    only_hand: int
    neither: int
    precision: Measured
    recall: Measured
    f1: Measured
    kappa: float | None
    alpha: float | None


class RunBesidePublic(Model):
    """By code, and by source for all codes together."""

    texts: int
    units: int
    codes: list[RunBesideRow]
    sources: list[RunBesideRow]
    coders: list[CoderPublic]


class RunUnits(Model):
    total: int
    start: int
    items: list[RunItem]
