"""The request every number comes from."""

from __future__ import annotations

from dataclasses import dataclass

from winnower.core.dictionary import Dictionary
from winnower.core.errors import ComparisonError
from winnower.core.scope import Scope, Split

#: What can be shown in a cell, and in which unit.
MEASURES = {
    "rate": "hits per 1,000 words",
    "mean_rate": "mean over texts of hits per 1,000 words",
    "share": "share of all category hits in the group",
    "share_of_texts": "share of texts with a hit",
    "hits": "hits",
    "texts": "texts with a hit",
}


@dataclass(frozen=True)
class Comparison:
    """Scope (which texts) x target (what is counted) x split (across what) x measure (in which unit).

    ``version`` is that of the dictionary, for naming the instrument; ``seed`` is used by whatever
    involves chance.
    """

    scope: Scope
    target: Dictionary
    split: Split
    measure: str = "rate"
    version: int | None = None
    seed: int = 1
    level: float = 0.95

    def __post_init__(self) -> None:
        if self.measure not in MEASURES:
            known = ", ".join(MEASURES)
            raise ComparisonError(f"“{self.measure}” is no measure. Measures: {known}.")
        if not self.target.categories:
            raise ComparisonError(
                f"The dictionary “{self.target.name}” has no categories yet; add one with a term."
            )
