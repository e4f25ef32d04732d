"""Which rows of a word list are shown, and in which order."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.pattern import Piece, as_one_term, parse_query, write_piece
from winnower.core.pattern.parse import MAX_CHARS
from winnower.core.words.frequency import MOST_FORMS, WordCounts

SORTS = ("hits", "texts", "evenness", "name", "group")


@dataclass(frozen=True)
class Pick:
    """Limits, what to find, and the order.

    kinds         codes of lexicon.KINDS; empty for all
    find          characters in the name; * and ? as in terms
    group         the group whose rate sorts, where ``sort`` is "group"
    """

    kinds: tuple[int, ...] = ()
    least_hits: int = 1
    least_texts: int = 1
    least_chars: int = 1
    find: str = ""
    sort: str = "hits"
    group: int = 0
    descending: bool = True


def pick_rows(counts: WordCounts, pick: Pick, left_out: np.ndarray) -> np.ndarray:
    """Rows in order. ``left_out`` are rows (the stop list); ties go by alphabet."""
    keep = (counts.hits >= pick.least_hits) & (counts.texts >= pick.least_texts)
    keep[left_out] = False
    if pick.kinds:
        keep &= np.isin(counts.kinds, pick.kinds)
    if pick.least_chars > 1:
        keep &= counts.names.str.len_chars().to_numpy() >= pick.least_chars
    if pick.find.strip():
        keep &= found_names(counts.names, pick.find)
    rows = np.flatnonzero(keep)
    found: np.ndarray = rows[_order(counts, pick, rows)]
    return found


def found_names(names: pl.Series, find: str) -> np.ndarray:
    """bool per name: it holds these characters; with * or ? the whole name is meant."""
    wanted = find.strip().lower()
    if "*" not in wanted and "?" not in wanted:
        return names.str.contains(wanted, literal=True).to_numpy()
    signs = {"*": ".*", "?": "."}
    expression = "".join(signs.get(char) or pl_escape(char) for char in wanted)
    return names.str.contains(f"^(?s:{expression})$").to_numpy()


def pl_escape(char: str) -> str:
    """A character as it stands in an expression."""
    return char if char.isalnum() or char.isspace() else f"\\x{{{ord(char):x}}}"


def _order(counts: WordCounts, pick: Pick, rows: np.ndarray) -> np.ndarray:
    if pick.sort == "name":  # rows ascend by name
        return np.arange(len(rows))[:: -1 if pick.descending else 1]
    if pick.sort == "texts":
        value = counts.texts[rows].astype(float)
    elif pick.sort == "evenness":
        value = counts.evenness(rows)
    elif pick.sort == "group":
        words = counts.group_words[pick.group]
        value = counts.group_hits[rows, pick.group] / (words or np.nan)
    else:
        value = counts.hits[rows].astype(float)
    value = -value if pick.descending else value
    return np.argsort(np.where(np.isnan(value), np.inf, value), kind="stable")


def form_term(form: str) -> str:
    """The text of a term that finds these very words in a row, and nothing else."""
    return " ".join(write_piece(Piece(word)) for word in form.split(" "))


def near_term(query: str, window: int, word: str) -> str | None:
    """A term for the hits of a simple search that have a word near them; None where the search is no term.

    >>> near_term("lamb | lambs", 5, "market")
    '(lamb | lambs) near:5 market'
    >>> near_term("lamb AND NOT deer", 5, "market") is None
    True
    """
    whole = as_one_term(parse_query(query))
    if whole is None or ":" in whole:
        return None
    return f"{f'({whole})' if '|' in whole else whole} near:{window} {write_piece(Piece(word))}"


def row_term(name: str, forms: list[str], unit: str, merge: str, language: str) -> str:
    """The text of a term that has the hits of a row of a word list.

    ``forms`` are those brought together under the name, at most frequency.MOST_FORMS; where there are
    too many for one term, it is all forms of the lemma, or all words that begin with the stem.
    """
    if unit == "phrase":
        return form_term(name)
    written = " | ".join(write_piece(Piece(form)) for form in forms or [name])
    if len(written) <= MAX_CHARS and len(forms) < MOST_FORMS:
        return written
    return f"all-forms:{language} {name}" if merge == "lemma" else f"{name}*"
