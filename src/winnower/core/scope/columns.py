"""What is known of every text, as columns in the order of the token index."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.errors import ScopeError

#: Days since 1970-01-01 of a text without a date.
NO_DATE = np.int32(-(2**31))

#: Keys of the fields that say what is coded in a text; they are there in projects with codes.
CODING = ("codes", "coders", "passages")


@dataclass(frozen=True)
class CategoryColumn:
    """One value a text: ``codes`` int32 into ``labels``, -1 where there is none."""

    codes: np.ndarray
    labels: tuple[str, ...]


@dataclass(frozen=True)
class SeveralColumn:
    """Any number of values a text: values of text i are codes[start[i]:start[i + 1]]."""

    start: np.ndarray
    codes: np.ndarray
    labels: tuple[str, ...]


@dataclass(frozen=True)
class NumberColumn:
    """float64, NaN where there is none."""

    values: np.ndarray


@dataclass(frozen=True)
class DateColumn:
    """int32 days since 1970-01-01, NO_DATE where there is none."""

    days: np.ndarray


@dataclass(frozen=True)
class TextColumn:
    """Free text, null where there is none."""

    values: pl.Series


Column = CategoryColumn | SeveralColumn | NumberColumn | DateColumn | TextColumn


def same_column(one: Column | None, other: Column | None) -> bool:
    """Whether two columns say the same of every text, label for label."""
    if one is None or other is None or type(one) is not type(other):
        return one is other
    return all(_same(getattr(one, name), getattr(other, name)) for name in one.__dataclass_fields__)


def _same(one: object, other: object) -> bool:
    if one is other:
        return True
    if isinstance(one, np.ndarray) and isinstance(other, np.ndarray):
        return one.dtype == other.dtype and np.array_equal(one, other, equal_nan=one.dtype.kind == "f")
    if isinstance(one, pl.Series) and isinstance(other, pl.Series):
        return one.equals(other)
    return one == other


def tiled(column: Column, times: int) -> Column:
    """The column of a corpus whose texts stand so many times one after the other."""
    if isinstance(column, CategoryColumn):
        return CategoryColumn(np.tile(column.codes, times), column.labels)
    if isinstance(column, SeveralColumn):
        size = np.tile(np.diff(column.start), times)
        start = np.concatenate([[0], np.cumsum(size)]).astype(column.start.dtype)
        return SeveralColumn(start, np.tile(column.codes, times), column.labels)
    if isinstance(column, NumberColumn):
        return NumberColumn(np.tile(column.values, times))
    if isinstance(column, DateColumn):
        return DateColumn(np.tile(column.days, times))
    return TextColumn(pl.concat([column.values] * times))


@dataclass(frozen=True)
class Columns:
    """All fields of all texts of a corpus at one revision.

    ``fields`` maps a field key to its column: "source", "date", "title", "words", and one key for
    each variable. ``names`` maps the keys to what people call them. ``aside`` is the key of the field
    that says which texts are excluded; those are in no scope unless a condition asks for them.
    """

    text_id: np.ndarray
    fields: Mapping[str, Column]
    names: Mapping[str, str]
    revision: int = 0
    aside: str | None = None

    @property
    def n_texts(self) -> int:
        return len(self.text_id)

    def field(self, key: str) -> Column:
        """The column of a field. Raises ScopeError where the corpus has no such field."""
        try:
            return self.fields[key]
        except KeyError:
            if key in CODING:
                raise ScopeError(
                    "Codes, coders and passages change with every act of coding, so that no rule can follow them, "
                    "and a project without codes has none. Narrow to the code and give those texts a value instead."
                ) from None
            known = ", ".join(sorted(self.names.values()))
            raise ScopeError(f"This corpus has no field “{key}”. Fields: {known}.") from None

    @property
    def words(self) -> np.ndarray:
        """int32 words per text."""
        column = self.fields["words"]
        assert isinstance(column, NumberColumn)
        return column.values
