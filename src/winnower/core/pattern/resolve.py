"""Find the forms of a vocabulary that a word of a term stands for."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from typing import Literal, NamedTuple

import numpy as np
import polars as pl

from winnower.core.index import Segment
from winnower.core.pattern.term import Piece, Term
from winnower.core.tokens import bare, fold
from winnower.core.tokens.forms import plain_apostrophes
from winnower.core.tokens.lemmas import lemma_of

_LAST = "\U0010ffff"
_BEGINNING = re.compile(r"[^*?]+\*\Z")
_BETWEEN = "\x01"  # no token holds it
_BEYOND_ASCII = re.compile(r"[^\x00-\x7f]+")


class Letters(NamedTuple):
    """How letters are compared: the options of a term."""

    match_case: bool = False
    ignore_accents: bool = False
    forms_of: str = ""

    @classmethod
    def of(cls, term: Term) -> Letters:
        return cls(term.match_case, term.ignore_accents, term.forms_of)


def resolve(segment: Segment, piece: Piece, letters: Letters) -> np.ndarray:
    """The rows of the segment's vocabulary that the word stands for: int64, sorted, may be empty."""
    found: np.ndarray = segment.remember((piece, letters), lambda: _resolve(segment, piece, letters))
    return found


def _resolve(segment: Segment, piece: Piece, letters: Letters) -> np.ndarray:
    if piece.kind == "expression":
        rows = _by_expression(segment, piece.form, letters)
    elif piece.kind == "word" and letters.forms_of:
        rows = _by_lemma(segment, piece.form, letters)
    else:
        rows = _by_letters(segment, piece, letters)
    rows.flags.writeable = False
    return rows


class Singles:
    """Terms of single words, to be resolved in many segments at once.

    Plain words and beginnings without options, the bulk of any dictionary, are looked up together;
    the others one by one.
    """

    def __init__(self, terms: Iterable[Term]) -> None:
        words = _words_of(terms)
        self._others = words.others
        self._first, self._last = _BETWEEN.join(words.first), _BETWEEN.join(words.last)

    def forms(self, segment: Segment) -> np.ndarray:
        """The rows of the segment's vocabulary that any of the terms stands for: int64, sorted, each once."""
        found = [resolve(segment, piece, letters) for _, piece, letters in self._others]
        if self._first:
            key = self._first, self._last
            found.append(segment.remember(key, lambda: _stretches(segment, *key)))
        if len(found) == 1:
            return found[0]
        return np.unique(np.concatenate(found)) if found else np.empty(0, np.int64)


def _stretches(segment: Segment, first: str, last: str) -> np.ndarray:
    """Rows from each of the folds ``first`` to before those of ``last`` (joined), sorted, each once."""
    rows = np.unique(_between(segment, first.split(_BETWEEN), last.split(_BETWEEN))[0])
    rows.flags.writeable = False
    return rows


def _between(segment: Segment, first: list[str], last: list[str]) -> tuple[np.ndarray, np.ndarray]:
    """Rows from each fold ``first`` to before its ``last``, one stretch after the other, and their number."""
    at = segment.vocabulary["fold"].search_sorted(pl.Series(first + last, dtype=pl.String)).to_numpy()
    low = at[: len(first)].astype(np.int64)
    size = at[len(first) :].astype(np.int64) - low
    return np.arange(int(size.sum())) + np.repeat(low - (np.cumsum(size) - size), size), size


def rows_of_each(terms: Sequence[Term], segment: Segment) -> tuple[np.ndarray, np.ndarray]:
    """What each of many single-word terms stands for: places of the terms and rows of the segment's
    vocabulary, both int64, by term and row, each pair once."""
    words = _words_of(terms)
    of, rows = [np.empty(0, np.int64)], [np.empty(0, np.int64)]
    if words.first:
        found, size = _between(segment, words.first, words.last)
        of.append(np.repeat(np.array(words.of, np.int64), size))
        rows.append(found)
    for at, piece, letters in words.others:
        rows.append(resolve(segment, piece, letters))
        of.append(np.full(len(rows[-1]), at, np.int64))
    pairs = np.unique(np.concatenate(of) * max(segment.n_forms, 1) + np.concatenate(rows))
    return pairs // max(segment.n_forms, 1), pairs % max(segment.n_forms, 1)


class _Words(NamedTuple):
    """Words of terms: stretches of folds from ``first`` to before ``last`` of the term ``of``, and others
    with the place of their term."""

    of: list[int]
    first: list[str]
    last: list[str]
    others: list[tuple[int, Piece, Letters]]


def _words_of(terms: Iterable[Term]) -> _Words:
    words = _Words([], [], [], [])
    for at, term in enumerate(terms):
        plain = not (term.match_case or term.ignore_accents or term.forms_of)
        for option in term.head.options:
            piece = option.items[0]
            assert isinstance(piece, Piece)
            beginning = piece.kind == "open" and _BEGINNING.match(piece.form)
            if not plain or not (piece.kind == "word" or beginning):
                words.others.append((at, piece, Letters.of(term)))
                continue
            words.of.append(at)
            words.first.append(fold(piece.form[:-1] if beginning else piece.form))
            words.last.append(words.first[-1] + (_LAST if beginning else "\0"))
    return words


def _by_letters(segment: Segment, piece: Piece, letters: Letters) -> np.ndarray:
    table = segment.vocabulary
    if letters.ignore_accents:
        rows = _rows(_matches(table["bare"], piece, bare))
    else:
        rows = _by_fold(table["fold"], piece)
        if "?" in piece.form:
            rows = np.union1d(rows, _by_shape(segment, piece))
    if letters.match_case and len(rows):
        compared = bare_keep_case if letters.ignore_accents else plain_apostrophes
        surface = [plain_apostrophes(form) for form in table["surface"].gather(rows).to_list()]
        if letters.ignore_accents:
            surface = [bare_keep_case(form) for form in surface]
        rows = rows[_matches(pl.Series(surface, dtype=pl.String), piece, compared).to_numpy()]
    return rows


def _by_expression(segment: Segment, expression: str, letters: Letters) -> np.ndarray:
    """A regular expression for the whole token, in the form that the options compare. Its own letters are brought
    into that form, too, so that ß, İ or a typographic apostrophe finds what it would find in a plain word."""
    table = segment.vocabulary
    if letters.match_case:
        column = pl.Series([plain_apostrophes(form) for form in table["surface"].to_list()], dtype=pl.String)
        if letters.ignore_accents:
            column = pl.Series([bare_keep_case(form) for form in column.to_list()], dtype=pl.String)
        return _rows(column.str.contains(f"^(?s:{_foreign(expression, plain_apostrophes)})$"))
    column = table["bare" if letters.ignore_accents else "fold"]
    written = _foreign(expression, bare if letters.ignore_accents else fold)
    return _rows(column.str.contains(f"^(?is:{written})$"))


def _foreign(expression: str, form: Callable[[str], str]) -> str:
    """Letters beyond ASCII in the form that is compared; what an expression is made of is ASCII."""
    return _BEYOND_ASCII.sub(lambda found: form(found[0]), expression)


def _by_lemma(segment: Segment, form: str, letters: Letters) -> np.ndarray:
    lemmas = segment.brought_together(letters.forms_of, "lemma")
    wanted = lemma_of(fold(form), letters.forms_of)
    if letters.ignore_accents:
        return _rows(pl.Series([bare(lemma) for lemma in lemmas.to_list()]) == bare(wanted))
    return _rows(lemmas == wanted)


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
    found: np.ndarray = rows[inside.to_numpy()]
    return found


def _by_shape(segment: Segment, piece: Piece) -> np.ndarray:
    """Rows that match letter for letter as they are written in lower case, where that is not their fold: the ß of
    Straße is one letter for a ?, although it folds to two."""

    def unlike() -> tuple[np.ndarray, pl.Series]:
        lower = pl.Series(
            [plain_apostrophes(form).lower() for form in segment.vocabulary["surface"].to_list()]
        )
        rows = _rows(lower.cast(pl.String) != segment.vocabulary["fold"])
        return rows, lower.gather(rows)

    rows, lower = segment.remember("written unlike their fold", unlike)
    if not len(rows):
        return np.empty(0, np.int64)
    found: np.ndarray = rows[_matches(lower, piece, str.lower).to_numpy()]
    return found


def _stretch(folds: pl.Series, first: str, last: str, *, last_side: Literal["left", "right"]) -> np.ndarray:
    low = folds.search_sorted(first, side="left")
    high = folds.search_sorted(last, side=last_side)
    return np.arange(low, high, dtype=np.int64)


def _matches(column: pl.Series, piece: Piece, form: Callable[[str], str]) -> pl.Series:
    if not piece.open:
        found: pl.Series = column == form(piece.form)
        return found
    # matched by an engine whose time grows with the length of the word alone, however many signs there are
    return column.str.contains(f"^(?s:{_expression(piece, form)})$")


def _rows(mask: pl.Series) -> np.ndarray:
    return np.flatnonzero(mask.to_numpy())


def _expression(piece: Piece, form: Callable[[str], str]) -> str:
    parts = re.split(r"([*?])", re.sub(r"\*{2,}", "*", piece.form))
    signs = {"*": ".*", "?": "."}
    return "".join(signs.get(part) or re.escape(form(part)) for part in parts)


def _map_letters(written: str, form: Callable[[str], str]) -> str:
    return "".join(part if part in "*?" else form(part) for part in re.split(r"([*?])", written))


def bare_keep_case(form: str) -> str:
    """A form without accents, in its own case."""
    return "".join(bare(c) if c.islower() else bare(c).upper() for c in form)
