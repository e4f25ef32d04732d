"""Compounds a word is part of: "Wolfsrudel" and "Grauwolf" for "wolf", where a language writes them as one word."""

from __future__ import annotations

from collections.abc import Container

import numpy as np

from winnower.core.index import KINDS, Lexicon
from winnower.core.tokens.lemmas import is_listed

#: Languages that write compounds as one word, and what can join their parts.
JOINS = {
    "de": ("", "s", "es", "n", "en", "e", "er"),
    "nl": ("", "s", "en", "e", "er"),
    "fi": ("", "n", "en"),
    "sv": ("", "s", "o", "e"),
    "da": ("", "s", "e"),
    "nb": ("", "s", "e"),
    "nn": ("", "s", "e"),
    "is": ("", "s", "a", "u", "ar", "na"),
    "hu": ("",),
    "et": ("", "e", "te"),
}
SHORTEST = 4
#: A part is a word of at least so many letters.
SHORTEST_PART = 3


def compounds(
    words: list[str], lexicon: Lexicon, hits: np.ndarray, left_out: np.ndarray, language: str
) -> dict[int, str]:
    """Folds with hits that begin or end with one of the words, joined to another word, and which word that is.

    ``hits`` and ``left_out`` per fold of the lexicon. The rest must be a word of the corpus or of the list of the
    language, so that "wolfen" is none of "wolf". Empty for languages that write compounds apart.
    """
    joins = JOINS.get(language)
    asked = [word for word in dict.fromkeys(words) if len(word) >= SHORTEST and word.isalpha()]
    if joins is None or not asked or not len(hits):
        return {}
    usable = (hits > 0) & ~left_out & (lexicon.kinds == KINDS.index("word"))
    known = frozenset(lexicon.folds.filter(lexicon.kinds == KINDS.index("word")).to_list())
    out: dict[int, str] = {}
    for word in asked:
        begins = lexicon.folds.str.starts_with(word).to_numpy()
        ends = lexicon.folds.str.ends_with(word).to_numpy()
        longer = lexicon.folds.str.len_chars().to_numpy() >= len(word) + SHORTEST_PART
        for at in np.flatnonzero(usable & longer & (begins | ends)).tolist():
            fold = lexicon.folds[at]
            after, before = fold[len(word) :], fold[: -len(word)]
            if (begins[at] and _is_part(after, joins, known, language, first=False)) or (
                ends[at] and _is_part(before, joins, known, language, first=True)
            ):
                out.setdefault(at, word)
    return out


def _is_part(rest: str, joins: tuple[str, ...], known: Container[str], language: str, *, first: bool) -> bool:
    """Whether what is left of a compound is a word, without what joins it to the other part: that stands at the end of
    the first part, so before the second."""
    for join in joins:
        if first and rest.endswith(join):
            part = rest[: len(rest) - len(join)]
        elif not first and rest.startswith(join):
            part = rest[len(join) :]
        else:
            continue
        if len(part) >= SHORTEST_PART and (part in known or is_listed(part, language)):
            return True
    return False
