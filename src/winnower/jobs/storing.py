"""Store a batch of prepared texts: sources, variables and categories first, then rows in bulk."""

from __future__ import annotations

from collections.abc import Sequence

import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict
from winnower.readers.mapping import Target
from winnower.readers.prepare import PreparedTexts
from winnower.store.bulk import insert_frame, trusted_keys
from winnower.store.corpus import natural, variables_of
from winnower.store.models import (
    Source,
    TextBody,
    TextRow,
    TextValue,
    Variable,
    VariableCategory,
)
from winnower.store.parts import BASE_SCHEMA, KIND_TYPES
from winnower.store.rebuild import days


class Labels:
    """Sources, variables and categories of a project by name, made where they are missing."""

    def __init__(self, session: Session, project_id: int, targets: Sequence[Target]) -> None:
        self.project_id = project_id
        rows = session.execute(select(Source.name, Source.id).where(Source.project_id == project_id))
        self.sources: dict[str, int] = {name: i for name, i in rows}
        known = {v.name: v for v in variables_of(session, project_id)}
        self.variables: dict[str, Variable] = {}
        self.made: list[int] = []
        for target in targets:
            name = (target.name or target.column)[:200]
            if name not in known:
                known[name] = Variable(
                    project_id=project_id, name=name, kind=target.kind, position=len(known)
                )
                session.add(known[name])
                session.flush()
                self.made.append(known[name].id)
            if known[name].kind != target.kind:
                raise Conflict(
                    f"The variable “{name}” is in this project as {known[name].kind}; the column was to "
                    f"become {target.kind}. Give it that kind, or another name."
                )
            self.variables[target.name or target.column] = known[name]
        self.categories: dict[int, dict[str, int]] = {}
        for variable in self.variables.values():
            found = session.execute(
                select(VariableCategory.label, VariableCategory.id).where(
                    VariableCategory.variable_id == variable.id
                )
            )
            self.categories[variable.id] = {label: i for label, i in found}

    def add_missing(self, session: Session, texts: PreparedTexts) -> None:
        """Sources and categories that this batch brings."""
        new = sorted({s for s in texts.source if s is not None} - self.sources.keys(), key=natural)
        rows = [Source(project_id=self.project_id, name=name) for name in new]
        session.add_all(rows)
        session.flush()
        self.sources.update({row.name: row.id for row in rows})
        for name, variable in self.variables.items():
            if variable.kind in ("category", "several"):
                self._add_categories(session, variable, texts.values[name])

    def _add_categories(self, session: Session, variable: Variable, values: list) -> None:
        known = self.categories[variable.id]
        labels = (
            {part for value in values if value for part in value}
            if variable.kind == "several"
            else {value for value in values if value is not None}
        )
        rows = [
            VariableCategory(variable_id=variable.id, label=label, position=0)
            for label in sorted(labels - known.keys(), key=natural)
        ]
        session.add_all(rows)
        session.flush()
        known.update({row.label: row.id for row in rows})


def settle_positions(session: Session, project_id: int) -> None:
    """Put the categories of all variables in their natural order, new ones among the old."""
    rows = session.scalars(
        select(VariableCategory).join(Variable).where(Variable.project_id == project_id)
    ).all()
    place: dict[int, int] = {}
    for row in sorted(rows, key=lambda row: natural(row.label)):
        position = place.get(row.variable_id, 0)
        place[row.variable_id] = position + 1
        if row.position != position:
            row.position = position


def column_frame(ids: Sequence[int], texts: PreparedTexts, labels: Labels) -> pl.DataFrame:
    """What the index keeps of the texts, see store/parts.py."""
    data: dict[str, Sequence] = {
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
    origins = [f"{file}, row {line}"[-500:] for file, line in zip(texts.file, texts.line, strict=True)]
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
        }
    )
    with trusted_keys(session):
        insert_frame(session, TextRow, rows)
        insert_frame(session, TextBody, pl.DataFrame({"text_id": ids, "body": texts.body}))
        for variable in labels.variables.values():
            insert_frame(session, TextValue, _values(columns, variable))


def _values(columns: pl.DataFrame, variable: Variable) -> pl.DataFrame:
    """Rows of the narrow table for one variable."""
    name = f"v{variable.id}"
    frame = columns.select("text_id", name).drop_nulls(name)
    seq = pl.lit(0, pl.Int16).alias("seq")
    if variable.kind == "several":
        frame = frame.with_columns(
            pl.int_ranges(pl.col(name).list.len()).cast(pl.List(pl.Int16)).alias("seq")
        )
        frame = frame.explode(name, "seq")
        seq = pl.col("seq")
    field = {
        "category": "category_id",
        "several": "category_id",
        "number": "number",
        "date": "day",
        "text": "string",
    }
    value = pl.col(name).cast(pl.Date) if variable.kind == "date" else pl.col(name)
    return frame.select(
        "text_id", pl.lit(variable.id).alias("variable_id"), seq, value.alias(field[variable.kind])
    )


def stored_contents(session: Session, project_id: int, identities: Sequence[bytes]) -> dict[bytes, bytes]:
    """Identity to content hash of those that are stored."""
    found = session.execute(
        select(TextRow.identity, TextRow.content).where(
            TextRow.project_id == project_id, TextRow.identity.in_(identities)
        )
    )
    return {identity: content for identity, content in found}
