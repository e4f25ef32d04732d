"""Fields that follow from rules: derived variables, sets by rule, subcorpora as a field.

A rule is stored as plain values; a derived variable's is one of

    {"derive": "bands", "field": key, "cuts": [..]}
    {"derive": "period", "field": key, "period": ..}
    {"derive": "fits", "scope": [conditions]}
    {"derive": "category", "category_id": .., "count": true|false}

A set's rule and a subcorpus' scope are lists of conditions.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import ScopeError, WinnowerError
from winnower.core.index import TokenIndex
from winnower.core.pattern import Term, parse_term
from winnower.core.scope import (
    Bands,
    CategoryColumn,
    Columns,
    Fits,
    OfTerms,
    Period,
    Rule,
    Scope,
    SeveralColumn,
    derive,
    scope_from_plain,
    scope_mask,
    scope_to_plain,
    with_rules,
)
from winnower.core.scope.columns import CODING, Column
from winnower.store.models import (
    CategoryRow,
    DictionaryRow,
    Project,
    Subcorpus,
    TermRow,
    Variable,
    VariableCategory,
)

log = logging.getLogger("winnower")
SUBCORPORA = "subcorpora"


def add_rules(
    session: Session,
    project: Project,
    columns: Columns,
    index: TokenIndex,
    variables: list[Variable],
    roles: dict[str, str],
) -> tuple[Columns, dict[str, str]]:
    """Columns with all fields that follow from rules; why a rule no longer fits, by field or set.

    Sets come first, then derived variables in their order, so that one may build on those before it;
    subcorpora come last.
    """
    broken: dict[str, str] = {}
    if "sets" in roles:
        columns = _with_sets(session, columns, index, roles["sets"], broken)
    for variable in variables:
        if variable.rule:
            key = f"v{variable.id}"
            try:
                column: Column = derive(rule_from_plain(session, project.id, variable.rule), columns, index)
            except (WinnowerError, KeyError, TypeError, ValueError) as error:
                broken[key] = (
                    error.message if isinstance(error, WinnowerError) else "The rule cannot be read."
                )
                log.warning("variable %s: %s", variable.name, broken[key])
                column = CategoryColumn(np.full(columns.n_texts, -1, np.int32), ())
            columns = replace(columns, fields={**columns.fields, key: column})
    kept = session.scalars(
        select(Subcorpus).where(Subcorpus.project_id == project.id).order_by(Subcorpus.name)
    ).all()
    if kept:
        rules = [(row.name, _mask(row.scope, columns, index)) for row in kept]
        empty = SeveralColumn(np.zeros(columns.n_texts + 1, np.int64), np.empty(0, np.int32), ())
        column, reasons = with_rules(empty, rules)
        broken |= {f"subcorpus {name}": reason for name, reason in reasons.items()}
        columns = replace(
            columns,
            fields={**columns.fields, SUBCORPORA: column},
            names={**columns.names, SUBCORPORA: "Subcorpus"},
        )
    # fields in the order of the variables, whether they follow from a rule or not
    order = [key for key in columns.names if key in columns.fields]
    return replace(columns, fields={key: columns.fields[key] for key in order}), broken


def _with_sets(
    session: Session, columns: Columns, index: TokenIndex, key: str, broken: dict[str, str]
) -> Columns:
    rows = session.scalars(
        select(VariableCategory)
        .where(VariableCategory.variable_id == int(key[1:]))
        .order_by(VariableCategory.position, VariableCategory.id)
    ).all()
    by_rule = [row for row in rows if row.rule]
    if not by_rule:
        return columns
    column = columns.fields[key]
    assert isinstance(column, SeveralColumn)
    column, reasons = with_rules(
        column, [(row.label, _mask(row.rule or [], columns, index)) for row in by_rule]
    )
    broken |= {f"set {label}": reason for label, reason in reasons.items()}
    return replace(columns, fields={**columns.fields, key: column})


def _mask(conditions: list[dict[str, Any]], columns: Columns, index: TokenIndex) -> Callable[[], np.ndarray]:
    def make() -> np.ndarray:
        try:
            return scope_mask(scope_from_plain(conditions), columns, index, aside=True)
        except ScopeError:
            raise
        except WinnowerError as error:
            raise ScopeError(error.message) from error
        except (KeyError, TypeError, ValueError) as error:
            raise ScopeError("A condition of this rule does not fit the corpus any more.") from error

    return make


def rule_from_plain(session: Session, project_id: int, given: dict[str, Any]) -> Rule:
    """A derived variable's rule. Raises ScopeError where what it builds on is gone."""
    kind = given.get("derive")
    if kind == "bands":
        return Bands(given["field"], tuple(float(cut) for cut in given["cuts"]))
    if kind == "period":
        return Period(given["field"], given["period"])
    if kind == "fits":
        return Fits(scope_from_plain(given["scope"]))
    if kind == "category":
        return OfTerms(_terms(session, project_id, int(given["category_id"])), bool(given.get("count")))
    raise ScopeError(f"There is no rule of the kind “{kind}”.")


def _terms(session: Session, project_id: int, category_id: int) -> tuple[Term, ...]:
    """Terms of a category of the project and of all below it."""
    root = session.get(CategoryRow, category_id)
    if root is None or session.get_one(DictionaryRow, root.dictionary_id).project_id != project_id:
        raise ScopeError("The dictionary category this follows from is gone.")
    rows = session.execute(
        select(CategoryRow.id, CategoryRow.parent_id).where(CategoryRow.dictionary_id == root.dictionary_id)
    ).all()
    wanted = {category_id}
    grown = True
    while grown:
        found = {row.id for row in rows if row.parent_id in wanted} - wanted
        wanted |= found
        grown = bool(found)
    terms = session.scalars(select(TermRow).where(TermRow.category_id.in_(wanted)))
    return tuple(
        parse_term(
            t.source,
            match_case=bool(t.match_case),
            ignore_accents=bool(t.ignore_accents),
            forms_of=t.forms_of,
        )
        for t in terms
    )


def rule_of_set(variable: Variable, rule: Scope) -> list[dict[str, Any]]:
    """The plain form of a set's rule. Raises where it speaks of sets or subcorpora, which follow from rules."""
    plain = scope_to_plain(rule)
    if any(condition.get("field") in (f"v{variable.id}", "subcorpora") for condition in plain):
        raise WinnowerError("The rule of a set cannot speak of sets or subcorpora.")
    if any(condition.get("field") in CODING for condition in plain):
        raise WinnowerError(
            "The rule of a set cannot speak of codes, which change with every act of coding. Narrow to the code "
            "and make a set of those texts as they are now."
        )
    return plain


def kind_of_rule(given: dict[str, Any]) -> str:
    """The kind of the variable a rule makes."""
    return "number" if given.get("derive") == "category" and given.get("count") else "category"


def uses_dictionary(session: Session, project_id: int) -> bool:
    """Whether a variable of the project follows from a dictionary category."""
    rules = session.scalars(select(Variable.rule).where(Variable.project_id == project_id)).all()
    return any(rule and rule.get("derive") == "category" for rule in rules)
