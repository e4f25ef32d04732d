"""What is asked: which words are typical of which group, against what."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from annotated_types import Ge, Gt, Le, Lt, MaxLen

from winnower.core.errors import ScopeError
from winnower.core.scope import Conditions, Groups, Scope, Split

Kind = Literal["word", "number", "hashtag", "mention", "emoji", "address"]
REST = "all other groups"


@dataclass(frozen=True)
class Keywords:
    """Words typical of the texts of a group of a split, against another group or all others.

    ``unit`` and ``length`` say what a row is, ``merge`` whether forms are brought together, ``stop`` leaves out what is
    on the stop list of the project. Rows have ``least_hits`` hits in both sides together and ``least_texts`` texts.
    """

    split: Split
    group: Annotated[str, MaxLen(2_000)]
    against: Annotated[str, MaxLen(2_000)] | None = None
    scope: Conditions = ()
    unit: Literal["word", "phrase"] = "word"
    length: Annotated[int, Ge(2), Le(5)] = 2
    kinds: Annotated[tuple[Kind, ...], MaxLen(6)] = ("word",)
    merge: Literal["none", "lemma", "stem"] = "none"
    stop: bool = True
    least_hits: Annotated[int, Ge(1), Le(1_000_000)] = 5
    least_texts: Annotated[int, Ge(1), Le(1_000_000)] = 1
    level: Annotated[float, Gt(0.5), Lt(1)] = 0.95
    form: Literal[1] = 1
    view: Literal["keywords"] = "keywords"

    __pydantic_config__: ClassVar = {"extra": "forbid"}

    def __post_init__(self) -> None:
        if not self.split.divides:
            raise ScopeError(
                "Choose across what the texts are parted; words are typical of one group against another."
            )
        if self.against == self.group:
            raise ScopeError("A group is compared with another one, not with itself.")

    @property
    def texts(self) -> Scope:
        return Scope(self.scope)


@dataclass(frozen=True)
class Sides:
    """Which texts stand on which side.

    labels  of the group, and of what it is set against
    side    int8 per text: 0 in the group, 1 against it, -1 neither
    shared  texts of the group that are in what it is set against too; they stand in the group
    """

    labels: tuple[str, str]
    side: np.ndarray
    shared: int


def sides_of(asked: Keywords, groups: Groups, n_texts: int) -> Sides:
    """Raises ScopeError where there is no such group (any more), or nothing to set it against."""
    for label in (asked.group, asked.against):
        if label is not None and label not in groups.labels:
            raise ScopeError(f"There is no group “{label}” in this split.")
    own = groups.group == groups.labels.index(asked.group)
    other = ~own if asked.against is None else groups.group == groups.labels.index(asked.against)
    side = np.full(n_texts, -1, np.int8)
    side[groups.text[other]] = 1
    shared = int((side[groups.text[own]] == 1).sum())
    side[groups.text[own]] = 0
    if not (side == 0).any() or not (side == 1).any():
        raise ScopeError("One of the two sides has no texts, so nothing is typical of the other.")
    return Sides((asked.group, asked.against or REST), side, shared)
