"""What goes over the wire, in the words of the trade."""

from __future__ import annotations

import datetime as dt
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from winnower.core import scope as core


class Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Problem(Model):
    """An error as in RFC 9457, with a sentence a user can act on."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    position: int | None = None
    current: dict | None = None


# Who


class SignIn(Model):
    name: str = Field(max_length=80)
    password: str = Field(max_length=500)


class Me(Model):
    id: int
    name: str
    full_name: str


class ProjectCreate(Model):
    name: str = Field(max_length=2000)


class ProjectPublic(Model):
    id: int
    name: str
    role: str
    texts: int
    made_at: dt.datetime


class ProjectSummary(Model):
    """What the header shows of a project."""

    id: int
    name: str
    role: str
    revision: int
    texts: int
    words: int
    terms: int
    dictionaries: int
    undo: str | None
    redo: str | None
    running_jobs: int


# Scope


class HasValue(Model):
    kind: Literal["values"]
    field: str
    values: list[str | None] = Field(min_length=1, max_length=2000)
    exclude: bool = False

    def value(self) -> core.HasValue:
        return core.HasValue(self.field, tuple(self.values), self.exclude)


class DateRange(Model):
    kind: Literal["dates"]
    field: str
    low: dt.date | None = None
    high: dt.date | None = None
    exclude: bool = False

    def value(self) -> core.Between:
        return core.Between(self.field, self.low, self.high, self.exclude)


class NumberRange(Model):
    kind: Literal["numbers"]
    field: str
    low: float | None = None
    high: float | None = None
    exclude: bool = False

    def value(self) -> core.Between:
        return core.Between(self.field, self.low, self.high, self.exclude)


class HasTerm(Model):
    kind: Literal["terms"]
    terms: list[str] = Field(min_length=1, max_length=200)
    exclude: bool = False

    def value(self) -> core.HasTerm:
        return core.HasTerm(tuple(self.terms), self.exclude)


class InTitle(Model):
    kind: Literal["title"]
    contains: str = Field(min_length=1, max_length=300)
    field: str = "title"
    exclude: bool = False

    def value(self) -> core.InTitle:
        return core.InTitle(self.contains, self.field, self.exclude)


Condition = Annotated[HasValue | DateRange | NumberRange | HasTerm | InTitle, Field(discriminator="kind")]


class Scoped(Model):
    """Anything that is asked of the texts in a scope."""

    scope: list[Condition] = Field(default=[], max_length=50)

    def scope_value(self) -> core.Scope:
        return core.Scope(tuple(condition.value() for condition in self.scope))


class Split(Model):
    field: str | None = None
    period: Literal["day", "week", "month", "quarter", "year"] | None = None

    def value(self) -> core.Split:
        return core.Split(self.field, self.period)


class ScopeSize(Model):
    texts: int
    words: int
    all_texts: int
    all_words: int


class FieldValue(Model):
    label: str | None
    texts: int


class FieldInfo(Model):
    """A field of the corpus; ``values`` for categories (the most frequent), ``low`` and ``high`` for ranges."""

    key: str
    name: str
    kind: Literal["category", "several", "number", "date", "text"]
    can_split: bool
    missing: int
    different: int
    values: list[FieldValue]
    low: str | None
    high: str | None


class SubcorpusCreate(Model):
    name: str = Field(min_length=1, max_length=200)
    scope: list[Condition] = Field(min_length=1, max_length=50)


class SubcorpusPublic(Model):
    id: int
    name: str
    scope: list[Condition]
    revision: int


# Texts


class Mark(Model):
    """A stretch of a text in code points: from ``start`` to before ``end``."""

    start: int
    end: int


class NamedValue(Model):
    name: str
    value: str | float | list[str] | None


class PageRequest(Scoped):
    find: str = Field(default="", max_length=300)
    sort: str = "date"
    descending: bool = False
    start: int = Field(default=0, ge=0)
    most: int = Field(default=100, ge=1, le=500)


class TextLine(Model):
    """A row of the table of texts; ``values`` by field key."""

    id: int
    title: str
    source: str | None
    date: str | None
    words: int
    values: dict[str, str | float | list[str] | None]


class TextPage(Model):
    total: int
    start: int
    rows: list[TextLine]


class TextPublic(Model):
    """A text with its body; ``paragraphs`` are code point offsets at which they begin."""

    id: int
    title: str
    source: str | None
    date: str | None
    words: int
    origin: str
    revision: int
    body: str
    paragraphs: list[int]
    values: list[NamedValue]
    marks: list[Mark]


class AroundRequest(Scoped):
    sort: str = "date"
    descending: bool = False


class Around(Model):
    """Neighbours of a text in the table; ``position`` from 1, None outside the scope."""

    position: int | None
    total: int
    previous: int | None
    next: int | None


# Import


class UploadPublic(Model):
    id: int
    files: list[str]
    bytes: int


class TargetModel(Model):
    column: str
    role: Literal["text", "title", "source", "date", "key", "variable", "skip"]
    name: str = ""
    kind: Literal["category", "several", "number", "date", "text"] = "category"
    separator: str = Field(default=";", min_length=1, max_length=5)


class MappingModel(Model):
    targets: list[TargetModel]
    source_name: str | None = Field(default=None, max_length=300)
    day_first: bool = True


class PreviewRequest(Model):
    encoding: str | None = None
    delimiter: str | None = Field(default=None, max_length=1)
    mapping: MappingModel | None = None
    text_mapping: MappingModel | None = None


class Place(Model):
    file: str
    row: int
    reason: str
    kept: bool = False


class TablePreview(Model):
    """A table as it would be read: first rows, and what a first look over it found."""

    file: str
    encoding: str
    delimiter: str
    header: list[str]
    rows: list[list[str]]
    mapping: MappingModel


class TextSample(Model):
    title: str
    source: str | None
    date: str | None
    values: dict[str, str | float | list[str] | None]
    start: str


class Preview(Model):
    """``checked`` rows were looked over; ``everything`` says whether those were all."""

    table: TablePreview | None
    other_tables: list[str]
    text_files: int
    text_mapping: MappingModel
    samples: list[TextSample]
    problems: list[Place]
    problems_total: int
    checked: int
    everything: bool
    notices: list[str]


class ImportRequest(Model):
    upload_id: int
    mapping: MappingModel | None = None
    text_mapping: MappingModel | None = None
    encoding: str | None = None
    delimiter: str | None = None


class JobPublic(Model):
    id: int
    kind: str
    name: str
    state: Literal["queued", "running", "done", "failed", "cancelled"]
    stage: str
    done: int
    total: int
    seconds: float
    new: int
    message: str | None
    result: dict | None


class DeliveryPublic(Model):
    id: int
    name: str
    made_at: dt.datetime
    made_by: str
    report: dict


# Dictionary


class DictionaryCreate(Model):
    name: str = Field(max_length=500)


class DictionaryPublic(Model):
    id: int
    name: str


class CategoryCreate(Model):
    name: str = Field(max_length=500)
    parent_id: int | None = None
    description: str = Field(default="", max_length=5000)


class CategoryUpdate(Model):
    revision: int
    name: str | None = Field(default=None, max_length=500)
    description: str | None = Field(default=None, max_length=5000)
    colour: int | None = Field(default=None, ge=0, le=9)


class TermPublic(Model):
    id: int
    category_id: int
    source: str
    match_case: bool
    ignore_accents: bool
    note: str
    revision: int


class CategoryPublic(Model):
    id: int
    parent_id: int | None
    name: str
    depth: int
    description: str
    colour: int
    revision: int
    terms: list[TermPublic]


class DictionaryTree(Model):
    id: int
    name: str
    version: int
    categories: list[CategoryPublic]


class TermOptions(Model):
    source: str = Field(max_length=2000)
    match_case: bool = False
    ignore_accents: bool = False
    note: str = Field(default="", max_length=5000)


class TermsCreate(Model):
    terms: list[TermOptions] = Field(min_length=1, max_length=10_000)


class Refusal(Model):
    what: str
    reason: str


class TermsAdded(Model):
    added: int
    doubles: int
    refused: list[Refusal]


class TermUpdate(Model):
    revision: int
    source: str | None = Field(default=None, max_length=2000)
    match_case: bool | None = None
    ignore_accents: bool | None = None
    note: str | None = Field(default=None, max_length=5000)
    category_id: int | None = None


class TryRequest(Scoped, TermOptions):
    split: Split = Split(field="source")


class FormCount(Model):
    form: str
    hits: int


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


# Compare


class CompareRequest(Scoped):
    dictionary_id: int
    split: Split = Split(field="source")
    measure: Literal["rate", "mean_rate", "share", "share_of_texts", "hits", "texts"] = "rate"


class Cell(Model):
    value: float | None
    low: float | None
    high: float | None
    hits: int
    texts: int
    residual: float | None


class CompareRow(Model):
    category_id: int
    label: str
    name: str
    depth: int
    colour: int
    tested: bool
    evenness: float | None
    cells: list[Cell]


class Group(Model):
    label: str
    texts: int
    words: int


class StatementPublic(Model):
    kind: str
    text: str
    strong: list[str]


class MethodPart(Model):
    heading: str
    words: str
    source: str


class ComparisonPublic(Model):
    dictionary: str
    version: int
    measure: str
    unit: str
    groups: list[Group]
    rows: list[CompareRow]
    statements: list[StatementPublic]
    test: dict
    method: list[MethodPart]
    texts_in_scope: int


# Evidence


class EvidenceRequest(Scoped):
    """The passages under a number: of a category, or of terms, in a group of a split or everywhere."""

    dictionary_id: int | None = None
    category_id: int | None = None
    terms: list[TermOptions] = Field(default=[], max_length=200)
    split: Split = Split()
    group: str | None = None
    order: Literal["date", "source", "text"] = "date"
    form: Literal["context", "line"] = "context"
    start: int = Field(default=0, ge=0)
    most: int = Field(default=25, ge=1, le=200)


class PassagePublic(Model):
    """``before`` is the stretch of text to the passage's left, for lines; marks count from ``text``'s start."""

    text_id: int
    title: str
    source: str | None
    date: str | None
    paragraph: int
    start: int
    before: str
    text: str
    after: str
    marks: list[Mark]


class EvidencePage(Model):
    hits: int
    texts: int
    start: int
    next: int | None
    passages: list[PassagePublic]


class Done(Model):
    label: str


class GoToHit(Model):
    kind: Literal["text", "category", "term", "subcorpus", "source"]
    label: str
    detail: str
    id: int
    parent_id: int | None = None


class HelpPage(Model):
    topic: str
    html: str
