"""A project's corpus opened for computing: token index and columns at one revision."""

from __future__ import annotations

import logging
import re
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.compare import Evidence, Ground, find_evidence, lay_ground
from winnower.core.errors import IndexDamaged, NotFound
from winnower.core.index import Segment, TokenIndex
from winnower.core.pattern import Term
from winnower.core.scope import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    Scope,
    SeveralColumn,
    Split,
    TextColumn,
)
from winnower.core.scope.columns import Column
from winnower.core.scope.conditions import missing
from winnower.store.models import Project, Source, Variable, VariableCategory
from winnower.store.parts import BASE_SCHEMA, KIND_TYPES, read_columns, read_manifest
from winnower.store.rebuild import rebuild

log = logging.getLogger("winnower")
MOST_PROFILES = 20_000
FIXED_NAMES = {"source": "Source", "date": "Date", "title": "Title", "words": "Words"}


class OpenCorpus:
    """Index and columns of a project; keeps what was computed lately, since a revision never changes."""

    def __init__(self, folder: Path, revision: int, index: TokenIndex, columns: Columns) -> None:
        self.folder, self.revision = folder, revision
        self.index, self.columns = index, columns
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

    def place_of(self, text_id: int) -> int:
        """Place of a text in the index. Raises NotFound."""
        order = self._keep(("by id",), lambda: np.argsort(self.columns.text_id, kind="stable"))
        at = int(np.searchsorted(self.columns.text_id, text_id, sorter=order))
        if at == len(order) or self.columns.text_id[order[at]] != text_id:
            raise NotFound("There is no such text in this project.")
        return int(order[at])

    def evidence_in_text(self, terms: tuple[Term, ...], place: int) -> Evidence:
        """Hits of the terms in one text."""
        wanted = np.zeros(self.columns.n_texts, bool)
        wanted[place] = True
        return find_evidence(terms, self.index, self.columns, wanted, "text")

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


class CorpusCache:
    """Open corpora of a process, by project; opened again where the project has a newer revision."""

    def __init__(self, index_folder: Path, most: int = 6) -> None:
        self.index_folder = index_folder
        self._open: OrderedDict[int, OpenCorpus] = OrderedDict()
        self._locks: dict[int, threading.Lock] = {}
        self._most = most

    def open(self, session: Session, project: Project) -> OpenCorpus:
        """The corpus at the project's revision; derived files are made again where they are missing."""
        lock = self._locks.setdefault(project.id, threading.Lock())
        with lock:
            found = self._open.get(project.id)
            if found is None or found.revision != project.corpus_revision:
                found = open_corpus(session, project, self.index_folder / str(project.id))
                self._open[project.id] = found
            self._open.move_to_end(project.id)
            while len(self._open) > self._most:
                self._open.popitem(last=False)
            return found


def open_corpus(session: Session, project: Project, folder: Path) -> OpenCorpus:
    """Map the derived files of a project; what is missing or damaged is made again first.

    Raises Unavailable where the database is away.
    """
    names = read_manifest(folder, project.corpus_revision)
    if names is not None:
        try:
            return _open_parts(session, project, folder, names)
        except IndexDamaged as error:
            log.warning("project %s: %s; building it again", project.id, error.message)
            session.refresh(project)
    return _open_parts(session, project, folder, rebuild(session, project, folder))


def _open_parts(session: Session, project: Project, folder: Path, names: list[str]) -> OpenCorpus:
    index = TokenIndex([Segment(folder / name) for name in names])
    columns = load_columns(session, project, [folder / name for name in names], index)
    return OpenCorpus(folder, project.corpus_revision, index, columns)


def variables_of(session: Session, project_id: int) -> list[Variable]:
    return list(
        session.scalars(
            select(Variable).where(Variable.project_id == project_id).order_by(Variable.position, Variable.id)
        )
    )


def load_columns(session: Session, project: Project, folders: list[Path], index: TokenIndex) -> Columns:
    """Columns of all texts; ids of sources and categories become places in their labels."""
    variables = variables_of(session, project.id)
    schema = BASE_SCHEMA | {f"v{v.id}": KIND_TYPES[v.kind] for v in variables}
    frame = read_columns(folders, schema)
    sources = session.execute(select(Source.id, Source.name).where(Source.project_id == project.id)).all()
    sources.sort(key=lambda row: natural(row.name))
    fields: dict[str, Column] = {
        "source": _coded(frame["source"], [row.id for row in sources], [row.name for row in sources]),
        "date": DateColumn(frame["date"].fill_null(int(NO_DATE)).to_numpy()),
        "title": TextColumn(frame["title"]),
        "words": NumberColumn(index.words),
    }
    for variable in variables:
        values = frame[f"v{variable.id}"]
        fields[f"v{variable.id}"] = _column(session, variable, values)
    names = FIXED_NAMES | {f"v{v.id}": v.name for v in variables}
    return Columns(frame["text_id"].to_numpy(), fields, names, project.corpus_revision)


def _column(session: Session, variable: Variable, values: pl.Series) -> Column:
    if variable.kind == "number":
        return NumberColumn(values.fill_null(float("nan")).to_numpy())
    if variable.kind == "date":
        return DateColumn(values.fill_null(int(NO_DATE)).to_numpy())
    if variable.kind == "text":
        return TextColumn(values)
    rows = session.execute(
        select(VariableCategory.id, VariableCategory.label)
        .where(VariableCategory.variable_id == variable.id)
        .order_by(VariableCategory.position, VariableCategory.id)
    ).all()
    ids, labels = [row.id for row in rows], [row.label for row in rows]
    if variable.kind == "category":
        return _coded(values, ids, labels)
    start = np.concatenate([[0], np.cumsum(values.list.len().fill_null(0).to_numpy())]).astype(np.int64)
    inner = _coded(values.explode().drop_nulls(), ids, labels)
    return SeveralColumn(start, inner.codes, inner.labels)


def _coded(values: pl.Series, ids: list[int], labels: list[str]) -> CategoryColumn:
    """Ids as places in ``labels``, -1 for null."""
    place = np.full(max(ids, default=0) + 2, -1, np.int32)
    place[ids] = np.arange(len(ids), dtype=np.int32)
    found = values.fill_null(max(ids, default=0) + 1).to_numpy()
    return CategoryColumn(place[found], tuple(labels))


def natural(label: str) -> tuple:
    """Sorts labels as people do: 2 before 10, case ignored."""
    parts = re.split(r"(\d+)", label.casefold())
    return tuple((int(part), "") if part.isdigit() else (-1, part) for part in parts)
