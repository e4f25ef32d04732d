"""What differs between two dictionaries, and how one is taken into the other."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from winnower.core.dictionary.dictionary import Category, Dictionary, TermEntry

Path = tuple[str, ...]


@dataclass(frozen=True)
class TermChange:
    """A term of a category: in one dictionary only, or in both with other options."""

    path: Path
    before: TermEntry | None
    after: TermEntry | None

    @property
    def kind(self) -> Literal["added", "removed", "changed"]:
        return "added" if self.before is None else "removed" if self.after is None else "changed"


@dataclass(frozen=True)
class Differences:
    """Categories and terms of ``after`` seen from ``before``, in tree order."""

    categories_added: tuple[Path, ...]
    categories_removed: tuple[Path, ...]
    terms: tuple[TermChange, ...]

    @property
    def any(self) -> bool:
        return bool(self.categories_added or self.categories_removed or self.terms)


def differences(before: Dictionary, after: Dictionary) -> Differences:
    """Categories are the same where their paths are; a term that kept its wording and changed its
    options counts as changed. Notes and descriptions count nothing."""
    old = {category.path: category for category in before.categories}
    new = {category.path: category for category in after.categories}
    changes: list[TermChange] = []
    for path in dict.fromkeys([*new, *old]):
        changes += _changes(path, old.get(path), new.get(path))
    return Differences(
        tuple(path for path in new if path not in old),
        tuple(path for path in old if path not in new),
        tuple(changes),
    )


def _changes(path: Path, before: Category | None, after: Category | None) -> list[TermChange]:
    old = {term.key: term for term in (before.terms if before else ())}
    new = {term.key: term for term in (after.terms if after else ())}
    gone = [term for key, term in old.items() if key not in new]
    out = []
    for key, term in new.items():
        if key in old:
            continue
        was = next((one for one in gone if one.source == term.source), None)
        if was is not None:
            gone.remove(was)
        out.append(TermChange(path, was, term))
    return out + [TermChange(path, term, None) for term in gone]


@dataclass(frozen=True)
class MergeConflict:
    """Something both dictionaries say differently. ``what`` names it; ``mine`` and ``theirs`` are what
    each says: options or notes of a term, the description of a category, or the category a term is in."""

    key: str
    kind: Literal["options", "note", "description", "category"]
    path: Path
    source: str
    mine: str
    theirs: str


@dataclass(frozen=True)
class MergePlan:
    """What taking ``theirs`` into ``mine`` would do."""

    categories: tuple[Category, ...]
    terms: tuple[tuple[Path, TermEntry], ...]
    same: int
    conflicts: tuple[MergeConflict, ...]


def plan_merge(mine: Dictionary, theirs: Dictionary) -> MergePlan:
    """New categories and terms are added; whatever both have and say differently is a conflict."""
    own = {category.path: category for category in mine.categories}
    homes: dict[tuple[Any, ...], list[Path]] = {}
    for category in mine.categories:
        for term in category.terms:
            homes.setdefault(term.key, []).append(category.path)
    new_terms: list[tuple[Path, TermEntry]] = []
    conflicts: list[MergeConflict] = []
    same = 0
    for category in theirs.categories:
        known = own.get(category.path)
        said = category.description
        if known and said and said != known.description:
            conflicts.append(_conflict("description", category.path, "", known.description, said))
        keys = {term.key: term for term in (known.terms if known else ())}
        sources = {term.source: term for term in (known.terms if known else ())}
        for term in category.terms:
            twin, namesake = keys.get(term.key), sources.get(term.source)
            if twin is not None:
                same += 1
                if term.note and term.note != twin.note:
                    conflicts.append(_conflict("note", category.path, term.source, twin.note, term.note))
            elif namesake is not None:
                mine_says, theirs_say = options_in_words(namesake), options_in_words(term)
                conflicts.append(_conflict("options", category.path, term.source, mine_says, theirs_say))
            elif term.key in homes:
                elsewhere = " > ".join(homes[term.key][0])
                there = " > ".join(category.path)
                conflicts.append(_conflict("category", category.path, term.source, elsewhere, there))
            else:
                new_terms.append((category.path, term))
    fresh = tuple(category for category in theirs.categories if category.path not in own)
    return MergePlan(fresh, tuple(new_terms), same, tuple(conflicts))


def _conflict(
    kind: Literal["options", "note", "description", "category"],
    path: Path,
    source: str,
    mine: str,
    theirs: str,
) -> MergeConflict:
    return MergeConflict("\x1f".join([kind, *path, source]), kind, path, source, mine, theirs)


def options_in_words(term: TermEntry) -> str:
    parts = ["exact case"] * term.match_case + ["accents ignored"] * term.ignore_accents
    return ", ".join([*parts, *([f"all forms ({term.forms_of})"] if term.forms_of else [])]) or "no options"
