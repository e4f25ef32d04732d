"""Statements drawn from the texts themselves: a summary, an answer, viewpoints, themes. No word of them is made up."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix

from winnower.core.assist.sentences import Sentences, central, saying_alike, telling, varied

#: z beyond which a word is one group's.
TELLING = 1.96
MOST_ALIKE, EACH_SIDE, EACH_THEME, NAMED = 3, 3, 3, 4
THEMES_SEED, EVERYWHERE, FEW = 20310401, 0.05, 40
THEME_WORDS, LEAST_WORDS = 10, 2
#: A sentence answers a question where the words of it that it has weigh so much of all of them.
COVERS = 0.5
K1, B = 1.2, 0.75


@dataclass(frozen=True)
class Point:
    """A statement to be: words before what is quoted, the row it quotes, and rows that say the same."""

    before: str
    row: int
    alike: tuple[int, ...] = ()


def summarised(found: Sentences, most: int) -> list[Point]:
    """The sentences that stand for most of the others, in the order of the texts."""
    rows = sorted(varied(found, central(found), most))
    return [Point("", row, tuple(saying_alike(found, row, MOST_ALIKE))) for row in rows]


def covering(
    n_units: int,
    size: np.ndarray,
    unit: np.ndarray,
    concept: np.ndarray,
    weight: np.ndarray,
    covers: float = COVERS,
) -> np.ndarray:
    """What each of ``n_units`` sentences says of a question: BM25 (Robertson and Zaragoza 2009, Foundations and Trends in
    Information Retrieval 3), 0 where its words weigh less than ``covers`` of all of them.

    ``unit`` and ``concept`` int per hit; ``size`` tokens per sentence; ``weight`` of each concept, those without a hit
    included.
    """
    key, times = np.unique(unit.astype(np.int64) * len(weight) + concept, return_counts=True)
    row, which = np.divmod(key, len(weight))
    mean = size[np.unique(row)].mean() if len(row) else 1.0
    part = times * (K1 + 1) / (times + K1 * (1 - B + B * size[row] / mean))
    score = np.bincount(row, weights=part * weight[which], minlength=n_units)
    covered = np.bincount(row, weights=weight[which], minlength=n_units)
    found: np.ndarray = np.where(covered >= covers * weight.sum(), score, 0.0)
    return found


def answered(found: Sentences, score: np.ndarray, most: int) -> list[Point]:
    """The sentences that say most of a question, the best first; ``score`` per row."""
    return [
        Point("", row, tuple(one for one in saying_alike(found, row, MOST_ALIKE) if score[one] > 0))
        for row in varied(found, score, most)
    ]


def viewpoints(
    first: Sentences, second: Sentences, names: tuple[str, str], word: Callable[[int], str]
) -> tuple[list[Point], list[Point], list[tuple[str, int, int]]]:
    """What the first group dwells on, what the second does, and words both speak of with a row of each, no row twice.
    Both hold the same words in the same columns; ``word`` tells a column's."""
    z = telling(first.counts, second.counts)
    sides = [
        _dwelt(side, sign * z, name, word)
        for side, sign, name in ((first, 1, names[0]), (second, -1, names[1]))
    ]
    both = np.minimum(_having(first.counts), _having(second.counts)) * (np.abs(z) < 1)
    shared: list[tuple[str, int, int]] = []
    for column in np.argsort(-both, kind="stable")[: 4 * EACH_SIDE].tolist():
        if both[column] > 0 and len(shared) < EACH_SIDE:
            one, other = (_best_with(side, column) for side in (first, second))
            # a sentence that is typical of a group has several of these words
            if all(one != earlier[1] and other != earlier[2] for earlier in shared):
                shared.append((word(column), one, other))
    return sides[0], sides[1], shared


def _having(counts: csr_matrix) -> np.ndarray:
    found: np.ndarray = np.bincount(counts.indices, minlength=counts.shape[1]) / max(counts.shape[0], 1)
    return found


def _best_with(found: Sentences, column: int) -> int:
    has = np.asarray(found.counts[:, [column]].todense()).ravel() > 0
    return int(np.argmax(np.where(has, central(found), -1)))


def _dwelt(found: Sentences, z: np.ndarray, name: str, word: Callable[[int], str]) -> list[Point]:
    strong = np.where(z > TELLING, z, 0.0)
    if not strong.any():
        return []
    length = np.sqrt(np.maximum(np.diff(found.counts.indptr), 1))
    rows = varied(found, (found.counts > 0) @ strong / length, EACH_SIDE)
    top = [word(int(one)) for one in np.argsort(-strong, kind="stable")[:NAMED] if strong[one] > 0]
    return (
        [Point(f"In these passages {name} writes more of {listed(top)}", rows[0], tuple(rows[1:]))]
        if rows
        else []
    )


@dataclass(frozen=True)
class Theme:
    """A theme: its strongest words (columns, the strongest first), the share of sentences with two of them, rows to
    quote, and all rows that have two of them."""

    top: tuple[int, ...]
    share: float
    rows: tuple[int, ...]
    having: np.ndarray


def themed(found: Sentences, most: int) -> list[Theme]:
    """Themes as parts of the matrix of weights (non-negative factors: Lee and Seung 1999, Nature 401), the largest
    first."""
    # what parts matrices is loaded by who asks for themes
    from sklearn.decomposition import NMF

    # words that stand nearly everywhere would be a theme of their own
    having = np.bincount(found.counts.indices, minlength=found.counts.shape[1])
    kept = np.flatnonzero(having <= max(EVERYWHERE * len(found), FEW))
    most = min(most, len(found) // 4, len(kept) // 4)
    if most < 2:
        return []
    factors = NMF(most, init="nndsvda", random_state=THEMES_SEED, max_iter=60, tol=1e-3)
    load = factors.fit_transform(found.weight[:, kept])
    themes = []
    for number in range(most):
        top = kept[np.argsort(-factors.components_[number], kind="stable")[:THEME_WORDS]]
        has = np.asarray((found.counts[:, top] > 0).sum(1)).ravel() >= LEAST_WORDS
        rows = varied(found, np.where(has, load[:, number], 0.0), EACH_THEME)
        if rows:
            themes.append(Theme(tuple(top.tolist()), float(has.mean()), tuple(rows), np.flatnonzero(has)))
    return sorted(themes, key=lambda theme: -theme.share)


def listed(words: Sequence[str]) -> str:
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)
