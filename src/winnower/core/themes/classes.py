"""What words can be in a noun phrase, from how often a word list saw them as noun, verb, adjective or adverb.

There is no tagging of sentences: a word has one class wherever it stands. For English the counts come from WordNet
(readers/word_classes.py); words it does not know are taken by their shape. For other languages all words between
function words count as possible parts of a phrase, and nothing says which is the noun.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from winnower.core.index.lexicon import KINDS

OTHER, DESCRIBES, NOUN = 0, 1, 2
#: From this share of its uses on a word can be a noun, or describe one.
ENOUGH = 0.4
#: A use a list knows of counts as much before any was counted.
LISTED = 0.5
Uses = tuple[float, float, float, float]
_NEVER = ("ing", "ed", "ly")


@dataclass(frozen=True)
class WordClasses:
    """``of`` uint8 per fold: OTHER, DESCRIBES or NOUN; ``names`` what each is counted as: nouns by their singular;
    ``from_list`` whether a word list told, or only the function words of the language."""

    of: np.ndarray
    names: list[str]
    from_list: bool


def classes_of(
    folds: Sequence[str],
    lemmas: Sequence[str],
    kinds: np.ndarray,
    functions: Collection[str],
    uses: Mapping[str, Uses] | None,
) -> WordClasses:
    """Classes of folds. ``lemmas`` one per fold, ``kinds`` as in the lexicon, ``functions`` words that stand in no
    phrase, ``uses`` by word how often it was seen as (noun, verb, adjective, adverb); None where there is no list."""
    word = kinds == KINDS.index("word")
    found = np.zeros(len(folds), np.uint8)
    function = set(functions)
    for at in np.flatnonzero(word).tolist():
        fold, lemma = folds[at], lemmas[at]
        if len(fold) < 3 or fold in function or "'" in fold or "’" in fold:
            continue
        found[at] = NOUN if uses is None else _class(fold, lemma, uses)
    names = [
        lemma if kind == NOUN and (uses is None or _is_noun(lemma, uses)) else fold
        for fold, lemma, kind in zip(folds, lemmas, found.tolist(), strict=True)
    ]
    return WordClasses(found, names, uses is not None)


def _is_noun(word: str, uses: Mapping[str, Uses]) -> bool:
    """Whether a base form is a noun itself, and not the verb a noun is made of: "lamb", not the "meet" of meetings."""
    seen = uses.get(word)
    return seen is not None and seen[0] / sum(seen) >= ENOUGH


def _class(fold: str, lemma: str, uses: Mapping[str, Uses]) -> int:
    own, base = uses.get(fold), uses.get(lemma)
    if own is None and fold.endswith(_NEVER):
        return OTHER  # forms of verbs
    seen = own or base
    if seen is None:
        return NOUN if fold.isalpha() else OTHER  # a name, or a word the list does not have
    noun, verb, adjective, adverb = seen
    if own is None and verb > noun:
        return OTHER
    total = noun + verb + adjective + adverb
    if noun / total >= ENOUGH:
        return NOUN
    return DESCRIBES if adjective / total >= ENOUGH else OTHER
