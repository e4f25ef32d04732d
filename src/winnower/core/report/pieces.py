"""What a report is put together from, piece by piece, each a value with one plain form."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from annotated_types import Ge, Le, MaxLen
from pydantic import Discriminator, TypeAdapter, ValidationError

from winnower.core.errors import WinnowerError
from winnower.core.scope.plain import problems

Key = Annotated[int, Ge(1)]
#: So many quotes of one piece at most; a report that needs more is a table of passages.
MOST_QUOTES = 1_000
MOST_PIECES = 2_000
_STRICT: dict[str, Any] = {"extra": "forbid"}


@dataclass(frozen=True)
class HeadingPiece:
    """A chapter (1) or a part of one (2, 3)."""

    words: Annotated[str, MaxLen(300)]
    level: Annotated[int, Ge(1), Le(3)] = 1
    kind: Literal["heading"] = "heading"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class WordsPiece:
    """Text between, as Markdown."""

    body: Annotated[str, MaxLen(100_000)] = ""
    kind: Literal["words"] = "words"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class FindingPiece:
    """A finding: what it says, its picture, its numbers."""

    finding: Key
    says: bool = True
    picture: bool = True
    numbers: bool = True
    kind: Literal["finding"] = "finding"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class NotePiece:
    """A note with the quotes in it."""

    note: Key
    kind: Literal["note"] = "note"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class QuotesPiece:
    """Passages under a code (with those below it), of one text or source where these are named; or, of a question or
    note, the quotes that were chosen for it. ``spread`` takes one of each source in turn, else they come in the
    order of the texts."""

    code: Key | None = None
    text: Key | None = None
    source: Annotated[str, MaxLen(300)] | None = None
    question: Key | None = None
    note: Key | None = None
    most: Annotated[int, Ge(1), Le(MOST_QUOTES)] = 5
    spread: bool = True
    kind: Literal["quotes"] = "quotes"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class OverviewPiece:
    """How many texts and words of which source and time."""

    kind: Literal["overview"] = "overview"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class DictionaryPiece:
    """The terms of a dictionary by category."""

    dictionary: Key
    kind: Literal["dictionary"] = "dictionary"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class CodebookPiece:
    """Codes with what they stand for, and how often they were given."""

    kind: Literal["codebook"] = "codebook"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class QualityPiece:
    """What was judged of dictionaries and runs, and what that says of them."""

    kind: Literal["quality"] = "quality"

    __pydantic_config__: ClassVar = _STRICT


@dataclass(frozen=True)
class MethodPiece:
    """How everything was made, written from the settings."""

    kind: Literal["method"] = "method"

    __pydantic_config__: ClassVar = _STRICT


AnyPiece = Annotated[
    HeadingPiece
    | WordsPiece
    | FindingPiece
    | NotePiece
    | QuotesPiece
    | OverviewPiece
    | DictionaryPiece
    | CodebookPiece
    | QualityPiece
    | MethodPiece,
    Discriminator("kind"),
]
_piece: TypeAdapter[Any] = TypeAdapter(AnyPiece)


def piece_to_plain(piece: AnyPiece) -> dict[str, Any]:
    """Plain values that ``piece_from_plain`` takes back."""
    found: dict[str, Any] = _piece.dump_python(piece, mode="json")
    return found


def piece_from_plain(plain: object) -> AnyPiece:
    """Raises WinnowerError that names what does not fit."""
    try:
        found: AnyPiece = _piece.validate_python(plain)
    except ValidationError as error:
        raise WinnowerError(
            "This part of the report cannot be read: " + "; ".join(problems(error)) + "."
        ) from error
    return found
