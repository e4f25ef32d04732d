"""Fields made from other fields by a rule; they are computed anew with every revision.

Bands and periods are categories; "has" and "finds" are yes or no; "counts" is a number.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from winnower.core.dictionary.hits import texts_of_hits
from winnower.core.errors import ScopeError
from winnower.core.index import TokenIndex
from winnower.core.pattern import Term
from winnower.core.scope.columns import (
    NO_DATE,
    CategoryColumn,
    Column,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
)
from winnower.core.scope.conditions import Scope, scope_mask
from winnower.core.scope.split import MAX_GROUPS, PERIODS, period_label, period_number

YES_NO = ("yes", "no")
MAX_CUTS = 50


@dataclass(frozen=True)
class Bands:
    """Numbers cut into bands; each cut is the lowest number of the band above it."""

    field: str
    cuts: tuple[float, ...]


@dataclass(frozen=True)
class Period:
    """Dates cut into days, weeks, months, quarters or years."""

    field: str
    period: str


@dataclass(frozen=True)
class Fits:
    """Whether a text fits conditions: values of a field, a set, words."""

    scope: Scope


@dataclass(frozen=True)
class OfTerms:
    """Hits of a dictionary category: whether a text has any (``count`` False), or how many."""

    terms: tuple[Term, ...]
    count: bool


Rule = Bands | Period | Fits | OfTerms


def derive(rule: Rule, columns: Columns, index: TokenIndex) -> Column:
    """The column of a rule. Raises ScopeError where it does not fit the corpus."""
    if isinstance(rule, Bands):
        return _bands(rule, columns)
    if isinstance(rule, Period):
        return _period(rule, columns)
    if isinstance(rule, Fits):
        return _yes_no(scope_mask(rule.scope, columns, index, aside=True))
    counts = np.bincount(texts_of_hits(rule.terms, index), minlength=columns.n_texts)
    if rule.count:
        return NumberColumn(counts.astype(np.float64))
    return _yes_no(counts > 0)


def _yes_no(holds: np.ndarray) -> CategoryColumn:
    return CategoryColumn(np.where(holds, 0, 1).astype(np.int32), YES_NO)


def _bands(rule: Bands, columns: Columns) -> CategoryColumn:
    column = columns.field(rule.field)
    if not isinstance(column, NumberColumn):
        raise ScopeError(f"“{columns.names[rule.field]}” is not a number and cannot be cut into bands.")
    codes = np.searchsorted(np.asarray(rule.cuts), column.values, side="right").astype(np.int32)
    codes[np.isnan(column.values)] = -1
    whole = bool(np.all(np.mod(column.values[~np.isnan(column.values)], 1) == 0))
    return CategoryColumn(codes, band_labels(rule.cuts, whole))


def band_labels(cuts: Sequence[float], whole: bool) -> tuple[str, ...]:
    """How bands are written, whole numbers with both ends.

    >>> band_labels((18, 35), True)
    ('under 18', '18 to 34', '35 and over')
    """
    if not cuts or list(cuts) != sorted(set(cuts)) or len(cuts) > MAX_CUTS:
        raise ScopeError(f"Give one to {MAX_CUTS} cuts in rising order.")
    out = [f"under {cuts[0]:g}"]
    for low, high in zip(cuts, cuts[1:], strict=False):
        if whole and float(low).is_integer() and float(high).is_integer():
            out.append(f"{low:g} to {high - 1:g}" if high - 1 > low else f"{low:g}")
        else:
            out.append(f"{low:g} to under {high:g}")
    return (*out, f"{cuts[-1]:g} and over")


def _period(rule: Period, columns: Columns) -> CategoryColumn:
    column = columns.field(rule.field)
    if not isinstance(column, DateColumn):
        raise ScopeError(f"“{columns.names[rule.field]}” is not a date and has no periods.")
    if rule.period not in PERIODS:
        raise ScopeError(f"“{rule.period}” is no period; choose {', '.join(PERIODS)}.")
    has = column.days != NO_DATE
    codes = np.full(len(column.days), -1, np.int32)
    if not has.any():
        return CategoryColumn(codes, ())
    found, places = np.unique(period_number(column.days[has], rule.period), return_inverse=True)
    if len(found) > MAX_GROUPS:
        raise ScopeError(f"That gives {len(found):,} periods; at most {MAX_GROUPS:,} can be compared.")
    codes[has] = places
    return CategoryColumn(codes, tuple(period_label(int(number), rule.period) for number in found))


def with_rules(
    column: SeveralColumn, rules: Sequence[tuple[str, Callable[[], np.ndarray]]]
) -> tuple[SeveralColumn, dict[str, str]]:
    """A column of sets with further sets whose texts follow from a rule (bool per text).

    Also the reason for each set whose rule no longer fits the corpus; it is left empty.
    """
    labels = list(column.labels)
    texts = [np.repeat(np.arange(len(column.start) - 1), np.diff(column.start))]
    codes = [column.codes]
    reasons: dict[str, str] = {}
    for label, rule in rules:
        try:
            members = np.flatnonzero(rule())
        except ScopeError as error:
            reasons[label] = error.message
            members = np.empty(0, np.int64)
        if label not in labels:
            labels.append(label)
        texts.append(members)
        codes.append(np.full(len(members), labels.index(label), np.int32))
    text, code = np.concatenate(texts), np.concatenate(codes).astype(np.int32)
    order = np.lexsort((code, text))
    counts = np.bincount(text, minlength=len(column.start) - 1)
    start = np.concatenate([[0], np.cumsum(counts)]).astype(np.int64)
    return SeveralColumn(start, code[order], tuple(labels)), reasons
