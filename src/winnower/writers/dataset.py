"""Tables for statistics programs, written some rows at a time: CSV and Parquet with a description beside them, Excel
with one inside."""

from __future__ import annotations

import csv
import io
import tempfile
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Literal

import polars as pl
import pyarrow as pa
import pyarrow.parquet as pq
import xlsxwriter

from winnower.core.cells import harmless_row
from winnower.core.dataset import About
from winnower.core.errors import WinnowerError
from winnower.writers.statistics_files import StatisticsForm, write_statistics
from winnower.writers.tables import MADE

Form = Literal["csv", "xlsx", "parquet", "sav", "dta"]
#: What a worksheet holds beside its first row, and across.
MOST_ROWS, MOST_COLUMNS, MOST_CELL = 1_048_575, 16_384, 32_767
_HEADINGS = ("name", "called", "kind", "values", "how it was made")
#: Cells a spreadsheet would take for a formula; see core/cells.py.
_LIVE = r"^'*[=+\-@\t\r＝＋－＠]"


def write_data(
    path: Path,
    form: Form,
    abouts: Sequence[About],
    rows: int,
    frames: Iterable[pl.DataFrame],
    said: Sequence[str],
) -> None:
    """Write a table of ``rows`` rows to ``path``: a zip of the table and columns.csv, or a workbook. ``said`` tells in
    sentences what it holds. Raises WinnowerError for more than a workbook takes."""
    if form == "xlsx":
        _workbook(path, abouts, rows, frames, said)
        return
    if form in ("sav", "dta"):
        _statistics(path, "sav" if form == "sav" else "dta", abouts, rows, frames, said)
        return
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as packed:
        if form == "parquet":  # packed already
            with _member(packed, "data.parquet", zipfile.ZIP_STORED) as file:
                _parquet(file, abouts, frames)
        else:
            with _member(packed, "data.csv", zipfile.ZIP_DEFLATED) as file:
                _csv(file, frames)
        packed.writestr(_dated("columns.csv"), described_csv(abouts))
        packed.writestr(_dated("about.txt"), "\n".join(said) + "\n")


def _statistics(
    path: Path,
    form: StatisticsForm,
    abouts: Sequence[About],
    rows: int,
    frames: Iterable[pl.DataFrame],
    said: Sequence[str],
) -> None:
    """A zip of the file of a statistics program and the description of its columns."""
    with tempfile.TemporaryDirectory() as folder:
        inside = Path(folder) / f"data.{form}"
        told = write_statistics(inside, form, abouts, rows, frames)
        with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as packed:
            packed.write(inside, inside.name)
            packed.writestr(_dated("columns.csv"), described_csv(abouts))
            packed.writestr(_dated("about.txt"), "\n".join([*said, *told]) + "\n")


def described_csv(abouts: Sequence[About]) -> str:
    """A line for each column of a table: name, what it is called here, kind, values, how it was made."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(_HEADINGS)
    writer.writerows(harmless_row(_cells(about)) for about in abouts)
    return out.getvalue()


def _cells(about: About) -> tuple[str, ...]:
    return (about.name, about.label, about.kind, about.values, about.how)


def _dated(name: str) -> zipfile.ZipInfo:
    """The same numbers are the same file: nothing in it says when it was made."""
    return zipfile.ZipInfo(name, (2000, 1, 1, 0, 0, 0))


@contextmanager
def _member(packed: zipfile.ZipFile, name: str, how: int) -> Iterator[IO[bytes]]:
    info = _dated(name)
    info.compress_type = how
    with packed.open(info, "w", force_zip64=True) as file:
        yield file


def _csv(file: IO[bytes], frames: Iterable[pl.DataFrame]) -> None:
    for at, frame in enumerate(frames):
        words = [name for name, kind in frame.schema.items() if kind == pl.String]
        live = [pl.col(name).str.replace(f"({_LIVE})", "'$1") for name in words]
        frame.with_columns(live).write_csv(file, include_header=at == 0)


def _parquet(file: IO[bytes], abouts: Sequence[About], frames: Iterable[pl.DataFrame]) -> None:
    writer: pq.ParquetWriter | None = None
    told = {about.name: about for about in abouts}
    try:
        for frame in frames:
            table = frame.to_arrow(compat_level=pl.CompatLevel.oldest())
            # what a column is travels with it
            fields = [
                field.with_metadata({"label": told[field.name].label, "how": told[field.name].how})
                for field in table.schema
            ]
            schema = pa.schema(fields)
            if writer is None:
                writer = pq.ParquetWriter(pa.PythonFile(file, mode="w"), schema, compression="zstd")
            writer.write_table(table.cast(schema))
    finally:
        if writer is not None:
            writer.close()


def _workbook(
    path: Path, abouts: Sequence[About], rows: int, frames: Iterable[pl.DataFrame], said: Sequence[str]
) -> None:
    if rows > MOST_ROWS or len(abouts) > MOST_COLUMNS:
        raise WinnowerError(
            f"A worksheet takes {MOST_ROWS:,} rows and {MOST_COLUMNS:,} columns; these are {rows:,} by "
            f"{len(abouts):,}. Take CSV or Parquet, or narrow the scope."
        )
    options = {"constant_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    book = xlsxwriter.Workbook(path, options)
    book.set_properties({"created": MADE})
    bold, day = book.add_format({"bold": True}), book.add_format({"num_format": "yyyy-mm-dd"})
    sheet = book.add_worksheet("Data")
    sheet.freeze_panes(1, 1)
    for at, about in enumerate(abouts):
        sheet.write_string(0, at, about.name, bold)
    line = cut = 0
    for frame in frames:
        for row in frame.iter_rows():
            line += 1
            for at, value in enumerate(row):
                if isinstance(value, str):
                    cut += len(value) > MOST_CELL
                    sheet.write_string(line, at, value[:MOST_CELL])
                elif isinstance(value, (int, float)):
                    sheet.write_number(line, at, value)
                elif value is not None:
                    sheet.write_datetime(line, at, value, day)
    listed = book.add_worksheet("Columns")
    wrap = book.add_format({"text_wrap": True, "valign": "top"})
    listed.set_column(0, 1, 28)
    listed.set_column(2, 2, 14)
    listed.set_column(3, 4, 60, wrap)
    for at, heading in enumerate(_HEADINGS):
        listed.write_string(0, at, heading, bold)
    for number, about in enumerate(abouts, start=1):
        for at, cell in enumerate(_cells(about)):
            listed.write_string(number, at, cell[:MOST_CELL])
    told = book.add_worksheet("About")
    told.set_column(0, 0, 120, wrap)
    if cut:
        said = [
            *said,
            f"{cut:,} cells were cut to the {MOST_CELL:,} signs a cell takes; CSV and Parquet hold them whole.",
        ]
    for number, sentence in enumerate(said):
        told.write_string(number, 0, sentence[:MOST_CELL])
    book.close()
