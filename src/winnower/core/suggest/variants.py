"""Other ways in which a corpus writes a word: misspellings, and other forms of its lemma."""

from __future__ import annotations

import numpy as np
import polars as pl
from rapidfuzz import process
from rapidfuzz.distance import OSA

from winnower.core.index import KINDS, Lexicon
from winnower.core.tokens.lemmas import is_listed, lemma_of

SHORTEST = 5
SHORTEST_FOR_TWO = 9
MOST_WORDS = 80


def variants(
    words: list[str], lexicon: Lexicon, hits: np.ndarray, left_out: np.ndarray, language: str = ""
) -> dict[int, str]:
    """Folds that differ from one of the words by one letter (two in long words), and from which.

    ``hits`` per fold of the lexicon; only folds with hits, rarer than the word, of at least five
    letters. ``left_out``: bool per fold. A letter too many, too few, another or two changed places
    are one difference (optimal string alignment). Words that the list of ``language`` knows are words
    of their own and are left out.
    """
    asked = [word for word in dict.fromkeys(words) if len(word) >= SHORTEST and word.isalpha()][:MOST_WORDS]
    if not asked or not len(hits):  # a corpus whose texts were taken out again has no words
        return {}
    usable = (hits > 0) & ~left_out & (lexicon.kinds == KINDS.index("word"))
    length = lexicon.folds.str.len_chars().to_numpy()
    shortest, longest = min(map(len, asked)), max(map(len, asked))
    usable &= (length >= max(shortest - 2, SHORTEST - 1)) & (length <= longest + 2)
    numbers = np.flatnonzero(usable)
    choices = lexicon.folds.gather(numbers).to_list()
    away = process.cdist(asked, choices, scorer=OSA.distance, score_cutoff=2, dtype=np.uint8, workers=2)
    places = np.array([lexicon.number_of(word) for word in asked])
    own = np.where(places >= 0, hits[np.maximum(places, 0)], 0)
    out: dict[int, tuple[int, str]] = {}
    for at, word in enumerate(asked):
        allowed = 2 if len(word) >= SHORTEST_FOR_TWO else 1
        near = np.flatnonzero((away[at] > 0) & (away[at] <= allowed))
        for place in near[hits[numbers[near]] <= max(own[at], 1)].tolist():
            best = out.get(int(numbers[place]))
            if best is None or away[at, place] < best[0]:
                out[int(numbers[place])] = (int(away[at, place]), word)
    names = lexicon.folds.gather(list(out)).to_list()
    return {
        number: word
        for (number, (_, word)), name in zip(out.items(), names, strict=True)
        if not is_listed(name, language)
    }


def other_forms(
    words: list[str],
    lexicon: Lexicon,
    lemmas: pl.Series,
    hits: np.ndarray,
    left_out: np.ndarray,
    language: str,
) -> dict[int, str]:
    """Folds with hits that share a lemma with one of the words, and with which.

    ``lemmas``: per fold of the lexicon. The corpus need not have the words themselves.
    """
    by_lemma = {lemma_of(word, language): word for word in reversed(words)}
    found = lemmas.is_in(list(by_lemma)).to_numpy() & (hits > 0) & ~left_out
    found[lexicon.numbers_of(words)] = False
    return {int(at): by_lemma[lemmas[int(at)]] for at in np.flatnonzero(found)}
