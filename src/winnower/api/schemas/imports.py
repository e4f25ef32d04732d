"""Uploads, first look, jobs, deliveries."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnower.api.schemas.base import Model, Utc


class UploadPublic(Model):
    id: int
    files: list[str]
    bytes: int


class TargetModel(Model):
    column: str
    role: Literal["text", "title", "source", "date", "key", "variable", "group", "sets", "note", "skip"]
    name: str = ""
    kind: Literal["category", "several", "number", "date", "text"] = "category"
    separator: str = Field(default=";", min_length=1, max_length=5)
    also: bool = False


class MappingModel(Model):
    targets: list[TargetModel]
    source_name: str | None = Field(default=None, max_length=300)
    source_from: str = Field(default="", max_length=320, pattern="^(|file|folder|domain:.+)$")
    day_first: bool = True
    layout: Literal["answers", "sections"] = "answers"
    question_name: str = Field(default="Question", max_length=200)
    placeholders: bool = False
    naming: Literal["title", "author-year"] = "title"
    line: str | None = Field(default=None, max_length=40)
    same: Literal["", "key", "key-file", "row", "place"] = ""


class LotChoiceModel(Model):
    """How files that are alike are taken."""

    mapping: MappingModel | None = None
    encoding: str | None = Field(default=None, max_length=30)
    delimiter: str | None = Field(default=None, max_length=1)
    headings: str = Field(default="", pattern=r"^(|none|\d{1,2}(-\d{1,2})?)$")
    records: str = Field(default="", max_length=300)
    cut: Literal[
        "file", "heading", "page", "line", "begins", "counter", "fields", "origin", "messages", "bold"
    ] = "file"
    cut_line: str = Field(default="", max_length=400)
    cut_marks: dict[Literal["title", "source", "date", "skip"], Annotated[int, Field(ge=0, le=9)]] = {}
    speakers: bool = False
    keep_lines: bool = False
    head_fields: list[Annotated[str, Field(max_length=120)]] | None = Field(default=None, max_length=40)
    leave_out: bool = False


class PreviewRequest(Model):
    lots: dict[str, LotChoiceModel] = {}


class Place(Model):
    file: str
    row: int
    reason: str
    kept: bool = False


class TextSample(Model):
    title: str
    source: str | None
    date: str | None
    values: dict[str, str | float | list[str] | None]
    start: str
    placeholder: bool
    notes: int


class LinePublic(Model):
    """A kind of delivery that keys can belong to."""

    token: str
    name: str


class CutLinePublic(Model):
    """A line of a file, its number from 0, and whether a text begins at it."""

    number: int
    text: str
    begins: bool


class CutHeadings(Model):
    level: int
    headings: int


class HeadField(Model):
    """The name of a line, and at the top of how many texts one stands."""

    name: str
    texts: int


class CutMark(Model):
    """What a line that was pointed at says, and in how many of the texts."""

    role: str
    found: int
    texts: int


class CutPublic(Model):
    """How the first ``files`` are cut: the ``texts`` in them, the lines of one of them, who speaks in one."""

    texts: int
    files: int
    lines: list[CutLinePublic]
    speakers: list[str]
    #: Files whose lines were wrapped at a width.
    wrapped: int
    #: Headings by their level, the highest first.
    levels: list[CutHeadings]
    marks: list[CutMark]
    #: Lines at the top of transcripts that could be variables.
    head_fields: list[HeadField]


class SourceChoicePublic(Model):
    """Where the source could come from: "file", "folder", "domain:COLUMN" or "column:COLUMN"."""

    way: str
    examples: list[str]


class DoubtPublic(Model):
    """Values of a column that can be read in two ways: one of them, as it is read and as it could be."""

    column: str
    kind: Literal["date", "number"]
    example: str
    read: str
    otherwise: str


class SourceCount(Model):
    name: str
    texts: int


class OddTextPublic(Model):
    """A text unlike the others, with what is odd of it."""

    title: str
    source: str | None
    date: str | None
    start: str
    reason: str
    file: str
    row: int


class LookNumbers(Model):
    """The texts as far as they were looked at: how many, of when, from whom (the most frequent of ``n_sources``)."""

    texts: int
    placeholders: int
    first: str | None
    last: str | None
    undated: int
    sources: list[SourceCount]
    n_sources: int
    unsourced: int
    odd: list[OddTextPublic]


class LotPreview(Model):
    """Files that are read alike: how they are taken as things stand, first rows, resulting texts.

    ``kept`` says that the choice is that of an earlier delivery; ``reason`` why none fits. ``rule`` tells
    texts apart, in the kind of delivery ``line``. ``headings`` are the rows found, counted from 1; ``aside``
    says why it is not ticked.
    """

    headings: str
    aside: str
    cut: CutPublic
    sources: list[SourceChoicePublic]
    rule: Literal["key", "key-file", "row", "place"]
    identifying: list[str]
    lines: list[LinePublic]

    key: str
    kind: str
    label: str
    is_table: bool
    files: int
    names: list[str]
    encoding: str
    delimiter: str
    has_encoding: bool
    cuts: list[str]
    choice: LotChoiceModel
    kept: bool
    reason: str
    header: list[str]
    #: Fields of a JSON file whose lists of objects could be texts of their own.
    lists: list[str]
    rows: list[list[str]]
    samples: list[TextSample]
    doubts: list[DoubtPublic]
    #: Rows whose key is one of the project's while all else differs: they are taken as new.
    renumbered: int
    numbers: LookNumbers


class Preview(Model):
    """``checked`` rows were looked over; ``everything`` says whether those were all."""

    lots: list[LotPreview]
    problems: list[Place]
    problems_total: int
    checked: int
    everything: bool
    notices: list[str]


class CorrectsModel(Model):
    """A new row, by its identity, that is the corrected form of a text that is there."""

    identity: str = Field(max_length=64)
    text_id: int


class AgainModel(Model):
    """What is done with texts that are in the project already: with another text of theirs, with other
    values ("fill": only where there is none), and with single ones by their identity."""

    texts: Literal["keep", "take"] = "keep"
    values: Literal["fill", "take", "keep"] = "fill"
    each: dict[str, Literal["keep", "take"]] = Field(default={}, max_length=2_000)
    corrects: list[CorrectsModel] = Field(default=[], max_length=2_000)
    left_out: list[str] = Field(default=[], max_length=2_000)


class ExpectedRequest(Model):
    upload_id: int
    lots: dict[str, LotChoiceModel]


class ImportRequest(ExpectedRequest):
    again: AgainModel = AgainModel()


class StretchPublic(Model):
    kind: Literal["same", "gone", "new", "left out"]
    text: str


class ValueDiffers(Model):
    """A field as stored (empty: no value) and as delivered."""

    name: str
    before: str
    after: str


class ExamplePublic(Model):
    """A text that is there already and differs: ``words`` as stretches of both states."""

    identity: str
    name: str
    file: str
    row: int
    corrected: bool
    words: list[StretchPublic]
    values: list[ValueDiffers]


class FieldDiffers(Model):
    """In how many texts a field has another value, and in how many it is ``empty`` so far."""

    name: str
    other: int
    empty: int


class AgreeingPublic(Model):
    """Two rows of the delivery that agree in what tells texts apart, and how their text begins; ``other``
    where only the key is the same."""

    first: RowPlace
    second: RowPlace
    start: str
    other: bool


class RowPlace(Model):
    file: str
    row: int


class PerhapsPublic(Model):
    """A new row that is perhaps the corrected form of the text ``text_id``: ``words`` as stretches of both."""

    identity: str
    text_id: int
    name: str
    file: str
    row: int
    words: list[StretchPublic]


class ExpectedPublic(Model):
    """What an import would do; not ``everything`` where the files are too large to read through first.

    ``twice`` counts rows whose key came
    before in this delivery with another text, ``alike`` rows without a key that agree with another.
    """

    new: int
    placeholders: int
    known: int
    other_values: int
    changed: int
    twice: int
    alike: int
    refused: int
    everything: bool
    share: float
    fields: list[FieldDiffers]
    examples: list[ExamplePublic]
    agreeing: list[AgreeingPublic]
    conflicts: list[str]
    nearly: int
    perhaps: list[PerhapsPublic]


class LeavingPublic(Model):
    """What goes when a delivery is undone, and what stays since later deliveries brought it as well."""

    texts: int
    stay: int
    notes: int
    verdicts: int
    passages: int
    earlier_words: int
    variables: list[str]
    sources: list[str]


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
    made_at: Utc
    made_by: str
    report: dict
    state: Literal["done", "undone"]
