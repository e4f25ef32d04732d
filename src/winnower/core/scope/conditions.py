"""The scope: which texts are looked at, as conditions that all hold."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from annotated_types import Ge, Le, Len

from winnower.core.errors import ScopeError
from winnower.core.index import TokenIndex
from winnower.core.pattern import (
    Piece,
    Term,
    find_term,
    matching_texts,
    parse_query,
    parse_term,
    term_of_words,
)
from winnower.core.scope.columns import (
    NO_DATE,
    CategoryColumn,
    Column,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
    TextColumn,
)
from winnower.core.tokens import fold, tokens_of

_EPOCH = dt.date(1970, 1, 1)
MAX_WORDS = 20
#: A number that can be compared: no infinity, none that is no number.
Finite = Annotated[float, Ge(-1e300), Le(1e300)]


class _Plain:
    """A condition or target in its plain form takes no other keys than its own."""

    __pydantic_config__: ClassVar = {"extra": "forbid"}


@dataclass(frozen=True)
class HasValue(_Plain):
    """The field has one of the values; None among them stands for "no value"."""

    field: str
    values: Annotated[tuple[str | None, ...], Len(1, 2_000)]
    exclude: bool = False
    kind: Literal["values"] = "values"


@dataclass(frozen=True)
class Between(_Plain):
    """The number lies between two values, both included; None leaves a side open."""

    field: str
    low: Finite | None = None
    high: Finite | None = None
    exclude: bool = False
    kind: Literal["numbers"] = "numbers"


@dataclass(frozen=True)
class During(_Plain):
    """The date lies between two days, both included; None leaves a side open."""

    field: str
    low: dt.date | None = None
    high: dt.date | None = None
    exclude: bool = False
    kind: Literal["dates"] = "dates"


@dataclass(frozen=True)
class HasTerm(_Plain):
    """The text has at least one hit of one of the terms."""

    terms: Annotated[tuple[str, ...], Len(1, 200)]
    exclude: bool = False
    kind: Literal["terms"] = "terms"


@dataclass(frozen=True)
class InTitle(_Plain):
    """The title, or a variable of type text, contains these characters; case is ignored."""

    contains: Annotated[str, Len(1, 300)]
    field: str = "title"
    exclude: bool = False
    kind: Literal["title"] = "title"


@dataclass(frozen=True)
class Finds(_Plain):
    """The words stand in the title, or in a row in the body (the last may be a beginning); case ignored."""

    words: Annotated[str, Len(1, 300)]
    exclude: bool = False
    kind: Literal["finds"] = "finds"


@dataclass(frozen=True)
class Matches(_Plain):
    """The text is found by a search: terms joined by AND, OR, NOT (see pattern/query.py)."""

    query: Annotated[str, Len(1, 2_000)]
    exclude: bool = False
    kind: Literal["matches"] = "matches"


@dataclass(frozen=True)
class Inside(_Plain):
    """Only the words inside passages under one of the codes are counted; with ``exclude`` all words but those.

    As a condition on texts it holds for those with such a passage, with ``exclude`` for all.
    """

    codes: Annotated[tuple[str, ...], Len(1, 300)]
    field: Literal["codes"] = "codes"
    exclude: bool = False
    kind: Literal["inside"] = "inside"


Condition = HasValue | Between | During | HasTerm | InTitle | Finds | Matches | Inside


@dataclass(frozen=True)
class Scope:
    """The texts for which all conditions hold; without conditions, all texts."""

    conditions: tuple[Condition, ...] = ()


def fields_of(scope: Scope) -> frozenset[str]:
    """Keys of the fields that decide whether a text is in a scope."""
    named = {condition.field for condition in scope.conditions if hasattr(condition, "field")}
    titles = {"title" for condition in scope.conditions if isinstance(condition, Finds)}
    return frozenset(named | titles)


def scope_mask(scope: Scope, columns: Columns, index: TokenIndex, aside: bool = False) -> np.ndarray:
    """bool per text. Excluded texts are left out unless ``aside`` or a condition speaks of them.

    Raises ScopeError or TermError where a condition does not fit the corpus.
    """
    mask = np.ones(columns.n_texts, bool)
    asked = any(getattr(condition, "field", None) == columns.aside for condition in scope.conditions)
    if columns.aside and not aside and not asked:
        mask = missing(columns.field(columns.aside))
    for condition in scope.conditions:
        holds = _holds(condition, columns, index)
        if isinstance(condition, Inside) and condition.exclude:
            continue  # it leaves out words, not texts
        mask &= ~holds if condition.exclude else holds
    return mask


def _holds(condition: Condition, columns: Columns, index: TokenIndex) -> np.ndarray:
    if isinstance(condition, HasTerm):
        return _has_term(tuple(parse_term(source) for source in condition.terms), index)
    if isinstance(condition, Matches):
        return matching_texts(parse_query(condition.query), index)
    if isinstance(condition, Finds):
        return _finds(condition.words, columns, index)
    column = columns.field(condition.field)
    if isinstance(condition, Inside):
        return _has_value(HasValue("codes", condition.codes), column, columns.names["codes"])
    if isinstance(condition, HasValue):
        return _has_value(condition, column, columns.names[condition.field])
    if isinstance(condition, During):
        return _during(condition, column, columns.names[condition.field])
    if isinstance(condition, Between):
        return _between(condition, column, columns.names[condition.field])
    if not isinstance(column, TextColumn):
        raise ScopeError(f"“{columns.names[condition.field]}” holds no free text to search in.")
    return _contains(column, condition.contains)


def _contains(column: TextColumn, words: str) -> np.ndarray:
    lower = column.values.str.to_lowercase()
    return lower.str.contains(words.lower(), literal=True).fill_null(False).to_numpy()


def _finds(words: str, columns: Columns, index: TokenIndex) -> np.ndarray:
    title = columns.field("title")
    assert isinstance(title, TextColumn)
    found = _contains(title, words.strip())
    forms = [form for form, _ in tokens_of(words)]
    if not forms or len(forms) > MAX_WORDS:
        return found
    pieces = [Piece(fold(form)) for form in forms]
    if words[-1:].isalnum() and len(fold(forms[-1])) > 1:
        pieces[-1] = Piece(fold(forms[-1]) + "*", "open")
    answer: np.ndarray = found | _has_term((term_of_words(words, tuple(pieces)),), index)
    return answer


def _has_value(condition: HasValue, column: Column, name: str) -> np.ndarray:
    if isinstance(column, CategoryColumn):
        wanted = np.zeros(len(column.labels) + 1, bool)  # the last place stands for "no value"
        wanted[_places(condition, column.labels, name)] = True
        wanted[-1] = None in condition.values
        answer: np.ndarray = wanted[column.codes]
        return answer
    if isinstance(column, SeveralColumn):
        wanted = np.zeros(len(column.labels), bool)
        wanted[_places(condition, column.labels, name)] = True
        seen = np.concatenate([[0], np.cumsum(wanted[column.codes])])
        found = seen[column.start[1:]] > seen[column.start[:-1]]
        result: np.ndarray = found | (np.diff(column.start) == 0) if None in condition.values else found
        return result
    if condition.values == (None,):
        return missing(column)
    raise ScopeError(f"“{name}” is not a category; give a range instead.")


def missing(column: Column) -> np.ndarray:
    """bool per text: the field has no value."""
    if isinstance(column, CategoryColumn):
        return column.codes < 0
    if isinstance(column, SeveralColumn):
        found: np.ndarray = np.diff(column.start) == 0
        return found
    if isinstance(column, NumberColumn):
        answer: np.ndarray = np.isnan(column.values)
        return answer
    if isinstance(column, DateColumn):
        result: np.ndarray = column.days == NO_DATE
        return result
    return column.values.is_null().to_numpy()


def _places(condition: HasValue, labels: tuple[str, ...], name: str) -> list[int]:
    place = {label: at for at, label in enumerate(labels)}
    unknown = [value for value in condition.values if value is not None and value not in place]
    if unknown:
        raise ScopeError(f"“{name}” has no value “{unknown[0]}”.")
    return [place[value] for value in condition.values if value is not None]


def _between(condition: Between, column: Column, name: str) -> np.ndarray:
    if isinstance(column, DateColumn):
        raise ScopeError(f"“{name}” is a date; give its range as dates.")
    if not isinstance(column, NumberColumn):
        raise ScopeError(f"“{name}” is neither a number nor a date; choose values instead.")
    return _inside(column.values, ~np.isnan(column.values), condition.low, condition.high, name)


def _during(condition: During, column: Column, name: str) -> np.ndarray:
    if not isinstance(column, DateColumn):
        raise ScopeError(f"“{name}” is not a date and has no range of days.")
    low, high = (None if day is None else (day - _EPOCH).days for day in (condition.low, condition.high))
    return _inside(column.days, column.days != NO_DATE, low, high, name)


def _inside(
    values: np.ndarray, has: np.ndarray, low: float | None, high: float | None, name: str
) -> np.ndarray:
    if low is not None and high is not None and low > high:
        raise ScopeError(f"The range of “{name}” begins after its end.")
    holds = has.copy()
    if low is not None:
        holds &= values >= low
    if high is not None:
        holds &= values <= high
    return holds


def _has_term(terms: tuple[Term, ...], index: TokenIndex) -> np.ndarray:
    found = np.zeros(index.n_texts, bool)
    for term in terms:
        for segment, base in zip(index.segments, index.base, strict=False):
            found[segment.text_of[find_term(term, segment).start] + base] = True
    return found
