"""What is asked: a network of so many words, in which unit, how strong its ties."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from annotated_types import Ge, Gt, Le, Len, MaxLen

from winnower.core.scope import Conditions, Scope, Split

MOST_WORDS = 300
Kind = Literal["word", "hashtag", "mention", "emoji"]


@dataclass(frozen=True)
class Network:
    """The ``most`` words (by texts) of a scope, or of one ``group`` of a split, tied where they stand in the same
    sentence or paragraph.

    A tie needs ``least`` such units and a normalised PMI of ``floor``; each word keeps its ``ties`` strongest.
    ``resolution`` above 1 gives more and smaller topics. ``leave`` are words left out beside the stop list. The places
    of words and the topics follow from ``seed``.
    """

    scope: Conditions = ()
    split: Split = Split()
    group: Annotated[str, MaxLen(2_000)] | None = None
    most: Annotated[int, Ge(10), Le(MOST_WORDS)] = 120
    within: Literal["sentence", "paragraph"] = "sentence"
    merge: Literal["none", "lemma", "stem"] = "none"
    kinds: Annotated[tuple[Kind, ...], MaxLen(4)] = ("word",)
    stop: bool = True
    leave: Annotated[tuple[Annotated[str, Len(1, 300)], ...], MaxLen(500)] = ()
    least: Annotated[int, Ge(1), Le(100_000)] = 5
    floor: Annotated[float, Ge(0), Le(1)] = 0.1
    ties: Annotated[int, Ge(1), Le(50)] = 5
    resolution: Annotated[float, Gt(0), Le(10)] = 1.0
    seed: Annotated[int, Ge(0), Le(2**31 - 1)] = 1
    form: Literal[1] = 1
    view: Literal["network"] = "network"

    __pydantic_config__: ClassVar = {"extra": "forbid"}

    @property
    def texts(self) -> Scope:
        return Scope(self.scope)
