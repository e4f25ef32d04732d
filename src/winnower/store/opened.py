"""A corpus opened for computing: token index and columns at one state, and what was computed lately."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Collection, Hashable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import TypeVar

import numpy as np
import polars as pl

from winnower.core.derived_file import keep_derived
from winnower.core.errors import NotFound
from winnower.core.index import Lexicon, TokenIndex, build_lexicon
from winnower.core.pattern import Term
from winnower.core.places import Places, find_hits
from winnower.core.scope import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    Ground,
    Scope,
    SeveralColumn,
    Split,
    TextColumn,
    fields_of,
    fields_of_split,
    lay_ground,
    same_column,
)
from winnower.core.scope.columns import Column
from winnower.core.scope.conditions import missing
from winnower.store.memory import Memory

T = TypeVar("T")
_numbers = itertools.count(1)


@dataclass(frozen=True)
class State:
    """Which state of a project this is: of its texts, and of its values."""

    texts: int
    values: int


@dataclass(frozen=True)
class Stored:
    """Columns in their stored form, by field key, in the order of the texts.

    ``kinds`` holds the kind of each variable, ``roles`` the key of each role's variable,
    ``revisions`` the field revisions the columns are at, ``broken`` why a rule no longer fits.
    """

    raw: Mapping[str, pl.Series]
    kinds: Mapping[str, str]
    roles: Mapping[str, str]
    revisions: Mapping[str, int]
    broken: Mapping[str, str] = field(default_factory=dict)


def check_path(folder: Path, revision: int) -> Path:
    """Where the corpus check keeps what it found in the texts as they were at a revision."""
    return folder / f"check-{revision}.arrow"


class OpenCorpus:
    """Index and columns of a project at one state. What is computed from them is kept in a memory that
    several states share: it outlives changes of fields it does not depend on.

    ``stamps`` number the states of each field (see ``stamped``); ``owner`` names these texts in the memory.
    """

    def __init__(
        self,
        folder: Path,
        state: State,
        index: TokenIndex,
        columns: Columns,
        stored: Stored,
        memory: Memory | None = None,
        stamps: Mapping[str, int] | None = None,
        owner: int | None = None,
    ) -> None:
        self.folder, self.state = folder, state
        self.index, self.columns, self.stored = index, columns, stored
        self.raw, self.kinds, self.roles = stored.raw, stored.kinds, stored.roles
        self.memory = memory if memory is not None else Memory()
        self.owner = next(_numbers) if owner is None else owner
        self.stamps = stamps if stamps is not None else stamped(columns, None, {})
        #: Revision of the coding whose fields are among the columns (store/coding_fields.py), 0 without them.
        self.coding = 0
        self.without_coding: OpenCorpus | None = None
        #: Only some words of the texts are here (store/inside.py).
        self.cut = False
        #: The corpus as it was before it was laid out by codes, so often one after the other (store/inside.py).
        self.whole: OpenCorpus | None = None
        self.tiles = 1

    def kept(
        self, key: Hashable, make: Callable[[OpenCorpus], T], fields: Collection[str] | None = None
    ) -> T:
        """What ``make`` gives for this corpus, computed once.

        ``key`` holds the whole request. ``fields`` are the keys of the fields the value depends on; without
        them it is made anew after every change of values.
        """
        at: Hashable = (self.state.values, self.coding)
        if fields is not None:
            at = tuple(sorted((field, self.stamps.get(field, 0)) for field in fields))
        return self.memory.kept((self.owner, key, at), lambda: make(self))

    def scope_fields(self, scope: Scope, split: Split | None = None, *more: str) -> frozenset[str]:
        """Keys of the fields that a scope and a split depend on."""
        fields = fields_of(scope) | set(more)
        if split is not None:
            fields |= fields_of_split(split)
        return frozenset(fields | ({self.columns.aside} if self.columns.aside else set()))

    @property
    def revision(self) -> int:
        """Of the texts."""
        return self.state.texts

    @property
    def checked(self) -> int:
        """A number of its own for each check of these very texts, 0 where there is none."""
        try:
            return check_path(self.folder, self.revision).stat().st_mtime_ns
        except OSError:
            return 0

    @property
    def findings(self) -> pl.DataFrame | None:
        """What the last check of these very texts found, one row a text (see jobs/checking.py)."""
        if not (checked := self.checked):
            return None
        path = check_path(self.folder, self.revision)
        try:
            return self.kept(("check", checked), lambda _: pl.read_ipc(path))
        except (OSError, pl.exceptions.PolarsError):
            return None  # damaged: as if it had not been checked

    @property
    def stories(self) -> np.ndarray | None:
        """int32 per text: its group of texts nearly alike, -1 for none; None where they were not checked."""
        found = self.findings
        return None if found is None else np.tile(found["near"].to_numpy(), self.tiles)

    def place_of(self, text_id: int) -> int:
        """Place of a text in the index. Raises NotFound."""
        place = int(self.places_of(np.asarray([text_id], np.int64))[0])
        if place < 0:
            raise NotFound("There is no such text in this project.")
        return place

    def places_of(self, text_ids: np.ndarray) -> np.ndarray:
        """Places of texts by id, -1 where a text is not in the corpus."""
        ids = self.columns.text_id
        order = self.kept(("by id",), lambda _: np.argsort(ids, kind="stable"), ())
        if not len(order):
            return np.full(len(text_ids), -1, np.int64)
        at = np.minimum(np.searchsorted(ids, text_ids, sorter=order), len(order) - 1)
        found = order[at]
        return np.where(ids[found] == text_ids, found, -1)

    @property
    def lexicon(self) -> Lexicon:
        """All folds of the corpus, numbered."""
        return self.kept(("lexicon",), lambda corpus: build_lexicon(corpus.index), ())

    def ground(self, scope: Scope, split: Split) -> Ground:
        """Mask, groups and sizes of a scope and split."""
        return self.kept(
            ("ground", scope, split),
            lambda corpus: lay_ground(scope, split, corpus.index, corpus.columns, corpus._mask(scope)),
            self.scope_fields(scope, split),
        )

    def _mask(self, scope: Scope) -> np.ndarray | None:
        """The scope of a corpus laid out by codes: that of its whole texts."""
        if self.whole is None:
            return None
        return np.tile(self.whole.ground(scope, Split()).mask, self.tiles)

    def hits(self, terms: tuple[Term, ...], scope: Scope, order: str) -> Places:
        """Hits of the terms taken together in a scope, in one of places.ORDERS."""
        return self.kept(
            ("hits", terms, scope, order),
            lambda corpus: find_hits(
                terms, corpus.index, corpus.columns, corpus.ground(scope, Split()).mask, order
            ),
            self.scope_fields(scope, None, "date", "source"),
        )

    def order(self, field: str) -> np.ndarray:
        """int32 places of the texts sorted by a field, those without a value last; kept on disk."""
        return self.kept(("order", field), lambda corpus: corpus._order(field), {field})

    def _order(self, field: str) -> np.ndarray:
        if self.cut or self.stored.revisions.get(field) or field in self.stored.kinds:
            return sorted_places(self.columns.field(field))
        file = self.folder / f"order-{field}-{self.revision}.npy"
        if file.exists():
            found: np.ndarray = np.load(file, mmap_mode="r")
            return found
        order = sorted_places(self.columns.field(field))

        def write(draft: Path) -> None:
            with draft.open("wb") as out:
                np.save(out, order)

        keep_derived(file, write)
        return order

    def ordered(self, scope: Scope, sort: str, descending: bool) -> np.ndarray:
        """Places of the texts of a scope in the order of a field, those without a value last."""

        def make(corpus: OpenCorpus) -> np.ndarray:
            order = corpus.order(sort)
            if descending:
                known = len(order) - int(missing(corpus.columns.field(sort)).sum())
                order = np.concatenate([order[:known][::-1], order[known:]])
            mask = corpus.ground(scope, Split()).mask
            found: np.ndarray = order[mask[order]]
            return found

        return self.kept(("page", scope, sort, descending), make, self.scope_fields(scope, None, sort))

    def page(
        self, scope: Scope, sort: str, descending: bool, start: int, most: int
    ) -> tuple[np.ndarray, int]:
        """A stretch of ``ordered``, and how many there are in all."""
        places = self.ordered(scope, sort, descending)
        return places[start : start + most], len(places)


def stamped(columns: Columns, before: Columns | None, stamps: Mapping[str, int]) -> dict[str, int]:
    """A number for the state of each field: the same as before where every text still has the same value."""
    return {
        key: stamps[key]
        if before is not None and key in stamps and same_column(before.fields.get(key), column)
        else next(_numbers)
        for key, column in columns.fields.items()
    }


def sorted_places(column: Column) -> np.ndarray:
    """int32 places in ascending order, stable; those without a value last."""
    if isinstance(column, TextColumn):
        lower = column.values.str.to_lowercase()
        return lower.arg_sort(nulls_last=True).to_numpy().astype(np.int32)
    if isinstance(column, CategoryColumn):
        key: np.ndarray = np.where(column.codes < 0, len(column.labels), column.codes)
    elif isinstance(column, SeveralColumn):
        first = np.minimum(column.start[:-1], max(len(column.codes) - 1, 0))
        codes = column.codes[first] if len(column.codes) else np.zeros(len(first), np.int32)
        key = np.where(np.diff(column.start) > 0, codes, len(column.labels))
    elif isinstance(column, DateColumn):
        key = np.where(column.days == NO_DATE, np.iinfo(np.int32).max, column.days)
    else:
        key = column.values
    return np.argsort(key, kind="stable").astype(np.int32)
