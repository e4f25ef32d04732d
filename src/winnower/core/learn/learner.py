"""A code learned from examples: logistic regression on weighted words, with scikit-learn.

Words and pairs of neighbouring words are weighted by how few units have them (TF-IDF with the logarithm of counts;
Manning, Raghavan and Schütze 2008, Introduction to Information Retrieval, 6.4.1 and 6.4.3). Units of either kind
weigh alike as wholes. What it is worth is told by cross-validation over texts: no text lends units to both sides.
Its scores become probabilities by a logistic curve through the scores of texts it had not seen (Platt 1999).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix, vstack

from winnower.core.errors import WinnowerError
from winnower.core.index import Lexicon, TokenIndex
from winnower.core.learn.curve import Curve, curve_of
from winnower.core.learn.words import Words, tokens_of, weighted, words_of
from winnower.core.places.units import Units

#: Fewer cannot be learned from; fewer than so many are told to be few.
LEAST_UNITS, LEAST_TEXTS, FEW = 8, 4, 50
FOLDS = 5
LEAST_OF_A_WORD = 2
STRENGTH = 10.0
#: An added word weighs as much as so many units that say nothing else.
ADDED = 5.0


@dataclass(frozen=True)
class Lesson:
    """Units that were looked at by people. ``at`` int64 numbers of units, ascending; ``right`` bool, whether they come
    under the code; ``text`` int64, the text of each."""

    at: np.ndarray
    right: np.ndarray
    text: np.ndarray


@dataclass(frozen=True)
class Telling:
    """A word or pair with its weight, and in how many units of either kind it stands."""

    words: str
    weight: float
    right: int
    wrong: int


@dataclass(frozen=True)
class Learned:
    """``idf`` and ``weights`` float64 per column of ``words``; a probability is the logistic of ``slope`` times the sum
    of weights, plus ``offset``. ``bins`` are (probability, share that was right, units) of the test."""

    words: Words
    idf: np.ndarray
    weights: np.ndarray
    bias: float
    slope: float
    offset: float
    curve: Curve
    bins: tuple[tuple[float, float, int], ...]
    telling: tuple[Telling, ...]
    folds: int

    def probability(self, decision: np.ndarray) -> np.ndarray:
        found: np.ndarray = 1 / (1 + np.exp(-np.clip(self.slope * decision + self.offset, -50, 50)))
        return found


def learn(
    lesson: Lesson,
    units: Units,
    index: TokenIndex,
    lexicon: Lexicon,
    *,
    struck: tuple[str, ...] = (),
    added: tuple[tuple[str, bool], ...] = (),
    functions: np.ndarray | None = None,
    seed: int = 1,
) -> Learned:
    """``struck`` words are not looked at; ``added`` ones speak for the code or against it; ``functions`` (numbers of
    folds) are in no pair. Raises WinnowerError where there is too little to learn from."""
    _enough(lesson)
    extra = _numbers(added, lexicon)
    tokens = tokens_of(units, lesson.at, index, lexicon)
    none = np.empty(0, np.int64)
    always = np.array(sorted(extra), np.int64)
    words = words_of(tokens, lexicon, LEAST_OF_A_WORD, always, none if functions is None else functions)
    names = words.names(lexicon)
    stay = ~np.isin(names, [" ".join(one.split()).lower() for one in struck])
    words, names = words.some(stay), [name for name, ok in zip(names, stay, strict=True) if ok]
    if not names:
        raise WinnowerError("The examples have no word in common that could be learned from.")
    counts = words.counts(tokens, len(lesson.at))
    made = _made_up(extra, words)
    score, folds = _tested(counts, lesson, made, seed)
    slope, offset = _through(score, lesson.right)
    idf, weights, bias = _fitted(counts, lesson.right, made)
    probability = 1 / (1 + np.exp(-np.clip(slope * score + offset, -50, 50)))
    return Learned(
        words, idf, weights, bias, slope, offset,
        curve_of(probability, lesson.right, lesson.text, seed),
        _bins(probability, lesson.right),
        _telling(names, counts, lesson.right, weights * idf),
        folds,
    )  # fmt: skip


def _enough(lesson: Lesson) -> None:
    right, texts = int(lesson.right.sum()), len(np.unique(lesson.text[lesson.right]))
    if right < LEAST_UNITS or texts < LEAST_TEXTS:
        raise WinnowerError(
            f"There are {right:,} examples in {texts:,} texts; at least {LEAST_UNITS} in {LEAST_TEXTS} texts are "
            "needed before anything can be learned and tested. Code some more by hand."
        )
    wrong, others = int((~lesson.right).sum()), len(np.unique(lesson.text[~lesson.right]))
    if wrong < LEAST_UNITS or others < LEAST_TEXTS:
        raise WinnowerError(
            "Nearly all that was coded by hand comes under this code, so there is nothing to tell it from. It needs "
            f"texts that people went through in which at least {LEAST_UNITS} passages do not come under it."
        )


def _numbers(added: tuple[tuple[str, bool], ...], lexicon: Lexicon) -> dict[int, bool]:
    """Added words the corpus has, by their number."""
    found = {lexicon.number_of(" ".join(word.split()).lower()): speaks for word, speaks in added}
    return {number: speaks for number, speaks in found.items() if number >= 0}


Made = tuple[csr_matrix, np.ndarray]


def _made_up(extra: dict[int, bool], words: Words) -> Made:
    """Examples made of one added word each."""
    columns = np.flatnonzero(np.isin(words.folds, sorted(extra)))
    rows = csr_matrix(
        (np.ones(len(columns)), (np.arange(len(columns)), columns)), shape=(len(columns), len(words))
    )
    return rows, np.array([extra[int(one)] for one in words.folds[columns]], bool)


def _fitted(counts: csr_matrix, right: np.ndarray, made: Made) -> tuple[np.ndarray, np.ndarray, float]:
    """idf, weights and bias from units and made-up examples."""
    from sklearn.feature_extraction.text import TfidfTransformer  # loaded when something is learned first
    from sklearn.linear_model import LogisticRegression

    idf: np.ndarray = TfidfTransformer(sublinear_tf=True).fit(counts).idf_
    rows = vstack([weighted(counts, idf), weighted(made[0].tocsr(), idf)]).tocsr()
    kinds = np.concatenate([right, made[1]])
    n, n_right = len(right), int(right.sum())
    weight = np.where(kinds, n / (2 * max(n_right, 1)), n / (2 * max(n - n_right, 1)))
    weight[n:] *= ADDED
    model = LogisticRegression(C=STRENGTH, solver="liblinear", random_state=1, max_iter=1_000)
    model.fit(rows, kinds, sample_weight=weight)
    return idf, model.coef_[0], float(model.intercept_[0])


def _tested(counts: csr_matrix, lesson: Lesson, made: Made, seed: int) -> tuple[np.ndarray, int]:
    """float64 per unit: the score by what was learned from other texts; and how many parts the texts made."""
    from sklearn.model_selection import StratifiedGroupKFold

    kinds = [len(np.unique(lesson.text[lesson.right == kind])) for kind in (True, False)]
    folds = min(FOLDS, *kinds)
    parts = StratifiedGroupKFold(folds, shuffle=True, random_state=seed)
    score = np.zeros(len(lesson.at))
    for train, test in parts.split(np.zeros(len(lesson.at)), lesson.right, lesson.text):
        if len(np.unique(lesson.right[train])) < 2:
            continue
        some = counts[train]
        stay = np.asarray((some > 0).sum(0)).ravel() >= 1
        stay |= np.asarray(made[0].sum(0)).ravel() > 0
        idf, weights, bias = _fitted(some[:, stay], lesson.right[train], (made[0][:, stay], made[1]))
        score[test] = weighted(counts[test][:, stay].tocsr(), idf) @ weights + bias
    return score, folds


def _through(score: np.ndarray, right: np.ndarray) -> tuple[float, float]:
    """Slope and offset of the logistic curve through the scores of units that were not learned from. Raises
    WinnowerError where a higher score does not make a unit likelier."""
    from sklearn.linear_model import LogisticRegression

    curve = LogisticRegression(C=1e4, max_iter=1_000).fit(score[:, None], right)
    slope, offset = float(curve.coef_[0, 0]), float(curve.intercept_[0])
    if slope <= 0.01:
        raise WinnowerError(
            "Nothing could be learned: on texts it had not seen the code was found no better than by chance. More "
            "examples may help, or the code does not show in single words."
        )
    return slope, offset


def _bins(probability: np.ndarray, right: np.ndarray) -> tuple[tuple[float, float, int], ...]:
    """Units of the test in five bands of probability: middle of their probabilities, share that was right, units."""
    band = np.minimum((probability * 5).astype(np.int64), 4)
    out = []
    for one in np.unique(band).tolist():
        of = band == one
        out.append((float(probability[of].mean()), float(right[of].mean()), int(of.sum())))
    return tuple(out)


def _telling(
    names: list[str], counts: csr_matrix, right: np.ndarray, weight: np.ndarray
) -> tuple[Telling, ...]:
    """All columns, those that speak most for the code first."""
    has = counts > 0
    of_right = np.asarray(has[right].sum(0)).ravel()
    of_wrong = np.asarray(has[~right].sum(0)).ravel()
    order = np.lexsort((np.array(names, object).astype(str), -weight))
    return tuple(
        Telling(names[at], float(weight[at]), int(of_right[at]), int(of_wrong[at])) for at in order.tolist()
    )
