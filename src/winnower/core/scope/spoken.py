"""A scope in words, for exports and reports."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping

from winnower.core.scope.conditions import (
    Between,
    Condition,
    During,
    Finds,
    HasTerm,
    HasValue,
    Inside,
    InTitle,
    Matches,
    Scope,
)

#: So many values of a condition are named.
MOST_NAMED = 8


def scope_in_words(scope: Scope, names: Mapping[str, str]) -> str:
    """Which texts a scope takes: "Source is Hill Farmer or Orrin Courier; Date from 2031-05-01". ``names`` are those
    of the fields.

    >>> scope_in_words(Scope((HasValue("source", ("Hill Farmer", None)), HasTerm(("lamb*",), exclude=True))), {"source": "Source"})
    'Source is Hill Farmer or no value; without “lamb*”'
    >>> scope_in_words(Scope(), {})
    'all texts'
    """
    return "; ".join(_said(one, names) for one in scope.conditions) or "all texts"


def _said(one: Condition, names: Mapping[str, str]) -> str:
    if isinstance(one, HasValue):
        listed = _listed([value if value is not None else "no value" for value in one.values])
        return f"{names.get(one.field, one.field)} is {'not ' if one.exclude else ''}{listed}"
    if isinstance(one, (Between, During)):
        name, low, high = names.get(one.field, one.field), _end(one.low), _end(one.high)
        if low is not None and high is not None:
            return f"{name} {'not ' if one.exclude else ''}from {low} to {high}"
        if low is not None:
            return f"{name} {'before' if one.exclude else 'from'} {low}{'' if one.exclude else ' on'}"
        return f"{name} {'after' if one.exclude else 'up to'} {high}"
    without = "without" if one.exclude else "with"
    if isinstance(one, HasTerm):
        return f"{without} {_listed([f'“{term}”' for term in one.terms])}"
    if isinstance(one, InTitle):
        return (
            f"{names.get(one.field, one.field)} {'without' if one.exclude else 'contains'} “{one.contains}”"
        )
    if isinstance(one, Finds):
        return f"{without} the words “{one.words}”"
    if isinstance(one, Matches):
        return f"{'not found' if one.exclude else 'found'} by the search “{one.query}”"
    assert isinstance(one, Inside)
    return f"only the words {'not ' if one.exclude else ''}under {_listed(one.codes)}"


def _end(end: float | dt.date | None) -> str | None:
    return f"{end:g}" if isinstance(end, (int, float)) else None if end is None else str(end)


def _listed(values: list[str] | tuple[str, ...]) -> str:
    more = len(values) - MOST_NAMED
    named = [*values[:MOST_NAMED], *([f"{more:,} more"] if more > 0 else [])]
    return " or ".join([", ".join(named[:-1]), named[-1]] if len(named) > 1 else named)
