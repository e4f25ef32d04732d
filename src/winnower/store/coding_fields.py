"""Codes, coders and passages of each text as fields of the corpus, worked out when a question names them."""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace

import numpy as np
from sqlalchemy.orm import Session

from winnower.core.coding import Passages
from winnower.core.coding.fields import codes_of_texts, number_in_texts, people_of_texts
from winnower.core.scope import FieldDescription, NumberColumn, SeveralColumn, describe_fields
from winnower.core.scope.columns import CODING, Column
from winnower.store.codebook import codebook_of
from winnower.store.models import Project
from winnower.store.opened import OpenCorpus
from winnower.store.passages import coders_of
from winnower.store.reading_passages import PassageCache

CODES, CODERS, PASSAGES = CODING
NAMES = {CODES: "Codes", CODERS: "Coders", PASSAGES: "Passages"}


class Overlaid(Mapping[str, Column]):
    """Fields of a corpus with some of them, or some more, made when they are asked for."""

    def __init__(self, fields: Mapping[str, Column], made: Mapping[str, Callable[[], Column]]) -> None:
        self._fields, self._made = fields, made

    def __getitem__(self, key: str) -> Column:
        return self._made[key]() if key in self._made else self._fields[key]

    def __iter__(self) -> Iterator[str]:
        yield from self._fields
        yield from (key for key in self._made if key not in self._fields)

    def __len__(self) -> int:
        return len({*self._fields, *self._made})


def with_coding(session: Session, project: Project, corpus: OpenCorpus) -> OpenCorpus:
    """The corpus with the fields of the coding as it is now, for as long as the session lasts. What follows from
    them is kept until the coding changes; what does not, as if they were not there."""
    revision = project.coding_revision
    found = copy.copy(corpus)

    def kept(key: str, make: Callable[[], Column]) -> Callable[[], Column]:
        return lambda: corpus.memory.kept((corpus.owner, "coding field", key, revision), make)

    made = {
        CODES: kept(CODES, lambda: _codes(session, project, corpus)),
        CODERS: kept(CODERS, lambda: _coders(session, project, corpus)),
        PASSAGES: kept(PASSAGES, lambda: _passages(session, project, corpus)),
    }
    columns = corpus.columns
    fields = Overlaid(columns.fields, made)
    found.columns = replace(columns, fields=fields, names={**columns.names, **NAMES})
    found.stamps = {**corpus.stamps, **dict.fromkeys(NAMES, -revision)}
    found.coding, found.without_coding = revision, corpus
    return found


def described(corpus: OpenCorpus) -> list[FieldDescription]:
    """All fields of a corpus, those of its coding last; after a change of the coding only those are gone through."""
    plain = corpus.without_coding or corpus
    out = plain.kept("fields", lambda one: describe_fields(one.columns))
    if corpus.coding:
        columns = corpus.columns
        out = out + corpus.kept(
            "coding fields",
            lambda _: describe_fields(replace(columns, fields={key: columns.fields[key] for key in NAMES})),
            frozenset(NAMES),
        )
    return out


def _placed(session: Session, project: Project, corpus: OpenCorpus) -> tuple[Passages, np.ndarray]:
    passages = PassageCache(corpus.memory).open(session, project, corpus.folder)
    return passages, corpus.places_of(passages.text_id)


def _codes(session: Session, project: Project, corpus: OpenCorpus) -> SeveralColumn:
    book = codebook_of(session, project.id)
    above: dict[int, list[int]] = {row.id: [] for row in book.codes}
    for row in book.codes:
        above[row.id] = [row.id, *(above[row.parent_id] if row.parent_id is not None else ())]
    passages, places = _placed(session, project, corpus)
    start, codes = codes_of_texts(passages, places, corpus.index.n_texts, above)
    return SeveralColumn(start, codes, tuple(" > ".join(book.tree.path(row.id)) for row in book.codes))


def coders_by_name(session: Session, project_id: int) -> dict[str, int]:
    """Accounts of those who code by what they are called as values; two of one name have their number behind it."""
    coders = coders_of(session, project_id)
    names = [name for _, name in coders]
    return {name if names.count(name) == 1 else f"{name} ({account})": account for account, name in coders}


def _coders(session: Session, project: Project, corpus: OpenCorpus) -> SeveralColumn:
    coders = coders_by_name(session, project.id)
    labels = tuple(coders)
    passages, places = _placed(session, project, corpus)
    start, codes = people_of_texts(passages, places, corpus.index.n_texts, list(coders.values()))
    return SeveralColumn(start, codes, labels)


def _passages(session: Session, project: Project, corpus: OpenCorpus) -> NumberColumn:
    return NumberColumn(number_in_texts(_placed(session, project, corpus)[1], corpus.index.n_texts))
