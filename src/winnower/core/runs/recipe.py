"""What a run looks for, as a value: its finder, the unit it codes, and the texts it looks at.

A recipe has one plain form, in requests, in the store and in what is told of a run: reading and writing it stands
here alone. A new finder is a class here and an entry in ``AnyFinder``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from annotated_types import Ge, Le, MaxLen, MinLen
from pydantic import Discriminator, TypeAdapter, ValidationError

from winnower.core.errors import WinnowerError
from winnower.core.scope import Conditions, Scope
from winnower.core.scope.plain import problems
from winnower.core.tone import BANDS
from winnower.core.tone.bands import NEUTRAL, Band

Unit = Literal["hit", "words", "sentence", "paragraph", "text"]
UNITS: tuple[Unit, ...] = ("hit", "words", "sentence", "paragraph", "text")
MOST_TARGETS = 1_000
MOST_AROUND = 500
Key = Annotated[int, Ge(1)]


@dataclass(frozen=True)
class ByDictionary:
    """Terms of a dictionary; of some of its categories, or of all. A category that is not chosen itself is coded
    with the nearest one above it that is."""

    dictionary: Key
    categories: Annotated[tuple[Key, ...], MaxLen(MOST_TARGETS)] = ()
    kind: Literal["dictionary"] = "dictionary"


@dataclass(frozen=True)
class BySearch:
    """What a search finds, in the words of core/pattern/query.py."""

    query: Annotated[str, MinLen(1), MaxLen(2_000)]
    kind: Literal["search"] = "search"


@dataclass(frozen=True)
class ByValues:
    """Each value of a field (some, or all): whole texts that have it."""

    field: Annotated[str, MinLen(1), MaxLen(60)]
    values: Annotated[tuple[str, ...], MaxLen(MOST_TARGETS)] = ()
    kind: Literal["values"] = "values"


@dataclass(frozen=True)
class Called:
    """A name as it stands in the texts, and what it is to be called."""

    name: Annotated[str, MaxLen(300)]
    called: Annotated[str, MaxLen(300)]


@dataclass(frozen=True)
class BySpeakers:
    """Turns that lines begin by a ``pattern`` ("" the usual one, see core/runs/speakers.py) or that came with the
    texts: of the names chosen, each with what it is to be called."""

    names: Annotated[tuple[Called, ...], MaxLen(MOST_TARGETS)] = ()
    pattern: Annotated[str, MaxLen(300)] = ""
    kind: Literal["speakers"] = "speakers"


@dataclass(frozen=True)
class ByStructure:
    """Parts of texts by their headings, sections or pages, or the items of lists by the marks that begin them; some
    labels, or all. Of headings those of one ``level`` only, 1 the highest, where it is not 0; see
    core/runs/stretches.py."""

    by: Literal["heading", "section", "page", "item"] = "heading"
    level: Annotated[int, Ge(0), Le(9)] = 0
    labels: Annotated[tuple[str, ...], MaxLen(MOST_TARGETS)] = ()
    kind: Literal["structure"] = "structure"


@dataclass(frozen=True)
class Added:
    """A word the analyst adds to what is learned: it speaks for the code, or against it."""

    word: Annotated[str, MinLen(1), MaxLen(120)]
    speaks: bool = True


@dataclass(frozen=True)
class ByExample:
    """What is like the passages coded by hand under some codes (any of them, with all below), from a probability of
    ``threshold`` on. Words ``struck`` out are not looked at. Texts that people went through are left to them unless
    ``also_read``."""

    codes: Annotated[tuple[Key, ...], MinLen(1), MaxLen(100)]
    threshold: Annotated[float, Ge(0.01), Le(0.99)] = 0.5
    struck: Annotated[tuple[Annotated[str, MaxLen(120)], ...], MaxLen(500)] = ()
    added: Annotated[tuple[Added, ...], MaxLen(500)] = ()
    also_read: bool = False
    seed: Annotated[int, Ge(1), Le(2**31 - 1)] = 1
    kind: Literal["example"] = "example"


@dataclass(frozen=True)
class Theme:
    """Phrases that come under one code, in every form that is meant, such as singular and plural; what is coded has
    so many different ones of them (``least``), or more."""

    name: Annotated[str, MinLen(1), MaxLen(120)]
    phrases: Annotated[tuple[Annotated[str, MinLen(1), MaxLen(200)], ...], MinLen(1), MaxLen(300)]
    least: Annotated[int, Ge(1), Le(10)] = 1


@dataclass(frozen=True)
class ByThemes:
    """Themes put together from the phrases of the texts."""

    themes: Annotated[tuple[Theme, ...], MaxLen(MOST_TARGETS)] = ()
    kind: Literal["themes"] = "themes"


@dataclass(frozen=True)
class ByTone:
    """Sentences by their tone, a code for each band; by a list of words of the project, or the English one that ships
    with Winnower."""

    words: Key | None = None
    bands: Annotated[tuple[Band, ...], MaxLen(5)] = tuple(one for one in BANDS if one != BANDS[NEUTRAL])
    kind: Literal["tone"] = "tone"


Finder = ByDictionary | BySearch | ByValues | BySpeakers | ByStructure | ByExample | ByThemes | ByTone
AnyFinder = Annotated[Finder, Discriminator("kind")]


@dataclass(frozen=True)
class Recipe:
    """``unit`` is what is coded around each hit; ``around`` so many words on each side where it is "words"."""

    finder: AnyFinder
    unit: Unit = "sentence"
    around: Annotated[int, Ge(1), Le(MOST_AROUND)] = 10
    scope: Conditions = ()
    version: Literal[1] = 1

    @property
    def texts(self) -> Scope:
        return Scope(self.scope)


_recipe: TypeAdapter[Recipe] = TypeAdapter(Recipe)


def recipe_to_plain(recipe: Recipe) -> dict[str, Any]:
    found: dict[str, Any] = _recipe.dump_python(recipe, mode="json")
    return found


def recipe_from_plain(plain: object) -> Recipe:
    """Raises WinnowerError that names everything that does not fit, by its place."""
    try:
        return _recipe.validate_python(plain)
    except ValidationError as error:
        raise WinnowerError("The recipe cannot be read: " + "; ".join(problems(error)) + ".") from error
