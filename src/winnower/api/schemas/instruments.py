"""Dictionaries, categories, terms, live counts."""

from __future__ import annotations

from pydantic import Field

from winnower.api.schemas.base import Model
from winnower.api.schemas.scope import Scoped
from winnower.core.dictionary import TermEntry
from winnower.core.scope import Split


class DictionaryCreate(Model):
    name: str = Field(max_length=500)


class DictionaryPublic(Model):
    id: int
    name: str
    description: str
    revision: int


class DictionaryUpdate(Model):
    revision: int
    name: str | None = Field(default=None, max_length=500)
    description: str | None = Field(default=None, max_length=5000)


class CategoryCreate(Model):
    name: str = Field(max_length=500)
    parent_id: int | None = None
    description: str = Field(default="", max_length=5000)


class CategoryUpdate(Model):
    revision: int
    name: str | None = Field(default=None, max_length=500)
    description: str | None = Field(default=None, max_length=5000)
    colour: int | None = Field(default=None, ge=0, le=9)


class CategoryMove(Model):
    """Under ``parent_id`` (None: the top), before ``before_id`` or last."""

    revision: int
    parent_id: int | None = None
    before_id: int | None = None


class CategoryMerge(Model):
    into_id: int


class CategorySplit(Model):
    """A new category beside another, with some of its terms."""

    name: str = Field(max_length=500)
    term_ids: list[int] = Field(min_length=1, max_length=10_000)


class TermPublic(Model):
    id: int
    category_id: int
    source: str
    match_case: bool
    ignore_accents: bool
    forms_of: str
    note: str
    revision: int
    written: str


class CategoryPublic(Model):
    """``path`` names it and all above it, as rows of tables are keyed."""

    id: int
    parent_id: int | None
    name: str
    path: str
    depth: int
    description: str
    colour: int
    revision: int
    terms: list[TermPublic]


class DictionaryTree(Model):
    """``version`` is the present state where that is kept, else the newest kept one (0: none yet)."""

    id: int
    name: str
    description: str
    revision: int
    version: int
    version_kept: bool
    categories: list[CategoryPublic]


class TermOptions(Model):
    """A term as text, with its options; ``forms_of`` is the language whose word forms it stands for."""

    source: str = Field(max_length=2000)
    match_case: bool = False
    ignore_accents: bool = False
    forms_of: str = Field(default="", max_length=8)
    note: str = Field(default="", max_length=5000)

    def entry(self) -> TermEntry:
        return TermEntry(self.source, self.match_case, self.ignore_accents, self.note, self.forms_of)


class TermsCreate(Model):
    terms: list[TermOptions] = Field(min_length=1, max_length=10_000)


class Refusal(Model):
    what: str
    reason: str


class TermsAdded(Model):
    added: int
    doubles: int
    refused: list[Refusal]


class DictionaryImported(TermsAdded):
    dictionary: DictionaryPublic


class TermUpdate(Model):
    revision: int
    source: str | None = Field(default=None, max_length=2000)
    match_case: bool | None = None
    ignore_accents: bool | None = None
    forms_of: str | None = Field(default=None, max_length=8)
    note: str | None = Field(default=None, max_length=5000)
    category_id: int | None = None


class TryRequest(Scoped, TermOptions):
    split: Split = Split(field="source")


class FormCount(Model):
    """``term`` finds this form and no other."""

    form: str
    hits: int
    term: str


class TermProfile(Model):
    """What a term catches in the scope, see core/dictionary/profile.py."""

    hits: int
    texts: int
    forms: list[FormCount]
    forms_total: int
    group_hits: list[int]
    group_rates: list[float | None]
    evenness: float | None
    share_of_words: float
    remark: str | None


class TriedTerm(Model):
    groups: list[str]
    profile: TermProfile


class ProfileRequest(Scoped):
    split: Split = Split(field="source")


class CategoryCount(Model):
    id: int
    hits: int
    texts: int


class DictionaryCounts(Model):
    """Counts of a whole dictionary in the scope, and what is to be looked after."""

    groups: list[str]
    categories: list[CategoryCount]
    texts_in_scope: int
    texts_matched: int
    empty_terms: list[int]
    double_terms: list[int]


class CategoryProfiles(Model):
    groups: list[str]
    terms: dict[int, TermProfile]
