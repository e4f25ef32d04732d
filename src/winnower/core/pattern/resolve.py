"""Find the forms of a vocabulary that a word of a term stands for."""

from __future__ import annotations

import re
from functools import lru_cache

import numpy as np
import polars as pl

from winnower.core.index import Segment
from winnower.core.pattern.term import Piece, Term
from winnower.core.tokens import bare, fold
from winnower.core.tokens.forms import plain_apostrophes

_LAST = "\U0010ffff"


def resolve(term: Term, segment: Segment) -> tuple[np.ndarray, ...]:
    """For each word of the term the matching forms of the segment: int arrays, sorted, may be empty."""
    return tuple(
        _resolve_piece(segment, piece, term.match_case, term.ignore_accents) for piece in term.pieces
    )


@lru_cache(maxsize=200_000)
def _resolve_piece(segment: Segment, piece: Piece, match_case: bool, bare_form: bool) -> np.ndarray:
    """Segments never change, so what a word stands for in one is remembered."""
    table = segment.vocabulary
    if bare_form:
        rows = _rows(_matches(table["bare"], piece, bare))
    else:
        rows = _by_fold(table["fold"], piece)
    if match_case and len(rows):
        surface = [plain_apostrophes(form) for form in table["surface"].gather(rows).to_list()]
        surface = [bare_keep_case(form) for form in surface] if bare_form else surface
        wanted = _expression(piece, bare_keep_case if bare_form else plain_apostrophes)
        rows = rows[np.fromiter((bool(wanted.fullmatch(s)) for s in surface), bool, len(rows))]
    rows.flags.writeable = False
    return rows


def _by_fold(folds: pl.Series, piece: Piece) -> np.ndarray:
    """Rows whose fold matches; exact words and beginnings are one stretch of the sorted column."""
    written = _map_letters(piece.form, fold) if piece.open else fold(piece.form)
    if not piece.open:
        return _stretch(folds, written, written, last_side="right")
    head = re.split(r"[*?]", written, maxsplit=1)[0]
    if written == head + "*":
        return _stretch(folds, head, head + _LAST, last_side="left")
    if not head:
        return _rows(_matches(folds, piece, fold))
    rows = _stretch(folds, head, head + _LAST, last_side="left")
    if not len(rows):
        return rows
    inside = _matches(folds.slice(int(rows[0]), len(rows)), piece, fold)
    return rows[inside.to_numpy()]


def _stretch(folds: pl.Series, first: str, last: str, *, last_side) -> np.ndarray:
    low = folds.search_sorted(first, side="left")
    high = folds.search_sorted(last, side=last_side)
    return np.arange(low, high, dtype=np.int64)


def _matches(column: pl.Series, piece: Piece, form) -> pl.Series:
    if not piece.open:
        return column == form(piece.form)
    return column.str.contains(f"^(?s:{_expression(piece, form).pattern})$")


def _rows(mask: pl.Series) -> np.ndarray:
    return np.flatnonzero(mask.to_numpy())


def _expression(piece: Piece, form) -> re.Pattern[str]:
    if not piece.open:
        return re.compile(re.escape(form(piece.form)))
    parts = re.split(r"([*?])", piece.form)
    signs = {"*": ".*", "?": "."}
    return re.compile("".join(signs.get(part) or re.escape(form(part)) for part in parts), re.S)


def _map_letters(written: str, form) -> str:
    return "".join(part if part in "*?" else form(part) for part in re.split(r"([*?])", written))


def bare_keep_case(form: str) -> str:
    """A form without accents, in its own case."""
    return "".join(bare(c) if c.islower() else bare(c).upper() for c in form)
