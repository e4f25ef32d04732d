"""Word lists, concordances, collocates, searches."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model
from winnower.api.schemas.comparing import EvidenceRequest, MethodPart
from winnower.api.schemas.instruments import FormCount
from winnower.api.schemas.scope import Scoped
from winnower.core.scope import Split

Kind = Literal["word", "number", "hashtag", "mention", "emoji", "address"]
LineOrder = Literal["date", "source", "left1", "left2", "left3", "right1", "right2", "right3"]


class WordsRequest(Scoped):
    """A word list. ``group`` names the group whose rate sorts where ``sort`` is "group"."""

    split: Split = Split(field="source")
    unit: Literal["word", "phrase"] = "word"
    length: int = Field(default=2, ge=2, le=5)
    kinds: list[Kind] = ["word"]
    merge: Literal["none", "lemma", "stem"] = "none"
    stop: bool = True
    least_hits: int = Field(default=1, ge=1)
    least_texts: int = Field(default=1, ge=1)
    least_chars: int = Field(default=1, ge=1, le=50)
    find: str = Field(default="", max_length=100)
    sort: Literal["hits", "texts", "evenness", "name", "group"] = "hits"
    group: str | None = None
    descending: bool = True
    start: int = Field(default=0, ge=0)
    most: int = Field(default=100, ge=1, le=500)


class WordRow(Model):
    """``term`` finds the row's hits; ``forms`` are those brought together, the most frequent first."""

    name: str
    kind: Kind
    term: str
    hits: int
    texts: int
    rate: float | None
    evenness: float | None
    group_hits: list[int]
    group_rates: list[float | None]
    forms: list[FormCount]


class WordsPage(Model):
    total: int
    start: int
    groups: list[str]
    words_in_scope: int
    texts_in_scope: int
    left_out: int
    language: str
    can_merge: list[Literal["lemma", "stem"]]
    rows: list[WordRow]
    method: list[MethodPart]


class WordSettings(Model):
    """The language of the project, and its stop list beside the one that ships for the language."""

    language: str
    languages: list[str]
    has_lemmas: bool
    shipped: list[str]
    added: list[str]
    kept: list[str]


class LanguageChoice(Model):
    """The language wanted, and the one that was seen before."""

    language: str = Field(max_length=8)
    seen: str = Field(max_length=8)


class StopWords(Model):
    forms: list[str] = Field(min_length=1, max_length=10_000)
    listed: bool = True


class LinesRequest(EvidenceRequest):
    """A concordance; ``beside`` keeps the lines with a word at an offset of -3 to 3."""

    sort: LineOrder = "date"
    at: int | None = Field(default=None, ge=-3, le=3)
    beside: str | None = Field(default=None, max_length=200)


class NeighbourCount(Model):
    word: str
    hits: int


class Neighbours(Model):
    """The words at one offset, the most frequent first."""

    offset: int
    different: int
    words: list[NeighbourCount]


class CollocatesRequest(EvidenceRequest):
    window: int = Field(default=5, ge=1, le=10)
    least: int = Field(default=3, ge=1)
    stop: bool = True
    by: Literal["g2", "log_dice", "pmi", "together"] = "g2"


class CollocateRow(Model):
    """``term`` finds the word; ``near`` the hits that have it near them, where that can be said in a term."""

    word: str
    term: str
    near: str | None
    together: int
    total: int
    g2: float
    log_dice: float | None
    pmi: float | None
    left: int
    right: int
    by_position: list[int]


class CollocatesPage(Model):
    hits: int
    tokens: int
    window: int
    total: int
    rows: list[CollocateRow]
    method: list[MethodPart]


class WidenRequest(Model):
    text_id: int
    start: int = Field(ge=0)
    end: int = Field(ge=0)
    to: Literal["sentence", "paragraph", "text"]


class Widened(Model):
    """A stretch of a text; the mark counts from its start."""

    text: str
    mark_start: int
    mark_end: int
    whole: bool


class SearchRequest(Scoped):
    query: str = Field(max_length=2_000)
    split: Split = Split(field="source")


class SearchGroup(Model):
    label: str
    texts: int
    hits: int
    of_texts: int


class SearchResult(Model):
    """``as_term`` is the search as one term, where it is one or several side by side."""

    texts: int
    hits: int
    groups: list[SearchGroup]
    terms: list[str]
    as_term: str | None


class OffersRequest(Scoped):
    query: str = Field(max_length=2_000)


class Offer(Model):
    """``found`` says whether the corpus has it in the scope."""

    text: str
    hits: int
    reason: Literal["form", "spelling", "compound", "synonym"]


class WordOffers(Model):
    word: str
    hits: int
    offers: list[Offer]


class OffersPublic(Model):
    words: list[WordOffers]
    thesaurus: bool
    language: str


class Alternatives(Model):
    query: str = Field(max_length=2_000)
    added: dict[str, list[str]]


class QueryText(Model):
    query: str
