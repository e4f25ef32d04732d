"""What is learned from examples, themes of the texts, and word lists for tone."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import MOST_INT, Model, Revision, Utc
from winnower.api.schemas.coding import Id
from winnower.api.schemas.instruments import Refusal
from winnower.api.schemas.runs import Measured, RunItem
from winnower.api.schemas.scope import Scoped
from winnower.core.runs import Recipe
from winnower.core.scope import Split


class LearnRequest(Model):
    """A recipe whose finder is by example; ``next`` passages are offered to be looked at."""

    recipe: Recipe
    next: int = Field(default=8, ge=0, le=40)
    seed: int = Field(default=1, ge=1, le=MOST_INT)


class TellingWords(Model):
    """A word or pair with its weight, and in how many examples of either kind it stands."""

    words: str
    weight: float
    right: int
    wrong: int


class CurvePoint(Model):
    """At a threshold: precision, recall and F1 over texts that were not learned from; and ``found``, how many passages
    of the scope reach it."""

    threshold: float
    precision: Measured
    recall: Measured
    f1: Measured
    found: int


class CalibrationBin(Model):
    probability: float
    right: float
    units: int


class LearnedPublic(Model):
    """What was learned from ``right`` and ``wrong`` units in ``texts`` (``used`` of ``read`` that people went through);
    ``best`` is the place of the threshold with the highest F1, ``chosen`` what it is worth on texts that had no part in
    choosing it: precision, recall and F1."""

    right: int
    wrong: int
    texts: int
    read: int
    used: int
    few: bool
    folds: int
    speaks_for: list[TellingWords]
    speaks_against: list[TellingWords]
    curve: list[CurvePoint]
    best: int
    chosen: list[Measured]
    bins: list[CalibrationBin]
    scored: int
    of_units: int
    next: list[RunItem]


class AnswerGiven(Model):
    """Whether words come under a code: coded by hand where they do, remembered where they do not; None takes an answer
    of "no" back."""

    code_id: Id
    text_id: Id
    start: int = Field(ge=0, le=MOST_INT)
    end: int = Field(ge=1, le=MOST_INT)
    right: bool | None


class ThemesRequest(Scoped):
    """Noun phrases of the texts of a scope, by the groups of ``split``."""

    split: Split = Split()


class ThemePhrase(Model):
    """``forms`` as it stands in the texts. ``covered`` of its hits lie in coded passages; ``evenness`` 0 where it is spread as the words are, 1 where all of
    it stands in one part."""

    words: str
    hits: int
    texts: int
    covered: int
    evenness: float | None
    groups: list[int]
    forms: list[str]


class ThemeHead(ThemePhrase):
    phrases: list[ThemePhrase]


class ThemesPublic(Model):
    """``by_list`` where a word list told nouns from other words; else phrases are what stands between function
    words. ``language`` is the one of the project."""

    heads: list[ThemeHead]
    labels: list[str]
    language: str
    by_list: bool
    texts: int


class ToneListPublic(Model):
    """A word list for tone; ``id`` is None for the one that ships. ``own`` words differ from it."""

    id: int | None
    name: str
    base: Literal["english", "none"]
    words: int
    own: int
    version: int | None
    changed_since: bool
    made_at: Utc | None
    revision: int


class ToneListNew(Model):
    name: str = Field(min_length=1, max_length=200)
    base: Literal["english", "none"] = "english"


class ToneListUpdate(Model):
    name: str = Field(min_length=1, max_length=200)
    revision: Revision


Role = Literal["weight", "negation", "intensifier"]


class ToneWord(Model):
    """A word with its value; ``shipped`` is the value it has in the list that ships, None where it has none there.
    ``value`` is None where it was taken out. ``hits`` in the texts."""

    role: Role
    word: str
    value: float | None
    shipped: float | None
    hits: int


class ToneWordsPublic(Model):
    total: int
    start: int
    words: list[ToneWord]


class ToneWordGiven(Model):
    role: Role
    word: str = Field(min_length=1, max_length=200)
    value: float | None


class ToneWordsGiven(Model):
    """Words with new values; None takes a word out."""

    words: list[ToneWordGiven] = Field(min_length=1, max_length=1_000)


class ToneTried(Model):
    """A sentence somebody types, to see what its tone is and why."""

    sentence: str = Field(max_length=2_000)


class ToneWeighed(Model):
    start: int
    end: int
    value: float


class ToneOfSentence(Model):
    score: float
    band: str
    words: list[ToneWeighed]


class ToneWordsTaken(Model):
    """What a file of words held: rows that were taken, how many of them changed the list, and those that were not
    taken, with the reason."""

    taken: int
    changed: int
    refused: list[Refusal]
    label: str
