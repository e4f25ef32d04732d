"""A report with 40 findings and 200 quotes: drawn, and written as Word and PDF."""

from __future__ import annotations

import time

import numpy as np
from measure import row

from winnower.core.compare import Comparison
from winnower.core.compare.targets import OfDictionary
from winnower.core.finding import (
    Answer,
    AnyView,
    Column,
    ComparisonView,
    Sheet,
    sheets_to_plain,
    view_to_plain,
)
from winnower.core.keyness import Keywords
from winnower.core.report import Block, Drawing, Figure, Heading, Part, Prose, Quote, Report, numbers_of
from winnower.core.scope import Split
from winnower.writers.report_pdf import report_pdf
from winnower.writers.report_pictures import all_drawn, drawn
from winnower.writers.report_word import report_docx

FINDINGS, QUOTES = 40, 200
WORDS = (
    "The lambs on the hill were counted again and forty of them are gone, she said, and nobody asked us. " * 3
)


def main() -> None:
    report = _report()
    started = time.perf_counter()
    pictures = all_drawn(report.drawings, "png")
    outlines = all_drawn(report.drawings, "svg")
    drawing = time.perf_counter() - started
    started = time.perf_counter()
    word = report_docx(report, pictures)
    as_word = time.perf_counter() - started
    started = time.perf_counter()
    pdf = report_pdf(report, outlines)
    as_pdf = time.perf_counter() - started
    whole = drawing + as_word + as_pdf
    row(f"{FINDINGS} findings and {QUOTES} quotes as Word and PDF", f"{whole:.1f} s", "20 s", whole <= 20)
    row("of that the pictures of both, Word, PDF", f"{drawing:.1f}, {as_word:.1f}, {as_pdf:.1f} s", "", None)
    row("size as Word and PDF", f"{len(word) / 1e6:.1f}, {len(pdf) / 1e6:.1f} MB", "", None)
    some = list(report.drawings.values())[:8]
    started = time.perf_counter()
    for one in some:
        drawn(one, "png")
    alone = (time.perf_counter() - started) / len(some) * FINDINGS
    row("pictures one after another over several at once", f"{2 * alone / drawing:.1f} x", "", None)


def _report() -> Report:
    rng = np.random.default_rng(1)
    blocks: list[Block] = [Heading("Findings", 1)]
    drawings = {}
    for at in range(FINDINGS):
        view, answer = _comparison(rng) if at % 2 else _keywords(rng)
        name, title = f"d{at}", f"Finding {at}"
        drawings[name] = Drawing(title, view_to_plain(view), sheets_to_plain(answer.sheets))
        blocks += [
            Heading(title, 2),
            Prose("- Each group differs.\n- More than chance would have it."),
            Figure(title, name, at),
        ]
        grid = numbers_of(view, answer, title)
        blocks += [grid] if grid else []
        blocks += [Quote(WORDS, f"Hill Farmer, paragraph {number}") for number in range(QUOTES // FINDINGS)]
    return Report("Bench", ("Today",), (Part(1, tuple(blocks)),), drawings)


def _comparison(rng: np.random.Generator) -> tuple[AnyView, Answer]:
    heads = [Column("category", "text", True), Column("group", "text", True)]
    heads += [Column(f"rate per 1,000 words{end}") for end in ("", " low", " high")]
    cells = tuple(
        (
            f"Category {one}",
            f"Group {other}",
            *(float(value) for value in rng.random() * 9 + np.array([1, 0.4, 1.8])),
        )
        for one in range(8)
        for other in range(6)
    )
    answer = Answer("Frames", "", (Sheet("Numbers", tuple(heads), cells),), (), ())
    return ComparisonView(Comparison(OfDictionary(1), split=Split("source"))), answer


def _keywords(rng: np.random.Generator) -> tuple[AnyView, Answer]:
    heads = (
        *(Column("word", "text", True), Column("typical of", "text"), Column("log ratio"), Column("G2")),
        *(Column("p, adjusted", "p"), Column("hits", "count")),
    )
    cells = tuple(
        (f"word{at}", "Hill Farmer", float(rng.normal() * 2), float(rng.random() * 90), 0.01, at)
        for at in range(300)
    )
    answer = Answer("Words", "", (Sheet("Keywords", heads, cells),), (), ())
    return Keywords(Split("source"), "Hill Farmer"), answer
