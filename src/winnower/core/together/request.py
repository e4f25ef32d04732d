"""What is asked: which rows go together with which, and in what."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from annotated_types import Ge, Gt, Le, Lt

from winnower.core.compare.targets import AnyTarget
from winnower.core.errors import ComparisonError
from winnower.core.scope import Conditions, Scope

Within = Literal["passage", "overlap", "near", "sentence", "paragraph", "text"]
#: What is counted in each way, one and many; of overlap and nearness the passages of the row.
UNITS: dict[Within, tuple[str, str]] = {
    "passage": ("passage", "passages"),
    "overlap": ("place", "places"),
    "near": ("place", "places"),
    "sentence": ("sentence", "sentences"),
    "paragraph": ("paragraph", "paragraphs"),
    "text": ("text", "texts"),
}
#: Targets whose hits are whole texts.
OF_TEXTS = ("values", "length", "search")


@dataclass(frozen=True)
class Together:
    """Rows of a target with those of another one (or with one another) ``within`` the very same passage, overlapping
    ones, at most so many ``words`` from each other, or the same sentence, paragraph or text."""

    rows: AnyTarget
    columns: AnyTarget | None = None
    within: Within = "sentence"
    words: Annotated[int, Ge(0), Le(1_000)] = 10
    scope: Conditions = ()
    level: Annotated[float, Gt(0.5), Lt(1)] = 0.95
    form: Literal[1] = 1
    view: Literal["together"] = "together"

    __pydantic_config__: ClassVar = {"extra": "forbid"}

    def __post_init__(self) -> None:
        targets = [self.rows, *([self.columns] if self.columns else [])]
        if any(one.kind == "numbers" for one in targets):
            raise ComparisonError("Numbers go with groups, not with hits: compare their means across groups.")
        if self.within != "text" and any(one.kind in OF_TEXTS for one in targets):
            raise ComparisonError(
                "Values, lengths and searches hold of whole texts; look for them in the same text."
            )

    @property
    def texts(self) -> Scope:
        return Scope(self.scope)
