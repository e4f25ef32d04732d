"""Where words stand: one entry for each pair of a word (or phrase, or lemma) and a text."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.index import Lexicon, TokenIndex, brought_together
from winnower.core.words.phrases import find_phrases


@dataclass(frozen=True)
class Occurrences:
    """names   R rows
    kinds   uint8 (R), see lexicon.KINDS
    row, text, hits   int64 (E) each: a text with the row, ascending by nothing; how often it has it
    forms   int64 per fold of the lexicon: its row, -1 for none; empty for phrases
    """

    names: pl.Series
    kinds: np.ndarray
    row: np.ndarray
    text: np.ndarray
    hits: np.ndarray
    forms: np.ndarray


def occurrences(
    index: TokenIndex,
    lexicon: Lexicon,
    wanted: np.ndarray,
    *,
    unit: str = "word",
    length: int = 2,
    merge: str = "none",
    language: str = "",
    stop: np.ndarray | None = None,
    least_hits: int = 1,
) -> Occurrences:
    """In the ``wanted`` texts (bool per text); ``stop`` are numbers of folds that are in no row, and that no phrase
    begins or ends with. Raises WinnowerError where the language has no list of lemmas or stems."""
    stop = np.empty(0, np.int64) if stop is None else stop
    if unit == "phrase":
        return _phrases(index, lexicon, wanted, length, stop, max(least_hits, 2))
    return _words(index, lexicon, wanted, merge, language, stop)


def _phrases(
    index: TokenIndex, lexicon: Lexicon, wanted: np.ndarray, length: int, stop: np.ndarray, least: int
) -> Occurrences:
    found = find_phrases(index, lexicon, wanted, length, stop, least)
    pairs = pl.DataFrame({"code": found.code, "text": found.text}).group_by("code", "text").len()
    row, text, hits = (pairs[name].to_numpy().astype(np.int64) for name in ("code", "text", "len"))
    kinds = np.zeros(len(found.names), np.uint8)
    return Occurrences(found.names, kinds, row, text, hits, np.empty(0, np.int64))


def _words(
    index: TokenIndex, lexicon: Lexicon, wanted: np.ndarray, merge: str, language: str, stop: np.ndarray
) -> Occurrences:
    names, row_of = lexicon.folds, np.arange(len(lexicon), dtype=np.int64)
    if merge != "none":
        together = brought_together(index, lexicon, language, merge).to_numpy().astype(str)
        distinct, row_of = np.unique(together, return_inverse=True)
        names = pl.Series("fold", distinct.tolist(), dtype=pl.String)
    row_of = row_of.astype(np.int64)
    row_of[stop] = -1
    row, text, times = _pairs(index, lexicon, row_of)
    if len(stop) or not wanted.all():
        inside = np.flatnonzero(wanted[text] & (row >= 0))
        row, text, times = row[inside], text[inside], times[inside]
    kinds = lexicon.kinds
    if merge != "none":
        row, text, times = _summed(row, text, times, index.n_texts)
        kinds = np.zeros(len(names), np.uint8)
        kinds[row_of[row_of >= 0]] = lexicon.kinds[row_of >= 0]
    return Occurrences(names, kinds, row, text, times, row_of)


def _pairs(
    index: TokenIndex, lexicon: Lexicon, row_of: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Row, text and hits of every pair of the index; written where they stay, since they are many."""
    ends = np.cumsum([len(segment.pair_text) for segment in index.segments], dtype=np.int64).tolist()
    row, text, times = (np.empty(ends[-1] if ends else 0, np.int64) for _ in range(3))
    for at, (segment, base, end) in enumerate(zip(index.segments, index.base, ends, strict=False)):
        here = slice(end - len(segment.pair_text), end)
        row[here] = np.repeat(row_of[lexicon.places[at]], np.diff(segment.pair_start))
        np.add(segment.pair_text, int(base), out=text[here])
        times[here] = segment.pair_hits
    return row, text, times


def _summed(
    row: np.ndarray, text: np.ndarray, hits: np.ndarray, n_texts: int
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Each pair once, with all its hits."""
    pairs = pl.DataFrame({"key": row * np.int64(max(n_texts, 1)) + text, "hits": hits})
    summed = pairs.group_by("key").agg(pl.col("hits").sum())
    key = summed["key"].to_numpy()
    return key // max(n_texts, 1), key % max(n_texts, 1), summed["hits"].to_numpy()
