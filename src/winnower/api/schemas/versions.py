"""Versions of dictionaries, what differs between two, merging."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from winnower.api.schemas.base import Model, Utc
from winnower.api.schemas.instruments import Refusal
from winnower.api.schemas.scope import Scoped
from winnower.core.scope import Split


class VersionPublic(Model):
    """A state of a dictionary; ``now`` marks the present one."""

    number: int
    name: str
    note: str
    terms: int
    categories: int
    by: str
    made_at: Utc
    now: bool


class VersionName(Model):
    name: str = Field(max_length=300)
    note: str = Field(default="", max_length=5000)


class Side(Model):
    """A dictionary as it is now, or one of its versions."""

    dictionary_id: int
    version: int | None = None


class SidesRequest(Scoped):
    """Two dictionaries or versions on one scope and split."""

    first: Side
    second: Side
    split: Split = Split(field="source")


class TermChange(Model):
    category: str
    kind: Literal["added", "removed", "changed"]
    before: str | None
    after: str | None


class SideRow(Model):
    """A category in both: hits and texts by group, of the first and the second; ``both`` are hits of the
    first that overlap one of the second."""

    label: str
    depth: int
    in_first: bool
    in_second: bool
    hits: list[list[int]]
    texts: list[list[int]]
    both: int


class SidesPublic(Model):
    first: str
    second: str
    groups: list[str]
    group_words: list[int]
    categories_added: list[str]
    categories_removed: list[str]
    terms: list[TermChange]
    rows: list[SideRow]


class ConflictPublic(Model):
    key: str
    kind: Literal["options", "note", "description", "category"]
    category: str
    source: str
    mine: str
    theirs: str


class MergePreview(Model):
    """What a file would bring into a dictionary."""

    categories: list[str]
    terms: int
    some_terms: list[str]
    same: int
    doubles: int
    conflicts: list[ConflictPublic]
    refused: list[Refusal]
