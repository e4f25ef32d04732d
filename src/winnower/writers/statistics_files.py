"""Tables as .sav and .dta: categories as numbers with labels, each column with what it is called."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import Any, Literal

import polars as pl

from winnower.core.dataset import About
from winnower.core.errors import WinnowerError

StatisticsForm = Literal["sav", "dta"]
#: A file of this kind is made in memory.
MOST_ROWS = 1_000_000
#: A category with more values is written as words.
MOST_LABELLED = 5_000
#: Bytes of names, of labels of columns and of values, and of a cell that the format takes.
_NAME = {"sav": 60, "dta": 32}
_LABEL = {"sav": 250, "dta": 80}
_VALUE_LABEL = {"sav": 120, "dta": 1_000}
_CELL = {"sav": 32_000, "dta": 2_045}


def write_statistics(
    path: Path, form: StatisticsForm, abouts: Sequence[About], rows: int, frames: Iterable[pl.DataFrame]
) -> list[str]:
    """Write a table; sentences on what did not fit whole. Raises WinnowerError for more rows than are taken."""
    import pyreadstat

    if rows > MOST_ROWS:
        raise WinnowerError(
            f"These are {rows:,} rows; a .{form} file takes {MOST_ROWS:,} here. Take Parquet or CSV, or narrow the scope."
        )
    frame = pl.concat(list(frames))
    labels: dict[str, dict[int | float, str]] = {}
    columns: list[pl.Series] = []
    told: list[str] = []
    names = _short_names([about.name for about in abouts], _NAME[form])
    for about, name in zip(abouts, names, strict=True):
        column = frame[about.name].alias(name)
        if about.kind == "category" and column.dtype == pl.String:
            values = column.drop_nulls().unique().sort().to_list()
            if len(values) <= MOST_LABELLED:
                labels[name] = {at: _cut(value, _VALUE_LABEL[form]) for at, value in enumerate(values, 1)}
                codes = {value: at for at, value in enumerate(values, 1)}
                columns.append(column.replace_strict(codes, return_dtype=pl.Int32).alias(name))
                continue
        if column.dtype == pl.String:
            column, cut = _fitting(column, _CELL[form])
            if cut:
                told.append(
                    f"{cut:,} cells of {name} were cut to the {_CELL[form]:,} bytes a .{form} file takes."
                )
        columns.append(column)
    write: Callable[..., Any] = pyreadstat.write_sav if form == "sav" else pyreadstat.write_dta
    more = {"row_compress": True} if form == "sav" else {}
    write(
        pl.DataFrame(columns),
        str(path),
        column_labels={
            name: _cut(f"{about.label}. {about.how}" if about.how else about.label, _LABEL[form])
            for name, about in zip(names, abouts, strict=True)
        },
        variable_value_labels=labels,
        **more,
    )
    return told


def _short_names(names: Sequence[str], most: int) -> list[str]:
    """Names of at most so many letters, each once."""
    taken: set[str] = set()
    out = []
    for name in names:
        short, at = name[:most], 1
        while short in taken:
            at += 1
            end = f"_{at}"
            short = f"{name[: most - len(end)]}{end}"
        taken.add(short)
        out.append(short)
    return out


def _cut(words: str, most: int) -> str:
    """Words of at most so many bytes, whole letters only."""
    encoded = words.encode()
    return words if len(encoded) <= most else encoded[:most].decode(errors="ignore")


def _fitting(column: pl.Series, most: int) -> tuple[pl.Series, int]:
    """A column of words that fit, and how many were cut."""
    long = (column.str.len_bytes() > most).fill_null(False)
    cut = int(long.sum())
    if not cut:
        return column, 0
    values = column.to_list()
    for at in long.arg_true().to_list():
        values[at] = _cut(values[at], most)
    return pl.Series(column.name, values, pl.String), cut
