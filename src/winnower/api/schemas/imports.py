"""Uploads, first look, jobs, deliveries."""

from __future__ import annotations

from typing import Literal

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


class MappingModel(Model):
    targets: list[TargetModel]
    source_name: str | None = Field(default=None, max_length=300)
    day_first: bool = True
    layout: Literal["answers", "sections"] = "answers"
    question_name: str = Field(default="Question", max_length=200)
    placeholders: bool = False
    naming: Literal["title", "author-year"] = "title"


class LotChoiceModel(Model):
    """How files that are alike are taken."""

    mapping: MappingModel | None = None
    encoding: str | None = Field(default=None, max_length=30)
    delimiter: str | None = Field(default=None, max_length=1)
    cut: Literal["file", "heading", "page", "line"] = "file"
    cut_line: str = Field(default="", max_length=200)
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


class LotPreview(Model):
    """Files that are read alike: how they are taken as things stand, first rows, resulting texts.

    ``kept`` says that the choice is that of an earlier delivery; ``reason`` why none fits.
    """

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
    rows: list[list[str]]
    samples: list[TextSample]


class Preview(Model):
    """``checked`` rows were looked over; ``everything`` says whether those were all."""

    lots: list[LotPreview]
    problems: list[Place]
    problems_total: int
    checked: int
    everything: bool
    notices: list[str]


class ImportRequest(Model):
    upload_id: int
    lots: dict[str, LotChoiceModel]


class ExpectedPublic(Model):
    """What an import would do; not ``everything`` where the files are too large to read through first."""

    new: int
    placeholders: int
    known: int
    changed: int
    refused: int
    everything: bool
    share: float


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
