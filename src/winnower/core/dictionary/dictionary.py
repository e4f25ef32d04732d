"""The instrument as a value: categories in a tree, each with its terms."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Annotated, Any

from annotated_types import Len

from winnower.core.errors import DictionaryError
from winnower.core.pattern import Term, parse_term, write_term

LEVEL_SIGN = " > "
#: Far more levels than a tree that anybody reads.
MOST_LEVELS = 60


@dataclass(frozen=True)
class TermEntry:
    """A term as it stands in a category, with its options."""

    source: str
    match_case: bool = False
    ignore_accents: bool = False
    note: str = ""
    forms_of: str = ""

    def parse(self) -> Term:
        """Raises TermError."""
        return _parsed(*self.key)

    @property
    def written(self) -> str:
        """The term with its options, as one would type it. Raises TermError."""
        return _written(*self.key)

    @property
    def key(self) -> tuple[str, bool, bool, str]:
        """What tells a term from the others of its category."""
        return self.source, self.match_case, self.ignore_accents, self.forms_of

    def settled(self) -> TermEntry:
        """The entry with options that were written in its text taken out of it. Raises TermError."""
        term = self.parse()
        return replace(
            self,
            source=term.source,
            match_case=term.match_case,
            ignore_accents=term.ignore_accents,
            forms_of=term.forms_of,
        )


@dataclass(frozen=True)
class Category:
    """A category. ``path`` names it from the top of the tree; ``terms`` are its own, not its children's."""

    path: Annotated[tuple[str, ...], Len(1, MOST_LEVELS)]
    terms: tuple[TermEntry, ...] = ()
    description: str = ""
    colour: int = 0

    @property
    def name(self) -> str:
        return self.path[-1]

    @property
    def depth(self) -> int:
        return len(self.path) - 1

    @property
    def label(self) -> str:
        return LEVEL_SIGN.join(self.path)


@dataclass(frozen=True)
class Dictionary:
    """Categories in tree order: a parent stands before its children."""

    name: str
    categories: tuple[Category, ...]

    def __post_init__(self) -> None:
        paths = [category.path for category in self.categories]
        if len(set(paths)) != len(paths):
            double = next(path for path in paths if paths.count(path) > 1)
            raise DictionaryError(f"The category “{LEVEL_SIGN.join(double)}” stands twice.")

    def with_children(self, at: int) -> tuple[int, ...]:
        """Places of the category at ``at`` and of all below it."""
        path = self.categories[at].path
        return tuple(
            place for place, category in enumerate(self.categories) if category.path[: len(path)] == path
        )

    def tested_rows(self) -> tuple[int, ...]:
        """The categories a test compares: the top level, or the next one where the top is single."""
        for depth in range(max((category.depth for category in self.categories), default=0) + 1):
            rows = tuple(at for at, c in enumerate(self.categories) if c.depth == depth)
            if len(rows) > 1:
                return rows
        return tuple(range(len(self.categories)))[:1]

    def content(self) -> list[Any]:
        """The whole instrument in plain values, in a fixed order: what a version keeps."""
        return [
            {
                "path": list(category.path),
                "description": category.description,
                "colour": category.colour,
                "terms": [[*_options(term), {"note": term.note}] for term in category.terms],
            }
            for category in self.categories
        ]

    def fingerprint(self) -> str:
        """Equal for dictionaries that count alike: categories, terms and their options."""
        counted = [
            {"path": list(category.path), "terms": sorted(_options(term) for term in category.terms)}
            for category in self.categories
        ]
        plain = json.dumps(counted, ensure_ascii=False, separators=(",", ":"))
        return hashlib.sha256(plain.encode()).hexdigest()

    @classmethod
    def from_content(cls, name: str, content: list[Any]) -> Dictionary:
        """The dictionary that ``content`` was taken from; older contents have no notes."""
        return cls(
            name,
            tuple(
                Category(
                    tuple(one["path"]),
                    tuple(_entry(term) for term in one["terms"]),
                    one.get("description", ""),
                    one.get("colour", at % 10),
                )
                for at, one in enumerate(content)
            ),
        )


def _entry(kept: list[Any]) -> TermEntry:
    options = [value for value in kept if not isinstance(value, dict)]
    note = next((value["note"] for value in kept if isinstance(value, dict)), "")
    source, match_case, ignore_accents, *forms_of = options
    return TermEntry(source, match_case, ignore_accents, note, forms_of[0] if forms_of else "")


def _options(term: TermEntry) -> list[Any]:
    """What a version keeps of a term; the language of forms only where there is one."""
    return [*term.key[:3], *filter(None, term.key[3:])]


def in_tree_order(categories: Iterable[Category]) -> tuple[Category, ...]:
    """Categories with missing parents added, each parent before its children, else in given order."""
    given: dict[tuple[str, ...], Category] = {}
    for category in categories:
        for depth in range(1, len(category.path)):
            given.setdefault(category.path[:depth], Category(category.path[:depth]))
        given[category.path] = category
    place = {path: at for at, path in enumerate(given)}

    def key(path: tuple[str, ...]) -> tuple[int, ...]:
        return tuple(place[path[:depth]] for depth in range(1, len(path) + 1))

    return tuple(given[path] for path in sorted(given, key=key))


#: Terms of whole dictionaries are asked for again and again; reading one costs a tenth of a millisecond.
_KEPT = 65_536


@lru_cache(_KEPT)
def _parsed(source: str, match_case: bool, ignore_accents: bool, forms_of: str) -> Term:
    return parse_term(source, match_case=match_case, ignore_accents=ignore_accents, forms_of=forms_of)


@lru_cache(_KEPT)
def _written(source: str, match_case: bool, ignore_accents: bool, forms_of: str) -> str:
    return write_term(_parsed(source, match_case, ignore_accents, forms_of))
