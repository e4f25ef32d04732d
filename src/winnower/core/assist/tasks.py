"""What the assistant can be asked, each as a value with one plain form."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from annotated_types import Ge, Le, MaxLen, MinLen
from pydantic import Discriminator

from winnower.core.scope import Split

Key = Annotated[int, Ge(1)]
Words = Annotated[str, MinLen(1), MaxLen(500)]
_STRICT: dict[str, Any] = {"extra": "forbid"}


@dataclass(frozen=True)
class Summary:
    """What the texts of the scope say, in so many points, or as prose."""

    form: Literal["points", "prose"] = "points"
    most: Annotated[int, Ge(1), Le(20)] = 6
    task: Literal["summary"] = "summary"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class Question:
    """A question, answered from the passages found for it."""

    words: Words
    most: Annotated[int, Ge(1), Le(20)] = 6
    task: Literal["question"] = "question"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class Viewpoints:
    """What one group of a split dwells on beside another one, and what both speak of."""

    split: Split
    first: Annotated[str, MaxLen(300)]
    second: Annotated[str, MaxLen(300)]
    task: Literal["viewpoints"] = "viewpoints"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class Themes:
    """A set of themes with quotes."""

    most: Annotated[int, Ge(2), Le(15)] = 6
    task: Literal["themes"] = "themes"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class TopicName:
    """Names for a topic that is known by its words."""

    words: Annotated[tuple[Annotated[str, MinLen(1), MaxLen(120)], ...], MinLen(2), MaxLen(60)]
    task: Literal["topic name"] = "topic name"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class Wordings:
    """Other wordings for a code, from what stands under it."""

    code: Key
    task: Literal["wordings"] = "wordings"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class GroupsOfCodes:
    """Groups for some codes (none: all); each code in one group, or in ``several``."""

    codes: Annotated[tuple[Key, ...], MaxLen(1_000)] = ()
    several: bool = False
    task: Literal["groups"] = "groups"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class Codings:
    """Codings for a research question, through questions it is parted into."""

    question: Words
    task: Literal["codings"] = "codings"

    __pydantic_config__: ClassVar = _STRICT


AnyTask = Annotated[
    Summary | Question | Viewpoints | Themes | TopicName | Wordings | GroupsOfCodes | Codings,
    Discriminator("task"),
]
