"""Codes and passages."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnower.api.schemas.base import MOST_INT, Model, Revision, Standing, Utc
from winnower.api.schemas.scope import Scoped
from winnower.core.coding.ordering import SortBy
from winnower.core.coding.question import By
from winnower.core.scope import Split

Id = Annotated[int, Field(ge=1, le=MOST_INT)]
#: Of a passage or a coder: below zero of what a run found, and of the run.
PassageId = Annotated[int, Field(ge=-MOST_INT, le=MOST_INT)]
Place = Annotated[int, Field(ge=0, le=2**31 - 1)]
Words = Annotated[str, Field(max_length=10_000)]
Relation = Literal["overlapping", "inside", "around", "followed by", "after", "in one text", "near"]


class CodePublic(Model):
    """A code; ``depth`` 0 at the top, ``colour`` one of ten."""

    id: int
    parent_id: int | None
    depth: int
    name: str
    description: str
    rule: str
    example: str
    counter_example: str
    colour: int
    symbol: str
    technical: bool
    revision: int


class CodebookPublic(Model):
    """Codes in the order of their tree; ``revision`` counts changes of codes and passages."""

    codes: list[CodePublic]
    coders: list[CoderPublic]
    revision: int


class CoderPublic(Model):
    """Somebody who has coded here."""

    id: int
    name: str
    me: bool


class CodeTally(Model):
    """Passages of a code and all below it, and texts with one; ``own`` are those under the code itself."""

    id: int
    passages: int
    texts: int
    own: int


class CodeWords(Model):
    """Words of the scope that lie in passages of a code or one below it, each once."""

    id: int
    words: int


class CodebookCounts(Model):
    codes: list[CodeTally]
    passages: int
    texts: int


class CodeCreate(Model):
    name: str = Field(max_length=2_000)
    parent_id: Id | None = None
    colour: int | None = Field(default=None, ge=0, le=9)
    symbol: str = Field(default="", max_length=16)
    description: Words = ""


class CodeUpdate(Model):
    revision: int
    name: str | None = Field(default=None, max_length=2_000)
    description: Words | None = None
    rule: Words | None = None
    example: Words | None = None
    counter_example: Words | None = None
    colour: int | None = Field(default=None, ge=0, le=9)
    symbol: str | None = Field(default=None, max_length=16)
    technical: bool | None = None


class CodeMove(Model):
    parent_id: Id | None = None
    before_id: Id | None = None
    revision: Revision


class CodeMerge(Model):
    into_id: Id


class CodeSplit(Model):
    name: str = Field(max_length=2_000)
    passages: list[Id] = Field(min_length=1, max_length=100_000)


class CodedPassage(Model):
    """A stretch of a text under a code, in code points. One that a run found has an id below zero, its ``run_id``, and
    why it was found."""

    id: int
    code_id: int
    start: int
    end: int
    strength: int | None
    comment: str
    coder: str
    mine: bool
    made_at: Utc
    revision: int
    run_id: int | None = None
    reason: str = ""


class TextPassages(Model):
    """The passages of a text in the order of their words, and the state of the project's coding."""

    passages: list[CodedPassage]
    revision: int


class PassagesChanged(Model):
    """What a change left of the passages it spoke of, those that are gone by it, and the state of the coding
    after it."""

    passages: list[CodedPassage]
    gone: list[int]
    revision: int


class PassageCreate(Model):
    """Codes for a stretch; ``words`` are the words chosen, by which they are found again should the text
    have been corrected. ``new`` is the name of a code to make, under ``parent_id``."""

    start: Place
    end: Place
    words: str = Field(max_length=5_000_000)
    codes: list[Id] = Field(default=[], max_length=50)
    new: CodeCreate | None = None


class PassageUpdate(Model):
    revision: Revision
    start: Place | None = None
    end: Place | None = None
    code_id: Id | None = None
    comment: str | None = Field(default=None, max_length=2_000)
    strength: int | None = Field(default=None, ge=0, le=5)


class BesideAsked(Model):
    """How passages lie to those of other codes; ``within`` so many words or paragraphs for "near"."""

    relation: Relation
    codes: list[Id] = Field(min_length=1, max_length=300)
    without: bool = False
    within: int = Field(default=10, ge=0, le=10_000)
    unit: Literal["words", "paragraphs"] = "words"


class PassageQuestion(Model):
    """What passages are asked for, how they are grouped: by "code", "text", or the key of a field; and in which order
    they stand, there or as a whole: as the texts, by date, the longest, the strongest first, by coder."""

    codes: list[Id] = Field(default=[], max_length=300)
    coders: list[PassageId] = Field(default=[], max_length=100)
    strength: int = Field(default=0, ge=0, le=5)
    by: By = ""
    beside: list[BesideAsked] = Field(default=[], max_length=10)
    text_id: Id | None = None
    group: str = Field(default="", max_length=60)
    sort: SortBy = "text"


class PassagesRequest(Scoped, PassageQuestion):
    """A question to the passages of a scope; ``start`` counts passages."""

    start: int = Field(default=0, ge=0, le=MOST_INT)
    most: int = Field(default=60, ge=1, le=300)


class FoundPassage(CodedPassage):
    """A passage with where it is from: ``before`` and ``after`` are words around it."""

    text_id: int
    title: str
    source: str | None
    date: str | None
    before: str
    text: str
    after: str
    paragraph: int
    standing: Standing
    group: int | None = None


class PassageGroup(Model):
    label: str
    passages: int


class PassagesPage(Model):
    """``passages`` of the page name their ``groups`` by place; a passage of a text in several groups stands in each
    of them, and ``rows`` counts it so."""

    total: int
    rows: int
    texts: int
    start: int
    groups: dict[int, PassageGroup]
    passages: list[FoundPassage]


class AllChange(PassagesRequest):
    """What becomes of all passages that a question finds: put under a code as well, moved under it, or taken off
    their own. ``new`` is the name of a code to make for them."""

    way: Literal["add", "move", "take off"]
    code_id: Id | None = None
    new: str = Field(default="", max_length=2_000)


class QuestionKeep(Model):
    name: str = Field(max_length=2_000)
    question: PassageQuestion


class QuestionPublic(Model):
    id: int
    name: str
    question: PassageQuestion
    revision: int


class LostPublic(Model):
    """A passage whose words went with a correction, and what it held."""

    id: int
    text_id: int
    title: str
    code_id: int
    code: str
    words: str
    comment: str
    strength: int | None
    coder: str
    made_at: Utc


class LostPlace(Model):
    text_id: Id
    start: Place
    end: Place
    words: str = Field(max_length=5_000_000)


class GroupPublic(Model):
    id: int
    name: str
    codes: list[int]
    revision: int


class GroupCreate(Model):
    name: str = Field(max_length=2_000)
    codes: list[Id] = Field(default=[], max_length=5_000)


class GroupUpdate(Model):
    """``colour`` is given to each code of the group."""

    revision: int
    name: str | None = Field(default=None, max_length=2_000)
    colour: int | None = Field(default=None, ge=0, le=9)
    codes: list[Id] | None = Field(default=None, max_length=5_000)


class CodebookVersionPublic(Model):
    """``now``: nothing changed since."""

    number: int
    name: str
    note: str
    codes: int
    made_by: str
    made_at: Utc
    now: bool


class VersionKeep(Model):
    name: str = Field(max_length=120)
    note: str = Field(default="", max_length=2_000)


class CodebookStep(Model):
    """What taking a code over does; ``changes`` names the fields that become others."""

    path: list[str]
    state: Literal["new", "changed", "known", "gone"]
    changes: list[str]
    groups: list[str]


class CodebookTaken(Model):
    """What a codebook file holds against the codebook; refused rows by number and reason."""

    steps: list[CodebookStep]
    groups_new: list[str]
    groups_known: list[str]
    refused: list[str]
    doubles: int
    label: str = ""


class TextSampleRequest(Scoped):
    """A sample of texts for hand coding: of each group of a split so many texts, or so many words."""

    split: Split = Split()
    texts_each: int | None = Field(default=None, ge=1, le=100_000)
    words_each: int | None = Field(default=None, ge=1, le=100_000_000)
    seed: int | None = Field(default=None, ge=1, le=2**31 - 1)
    name: str = Field(default="", max_length=300)
    try_only: bool = False


class SampleGroup(Model):
    label: str
    texts: int
    words: int
    of_texts: int


class SampleDrawn(Model):
    """What was drawn; ``label`` is what was done, empty where it was only tried."""

    name: str
    seed: int
    texts: int
    words: int
    groups: list[SampleGroup]
    label: str


class ProgressRequest(Model):
    texts: list[Id] = Field(max_length=1_000)


class TextProgress(Model):
    """``done``: names of those who are through with it; ``mine``: you are among them."""

    text_id: int
    passages: int
    done: list[str]
    mine: bool


class NextText(Model):
    """The next text of a scope that you are not through with; ``left`` of them there are."""

    text_id: int | None
    left: int
    total: int


class DoneMark(Model):
    done: bool


class PassagesChange(Model):
    """Passages to move under another code or a ``new`` one of that name, or to take off where none is given."""

    passages: list[PassageId] = Field(min_length=1, max_length=100_000)
    code_id: Id | None = None
    new: str = Field(default="", max_length=2_000)
