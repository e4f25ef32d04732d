"""Variables and sets: definitions, values of texts, values from a table."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Query
from pydantic import TypeAdapter

from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.imports import upload_paths
from winnower.api.schemas import variables as v
from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.scope import (
    CategoryColumn,
    Finds,
    Scope,
    SeveralColumn,
    Split,
    derive,
    scope_from_plain,
)
from winnower.core.scope.columns import Column
from winnower.core.scope.conditions import missing
from winnower.jobs.filling import fill_from_table
from winnower.store import variables as store
from winnower.store.coding_fields import described
from winnower.store.corpus import labels_of
from winnower.store.fields import FIXED
from winnower.store.history import plain
from winnower.store.models import Variable, VariableCategory
from winnower.store.opened import OpenCorpus
from winnower.store.rules import rule_from_plain, rule_of_set
from winnower.store.seen_values import refuse_other_value

router = APIRouter(prefix="/projects/{project_id}")
#: Of a variable with more values the most frequent are listed.
MOST_VALUES = 5_000
_rule: TypeAdapter = TypeAdapter(v.Rule)


def selected_places(corpus: OpenCorpus, asked: v.Selection) -> np.ndarray:
    """Places of the texts of a selection, in no order. Raises NotFound for texts that are gone."""
    if asked.ids is not None:
        places = corpus.places_of(np.asarray(sorted(set(asked.ids)), np.int64))
        if (places < 0).any():
            raise NotFound("Some of the chosen texts are no longer in the project. Choose again.")
        return places
    scope = asked.texts
    if asked.find.strip():
        scope = Scope((*scope.conditions, Finds(asked.find)))
    return np.flatnonzero(corpus.ground(scope, Split()).mask)


@router.get("/variables")
def variables(desk: Reading) -> list[v.VariablePublic]:
    """All variables with their values, the group and the sets among them."""
    from winnower.store.corpus import variables_of

    corpus = desk.corpus
    counted = {f.key: f for f in described(corpus)}
    by_variable: dict[int, list[VariableCategory]] = {}
    for row in store.all_values(desk.session, desk.project.id):
        by_variable.setdefault(row.variable_id, []).append(row)
    return [
        _public(corpus, one, by_variable.get(one.id, []), counted)
        for one in variables_of(desk.session, desk.project.id)
    ]


def _public(
    corpus: OpenCorpus, row: Variable, values: list[VariableCategory], counted: dict
) -> v.VariablePublic:
    key = f"v{row.id}"
    column = corpus.columns.fields.get(key)
    counts: dict[str, int] = {}
    texts = 0
    if column is not None:
        texts = corpus.columns.n_texts - int(missing(column).sum())
        if isinstance(column, (CategoryColumn, SeveralColumn)):
            found = np.bincount(column.codes[column.codes >= 0], minlength=len(column.labels))
            counts = dict(zip(column.labels, found.tolist(), strict=False))
    different = len(values)
    if different > MOST_VALUES:
        often = sorted(values, key=lambda one: -counts.get(one.label, 0))[:MOST_VALUES]
        shown = {one.id for one in often}
        values = [one for one in values if one.id in shown]
    listed = [
        v.ValuePublic(
            id=one.id,
            label=one.label,
            texts=counts.get(one.label, 0),
            rule=scope_from_plain(one.rule).conditions if one.rule else None,
            broken=corpus.stored.broken.get(f"set {one.label}"),
            revision=one.revision,
        )
        for one in values
    ]
    if row.rule and isinstance(column, CategoryColumn):
        listed = [
            v.ValuePublic(id=-at, label=label, texts=counts.get(label, 0), rule=None, broken=None, revision=0)
            for at, label in enumerate(column.labels, 1)
        ]
    return v.VariablePublic(
        id=row.id,
        key=key,
        name=row.name,
        kind=row.kind,  # type: ignore[arg-type]
        role=row.role,  # type: ignore[arg-type]
        description=row.description,
        rule=_rule.validate_python(row.rule) if row.rule else None,
        broken=corpus.stored.broken.get(key),
        revision=row.revision,
        texts=texts,
        different=max(different, len(listed)),
        values=listed,
    )


@router.post("/variables", status_code=201)
def make_variable(desk: Writing, given: v.VariableCreate) -> v.Changed:
    """A variable to fill by hand or from a table, or one that follows from a rule."""
    corpus = desk.corpus_to_change()
    rule = _rule.dump_python(given.rule, mode="json") if given.rule else None
    if rule:
        _tried(desk, corpus, rule)
    recorder = desk.recorder(f"New variable {given.name}")
    store.make_variable(recorder, given.name, given.kind, rule=rule, description=given.description)
    recorder.save()
    return v.Changed(texts=0, label=recorder.label)


def _tried(desk: Desk, corpus: OpenCorpus, rule: dict[str, Any]) -> Column:
    """What a rule gives for the texts. Raises ScopeError where it cannot follow what it names."""
    plain = corpus.without_coding or corpus
    return derive(rule_from_plain(desk.session, desk.project.id, rule), plain.columns, plain.index)


@router.post("/variables/try-rule")
def try_rule(desk: Reading, given: v.TryRule) -> v.RulePreview:
    """How texts would fall, before a rule is kept."""
    corpus = desk.corpus
    column = _tried(desk, corpus, _rule.dump_python(given.rule, mode="json"))
    if isinstance(column, CategoryColumn):
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.labels))
        labels = [*column.labels, "no value"]
        return v.RulePreview(values=labels, texts=[*counts.tolist(), int((column.codes < 0).sum())])
    values, counts = np.unique(column.values, return_counts=True)  # type: ignore[union-attr]
    return v.RulePreview(values=[f"{x:g}" for x in values[:20]], texts=counts[:20].tolist())


@router.patch("/variables/{variable_id}")
def change_variable(desk: Writing, variable_id: int, given: v.VariableUpdate) -> v.Changed:
    desk.corpus_to_change()
    row = store.variable_of(desk.session, desk.project.id, variable_id)
    recorder = desk.recorder(f"Change variable {row.name}")
    rule = _rule.dump_python(given.rule, mode="json") if given.rule else None
    store.change_variable(
        recorder, row, given.revision, name=given.name, description=given.description, rule=rule
    )
    recorder.save()
    return v.Changed(texts=0, label=recorder.label)


@router.post("/variables/{variable_id}/kind")
def convert_variable(desk: Writing, variable_id: int, given: v.ConvertVariable) -> v.Converted:
    """Let a variable hold another kind of value; what cannot be read so is told, and undo brings it back."""
    desk.corpus_to_change()
    row = store.variable_of(desk.session, desk.project.id, variable_id)
    if row.revision != given.revision:
        raise Conflict("Somebody changed this variable in the meantime.", plain(row))
    recorder = desk.recorder(f"{row.name} as {given.kind}")
    texts, lost = store.convert_variable(recorder, desk.corpus_within, row, given.kind)
    recorder.save()
    return v.Converted(texts=texts, lost=lost[:20], lost_total=len(lost), label=recorder.label)


@router.delete("/variables/{variable_id}")
def delete_variable(desk: Writing, variable_id: int, revision: Seen) -> v.Changed:
    """Take a variable away with its values; undo brings them back."""
    corpus = desk.corpus_to_change()
    row = store.variable_of(desk.session, desk.project.id, variable_id)
    if revision != row.revision:
        raise Conflict("Somebody changed this variable in the meantime.", plain(row))
    recorder = desk.recorder(f"Delete variable {row.name}")
    texts = store.delete_variable(recorder, corpus, row)
    recorder.save()
    return v.Changed(texts=texts, label=recorder.label)


@router.patch("/values/{value_id}")
def rename_value(desk: Writing, value_id: int, given: v.RenameValue) -> v.Changed:
    """Rename a value; where there is one of that name, the two become one."""
    corpus = desk.corpus_to_change()
    row = store.value_of(desk.session, desk.project.id, value_id)
    recorder = desk.recorder(f"Rename {row.label} to {given.label}")
    recorder.hold(row, given.revision)
    store.rename_category(recorder, corpus, row, given.label)
    recorder.save()
    return v.Changed(texts=0, label=recorder.label)


@router.delete("/values/{value_id}")
def delete_value(desk: Writing, value_id: int, revision: Seen) -> v.Changed:
    """Take a value, or a set, away from all texts."""
    corpus = desk.corpus_to_change()
    row = store.value_of(desk.session, desk.project.id, value_id)
    recorder = desk.recorder(f"Delete {row.label}")
    recorder.hold(row, revision)
    texts = store.delete_category(recorder, corpus, row)
    recorder.save()
    return v.Changed(texts=texts, label=recorder.label)


@router.post("/variables/{variable_id}/merge")
def merge_values(desk: Writing, variable_id: int, given: v.MergeValues) -> v.Changed:
    """Several values become one."""
    corpus = desk.corpus_to_change()
    rows = [store.value_of(desk.session, desk.project.id, value_id) for value_id in given.ids]
    into = store.value_of(desk.session, desk.project.id, given.into)
    if any(row.variable_id != variable_id for row in [*rows, into]):
        raise WinnowerError("Values of different variables cannot be merged.")
    recorder = desk.recorder(f"Merge {', '.join(row.label for row in rows)[:200]} into {into.label}")
    texts = store.merge_categories(recorder, corpus, rows, into)
    recorder.save()
    return v.Changed(texts=texts, label=recorder.label)


@router.post("/variables/{variable_id}/order")
def order_values(desk: Writing, variable_id: int, given: v.OrderValues) -> v.Changed:
    desk.corpus_to_change()
    row = store.variable_of(desk.session, desk.project.id, variable_id)
    recorder = desk.recorder(f"Order the values of {row.name}")
    store.order_categories(recorder, row, given.ids)
    recorder.save()
    return v.Changed(texts=0, label=recorder.label)


@router.post("/texts/values")
def set_values(desk: Writing, given: v.SetValues) -> v.Changed:
    """Give one text or many a value. Roles ("group", "sets", "aside") stand for their variables."""
    corpus = desk.corpus_to_change()
    recorder = desk.recorder("Change values")
    field, name, kind = given.field, given.field.capitalize(), given.field
    if field in store.ROLE_NAMES:
        row = store.role_variable(recorder, field)
        field = f"v{row.id}"
    elif field not in FIXED:
        row = store.variable_of(desk.session, desk.project.id, _number(field))
    if field not in FIXED:
        name, kind = row.name, row.kind
        corpus = desk.corpus_within()
    kind = {"source": "category", "title": "text"}.get(kind, kind)
    places = selected_places(corpus, given)
    value = store.parse_value(kind, given.value, name)
    if given.seen is not None:
        seen = store.parse_value(kind, given.seen, name)
        refuse_other_value(desk.session, corpus, field, places, seen)
    recorder.label = f"{name}: {given.value or 'no value'}"[:300]
    texts = store.set_values(recorder, corpus, field, places, [value] * len(places), given.mode)
    recorder.save()
    return v.Changed(texts=texts, label=recorder.label)


def _number(field: str) -> int:
    if not field.startswith("v") or not field[1:].isdecimal():
        raise NotFound(f"There is no field “{field}” in this project.")
    return int(field[1:])


@router.get("/values")
def earlier_values(
    desk: Reading,
    field: str,
    q: Annotated[str, Query(max_length=200)] = "",
    most: Annotated[int, Query(le=50)] = 12,
) -> v.EarlierValues:
    """Values used before that contain some words, the most frequent first."""
    corpus = desk.corpus
    key = corpus.roles.get(field, field)
    column = corpus.columns.fields.get(key)
    if not isinstance(column, (CategoryColumn, SeveralColumn)):
        return v.EarlierValues(values=[])
    counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.labels))
    wanted = q.strip().lower()
    found = [at for at in np.argsort(-counts, kind="stable") if wanted in column.labels[at].lower()]
    if key.startswith("v"):
        by_hand = set(labels_of(desk.session, desk.project.id).get(int(key[1:]), ([], []))[1])
        found = [at for at in found if column.labels[at] in by_hand]
    return v.EarlierValues(values=[column.labels[at] for at in found[:most]])


@router.post("/sets", status_code=201)
def make_set(desk: Writing, given: v.SetCreate) -> v.Changed:
    """A set of the selected texts, or one that follows from a rule and stays current."""
    desk.corpus_to_change()
    name = " ".join(given.name.split())
    recorder = desk.recorder(f"New set {name}")
    variable = store.role_variable(recorder, "sets")
    taken = {row.label for row in store.categories_of(desk.session, variable.id)}
    if name in taken and given.rule is not None:
        raise WinnowerError(f"There is a set named “{name}” already.")
    texts = 0
    if given.rule is not None:
        rule = rule_of_set(variable, Scope(given.rule))
        recorder.insert(VariableCategory(variable_id=variable.id, label=name, position=len(taken), rule=rule))
    else:
        if name not in taken:
            recorder.insert(VariableCategory(variable_id=variable.id, label=name, position=len(taken)))
        corpus = desk.corpus_within()
        places = selected_places(corpus, given) if given.ids is None or given.ids else np.empty(0, np.int64)
        texts = store.set_values(recorder, corpus, f"v{variable.id}", places, [[name]] * len(places), "add")
    recorder.save()
    return v.Changed(texts=texts, label=recorder.label)


@router.post("/fill")
def fill(desk: Writing, given: v.FillRequest) -> v.FillReport:
    """Values from a table whose rows are matched to texts; with ``try_only`` nothing is changed."""
    paths: list[tuple[str, Path]] = upload_paths(desk, given.upload_id)
    limits = desk.house.settings
    table = desk.house.apart.call("table rows", paths[0], limits.limit_text_chars, limits.limit_archive_bytes)
    desk.corpus_to_change()
    recorder = desk.recorder(f"Values from {paths[0][0]}")
    report = fill_from_table(
        recorder,
        desk.corpus_within,
        table,
        given.key_column,
        given.by,
        [column.model_dump() for column in given.columns],
    )
    if given.try_only:
        desk.session.rollback()
    else:
        recorder.save()
    return v.FillReport(**report)
