"""A corpus opened for computing: token index and columns at one state, and what was computed lately."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl

from winnower.core.compare import Evidence, find_evidence
from winnower.core.errors import NotFound
from winnower.core.index import Lexicon, TokenIndex, build_lexicon
from winnower.core.pattern import Term
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
    lay_ground,
)
from winnower.core.scope.columns import Column
from winnower.core.scope.conditions import missing

MOST_PROFILES = 20_000


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


class OpenCorpus:
    """Index and columns of a project; keeps what was computed lately, since a revision never changes."""

    def __init__(
        self, folder: Path, state: State, index: TokenIndex, columns: Columns, stored: Stored
    ) -> None:
        self.folder, self.state = folder, state
        self.index, self.columns, self.stored = index, columns, stored
        self.raw, self.kinds, self.roles = stored.raw, stored.kinds, stored.roles
        self._kept: OrderedDict[Hashable, Any] = OrderedDict()
        self._profiles: dict[Hashable, Any] = {}
        self._lock = threading.Lock()

    def _keep(self, key: Hashable, make: Callable[[], Any], most: int = 60) -> Any:
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        value = make()
        with self._lock:
            self._kept[key] = value
            while len(self._kept) > most:
                self._kept.popitem(last=False)
        return value

    def kept(self, key: Hashable, make: Callable[[OpenCorpus], Any]) -> Any:
        """What ``make`` gives for this corpus, computed once."""
        return self._keep(("kept", key), lambda: make(self))

    def profile(self, key: Hashable, make: Callable[[OpenCorpus], Any]) -> Any:
        """The same for small things of which many are kept, such as the profiles of terms."""
        with self._lock:
            if key in self._profiles:
                return self._profiles[key]
        value = make(self)
        with self._lock:
            if len(self._profiles) > MOST_PROFILES:
                self._profiles.clear()
            self._profiles[key] = value
        return value

    @property
    def revision(self) -> int:
        """Of the texts."""
        return self.state.texts

    def place_of(self, text_id: int) -> int:
        """Place of a text in the index. Raises NotFound."""
        place = int(self.places_of(np.asarray([text_id], np.int64))[0])
        if place < 0:
            raise NotFound("There is no such text in this project.")
        return place

    def places_of(self, text_ids: np.ndarray) -> np.ndarray:
        """Places of texts by id, -1 where a text is not in the corpus."""
        ids = self.columns.text_id
        order = self._keep(("by id",), lambda: np.argsort(ids, kind="stable"))
        if not len(order):
            return np.full(len(text_ids), -1, np.int64)
        at = np.minimum(np.searchsorted(ids, text_ids, sorter=order), len(order) - 1)
        found = order[at]
        return np.where(ids[found] == text_ids, found, -1)

    def evidence_in_text(self, terms: tuple[Term, ...], place: int) -> Evidence:
        """Hits of the terms in one text."""
        wanted = np.zeros(self.columns.n_texts, bool)
        wanted[place] = True
        return find_evidence(terms, self.index, self.columns, wanted, "text")

    @property
    def lexicon(self) -> Lexicon:
        """All folds of the corpus, numbered."""
        return self._keep(("lexicon",), lambda: build_lexicon(self.index))

    def ground(self, scope: Scope, split: Split) -> Ground:
        """Mask, groups and sizes of a scope and split."""
        return self._keep(
            ("ground", scope, split), lambda: lay_ground(scope, split, self.index, self.columns)
        )

    def evidence(
        self, terms: tuple[Term, ...], scope: Scope, split: Split, group: int | None, order: str
    ) -> Evidence:
        """Hits of the terms in a group of the split, or in the whole scope."""

        def make() -> Evidence:
            ground = self.ground(scope, split)
            wanted = ground.mask
            if group is not None:
                wanted = np.zeros(len(ground.mask), bool)
                wanted[ground.groups.text[ground.groups.group == group]] = True
            return find_evidence(terms, self.index, self.columns, wanted, order)

        return self._keep(("evidence", terms, scope, split, group, order), make)

    def order(self, field: str) -> np.ndarray:
        """int32 places of the texts sorted by a field, those without a value last; kept on disk."""
        return self._keep(("order", field), lambda: self._order(field))

    def _order(self, field: str) -> np.ndarray:
        if self.stored.revisions.get(field) or field in self.stored.kinds:
            return sorted_places(self.columns.field(field))
        file = self.folder / f"order-{field}-{self.revision}.npy"
        if file.exists():
            return np.load(file, mmap_mode="r")
        order = sorted_places(self.columns.field(field))
        self.folder.mkdir(parents=True, exist_ok=True)
        np.save(file, order)
        return order

    def ordered(self, scope: Scope, sort: str, descending: bool) -> np.ndarray:
        """Places of the texts of a scope in the order of a field, those without a value last."""

        def make() -> np.ndarray:
            order = self.order(sort)
            if descending:
                known = len(order) - int(missing(self.columns.field(sort)).sum())
                order = np.concatenate([order[:known][::-1], order[known:]])
            mask = self.ground(scope, Split()).mask
            return order[mask[order]]

        return self._keep(("page", scope, sort, descending), make)

    def page(
        self, scope: Scope, sort: str, descending: bool, start: int, most: int
    ) -> tuple[np.ndarray, int]:
        """A stretch of ``ordered``, and how many there are in all."""
        places = self.ordered(scope, sort, descending)
        return places[start : start + most], len(places)


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
