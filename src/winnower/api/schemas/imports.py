"""Uploads, first look, jobs, deliveries."""

from __future__ import annotations

import datetime as dt
from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model


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
