"""Texts drawn at random to be coded by hand: so many, or about so many words, of each group."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Drawn:
    """Places of the texts, ascending; for each group how many of them and how many words, int64 (G) each."""

    texts: np.ndarray
    of_group: np.ndarray
    words_of_group: np.ndarray


def draw(
    text: np.ndarray,
    group: np.ndarray,
    words: np.ndarray,
    n_groups: int,
    *,
    texts_each: int | None = None,
    words_each: int | None = None,
    seed: int,
) -> Drawn:
    """Draw from memberships (``text`` a place, ``group`` its group); ``words`` int per text. Texts without a word
    are not drawn. With ``words_each`` a group gets texts until that many words are reached, the last one counting
    whole; a group with fewer gives all it has.

    A text in several groups counts for each of them, and is drawn once.
    """
    rng = np.random.default_rng(seed)
    has_words = words[text] > 0
    text, group = text[has_words], group[has_words]
    chosen = np.zeros(len(words), bool)
    for one in range(n_groups):
        mine = rng.permutation(text[group == one])
        if texts_each is not None:
            mine = mine[:texts_each]
        if words_each is not None:
            before = np.cumsum(words[mine]) - words[mine]
            mine = mine[before < words_each]
        chosen[mine] = True
    inside = chosen[text]
    return Drawn(
        np.flatnonzero(chosen),
        np.bincount(group[inside], minlength=n_groups),
        np.bincount(group[inside], weights=words[text[inside]], minlength=n_groups).astype(np.int64),
    )
