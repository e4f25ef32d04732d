"""A corpus without a database, and comparisons of dictionaries over it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from winnower.core.compare import MEASURES, Comparison, DictionaryTarget, OfGiven, Table, compare
from winnower.core.dictionary import Dictionary
from winnower.core.index import Lexicon, TokenIndex, build_lexicon
from winnower.core.scope import Columns, Scope, Split


@dataclass(frozen=True)
class Texts:
    """What targets are counted on (see core's ``Corpus``)."""

    index: TokenIndex
    columns: Columns
    stories: np.ndarray | None = None

    @cached_property
    def lexicon(self) -> Lexicon:
        return build_lexicon(self.index)


def table_of(
    dictionary: Dictionary,
    index: TokenIndex,
    columns: Columns,
    split: Split = Split("source"),  # noqa: B008
    scope: Scope = Scope(),  # noqa: B008
    version: int | None = None,
    **more: Any,
) -> Table:
    """A dictionary compared over a corpus."""
    reference = OfGiven(dictionary.name, dictionary.categories)
    comparison = Comparison(reference, scope.conditions, split, **more)
    verdicts = {} if MEASURES[comparison.measure].needs == "judged" else None
    return compare(
        comparison, DictionaryTarget(dictionary, version), Texts(index, columns), verdicts=verdicts
    )
