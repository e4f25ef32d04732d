"""What a category may be missing, put together from all there is to say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from winnower.core.index import KINDS, Lexicon
from winnower.core.suggest.company import Company

#: Kinds of reasons, in the order in which they are offered.
REASONS = ("form", "spelling", "compound", "company", "synonym", "typical")
LEAST_ALIKE = 0.35


@dataclass(frozen=True)
class Suggestion:
    """A word or phrase: its hits in scope, why, and which word of the category it is like."""

    text: str
    hits: int
    reason: str
    like: str = ""


def suggest(
    lexicon: Lexicon,
    hits: np.ndarray,
    found: Mapping[str, Mapping[int, str]],
    left_out: np.ndarray,
    most_each: int = 8,
) -> list[Suggestion]:
    """Suggestions by reason. ``found``: for each reason the folds, best first, and what they are like.

    ``hits`` per fold of the lexicon, in scope; folds without any and those of ``left_out`` (bool per
    fold) are not offered, and none twice.
    """
    out: list[Suggestion] = []
    seen = set()
    for reason in REASONS:
        taken = 0
        for number, like in found.get(reason, {}).items():
            if taken == most_each or number in seen or left_out[number] or hits[number] <= 0:
                continue
            seen.add(number)
            taken += 1
            out.append(Suggestion(lexicon.folds[number], int(hits[number]), reason, like))
    return out


def in_the_same_company(
    words: list[str],
    lexicon: Lexicon,
    company: Company,
    hits: np.ndarray,
    left_out: np.ndarray,
    most: int = 40,
) -> dict[int, str]:
    """Folds whose vectors lie nearest to those of the words, best first, and the word each is nearest to.

    A candidate's likeness is the mean of its cosines with the three words nearest to it. Words weigh
    alike, however frequent.
    """
    own = lexicon.numbers_of(words)
    rows = company.rows_of(own)
    rows = rows[rows >= 0]
    if not len(rows):
        return {}
    alike = company.vectors @ company.vectors[rows].T
    near = -np.sort(-alike, axis=1)[:, :3]
    score = near.mean(1)
    usable = (hits[company.folds] > 0) & ~left_out[company.folds]
    usable &= lexicon.kinds[company.folds] != KINDS.index("number")
    usable[rows] = False
    score = np.where(usable, score, -1)
    best = np.argsort(-score, kind="stable")[:most]
    best = best[score[best] >= LEAST_ALIKE]
    nearest = company.folds[rows[alike[best].argmax(1)]]
    return {int(company.folds[b]): lexicon.folds[int(n)] for b, n in zip(best, nearest, strict=True)}
