"""The corpus cut down to coded passages, where a scope says that only those are counted."""

from __future__ import annotations

import copy
import itertools
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from sqlalchemy.orm import Session

from winnower.core.errors import ScopeError
from winnower.core.index import TokenIndex
from winnower.core.places.inside import only_tokens, tokens_inside
from winnower.core.places.stretches import as_places
from winnower.core.scope import Inside, NumberColumn, Scope
from winnower.store.codebook import codebook_of
from winnower.store.coding_fields import Overlaid
from winnower.store.models import Project
from winnower.store.opened import OpenCorpus
from winnower.store.reading_passages import PassageCache

_numbers = itertools.count(-1, -1)


@dataclass(frozen=True)
class _Part:
    """An index cut down, and the name of its texts in the memory."""

    index: TokenIndex
    owner: int


def inside(session: Session, project: Project, corpus: OpenCorpus, scope: Scope) -> OpenCorpus:
    """The corpus with the words that a scope lets be counted; the same where it leaves none out.

    Raises ScopeError for a code that is not there.
    """
    conditions = tuple(one for one in scope.conditions if isinstance(one, Inside))
    if not conditions:
        return corpus
    part: _Part = corpus.memory.kept(
        (corpus.owner, "inside", conditions, corpus.coding),
        _part(session, project, corpus, conditions),
    )
    found = copy.copy(corpus)
    found.index, found.owner, found.cut = part.index, part.owner, True
    words = NumberColumn(part.index.words)
    fields = Overlaid(corpus.columns.fields, {"words": lambda: words})
    found.columns = replace(corpus.columns, fields=fields)
    return found


def _part(
    session: Session, project: Project, corpus: OpenCorpus, conditions: tuple[Inside, ...]
) -> Callable[[], _Part]:
    def make() -> _Part:
        book = codebook_of(session, project.id)
        by_path = {" > ".join(book.tree.path(row.id)): row.id for row in book.codes}
        passages = PassageCache(corpus.memory).open(session, project, corpus.folder)
        keep = [np.ones(segment.n_tokens, bool) for segment in corpus.index.segments]
        for condition in conditions:
            gone = [code for code in condition.codes if code not in by_path]
            if gone:
                raise ScopeError(f"The codebook has no code “{gone[0]}”.")
            under = {one for code in condition.codes for one in book.tree.below(by_path[code])}
            at = passages.under(under)
            text = corpus.places_of(passages.text_id[at])
            at, text = at[text >= 0], text[text >= 0]
            places = as_places(text, passages.start[at], passages.end[at], corpus.index)
            within = tokens_inside(corpus.index, places)
            keep = [
                mask & (~here if condition.exclude else here) for mask, here in zip(keep, within, strict=True)
            ]
        return _Part(only_tokens(corpus.index, keep), next(_numbers))

    return make
