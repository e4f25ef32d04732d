"""What a category catches already, and everything that may be missing from it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.index import Lexicon, TokenIndex
from winnower.core.pattern import Singles, Term
from winnower.core.places import Places
from winnower.core.suggest.company import Company
from winnower.core.suggest.compounds import compounds
from winnower.core.suggest.suggest import Suggestion, in_the_same_company, suggest
from winnower.core.suggest.typical import typical_words
from winnower.core.suggest.variants import other_forms, variants
from winnower.core.tokens import fold

MOST_WORDS = 60
#: So many hits must have been judged right before their words are taken as typical.
LEAST_JUDGED = 5


@dataclass(frozen=True)
class Sources:
    """Where suggestions come from; what is not there is None.

    language     of the project
    lemmas       the lemma of each fold of the lexicon
    company      vectors of words
    synonyms_of  gives the synonyms of a word
    right        hits of the category that were judged right
    """

    language: str
    lemmas: pl.Series | None = None
    company: Company | None = None
    synonyms_of: Callable[[str], Sequence[str]] | None = None
    right: Places | None = None


def caught_folds(terms: Sequence[Term], index: TokenIndex, lexicon: Lexicon) -> np.ndarray:
    """bool per fold of the lexicon: a term of single words catches it."""
    singles = Singles(term for term in terms if term.single)
    caught = np.zeros(len(lexicon), bool)
    for at, segment in enumerate(index.segments):
        caught[lexicon.places[at][segment.fold_of[singles.forms(segment)]]] = True
    return caught


def words_of(terms: Sequence[Term], index: TokenIndex, lexicon: Lexicon, hits: np.ndarray) -> list[str]:
    """Words that stand for the terms: those caught with hits, the most frequent first, then plain words
    that the corpus does not have."""
    caught = np.flatnonzero(caught_folds(terms, index, lexicon) & (hits > 0))
    best = caught[np.argsort(-hits[caught], kind="stable")][:MOST_WORDS]
    words = dict.fromkeys(lexicon.folds.gather(best).to_list())
    for term in terms:
        plain = [piece.form for piece in term.pieces if piece.kind == "word"]
        if term.single and len(plain) == 1:
            words.setdefault(fold(plain[0]))
    return list(words)[:MOST_WORDS]


def suggest_for(
    words: list[str],
    index: TokenIndex,
    lexicon: Lexicon,
    hits: np.ndarray,
    left_out: np.ndarray,
    sources: Sources,
    most_each: int,
) -> list[Suggestion]:
    """Suggestions for a category with these words; ``hits`` and ``left_out`` per fold of the lexicon."""
    found: dict[str, dict[int, str]] = {}
    if words and sources.lemmas is not None:
        forms = other_forms(words, lexicon, sources.lemmas, hits, left_out, sources.language)
        found["form"] = by_hits(forms, hits)
    if words:
        found["spelling"] = by_hits(variants(words, lexicon, hits, left_out, sources.language), hits)
        joined = compounds(words, lexicon, hits, left_out, sources.language)
        found["compound"] = by_hits(joined, hits)
    if words and sources.company is not None:
        found["company"] = in_the_same_company(words, lexicon, sources.company, hits, left_out)
    if words and sources.synonyms_of is not None:
        found["synonym"] = by_hits(synonyms(words, sources.synonyms_of, lexicon), hits)
    if sources.right is not None and sources.right.hits >= LEAST_JUDGED:
        typical, _ = typical_words(sources.right, index, lexicon, hits)
        found["typical"] = dict.fromkeys(typical.tolist(), "")
    return suggest(lexicon, hits, found, left_out, most_each)


def synonyms(
    words: Sequence[str], synonyms_of: Callable[[str], Sequence[str]], lexicon: Lexicon
) -> dict[int, str]:
    """Folds of the lexicon that are synonyms of one of the words, and of which first."""
    close: dict[str, str] = {}
    for word in words:
        for other in synonyms_of(word):
            close.setdefault(fold(other), word)
    numbers = lexicon.numbers_of(list(close))
    names = lexicon.folds.gather(numbers).to_list()
    return {int(number): close[name] for number, name in zip(numbers, names, strict=True)}


def by_hits(found: dict[int, str], hits: np.ndarray) -> dict[int, str]:
    """The same, the most frequent first."""
    return dict(sorted(found.items(), key=lambda item: (-hits[item[0]], item[0])))
