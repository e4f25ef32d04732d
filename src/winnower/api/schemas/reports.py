"""Reports: their pieces, and what these come to."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnower.api.schemas.base import MOST_INT, Model, Revision, Utc
from winnower.core.report import MOST_PIECES, AnyPiece, By, Figure, Grid, Heading, Missing, Quote

Title = Annotated[str, Field(min_length=1, max_length=300)]


class ReportLine(Model):
    """A report in the list."""

    id: int
    title: str
    author: str
    made_at: Utc
    pieces: int
    frozen: bool
    revision: int


class ReportGiven(Model):
    """A new report with a chapter for each question, theme, text or source, or with nothing in it."""

    title: Title
    by: By = "question"


class ReportChange(Model):
    """Another title; frozen from now on, or live again."""

    title: Title | None = None
    frozen: bool | None = None
    revision: Revision


class ProseShown(Model):
    """Markdown as HTML that fetches and runs nothing."""

    kind: Literal["prose"] = "prose"
    html: str


BlockShown = Annotated[Heading | ProseShown | Quote | Grid | Figure | Missing, Field(discriminator="kind")]


class PartPublic(Model):
    """A piece, and what it comes to as it is shown; ``label`` of each block: “Table 1”, or nothing. Of very long ones
    the first blocks are shown, ``more`` are in the files."""

    id: int
    revision: int
    piece: AnyPiece | None
    blocks: list[BlockShown]
    labels: list[str]
    more: int


class ReportPublic(Model):
    """A report as it reads now, or when it was frozen."""

    id: int
    title: str
    lines: list[str]
    frozen_at: Utc | None
    parts: list[PartPublic]
    revision: int


class PiecesGiven(Model):
    """New pieces, behind another one (0: before all; None: at the end)."""

    pieces: list[AnyPiece] = Field(min_length=1, max_length=200)
    after: int | None = Field(default=None, ge=0, le=MOST_INT)


class PieceChange(Model):
    piece: AnyPiece
    revision: Revision


class PiecesMade(Model):
    """Ids of pieces that were made."""

    pieces: list[int]


class PieceOrder(Model):
    """The order wanted, and the one that was seen before."""

    seen: list[Annotated[int, Field(ge=1, le=MOST_INT)]] = Field(max_length=MOST_PIECES)
    pieces: list[Annotated[int, Field(ge=1, le=MOST_INT)]] = Field(max_length=MOST_PIECES)
