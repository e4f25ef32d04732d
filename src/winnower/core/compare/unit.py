"""What is drawn at random: the text, or something texts belong to, such as a respondent, an author, a day."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.errors import ScopeError
from winnower.core.scope import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
)


@dataclass(frozen=True)
class Unit:
    """The sampling unit of a comparison.

    name      in a sentence: "the text", "“Author”"
    of_text   int64 per text: which unit it belongs to; None where every text is one. A text without a value
              is a unit of its own
    alone     bool per text: without a value; None where every text is a unit
    """

    name: str
    of_text: np.ndarray | None
    alone: np.ndarray | None = None

    @property
    def noun(self) -> str:
        """One of them: "text", "“Author”"."""
        return "text" if self.of_text is None else self.name

    @property
    def nouns(self) -> str:
        return "texts" if self.of_text is None else f"values of {self.name}"


def unit_of(field: str | None, columns: Columns) -> Unit:
    """The unit by the key of a field. Raises ScopeError where the field cannot be one."""
    if field is None:
        return Unit("the text", None)
    column, name = columns.field(field), columns.names[field]
    if isinstance(column, SeveralColumn):
        raise ScopeError(f"“{name}” can have several values a text, so it cannot be the sampling unit.")
    if isinstance(column, CategoryColumn):
        codes, known = column.codes.astype(np.int64), column.codes >= 0
    elif isinstance(column, DateColumn):
        codes, known = column.days.astype(np.int64), column.days != NO_DATE
    elif isinstance(column, NumberColumn):
        known = ~np.isnan(column.values)
        codes = np.unique(np.where(known, column.values, 0), return_inverse=True)[1]
    else:
        codes = column.values.fill_null("").rank("dense").cast(pl.Int64).to_numpy()
        known = (column.values.fill_null("") != "").to_numpy()
    first = int(codes[known].max(initial=0)) + 1
    own = first + np.arange(len(codes), dtype=np.int64)
    return Unit(f"“{name}”", np.where(known, codes, own) - int(codes[known].min(initial=0)), ~known)
