"""The corpus cut down to coded passages, where a scope says that only those are counted; and laid out by codes, where
a split says that the words under each are a group."""

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
from winnower.core.scope import REST, UNDER, CategoryColumn, Inside, NumberColumn, Scope, Split
from winnower.core.scope.columns import Column, Columns, tiled
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


def looked_at(
    session: Session, project: Project, corpus: OpenCorpus, scope: Scope, split: Split
) -> OpenCorpus:
    """The corpus as a scope and a split look at it. Raises ScopeError."""
    return laid_out(session, project, inside(session, project, corpus, scope), split)


#: Texts times codes at most, where a corpus is laid out by codes.
MOST_LAID_OUT = 20_000_000


def laid_out(session: Session, project: Project, corpus: OpenCorpus, split: Split) -> OpenCorpus:
    """Each text once for every code of the split, with only the words under it; the same corpus without codes.

    A text in which two speakers speak is there twice, once with the words of each. Its fields come with it, and whether
    it is in scope is asked of the whole text. Raises ScopeError for a code that is not there, or where that is too much.
    """
    if not split.codes:
        return corpus
    tiles = len(split.codes) + split.rest
    if tiles * corpus.index.n_texts > MOST_LAID_OUT:
        raise ScopeError(
            f"{tiles} codes over {corpus.index.n_texts:,} texts are too much to be set side by side; take fewer codes."
        )
    part: _Part = corpus.memory.kept(
        (corpus.owner, "laid out", split.codes, split.rest, corpus.coding),
        lambda: _Part(_tiles(session, project, corpus, split), next(_numbers)),
    )
    found = copy.copy(corpus)
    found.index, found.owner, found.cut = part.index, part.owner, True
    found.whole, found.tiles, found.without_coding = corpus, tiles, None
    found.columns = _tiled_columns(corpus.columns, part.index, split, tiles)
    found.stamps = {**corpus.stamps, UNDER: -corpus.coding}
    return found


def _tiles(session: Session, project: Project, corpus: OpenCorpus, split: Split) -> TokenIndex:
    within = _tokens_under(session, project, corpus)
    masks = [within((code,)) for code in split.codes]
    if split.rest:
        masks.append([~mask for mask in within(split.codes)])
    segments = [segment for mask in masks for segment in only_tokens(corpus.index, mask).segments]
    return TokenIndex(segments)


def _tiled_columns(columns: Columns, index: TokenIndex, split: Split, tiles: int) -> Columns:
    """The fields of every text, so many times over; and which code a text stands under, where it has words there."""
    labels = tuple(code.split(" > ")[-1] for code in split.codes)
    if len(set(labels)) < len(labels):
        labels = split.codes
    labels += (REST,) if split.rest else ()
    words = np.asarray(index.words)
    of_tile = np.repeat(np.arange(tiles, dtype=np.int32), columns.n_texts)
    under = CategoryColumn(np.where(words > 0, of_tile, -1).astype(np.int32), labels)

    def made(key: str) -> Callable[[], Column]:
        return lambda: tiled(columns.fields[key], tiles)

    own: dict[str, Callable[[], Column]] = {"words": lambda: NumberColumn(words), UNDER: lambda: under}
    fields = Overlaid({}, {**{key: made(key) for key in columns.fields}, **own})
    names = {**columns.names, UNDER: "Under the code"}
    return replace(columns, text_id=np.tile(columns.text_id, tiles), fields=fields, names=names)


def _tokens_under(
    session: Session, project: Project, corpus: OpenCorpus
) -> Callable[[tuple[str, ...]], list[np.ndarray]]:
    """A function that gives, for codes by their paths, which tokens of each segment lie under one of them."""
    book = codebook_of(session, project.id)
    by_path = {" > ".join(book.tree.path(row.id)): row.id for row in book.codes}
    passages = PassageCache(corpus.memory).open(session, project, corpus.folder)

    def within(codes: tuple[str, ...]) -> list[np.ndarray]:
        gone = [code for code in codes if code not in by_path]
        if gone:
            raise ScopeError(f"The codebook has no code “{gone[0]}”.")
        under = {one for code in codes for one in book.tree.below(by_path[code])}
        at = passages.under(under)
        text = corpus.places_of(passages.text_id[at])
        at, text = at[text >= 0], text[text >= 0]
        return tokens_inside(
            corpus.index, as_places(text, passages.start[at], passages.end[at], corpus.index)
        )

    return within


def _part(
    session: Session, project: Project, corpus: OpenCorpus, conditions: tuple[Inside, ...]
) -> Callable[[], _Part]:
    def make() -> _Part:
        under = _tokens_under(session, project, corpus)
        keep = [np.ones(segment.n_tokens, bool) for segment in corpus.index.segments]
        for condition in conditions:
            keep = [
                mask & (~here if condition.exclude else here)
                for mask, here in zip(keep, under(condition.codes), strict=True)
            ]
        return _Part(only_tokens(corpus.index, keep), next(_numbers))

    return make
