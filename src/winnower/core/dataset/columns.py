"""Columns of a table for statistics, each with what it is and how it was made."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl

from winnower.core.compare.targets import Corpus, Target
from winnower.core.dataset.request import Counted
from winnower.core.dataset.rows import DataRows
from winnower.core.index import TokenIndex
from winnower.core.places import Places
from winnower.core.places.stretches import covered_words
from winnower.core.scope import (
    NO_DATE,
    CategoryColumn,
    DateColumn,
    FieldDescription,
    NumberColumn,
    SeveralColumn,
)
from winnower.core.scope.columns import Column

Kind = Literal["whole number", "number", "date", "category", "several", "text"]
#: So many values of a category are listed in its description.
VALUES_LISTED = 60
MOST_NAME = 60
#: So many values of a field become columns of their own.
MOST_SPREAD = 200
BETWEEN = "; "


@dataclass(frozen=True)
class About:
    """A column as it is described beside the table: its name there, what it is called here, its kind, its values, how
    it was made."""

    name: str
    label: str
    kind: Kind
    values: str
    how: str


@dataclass(frozen=True)
class DataColumn:
    """A column and how its values for some rows (a slice) are made."""

    about: About
    make: Callable[[slice], pl.Series]


class Names:
    """Names that statistics programs take: small letters, digits and low lines, each once.

    >>> names = Names()
    >>> names.of("Age (years)"), names.of("Âge years"), names.of("2nd wave"), names.of("Ю")
    ('age_years', 'age_years_2', 'v_2nd_wave', 'v')
    """

    def __init__(self) -> None:
        self._taken: set[str] = set()

    def of(self, label: str) -> str:
        plain = unicodedata.normalize("NFKD", label).encode("ascii", "ignore").decode().lower()
        name = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:MOST_NAME].strip("_")
        if not name or name[0].isdigit():
            name = f"v_{name}".rstrip("_")
        at, found = 1, name
        while found in self._taken:
            at += 1
            found = f"{name}_{at}"
        self._taken.add(found)
        return found


def field_column(name: str, field: FieldDescription, column: Column, rows: DataRows) -> DataColumn:
    """A field of the texts, for each row that of its text."""

    def make(some: slice) -> pl.Series:
        return values_at(column, rows.text[some]).alias(name)

    kind, values = described_field(field, column)
    how = "Of the text." if field.key.startswith("v") else _OWN.get(field.key, "Of the text.")
    if kind == "several":
        how += f" Several values stand in one cell, with “{BETWEEN.strip()}” between them."
    return DataColumn(About(name, field.name, kind, values, how), make)


def value_columns(
    names: Names, field: FieldDescription, column: SeveralColumn, rows: DataRows
) -> list[DataColumn]:
    """A column for each value of a field of several: 1 where the row's text has it, 0 where it has others, empty where it
    has none. At most MOST_SPREAD, those of the most texts."""
    texts = np.bincount(column.codes, minlength=len(column.labels))
    order = np.argsort(-texts, kind="stable")[:MOST_SPREAD]
    found = []
    for code in np.sort(order[texts[order] > 0]).tolist():
        label = str(column.labels[code])
        about = About(
            names.of(f"{field.name} {label}"),
            f"{field.name}: {label}",
            "whole number",
            "0, 1",
            f"1 where “{label}” is among the values of {field.name}, 0 where others are.",
        )
        found.append(DataColumn(about, _indicator(about.name, column, code, rows)))
    return found


def _indicator(name: str, column: SeveralColumn, code: int, rows: DataRows) -> Callable[[slice], pl.Series]:
    has = np.zeros(len(column.start) - 1, bool)
    has[np.repeat(np.arange(len(has)), np.diff(column.start))[column.codes == code]] = True
    any_value = np.diff(column.start) > 0

    def make(some: slice) -> pl.Series:
        text = rows.text[some]
        return pl.Series(name, has[text].astype(np.int64)).set(pl.Series(~any_value[text]), None)

    return make


_OWN = {
    "words": "Counted: words of the text.",
    "passages": "Counted: coded passages of the text, by people and by runs that were applied.",
    "codes": "Codes with a passage in the text, and those above them.",
    "coders": "Who coded in the text.",
}


def described_field(field: FieldDescription, column: Column) -> tuple[Kind, str]:
    if isinstance(column, (CategoryColumn, SeveralColumn)):
        listed = ", ".join(str(label) for label, _ in field.values[:VALUES_LISTED])
        more = field.different - min(len(field.values), VALUES_LISTED)
        values = listed + (f", and {more:,} more" if more > 0 else "")
        return ("several" if isinstance(column, SeveralColumn) else "category"), values
    if isinstance(column, NumberColumn):
        kind: Kind = "whole number" if is_whole(column.values) else "number"
        return kind, f"{field.low} to {field.high}" if field.low is not None else "none"
    if isinstance(column, DateColumn):
        return "date", f"{field.low} to {field.high}" if field.low is not None else "none"
    return "text", ""


def is_whole(values: np.ndarray) -> bool:
    """Whether all numbers that are there are whole ones."""
    known = values[~np.isnan(values)]
    return bool(np.all(known == np.floor(known))) and bool(np.all(np.abs(known) < 2**53))


def values_at(column: Column, text: np.ndarray) -> pl.Series:
    """The values of a field at some texts (places), null where there is none."""
    if isinstance(column, CategoryColumn):
        return pl.Series(column.labels, dtype=pl.String).gather(_with_null(column.codes[text]))
    if isinstance(column, SeveralColumn):
        return _joined(column, text)
    if isinstance(column, DateColumn):
        days = column.days[text]
        return pl.Series(days, dtype=pl.Int32).set(pl.Series(days == NO_DATE), None).cast(pl.Date)
    if isinstance(column, NumberColumn):
        found = pl.Series(column.values[text]).fill_nan(None)
        return found.cast(pl.Int64) if is_whole(column.values) else found
    return column.values.gather(pl.Series(text))


def _with_null(codes: np.ndarray) -> pl.Series:
    return pl.Series(codes.astype(np.int64)).set(pl.Series(codes < 0), None)


def _joined(column: SeveralColumn, text: np.ndarray) -> pl.Series:
    """Several values of each text in one cell."""
    low, size = column.start[text].astype(np.int64), np.diff(column.start)[text].astype(np.int64)
    row = np.repeat(np.arange(len(text)), size)
    place = np.arange(len(row)) - np.repeat(np.cumsum(size) - size, size) + np.repeat(low, size)
    labels = pl.Series(column.labels, dtype=pl.String).gather(pl.Series(column.codes[place]))
    cells = pl.DataFrame({"row": row, "label": labels}).group_by("row").agg(pl.col("label").str.join(BETWEEN))
    rows = pl.DataFrame({"row": np.arange(len(text))}).cast({"row": cells.schema["row"]})
    return rows.join(cells, on="row", how="left", maintain_order="left")["label"]


@dataclass(frozen=True)
class Located:
    """Where hits begin and where they end, each sorted: tokens counted over all segments."""

    start: np.ndarray
    end: np.ndarray

    @classmethod
    def of(cls, places: Places, index: TokenIndex) -> Located:
        sizes = np.concatenate([[0], np.cumsum([segment.n_tokens for segment in index.segments])])
        small = np.int32 if sizes[-1] < 2**31 else np.int64
        start = places.start + sizes[np.searchsorted(index.base, places.text, side="right") - 1]
        return cls(np.sort(start).astype(small), np.sort(start + np.maximum(places.length, 1)).astype(small))

    def within(self, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        """int64: how many touch each stretch; none where a stretch has no token."""
        found = np.searchsorted(self.start, high) - np.searchsorted(self.end, low, side="right")
        return np.where(high > low, found, 0).astype(np.int64)


def target_columns(
    names: Names,
    short: str,
    target: Target,
    corpus: Corpus,
    rows: DataRows,
    mask: np.ndarray,
    counted: Counted = "hits",
) -> list[DataColumn]:
    """For each row of a target a column: how many of its hits touch each row, whether one does, or how many words of
    each row lie in one."""
    what = "passages" if target.nouns[0] == "code" else "hits"
    version = f", version {target.version}" if target.version is not None else ""
    how = {
        "hits": "Counted: {what} of “{label}” in the row",
        "flags": "1 where the row has {what} of “{label}”, 0 where it has none",
        "words": "Counted: words of the row that lie in {what} of “{label}”, each once",
    }[counted]
    found = []
    for at, row in enumerate(target.rows):
        places = target.places([at], corpus, mask)
        about = About(
            names.of(f"{short} {row.label}"),
            row.label,
            "whole number",
            "0, 1" if counted == "flags" else "0 and more",
            f"{how.format(what=what, label=row.label)} ({target.name}{version}).",
        )
        if counted == "words":
            words = covered_words(places, corpus.index)
            found.append(DataColumn(about, _counter(about.name, Located(words, words + 1), rows)))
        else:
            hits = Located.of(places, corpus.index)
            found.append(DataColumn(about, _counter(about.name, hits, rows, counted == "flags")))
    return found


def _counter(name: str, hits: Located, rows: DataRows, as_flag: bool = False) -> Callable[[slice], pl.Series]:
    def make(some: slice) -> pl.Series:
        within = hits.within(rows.low[some], rows.high[some])
        return pl.Series(name, np.minimum(within, 1) if as_flag else within)

    return make


def mean_touching(values: np.ndarray, start: np.ndarray, low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """float64 per stretch (``low`` to before ``high``, in tokens): the mean of the values of the units it touches, NaN
    for an empty one. Units follow one another, each from its ``start`` to the next one's."""
    summed = np.concatenate([[0.0], np.cumsum(values)])
    first = np.searchsorted(start, low, "right") - 1
    after = np.searchsorted(start, high)
    many = np.where(high > low, after - first, 0)
    mean = np.full(len(many), np.nan)
    there = many > 0
    mean[there] = (summed[after[there]] - summed[first[there]]) / many[there]
    return mean


def own_column(about: About, values: np.ndarray, zero: bool = True) -> DataColumn:
    """A column of whole numbers that rows of this kind have; without ``zero`` a 0 stands for none."""

    def make(some: slice) -> pl.Series:
        found = pl.Series(about.name, values[some].astype(np.int64))
        return found if zero else found.set(found == 0, None)

    return DataColumn(about, make)


def looked_up_column(about: About, keys: np.ndarray, words: dict[int, str]) -> DataColumn:
    """A column of words by key, such as names of codes; null for keys nobody knows."""
    known = sorted(words)
    labels = pl.Series([words[key] for key in known], dtype=pl.String)

    def make(some: slice) -> pl.Series:
        asked = keys[some]
        place = np.searchsorted(np.asarray(known, np.int64), asked)
        there = place < len(known)
        there[there] = np.asarray(known, np.int64)[place[there]] == asked[there]
        return labels.gather(_with_null(np.where(there, place, -1))).alias(about.name)

    return DataColumn(about, make)


def frame(columns: Sequence[DataColumn], some: slice) -> pl.DataFrame:
    """Some rows of all columns."""
    return pl.DataFrame([column.make(some) for column in columns])
