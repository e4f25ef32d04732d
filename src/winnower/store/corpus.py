"""Open a project's corpus: index and columns at its present state, made again where they are missing."""

from __future__ import annotations

import logging
import re
import threading
import time
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import IndexDamaged
from winnower.core.index import Segment, TokenIndex
from winnower.core.scope import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
    TextColumn,
)
from winnower.core.scope.columns import Column
from winnower.store.coding_fields import with_coding
from winnower.store.fields import (
    FIXED,
    column_from_database,
    field_revisions,
    overlay_path,
    read_overlay,
    write_overlay,
)
from winnower.store.memory import Memory
from winnower.store.models import Project, Source, Variable, VariableCategory
from winnower.store.opened import OpenCorpus, State, Stored, stamped
from winnower.store.parts import BASE_SCHEMA, KIND_TYPES, read_columns, read_manifest
from winnower.store.rebuild import rebuild, texts_of
from winnower.store.rules import add_rules

log = logging.getLogger("winnower")
FIXED_NAMES = {"source": "Source", "date": "Date", "title": "Title", "words": "Words"}


class CorpusCache:
    """Open corpora of a process, by project; brought up to date where the project has moved on."""

    def __init__(self, index_folder: Path, most: int = 6, memory: Memory | None = None) -> None:
        self.index_folder = index_folder
        self.memory = memory if memory is not None else Memory()
        self._open: OrderedDict[int, OpenCorpus] = OrderedDict()
        self._locks: dict[int, threading.Lock] = {}
        self._used: dict[int, float] = {}
        self._most = most
        self.memory.tending.append(self.close_unused)

    def folder(self, project: Project) -> Path:
        return self.index_folder / str(project.id)

    def close_unused(self, before: float) -> int:
        """Let go of corpora nobody asked for since a moment (time.monotonic); how many those were."""
        unused = [project for project in list(self._open) if self._used.get(project, before) < before]
        for project in unused:
            with self._locks[project]:
                if (gone := self._open.pop(project, None)) is not None:
                    self.memory.forget(gone.owner)
        return len(unused)

    def last(self, project: Project) -> OpenCorpus | None:
        """The corpus at the project's texts, possibly with older values; None where it is not open."""
        found = self._open.get(project.id)
        return found if found is not None and found.state.texts == project.corpus_revision else None

    def open(self, session: Session, project: Project) -> OpenCorpus:
        """The corpus as the project is now; derived files are made again where they are missing."""
        lock = self._locks.setdefault(project.id, threading.Lock())
        with lock:
            found = self._open.get(project.id)
            if found is None or found.state.texts != project.corpus_revision:
                if found is not None:
                    self.memory.forget(found.owner)
                found = open_corpus(session, project, self.folder(project), self.memory)
            elif found.state.values != project.values_revision:
                try:
                    found = with_new_values(session, project, found)
                except IndexDamaged as error:
                    log.warning("project %s: %s; opening it anew", project.id, error.message)
                    found = open_corpus(session, project, self.folder(project), self.memory)
            self._open[project.id] = found
            self._open.move_to_end(project.id)
            self._used[project.id] = time.monotonic()
            while len(self._open) > self._most:
                self.memory.forget(self._open.popitem(last=False)[1].owner)
        return with_coding(session, project, found) if project.coding_revision else found


def open_corpus(session: Session, project: Project, folder: Path, memory: Memory | None = None) -> OpenCorpus:
    """Map the derived files of a project; what is missing or damaged is made again first.

    Raises Unavailable where the database is away.
    """
    names = read_manifest(folder, project.corpus_revision)
    if names is not None:
        try:
            return _open_parts(session, project, folder, names, memory)
        except IndexDamaged as error:
            log.warning("project %s: %s; building it again", project.id, error.message)
            session.refresh(project)
    return _open_parts(session, project, folder, rebuild(session, project, folder, names or ()), memory)


def _open_parts(
    session: Session, project: Project, folder: Path, names: list[str], memory: Memory | None
) -> OpenCorpus:
    index = TokenIndex([Segment(folder / name) for name in names])
    variables = variables_of(session, project.id)
    schema = BASE_SCHEMA | {f"v{v.id}": KIND_TYPES[v.kind] for v in variables if not v.rule}
    frame = read_columns([folder / name for name in names], schema)
    if not np.array_equal(frame["text_id"].to_numpy(), index.text_id):
        raise IndexDamaged("The columns are not those of the texts in the index")
    if index.n_texts != texts_of(session, project.id):
        raise IndexDamaged("The index does not hold the texts of the project")
    raw = {name: frame[name] for name in schema if name != "text_id"}
    found = _Base(folder, index, raw, {}, memory, None)
    return _at_present(session, project, found, variables)


def with_new_values(session: Session, project: Project, corpus: OpenCorpus) -> OpenCorpus:
    """The same texts with the values of now: only the columns that changed are read."""
    variables = variables_of(session, project.id)
    raw = dict(corpus.raw)
    for variable in variables:
        key = f"v{variable.id}"
        if key not in raw and not variable.rule:
            raw[key] = pl.Series(key, [None], dtype=KIND_TYPES[variable.kind]).new_from_index(
                0, corpus.index.n_texts
            )
    found = _Base(corpus.folder, corpus.index, raw, corpus.stored.revisions, corpus.memory, corpus)
    return _at_present(session, project, found, variables)


@dataclass(frozen=True)
class _Base:
    """What a corpus is put together from: columns in stored form at some revisions, and the state before."""

    folder: Path
    index: TokenIndex
    raw: dict[str, pl.Series]
    revisions: Mapping[str, int]
    memory: Memory | None
    before: OpenCorpus | None


def _at_present(session: Session, project: Project, base: _Base, variables: list[Variable]) -> OpenCorpus:
    """Replace the columns that changed since, and put everything together."""
    folder, index, before = base.folder, base.index, base.before
    revisions = field_revisions(session, project.id)
    kinds = {f"v{v.id}": v.kind for v in variables}
    live = {*FIXED, *(key for key, v in zip(kinds, variables, strict=True) if not v.rule)}
    raw = {key: values for key, values in base.raw.items() if key in live}
    for key, revision in revisions.items():
        # a variable that was given another kind is read again in its new form
        stale = base.revisions.get(key) != revision or not _fits(raw.get(key), kinds.get(key))
        if key in live and stale:
            raw[key] = _overlay(session, project, folder, key, revision, kinds.get(key), index)
    columns = _columns(session, project, raw, index, variables)
    roles = {v.role: f"v{v.id}" for v in variables if v.role}
    columns, broken = add_rules(session, project, columns, index, variables, roles)
    stored = Stored(raw, kinds, roles, revisions, broken)
    state = State(project.corpus_revision, project.values_revision)
    stamps = stamped(columns, before.columns if before else None, before.stamps if before else {})
    owner = before.owner if before else None
    return OpenCorpus(folder, state, index, columns, stored, base.memory, stamps, owner)


def _fits(values: pl.Series | None, kind: str | None) -> bool:
    return values is not None and (kind is None or values.dtype == KIND_TYPES[kind])


def _overlay(
    session: Session,
    project: Project,
    folder: Path,
    key: str,
    revision: int,
    kind: str | None,
    index: TokenIndex,
) -> pl.Series:
    path = overlay_path(folder, key, project.corpus_revision, revision)
    dtype = BASE_SCHEMA[key] if kind is None else KIND_TYPES[kind]
    found = read_overlay(path, dtype, index.n_texts)
    if found is None:
        found = column_from_database(session, project.id, key, kind, index.text_id)
        write_overlay(path, found)
    return found


def variables_of(session: Session, project_id: int, *, away: bool = False) -> list[Variable]:
    """The variables in their order; those that went with an undone delivery only where asked for."""
    asked = select(Variable).where(Variable.project_id == project_id)
    if not away:
        asked = asked.where(Variable.away == 0)
    return list(session.scalars(asked.order_by(Variable.position, Variable.id)))


def _columns(
    session: Session,
    project: Project,
    raw: dict[str, pl.Series],
    index: TokenIndex,
    variables: list[Variable],
) -> Columns:
    """Columns of all texts; ids of sources and categories become places in their labels."""
    named = session.execute(select(Source.id, Source.name).where(Source.project_id == project.id)).all()
    present = set(raw["source"].unique().to_list())
    # a source is there with its texts: one whose last text went shows no more
    sources = sorted((row for row in named if row.id in present), key=lambda row: natural(row.name))
    fields: dict[str, Column] = {
        "source": _coded(raw["source"], [row.id for row in sources], [row.name for row in sources]),
        "date": DateColumn(raw["date"].fill_null(int(NO_DATE)).to_numpy()),
        "title": TextColumn(raw["title"]),
        "words": NumberColumn(index.words),
    }
    labels = labels_of(session, project.id)
    for variable in variables:
        if not variable.rule:
            found = labels.get(variable.id, ([], []))
            fields[f"v{variable.id}"] = _column(variable.kind, raw[f"v{variable.id}"], *found)
    names = FIXED_NAMES | {f"v{v.id}": v.name for v in variables}
    aside = next((f"v{v.id}" for v in variables if v.role == "aside"), None)
    return Columns(index.text_id, fields, names, project.corpus_revision, aside)


def labels_of(session: Session, project_id: int) -> dict[int, tuple[list[int], list[str]]]:
    """Ids and labels of the categories of each variable, in their order; sets with a rule apart."""
    rows = session.execute(
        select(
            VariableCategory.variable_id, VariableCategory.id, VariableCategory.label, VariableCategory.rule
        )
        .join(Variable)
        .where(Variable.project_id == project_id, VariableCategory.away == 0)
        .order_by(VariableCategory.variable_id, VariableCategory.position, VariableCategory.id)
    )
    out: dict[int, tuple[list[int], list[str]]] = {}
    for variable_id, category_id, label, rule in rows:
        ids, labels = out.setdefault(variable_id, ([], []))
        if not rule:
            ids.append(category_id)
            labels.append(label)
    return out


def _column(kind: str, values: pl.Series, ids: list[int], labels: list[str]) -> Column:
    if kind == "number":
        return NumberColumn(values.fill_null(float("nan")).to_numpy())
    if kind == "date":
        return DateColumn(values.fill_null(int(NO_DATE)).to_numpy())
    if kind == "text":
        return TextColumn(values)
    if kind == "category":
        return _coded(values, ids, labels)
    start = np.concatenate([[0], np.cumsum(values.list.len().fill_null(0).to_numpy())]).astype(np.int64)
    inner = _coded(values.explode().drop_nulls(), ids, labels)
    return SeveralColumn(start, inner.codes, inner.labels)


def _coded(values: pl.Series, ids: list[int], labels: list[str]) -> CategoryColumn:
    """Ids as places in ``labels``, -1 for null."""
    none = max(ids, default=0) + 1
    place = np.full(none + 1, -1, np.int32)
    place[ids] = np.arange(len(ids), dtype=np.int32)
    found = values.fill_null(none).to_numpy()
    if len(found) and int(found.max()) > none:
        raise IndexDamaged("A column names values that the project does not have")
    return CategoryColumn(place[found], tuple(labels))


def natural(label: str) -> tuple[Any, ...]:
    """Sorts labels as people do: 2 before 10, case ignored."""
    parts = re.split(r"(\d+)", label.casefold())
    return tuple((int(part), "") if part.isdecimal() else (-1, part) for part in parts)
