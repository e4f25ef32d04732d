"""What can be judged: anything with hits. A new kind of subject is an entry in ``SUBJECTS``.

Verdicts name their subject by its kind and id; the same samples, verdicts, counts and panel serve all.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from sqlalchemy.orm import Session

from winnower.core.errors import NotFound
from winnower.core.pattern import Term, write_term
from winnower.core.places import Places
from winnower.core.scope import Scope
from winnower.store.dictionaries import (
    StoredDictionary,
    category_in,
    dictionary_row,
    entry_of,
    keep_version,
    load,
    term_in,
)
from winnower.store.models import CategoryRow
from winnower.store.opened import OpenCorpus


class Named(Protocol):
    """What verdicts are kept under."""

    @property
    def kind(self) -> str: ...
    @property
    def id(self) -> int: ...


class Subject(Named, Protocol):
    """Something whose hits people judge.

    name       for messages and files; ``instrument`` what it is part of
    parts      ids of the parts a precision is told for, such as the terms of a category
    under      ids of the subject and of those of its kind it holds
    """

    @property
    def name(self) -> str: ...
    @property
    def instrument(self) -> str: ...
    @property
    def parts(self) -> tuple[int, ...]: ...
    @property
    def under(self) -> tuple[int, ...]: ...

    def has_hits(self, part: int | None) -> bool:
        """Whether there is anything that could hit at all."""
        ...

    def hits(self, corpus: OpenCorpus, scope: Scope, part: int | None = None) -> Places:
        """Hits of the subject, or of one of its parts, in a scope, by text. Raises NotFound."""
        ...

    def part_name(self, part: int) -> str:
        """A part as it is written. Raises NotFound."""
        ...

    def keep_state(self, account_id: int) -> int:
        """Keep the present state as a version; its number."""
        ...


@dataclass(frozen=True)
class CategorySubject:
    """A category of a dictionary, with all below it; its parts are its own terms."""

    session: Session
    stored: StoredDictionary
    row: CategoryRow
    kind: str = "category"

    @property
    def id(self) -> int:
        return self.row.id

    @property
    def name(self) -> str:
        return self.row.name

    @property
    def instrument(self) -> str:
        return self.stored.row.name

    @property
    def parts(self) -> tuple[int, ...]:
        return tuple(term.id for term in self.stored.terms[self.row.id])

    @property
    def under(self) -> tuple[int, ...]:
        at = self.stored.categories.index(self.row)
        return tuple(self.stored.categories[place].id for place in self.stored.value.with_children(at))

    def terms(self, part: int | None = None) -> tuple[Term, ...]:
        """Terms of the category and of all below it, or one of its own."""
        if part is not None:
            return (entry_of(term_in(self.stored, part)).parse(),)
        at = self.stored.categories.index(self.row)
        categories = self.stored.value.categories
        places = self.stored.value.with_children(at)
        return tuple(entry.parse() for place in places for entry in categories[place].terms)

    def has_hits(self, part: int | None) -> bool:
        return bool(self.terms(part))

    def hits(self, corpus: OpenCorpus, scope: Scope, part: int | None = None) -> Places:
        return corpus.hits(self.terms(part), scope, "text")

    def part_name(self, part: int) -> str:
        return write_term(self.terms(part)[0])

    def keep_state(self, account_id: int) -> int:
        return keep_version(self.session, self.stored, account_id)


def _category(session: Session, project_id: int, category_id: int) -> Subject:
    row = session.get(CategoryRow, category_id)
    if row is None:
        raise NotFound("There is no such category in this dictionary any more.")
    stored = load(session, dictionary_row(session, project_id, row.dictionary_id))
    return CategorySubject(session, stored, category_in(stored, category_id))


SUBJECTS: dict[str, Callable[[Session, int, int], Subject]] = {"category": _category}


def subject_of(session: Session, project_id: int, kind: str, subject_id: int) -> Subject:
    """Raises NotFound where there is no such subject in the project, or no such kind."""
    if kind not in SUBJECTS:
        raise NotFound(f"“{kind}” cannot be judged; what can be: {', '.join(SUBJECTS)}.")
    return SUBJECTS[kind](session, project_id, subject_id)
