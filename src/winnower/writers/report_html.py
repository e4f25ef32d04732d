"""A report as one HTML file. Nothing in it is fetched from anywhere."""

from __future__ import annotations

import base64
from collections.abc import Mapping
from html import escape

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
from winnower.writers.prose import prose_html

_STYLE = """
:root { color-scheme: light; }
body { font: 16px/1.55 Georgia, "FreeSerif", "DejaVu Serif", "Droid Sans Fallback", serif; color: #17212a; max-width: 46rem; margin: 2.5rem auto; padding: 0 1.25rem; }
h1, h2, h3, h4, h5, nav, caption, figcaption, table, .lines, .note { font-family: "Helvetica Neue", "FreeSans", "DejaVu Sans", "Droid Sans Fallback", sans-serif; }
h1 { font-size: 1.9rem; line-height: 1.2; margin: 0 0 .3rem; }
h2 { font-size: 1.35rem; margin: 2.4rem 0 .6rem; border-bottom: 1px solid #c4cbc1; padding-bottom: .2rem; }
h3 { font-size: 1.08rem; margin: 1.6rem 0 .4rem; }
h4, h5 { font-size: .98rem; margin: 1.2rem 0 .3rem; }
.lines { color: #4b5761; margin: 0 0 1.6rem; font-size: .9rem; }
nav ol { list-style: none; padding: 0; margin: 0; font-size: .92rem; } nav li { margin: .15rem 0; } nav .l2 { padding-left: 1.2rem; } nav a { color: inherit; text-decoration: none; }
blockquote { margin: .9rem 0; padding: .1rem 0 .1rem .9rem; border-left: 3px solid #d8b03c; } blockquote p { margin: .2rem 0; white-space: pre-line; } blockquote footer { color: #4b5761; font-size: .85rem; }
figure { margin: 1.2rem 0; } figure img { width: 100%; height: auto; } figcaption, caption { text-align: left; font-size: .88rem; font-weight: 600; padding: .3rem 0; caption-side: top; }
table { border-collapse: collapse; font-size: .82rem; margin: 1rem 0 .2rem; width: 100%; } th, td { text-align: left; vertical-align: top; padding: .22rem .5rem .22rem 0; border-bottom: 1px solid #dee2da; } th { border-bottom: 1px solid #8a949b; } .n { text-align: right; font-variant-numeric: tabular-nums; } .n + td:not(.n), .n + th:not(.n) { padding-left: .9rem; }
.note { color: #4b5761; font-size: .8rem; margin: .1rem 0 1rem; font-weight: 400; } .missing { color: #a5401d; }
@page { size: A4; margin: 22mm 20mm 20mm; }
@media print { body { font-size: 10.5pt; line-height: 1.4; max-width: none; margin: 0; padding: 0; } th, td { padding-top: .12rem; padding-bottom: .12rem; line-height: 1.3; } h1, h2, h3, h4, h5, caption, figcaption { break-after: avoid; } figure, blockquote, tr { break-inside: avoid; } thead { display: table-header-group; break-after: avoid; } tbody tr:first-child { break-after: avoid; } }
"""


def report_html(report: Report, pictures: Mapping[str, Picture]) -> str:
    """The whole report as one file: style and pictures (as SVG, by the names of its drawings) are in it."""
    labels = labels_of(report)
    body, contents = [], []
    for place, block in enumerate(report.blocks()):
        if isinstance(block, Heading):
            contents.append((place, block))
        body.append(_block(block, place, labels.get(place, ""), pictures))
    lines = "".join(f"<div>{escape(line)}</div>" for line in report.lines)
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8">'
        f"<title>{escape(report.title)}</title><style>{_STYLE}</style></head><body><h1>{escape(report.title)}</h1>"
        f'<div class="lines">{lines}</div>{_contents(contents)}<main>{"".join(body)}</main></body></html>'
    )


def _contents(headings: list[tuple[int, Heading]]) -> str:
    shown = [(place, one) for place, one in headings if one.level <= 2]
    if len(shown) < 2:
        return ""
    lines = (
        f'<li class="l{one.level}"><a href="#h{place}">{escape(one.words)}</a></li>' for place, one in shown
    )
    return f'<nav aria-label="Contents"><ol>{"".join(lines)}</ol></nav>'


def _block(block: Block, place: int, label: str, pictures: Mapping[str, Picture]) -> str:
    if isinstance(block, Heading):
        level = min(block.level + 1, 5)
        return f'<h{level} id="h{place}">{escape(block.words)}</h{level}>'
    if isinstance(block, Prose):
        return prose_html(block.body)
    if isinstance(block, Quote):
        return (
            f"<blockquote><p>{escape(block.words)}</p><footer>— {escape(block.origin)}</footer></blockquote>"
        )
    if isinstance(block, Grid):
        return _grid(block, label)
    if isinstance(block, Figure):
        return _figure(block, label, pictures.get(block.drawing, "This picture is gone."))
    assert isinstance(block, Missing)
    return f'<p class="missing">{escape(block.words)}</p>'


def _figure(block: Figure, label: str, picture: Picture) -> str:
    if isinstance(picture, str):
        inside = f'<p class="missing">{escape(picture)}</p>'
    else:
        data = base64.b64encode(picture).decode()
        inside = f'<img alt="{escape(block.caption)}" src="data:image/svg+xml;base64,{data}">'
    note = f'<div class="note">{escape(block.note)}</div>' if block.note else ""
    return f"<figure>{inside}<figcaption>{label}. {escape(block.caption)}</figcaption>{note}</figure>"


def _grid(block: Grid, label: str) -> str:
    number = [' class="n"' if column.number else "" for column in block.columns]
    head = "".join(
        f'<th scope="col"{kind}>{escape(column.name)}</th>'
        for column, kind in zip(block.columns, number, strict=True)
    )
    rows = "".join(
        "<tr>"
        + "".join(f"<td{kind}>{escape(cell)}</td>" for cell, kind in zip(row, number, strict=True))
        + "</tr>"
        for row in block.rows
    )
    note = f'<div class="note">{escape(block.note)}</div>' if block.note else ""
    return (
        f"<table><caption>{label}. {escape(block.caption)}</caption><thead><tr>{head}</tr></thead>"
        f"<tbody>{rows}</tbody></table>{note}"
    )
