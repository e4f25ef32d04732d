"""What leaves the project: a table for statistics, texts as Word files with comments; beside pandas and python-docx."""

from __future__ import annotations

import datetime as dt
import io
import resource
import time
from pathlib import Path

import docx
import numpy as np
import pandas as pd
from comparing import made
from corpora import vocabulary
from measure import row

from winnower.core.compare import OfTerms
from winnower.core.dataset import About, Names, field_column, frame, own_column, target_columns, text_rows
from winnower.core.dictionary import TermEntry
from winnower.core.scope import describe_fields
from winnower.writers.coded_word import CodedText, Remark, coded_docx
from winnower.writers.dataset import write_data

COLUMNS, AT_ONCE = 60, 20_000
TEXTS, REMARKS = 1_000, 10


def main(folder: Path, n: int) -> None:
    table(folder, n)
    commented()


def table(folder: Path, n: int) -> None:
    corpus, _ = made(folder / "writing", n)
    everywhere = np.ones(n, bool)
    rows, names = text_rows(corpus.index, everywhere), Names()
    columns = [own_column(About(names.of("text id"), "text id", "whole number", "", ""), rows.text)]
    columns += [
        field_column(names.of(one.name), one, corpus.columns.fields[one.key], rows)
        for one in describe_fields(corpus.columns)
    ]
    wanted = [str(word) for word in vocabulary(400)[100 : 100 + COLUMNS - len(columns)]]
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    started = time.perf_counter()
    target = OfTerms(tuple(TermEntry(word) for word in wanted)).resolve(None, corpus)  # type: ignore[arg-type]
    columns += target_columns(names, "", target, corpus, rows, everywhere)
    frames = (frame(columns, slice(low, min(low + AT_ONCE, n))) for low in range(0, n, AT_ONCE))
    path = folder / "table.zip"
    write_data(path, "parquet", [one.about for one in columns], n, frames, ["Bench."])
    own = time.perf_counter() - started
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    row(f"{n:,} texts by {len(columns)} columns as Parquet", f"{own:.1f} s", "20 s", own <= 20)
    row("memory that takes", f"{grown:.0f} MB", "flat: under 400 MB", grown <= 400)
    started = time.perf_counter()
    whole = pd.DataFrame({one.about.name: one.make(slice(0, n)).to_pandas() for one in columns})
    whole.to_parquet(folder / "pandas.parquet")
    theirs = time.perf_counter() - started
    row(
        "pandas writing the same values at once, without counting them, over ours",
        f"{theirs / own:.1f} x",
        "",
        None,
    )


def commented() -> None:
    body = "\n\n".join(
        "The lambs on the hill were counted again and forty of them are gone." for _ in range(20)
    )
    day = dt.datetime(2031, 6, 3)
    remarks = tuple(
        Remark(at * 60, at * 60 + 80, "Ada Wray", day, ("Loss > Herds",)) for at in range(REMARKS)
    )
    texts = [CodedText(f"Text {at}", "Hill Farmer", body, remarks) for at in range(TEXTS)]
    started = time.perf_counter()
    coded_docx("Texts", texts)
    own = time.perf_counter() - started
    row(f"{TEXTS:,} texts with {TEXTS * REMARKS:,} comments as Word", f"{own:.1f} s", "30 s", own <= 30)
    part = TEXTS // 10
    started = time.perf_counter()
    document = docx.Document()
    for _ in range(part):
        runs = [document.add_paragraph(line).runs[0] for line in body.split("\n\n")]
        for at in range(REMARKS):
            document.add_comment(runs[at], "Loss > Herds", "Ada Wray", "AW")
    document.save(io.BytesIO())
    theirs = time.perf_counter() - started
    row("python-docx’s own comments, a tenth of it, over all of ours", f"{theirs / own:.1f} x", "", None)
