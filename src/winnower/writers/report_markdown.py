"""A report as one Markdown file; with pictures as an archive of it and them."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping

from winnower.core.report import (
    Block,
    Figure,
    Grid,
    Heading,
    Missing,
    Picture,
    Prose,
    Quote,
    Report,
    labels_of,
)
from winnower.core.report.markdown import escaped
from winnower.writers.flow import quoted


def report_markdown(report: Report, pictures: dict[str, str] | None = None) -> str:
    """The text alone; ``pictures`` are the files its figures name."""
    labels = labels_of(report)
    lines = [f"# {escaped(report.title)}", "  \n".join(f"*{escaped(line)}*" for line in report.lines)]
    lines += [_block(block, labels.get(at, ""), pictures or {}) for at, block in enumerate(report.blocks())]
    return "\n\n".join(line for line in lines if line) + "\n"


def report_markdown_zip(report: Report, pictures: Mapping[str, Picture]) -> bytes:
    """“report.md” and a folder with its pictures; without any the archive holds the text alone."""
    out = io.BytesIO()
    names: dict[str, str] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for number, (name, picture) in enumerate(pictures.items(), start=1):
            if isinstance(picture, bytes):
                names[name] = f"pictures/{number:02}.svg"
                packed.writestr(zipfile.ZipInfo(names[name], (2000, 1, 1, 0, 0, 0)), picture)
        packed.writestr(zipfile.ZipInfo("report.md", (2000, 1, 1, 0, 0, 0)), report_markdown(report, names))
    return out.getvalue()


def _block(block: Block, label: str, pictures: dict[str, str]) -> str:
    if isinstance(block, Heading):
        return f"{'#' * min(block.level + 1, 6)} {escaped(block.words)}"
    if isinstance(block, Prose):
        return block.body.strip()
    if isinstance(block, Quote):
        return quoted(block.words, block.origin)
    if isinstance(block, Grid):
        return _grid(block, label)
    if isinstance(block, Figure):
        file = pictures.get(block.drawing)
        shown = f"![{escaped(block.caption)}]({file})\n\n" if file else ""
        note = f"\n\n{escaped(block.note)}" if block.note else ""
        return f"{shown}**{label}.** {escaped(block.caption)}{note}"
    assert isinstance(block, Missing)
    return f"*{escaped(block.words)}*"


def _grid(block: Grid, label: str) -> str:
    head = " | ".join(_cell(column.name) for column in block.columns)
    rule = " | ".join("---:" if column.number else "---" for column in block.columns)
    rows = [" | ".join(_cell(cell) for cell in row) for row in block.rows]
    table = "\n".join(f"| {line} |" for line in (head, rule, *rows))
    note = f"\n\n{escaped(block.note)}" if block.note else ""
    return f"**{label}.** {escaped(block.caption)}\n\n{table}{note}"


def _cell(words: str) -> str:
    return escaped(" ".join(words.split()))
