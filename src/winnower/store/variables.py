"""Variables: their definitions, their categories, and what values texts have."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable, Iterable, Sequence
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.dates import guess_day_first, parse_date
from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.limits import MAX_LABEL, MAX_TITLE
from winnower.core.numbers import guess_decimal, parse_number
from winnower.core.scope import value_at
from winnower.core.scope.conditions import missing
from winnower.store.corpus import natural
from winnower.store.fields import touch
from winnower.store.history import Recorder
from winnower.store.kept_conditions import follow_names
from winnower.store.models import KINDS, Source, Variable, VariableCategory
from winnower.store.opened import OpenCorpus
from winnower.store.rebuild import days
from winnower.store.rules import kind_of_rule, rule_from_plain
from winnower.store.values import changed

#: What variables with a part of their own are called at first, and their kinds.
ROLE_NAMES = {"group": ("Group", "category"), "sets": ("Sets", "several"), "aside": ("Excluded", "category")}


class BadValue(WinnowerError):
    """A value that does not fit its field."""


def variable_of(session: Session, project_id: int, variable_id: int) -> Variable:
    """Raises NotFound."""
    row = session.get(Variable, variable_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such variable in this project.")
    return row


def variables_named(session: Session, project_id: int, name: str) -> list[Variable]:
    """None or one."""
    return list(
        session.scalars(select(Variable).where(Variable.project_id == project_id, Variable.name == name))
    )


def _free_name(session: Session, project_id: int, written: str, besides: int | None = None) -> str:
    name = " ".join(written.split())[:200]
    if not name:
        raise BadValue("Give the variable a name.")
    taken = select(Variable.id).where(Variable.project_id == project_id, Variable.name == name)
    found = session.scalar(taken)
    if found is not None and found != besides:
        away = session.get_one(Variable, found).away
        where = " in a delivery that was undone; it goes with the next import" if away else " already"
        raise Conflict(f"There is a variable named “{name}”{where}.")
    return name


def make_variable(
    recorder: Recorder,
    name: str,
    kind: str,
    *,
    rule: dict[str, Any] | None = None,
    description: str = "",
    role: str = "",
) -> Variable:
    """A variable; with a rule its kind follows. Raises Conflict, or ScopeError where the rule does not fit."""
    session = recorder.session
    if rule is not None:
        rule_from_plain(session, recorder.project_id, rule)
        kind = kind_of_rule(rule)
    if kind not in KINDS:
        raise BadValue(f"There is no kind “{kind}”; there are {', '.join(KINDS)}.")
    last = session.scalar(
        select(func.max(Variable.position)).where(Variable.project_id == recorder.project_id)
    )
    found: Variable = recorder.insert(
        Variable(
            project_id=recorder.project_id,
            name=_free_name(session, recorder.project_id, name),
            kind=kind,
            position=0 if last is None else last + 1,
            role=role,
            rule=rule,
            description=description[:2000],
        )
    )
    return found


def role_variable(recorder: Recorder, role: str) -> Variable:
    """The variable of a role, made where it is missing."""
    session = recorder.session
    mine = select(Variable).where(Variable.project_id == recorder.project_id, Variable.role == role)
    found = session.scalar(mine)
    if found is not None:
        return found
    name, kind = ROLE_NAMES[role]
    number, free = 2, name
    while session.scalar(
        select(Variable.id).where(Variable.project_id == recorder.project_id, Variable.name == free)
    ):
        number, free = number + 1, f"{name} ({number})"
    return make_variable(recorder, free, kind, role=role)


def change_variable(
    recorder: Recorder, row: Variable, revision: int | None, *, name: str | None = None,
    description: str | None = None, rule: dict[str, Any] | None = None,
) -> None:  # fmt: skip
    """Rename, describe, or give a derived variable another rule. Raises Conflict."""
    values: dict[str, Any] = {}
    if name is not None:
        values["name"] = _free_name(recorder.session, recorder.project_id, name, row.id)
    if description is not None:
        values["description"] = description[:2000]
    if rule is not None:
        if not row.rule:
            raise BadValue(
                "This variable holds values of its own; make another one that follows from a rule."
            )
        rule_from_plain(recorder.session, recorder.project_id, rule)
        if kind_of_rule(rule) != row.kind:
            raise BadValue("The new rule makes another kind of variable; make a new one.")
        values["rule"] = rule
    recorder.update(row, values, revision)


def convert_variable(
    recorder: Recorder, corpus_of: Callable[[], OpenCorpus], row: Variable, kind: str
) -> tuple[int, list[str]]:
    """Give a variable another kind; how many texts keep a value, and values that cannot be read so.

    ``corpus_of`` opens the corpus as it is within the transaction. Raises BadValue for derived variables
    and for those with a part of their own.
    """
    if row.rule or row.role:
        raise BadValue("The kind of this variable follows from what it is for.")
    if kind not in KINDS:
        raise BadValue(f"There is no kind “{kind}”; there are {', '.join(KINDS)}.")
    field, corpus = f"v{row.id}", corpus_of()
    column = corpus.columns.fields[field]
    places = np.flatnonzero(~missing(column))
    written = [_written(value_at(column, int(place))) for place in places]
    day_first = guess_day_first(written) if kind == "date" else True
    parsed: dict[str, object] = {}
    bad: list[str] = []
    for value in dict.fromkeys(written):
        try:
            parsed[value] = parse_value(kind, value, row.name, day_first)
        except BadValue:
            bad.append(value)
    recorder.values(corpus, field, _emptied(corpus, field))
    for category in categories_of(recorder.session, row.id):
        recorder.delete(category)
    recorder.update(row, {"kind": kind})
    touch(recorder.session, recorder.project, field)
    kept = [at for at, value in enumerate(written) if parsed.get(value) is not None]
    set_values(recorder, corpus_of(), field, places[kept], [parsed[written[at]] for at in kept])
    return len(kept), bad


def _written(value: object) -> str:
    if isinstance(value, list):
        return "; ".join(value)
    return f"{value:.15g}" if isinstance(value, float) else str(value)


def delete_variable(recorder: Recorder, corpus: OpenCorpus, row: Variable) -> int:
    """Take a variable away with its values; how many texts had one."""
    texts = 0
    key = f"v{row.id}"
    if not row.rule and key in corpus.raw:
        texts = recorder.values(corpus, key, _emptied(corpus, key))
    for category in categories_of(recorder.session, row.id):
        recorder.delete(category)
    recorder.delete(row)
    return texts


def _emptied(corpus: OpenCorpus, field: str) -> pl.DataFrame:
    places = np.flatnonzero(corpus.raw[field].is_not_null().to_numpy())
    return changed(corpus, field, places, [None] * len(places))


def categories_of(session: Session, variable_id: int) -> list[VariableCategory]:
    rows = select(VariableCategory).where(VariableCategory.variable_id == variable_id)
    return list(session.scalars(rows.order_by(VariableCategory.position, VariableCategory.id)))


def category_ids(recorder: Recorder, variable_id: int, labels: Iterable[str]) -> dict[str, int]:
    """Ids of labels; missing ones are made, in their natural order behind the others."""
    found = {row.label: row for row in categories_of(recorder.session, variable_id)}
    for label in labels:
        if label in found and found[label].away:
            recorder.update(found[label], {"away": 0})
    by_rule = [label for label in labels if label in found and found[label].rule]
    if by_rule:
        raise BadValue(f"“{by_rule[0]}” follows from a rule; texts cannot be put into it by hand.")
    missing = sorted(set(labels) - found.keys(), key=natural)
    last = max((row.position for row in found.values()), default=-1)
    rows = [
        VariableCategory(variable_id=variable_id, label=label[:MAX_LABEL], position=last + 1 + at)
        for at, label in enumerate(missing)
    ]
    recorder.insert_many(rows)
    return {row.label: row.id for row in [*found.values(), *rows]}


def rename_category(recorder: Recorder, corpus: OpenCorpus, row: VariableCategory, label: str) -> None:
    """Give a value another name; where that is a value already, the two become one."""
    label = " ".join(label.split())[:MAX_LABEL]
    if not label:
        raise BadValue("Give the value a name.")
    same = select(VariableCategory).where(
        VariableCategory.variable_id == row.variable_id, VariableCategory.label == label
    )
    other = recorder.session.scalar(same)
    if other is None or other.id == row.id:
        before = row.label
        recorder.update(row, {"label": label})
        follow_names(recorder, f"v{row.variable_id}", {before: label} if before != label else {})
    else:
        merge_categories(recorder, corpus, [row], other)


def merge_categories(
    recorder: Recorder, corpus: OpenCorpus, rows: Sequence[VariableCategory], into: VariableCategory
) -> int:
    """Texts with any of ``rows`` get ``into`` instead; how many. Raises for sets that follow from a rule."""
    if into.rule or any(row.rule for row in rows):
        raise BadValue("A set that follows from a rule cannot be merged.")
    field = f"v{into.variable_id}"
    old = [row.id for row in rows if row.id != into.id]
    column = corpus.raw[field]
    if isinstance(column.dtype, pl.List):
        places = np.flatnonzero(
            column.list.eval(pl.element().is_in(old)).list.any().fill_null(False).to_numpy()
        )
        after: pl.Series = (
            column.gather(places)
            .to_frame("v")
            .select(
                pl.col("v")
                .list.eval(pl.element().replace(dict.fromkeys(old, into.id)))
                .list.unique(maintain_order=True)
            )["v"]
        )
    else:
        places = np.flatnonzero(column.is_in(old).fill_null(False).to_numpy())
        after = pl.Series([into.id] * len(places), dtype=pl.Int64)
    texts = recorder.values(corpus, field, changed(corpus, field, places, after))
    names = {row.label: into.label for row in rows if row.id != into.id}
    for row in rows:
        if row.id != into.id:
            recorder.delete(row)
    follow_names(recorder, field, names)
    return texts


def order_categories(recorder: Recorder, variable: Variable, ids: Sequence[int]) -> None:
    """Put the values of a variable in this order; those not named follow."""
    rows = categories_of(recorder.session, variable.id)
    place = {row_id: at for at, row_id in enumerate(ids)}
    for position, row in enumerate(sorted(rows, key=lambda row: place.get(row.id, len(ids)))):
        if row.position != position:
            recorder.update(row, {"position": position})


def delete_category(recorder: Recorder, corpus: OpenCorpus, row: VariableCategory) -> int:
    """Take a value away from all texts; how many had it."""
    field = f"v{row.variable_id}"
    column = corpus.raw[field]
    texts = 0
    if not row.rule:
        if isinstance(column.dtype, pl.List):
            places = np.flatnonzero(column.list.contains(row.id).fill_null(False).to_numpy())
            lists = column.gather(places).to_list()
            after: list[Any] = [[i for i in ids if i != row.id] or None for ids in lists]
        else:
            places = np.flatnonzero((column == row.id).fill_null(False).to_numpy())
            after = [None] * len(places)
        texts = recorder.values(corpus, field, changed(corpus, field, places, after))
    recorder.delete(row)
    return texts


def parse_value(
    kind: str, written: str | None, name: str, day_first: bool = True, decimal: str | None = None
) -> Any:
    """A value as people write it, in the form of its kind: label, labels, number, day or text; None for
    nothing. ``decimal`` is the decimal sign, judged by the value alone where nobody says. Raises BadValue."""
    text = (written or "").strip()
    if not text:
        return None
    if kind == "several":
        return (
            list(dict.fromkeys(part.strip()[:MAX_LABEL] for part in text.split(";") if part.strip())) or None
        )
    if kind == "category":
        return " ".join(text.split())[:MAX_LABEL]
    if kind == "number":
        number = parse_number(text, decimal or guess_decimal([text]))
        if number is None:
            raise BadValue(f"“{text[:60]}” is not a number; {name} holds numbers.")
        return number
    if kind == "date":
        day = parse_date(text, day_first)
        if day is None:
            raise BadValue(f"“{text[:60]}” cannot be read as a date; write it as 2031-06-03.")
        return day
    return text


def set_values(
    recorder: Recorder,
    corpus: OpenCorpus,
    field: str,
    places: np.ndarray,
    values: Sequence[Any],
    mode: str = "replace",
) -> int:
    """Give texts values (parsed, see ``parse_value``), one for each place; how many texts changed.

    With mode "add" or "remove", values of a field with several are added to those there, or taken away.
    """
    if field == "source":
        stored: Sequence[Any] | pl.Series = _sources(recorder, values)
    elif field == "date":
        stored = [None if value is None else days(value) for value in values]
    elif field == "title":
        stored = [str(value or "Without title")[:MAX_TITLE] for value in values]
    else:
        stored = _variable_values(recorder, corpus, field, places, values, mode)
    return recorder.values(corpus, field, changed(corpus, field, places, stored))


def _sources(recorder: Recorder, values: Sequence[str | None]) -> list[int | None]:
    rows = recorder.session.execute(
        select(Source.name, Source.id).where(Source.project_id == recorder.project_id)
    )
    known = {name: row_id for name, row_id in rows}
    for name in sorted({value for value in values if value} - known.keys(), key=natural):
        known[name] = recorder.insert(Source(project_id=recorder.project_id, name=name)).id
    return [known[value] if value else None for value in values]


def _variable_values(
    recorder: Recorder, corpus: OpenCorpus, field: str, places: np.ndarray, values: Sequence[Any], mode: str
) -> Sequence[Any]:
    variable = variable_of(recorder.session, recorder.project_id, int(field[1:]))
    if variable.rule:
        raise BadValue(f"“{variable.name}” follows from a rule; its values cannot be typed in.")
    if variable.kind == "date":
        return [
            None if value is None else days(value) if isinstance(value, dt.date) else value
            for value in values
        ]
    if variable.kind in ("number", "text"):
        return values
    if variable.kind == "category":
        ids = category_ids(recorder, variable.id, {value for value in values if value is not None})
        return [ids[value] if value is not None else None for value in values]
    ids = category_ids(recorder, variable.id, {part for value in values if value for part in value})
    wanted = [[ids[part] for part in value] if value else [] for value in values]
    if mode == "replace":
        return [value or None for value in wanted]
    before = corpus.raw[field].gather(places).to_list()
    if mode == "add":
        return [
            list(dict.fromkeys([*(old or []), *new])) or None for old, new in zip(before, wanted, strict=True)
        ]
    return [
        [i for i in old or [] if i not in set(new)] or None for old, new in zip(before, wanted, strict=True)
    ]


def all_values(session: Session, project_id: int) -> list[VariableCategory]:
    """The values of all variables of a project, in their order."""
    rows = (
        select(VariableCategory)
        .join(Variable)
        .where(Variable.project_id == project_id, VariableCategory.away == 0)
    )
    return list(session.scalars(rows.order_by(VariableCategory.position, VariableCategory.id)))


def value_of(session: Session, project_id: int, value_id: int) -> VariableCategory:
    """Raises NotFound where the project has no such value."""
    row = session.get(VariableCategory, value_id)
    if row is None:
        raise NotFound("There is no such value in this project.")
    variable_of(session, project_id, row.variable_id)
    return row
