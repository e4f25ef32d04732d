"""What is drawn at random: the text, or something texts belong to, such as a respondent, an author, a day, a story."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.compare.targets import Corpus
from winnower.core.errors import ScopeError
from winnower.core.scope import (
    NO_DATE,
    CategoryColumn,
    DateColumn,
    NumberColumn,
    SeveralColumn,
)

#: The key of the unit that is no field: texts that say nearly the same, as the corpus check found them.
STORY = "story"


@dataclass(frozen=True)
class Unit:
    """The sampling unit of a comparison.

    name, noun, nouns  in sentences: "the text", "text", "texts"; "“Author”", "“Author”", "values of “Author”"
    of_text   int64 per text: which unit it belongs to; None where every text is one. A text without a value
              is a unit of its own
    alone     bool per text: without a value of a field that should have one
    """

    name: str
    noun: str
    nouns: str
    of_text: np.ndarray | None
    alone: np.ndarray | None = None


TEXT = Unit("the text", "text", "texts", None)


def unit_of(key: str | None, corpus: Corpus) -> Unit:
    """The unit by its key: None for the text, STORY, or that of a field. Raises ScopeError where it cannot be one."""
    if key is None:
        return TEXT
    if key == STORY:
        stories = corpus.stories
        if stories is None:
            raise ScopeError(
                "Stories are near-duplicates that the corpus check found, and these texts were not checked yet. Check "
                "the corpus first."
            )
        return Unit("the story", "story", "stories", _numbered(stories.astype(np.int64), stories >= 0))
    name = corpus.columns.names.get(key, "")
    codes, known = _codes(key, corpus)
    return Unit(f"“{name}”", f"“{name}”", f"values of “{name}”", _numbered(codes, known), ~known)


def _numbered(codes: np.ndarray, known: np.ndarray) -> np.ndarray:
    """Texts without a value get a number of their own."""
    first = int(codes[known].max(initial=0)) + 1
    own = first + np.arange(len(codes), dtype=np.int64)
    return np.where(known, codes, own) - int(codes[known].min(initial=0))


def _codes(key: str, corpus: Corpus) -> tuple[np.ndarray, np.ndarray]:
    """int64 and bool per text: its value as a number, and whether it has one."""
    column = corpus.columns.field(key)
    if isinstance(column, SeveralColumn):
        name = corpus.columns.names[key]
        raise ScopeError(f"“{name}” can have several values a text, so it cannot be the sampling unit.")
    if isinstance(column, CategoryColumn):
        return column.codes.astype(np.int64), column.codes >= 0
    if isinstance(column, DateColumn):
        return column.days.astype(np.int64), column.days != NO_DATE
    if isinstance(column, NumberColumn):
        known = ~np.isnan(column.values)
        return np.unique(np.where(known, column.values, 0), return_inverse=True)[1], known
    values = column.values.fill_null("")
    return values.rank("dense").cast(pl.Int64).to_numpy(), (values != "").to_numpy()
