"""Store a batch of prepared texts: sources, variables and categories first, then rows in bulk."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

import orjson
import polars as pl

from winnower.core.errors import Conflict
from winnower.readers.mapping import Target
from winnower.readers.prepare import Extra, PreparedTexts
from winnower.store import imports
from winnower.store.bulk import insert_frame, parents_locked
from winnower.store.corpus import natural, variables_of
from winnower.store.database import Session
from winnower.store.models import (
    Base,
    Delivery,
    NoteRow,
    Project,
    Source,
    TextBody,
    TextPlace,
    TextRow,
    TextValue,
    Variable,
    VariableCategory,
)
from winnower.store.parts import BASE_SCHEMA, KIND_TYPES
from winnower.store.rebuild import days
from winnower.store.values import value_rows


def not_into(variable: Variable, target: Target) -> str:
    """Why a column cannot be taken into the variable of its name; empty where it can."""
    if variable.rule:
        return f"The variable “{variable.name}” follows from a rule; give the column another name."
    if variable.kind != target.kind:
        return (
            f"The variable “{variable.name}” is in this project as {variable.kind}; the column was to "
            f"become {target.kind}. Give it that kind, or another name."
        )
    return ""


class Labels:
    """Sources, variables and categories of a project by name, made where they are missing."""

    def __init__(self, session: Session, project_id: int, targets: Sequence[Target]) -> None:
        self.project_id = project_id
        self.sources = imports.sources_by_name(session, project_id)
        stored = variables_of(session, project_id, away=True)
        known = {v.name: v for v in stored}
        by_role = {v.role: v for v in stored if v.role}
        self.variables: dict[str, Variable] = {}
        self.made: list[int] = []
        for target in targets:
            name = (target.name or target.column)[:200]
            role = target.role if target.role in ("group", "sets") else ""
            if role and role in by_role:
                self.variables[target.name] = by_role[role]
                continue
            if name not in known:
                known[name] = imports.add_variable(session, project_id, name, target.kind, len(known), role)
                self.made.append(known[name].id)
            if reason := not_into(known[name], target):
                raise Conflict(reason)
            known[name].away = False
            self.variables[target.name or target.column] = known[name]
        self.categories = {
            variable.id: imports.categories_by_label(session, variable.id)
            for variable in self.variables.values()
        }
        self._away = {
            variable.id: imports.labels_away(session, variable.id) for variable in self.variables.values()
        }

    def add_missing(self, session: Session, texts: PreparedTexts) -> None:
        """Sources and categories that this batch brings."""
        new = sorted({s for s in texts.source if s is not None} - self.sources.keys(), key=natural)
        self.sources.update(imports.make_sources(session, self.project_id, new))
        for name, variable in self.variables.items():
            if variable.kind in ("category", "several"):
                self._add_categories(session, variable, texts.values[name])

    def _add_categories(self, session: Session, variable: Variable, values: list[Any]) -> None:
        known = self.categories[variable.id]
        labels = (
            {part for value in values if value for part in value}
            if variable.kind == "several"
            else {value for value in values if value is not None}
        )
        new = sorted(labels - known.keys(), key=natural)
        known.update(imports.make_categories(session, variable.id, new))
        if back := labels & self._away.get(variable.id, set()):
            imports.bring_back(session, variable.id, back)
            self._away[variable.id] -= back


def column_frame(ids: Sequence[int], texts: PreparedTexts, labels: Labels) -> pl.DataFrame:
    """What the index keeps of the texts, see store/parts.py."""
    data: dict[str, Sequence[Any]] = {
        "text_id": ids,
        "title": texts.title,
        "source": [labels.sources[s] if s is not None else None for s in texts.source],
        "date": [days(d) for d in texts.date],
    }
    schema = dict(BASE_SCHEMA)
    for name, variable in labels.variables.items():
        known = labels.categories[variable.id]
        values = texts.values[name]
        if variable.kind == "category":
            values = [known[v] if v is not None else None for v in values]
        elif variable.kind == "several":
            values = [[known[p] for p in v] if v else None for v in values]
        elif variable.kind == "date":
            values = [days(v) for v in values]
        data[f"v{variable.id}"] = values
        schema[f"v{variable.id}"] = KIND_TYPES[variable.kind]
    return pl.DataFrame(data, schema=schema)


def store_texts(
    session: Session,
    project_id: int,
    delivery_id: int,
    texts: PreparedTexts,
    hashes: tuple[Sequence[bytes], Sequence[bytes]],
    words: Sequence[int],
    columns: pl.DataFrame,
    labels: Labels,
) -> None:
    """Insert rows, bodies and values; ``hashes`` are identities and contents."""
    ids = columns["text_id"]
    origins = [
        (f"{file}, row {line}" if line else file)[-500:]
        for file, line in zip(texts.file, texts.line, strict=True)
    ]
    rows = pl.DataFrame(
        {
            "id": ids,
            "project_id": pl.repeat(project_id, len(ids), eager=True),
            "delivery_id": pl.repeat(delivery_id, len(ids), eager=True),
            "identity": [h.hex() for h in hashes[0]],
            "content": [h.hex() for h in hashes[1]],
            "title": texts.title,
            "source_id": columns["source"],
            "date": columns["date"].cast(pl.Date),
            "words": pl.Series(words, dtype=pl.Int32),
            "origin": origins,
            "placeholder": pl.Series([not body for body in texts.body]).cast(pl.Int16),
            "reference": pl.Series([_reference(extra) for extra in texts.extra], dtype=pl.String),
        }
    )
    values = [
        value_rows(columns.select("text_id", value=f"v{variable.id}"), variable.id, variable.kind)
        for variable in labels.variables.values()
    ]
    categories = {
        i for frame in values if "category_id" in frame.columns for i in frame["category_id"].unique()
    }
    parents: list[tuple[type[Base], Collection[int]]] = [
        (Project, {project_id}),
        (Delivery, {delivery_id}),
        (Source, set(columns["source"].drop_nulls().unique())),
        (Variable, {variable.id for variable in labels.variables.values()}),
        (VariableCategory, categories - {None}),
    ]
    with parents_locked(session, parents):
        insert_frame(session, TextRow, rows)
        insert_frame(session, TextBody, pl.DataFrame({"text_id": ids, "body": texts.body}))
        for frame in values:
            insert_frame(session, TextValue, frame)
        insert_frame(session, TextPlace, _places(ids, texts))
        insert_frame(session, NoteRow, _notes(project_id, ids, texts))


def _reference(extra: Extra | None) -> str | None:
    return orjson.dumps(extra.reference.plain()).decode() if extra and extra.reference else None


def _places(ids: pl.Series, texts: PreparedTexts) -> pl.DataFrame:
    rows = [
        (text_id, seq, place.kind, place.start, place.label[:300], place.level)
        for text_id, extra in zip(ids, texts.extra, strict=True)
        if extra
        for seq, place in enumerate(extra.places)
    ]
    return (
        pl.DataFrame(rows, schema=["text_id", "seq", "kind", "start", "label", "level"], orient="row")
        if rows
        else pl.DataFrame()
    )


def _notes(project_id: int, ids: pl.Series, texts: PreparedTexts) -> pl.DataFrame:
    """Notes that came with texts, and why a text has no words yet."""
    rows: list[tuple[Any, ...]] = []
    for text_id, extra in zip(ids, texts.extra, strict=True):
        if extra and extra.reason:
            rows.append((text_id, "", "Import", extra.reason, None, None))
        for remark in extra.remarks if extra else ():
            kind = "abstract" if remark.author.lower() == "abstract" else ""
            rows.append((text_id, kind, remark.author[:120], remark.body, remark.start, remark.end))
    words, number = pl.String, pl.Int64
    schema = {
        "text_id": number, "kind": words, "author": words, "body": words, "start": number, "end": number,
    }  # fmt: skip
    frame = pl.DataFrame(rows, schema=schema, orient="row")
    return frame.with_columns(pl.lit(project_id, pl.Int64).alias("project_id"))
