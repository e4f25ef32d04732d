"""A report as it is written: blocks of text, quotes, tables and pictures, whatever the file.

One plain form serves the page, the files and what is kept of a frozen report.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from pydantic import Discriminator, TypeAdapter, ValidationError

from winnower.core.errors import WinnowerError


@dataclass(frozen=True)
class Heading:
    words: str
    level: int
    kind: Literal["heading"] = "heading"


@dataclass(frozen=True)
class Prose:
    """Markdown."""

    body: str
    kind: Literal["prose"] = "prose"


@dataclass(frozen=True)
class Quote:
    """Words of a text and where they are from; ``text_id`` and the number of their ``paragraph`` where they stand there
    still."""

    words: str
    origin: str
    text_id: int | None = None
    paragraph: int | None = None
    kind: Literal["quote"] = "quote"


@dataclass(frozen=True)
class GridColumn:
    name: str
    number: bool = False


@dataclass(frozen=True)
class Grid:
    """A table with a caption; ``note`` stands below it."""

    caption: str
    columns: tuple[GridColumn, ...]
    rows: tuple[tuple[str, ...], ...]
    note: str = ""
    kind: Literal["grid"] = "grid"


@dataclass(frozen=True)
class Figure:
    """A picture of a finding: ``drawing`` names it among the report's drawings."""

    caption: str
    drawing: str
    finding_id: int
    note: str = ""
    kind: Literal["figure"] = "figure"


@dataclass(frozen=True)
class Missing:
    """What cannot be shown, and why."""

    words: str
    kind: Literal["missing"] = "missing"


#: A file, or in its place the reason why there is none.
Picture = bytes | str
PictureForm = Literal["svg", "png"]
Block = Annotated[Heading | Prose | Quote | Grid | Figure | Missing, Discriminator("kind")]


@dataclass(frozen=True)
class Part:
    """What one piece came to."""

    piece_id: int
    blocks: tuple[Block, ...]


@dataclass(frozen=True)
class Drawing:
    """What a picture is drawn from: the plain form of a view, and of its answer's sheets."""

    title: str
    view: dict[str, Any]
    sheets: list[dict[str, Any]]


@dataclass(frozen=True)
class Report:
    """A report with a title, the lines under it, its parts in order, and the drawings its figures name."""

    title: str
    lines: tuple[str, ...]
    parts: tuple[Part, ...]
    drawings: dict[str, Drawing] = field(default_factory=dict)

    def blocks(self) -> Iterator[Block]:
        for part in self.parts:
            yield from part.blocks


_report = TypeAdapter(Report)


def report_to_plain(report: Report) -> dict[str, Any]:
    """Plain values that ``report_from_plain`` takes back."""
    found: dict[str, Any] = _report.dump_python(report, mode="json")
    return found


def report_from_plain(plain: object) -> Report:
    """Raises WinnowerError where it is none of ours."""
    try:
        return _report.validate_python(plain)
    except ValidationError as error:
        raise WinnowerError("What was kept of this report cannot be read.") from error


def labels_of(report: Report) -> dict[int, str]:
    """“Table 1”, “Figure 1” and so on, by the place of the block among all blocks."""
    tables = figures = 0
    found: dict[int, str] = {}
    for place, block in enumerate(report.blocks()):
        if isinstance(block, Grid):
            tables += 1
            found[place] = f"Table {tables}"
        elif isinstance(block, Figure):
            figures += 1
            found[place] = f"Figure {figures}"
    return found
