"""The company words keep, as vectors made from the corpus itself.

Words are described by the two telling words to each side of them in a sentence (words of the stop
list and rare ones are passed over): counts, turned into positive pointwise mutual information with a smoothed context distribution, reduced to some 100
dimensions by singular values. Source: Levy, Goldberg and Dagan (2015), Transactions of the ACL 3,
211-225.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.linalg import svds

from winnower.core.index import KINDS, Lexicon, Segment, TokenIndex

MOST_WORDS = 40_000
MOST_CONTEXTS = 5_000
LEAST_HITS = 5
REACH = 2
DIMENSIONS = 100
SMOOTHING = 0.75


@dataclass(frozen=True)
class Company:
    """folds    int64 (n), ascending: numbers in the lexicon
    vectors  float32 (n, d), each of length 1
    """

    folds: np.ndarray
    vectors: np.ndarray

    def rows_of(self, folds: np.ndarray) -> np.ndarray:
        """The rows of folds; -1 for those without a vector."""
        if not len(self.folds):
            return np.full(len(folds), -1)
        at = np.minimum(np.searchsorted(self.folds, folds), len(self.folds) - 1)
        return np.where(self.folds[at] == folds, at, -1)


def build_company(
    index: TokenIndex,
    lexicon: Lexicon,
    hits: np.ndarray,
    stop: np.ndarray,
    progress: Callable[[int, int], None] = lambda done, total: None,
) -> Company:
    """Vectors of the words with enough hits. ``hits``: per fold of the lexicon, in the whole corpus;
    ``stop``: numbers of folds that say nothing about their neighbours. Same corpus, same vectors."""
    usable = (hits >= LEAST_HITS) & np.isin(
        lexicon.kinds, [KINDS.index(k) for k in ("word", "hashtag", "emoji")]
    )
    usable[stop] = False
    ranked = np.flatnonzero(usable)
    ranked = ranked[np.argsort(-hits[ranked], kind="stable")]
    words, contexts = np.sort(ranked[:MOST_WORDS]), np.sort(ranked[:MOST_CONTEXTS])
    steps = len(index.segments) + 1
    counts = sparse.csr_matrix((len(words), len(contexts)))
    for at, segment in enumerate(index.segments):
        counts = counts + _pairs(segment, lexicon.places[at], len(lexicon), words, contexts)
        progress(at + 1, steps)
    vectors = _reduced(_positive_information(counts.tocsr()))
    progress(steps, steps)
    known = np.linalg.norm(vectors, axis=1) > 1e-9
    vectors = vectors[known]
    return Company(
        words[known], (vectors / np.linalg.norm(vectors, axis=1, keepdims=True)).astype(np.float32)
    )


def _pairs(
    segment: Segment, place: np.ndarray, n: int, words: np.ndarray, contexts: np.ndarray
) -> sparse.csr_matrix:
    """How often each word stands within reach of each context in a segment."""
    row, column = np.full(n, -1, np.int32), np.full(n, -1, np.int32)
    row[words], column[contexts] = np.arange(len(words)), np.arange(len(contexts))
    sentence = np.zeros(segment.n_tokens, np.int32)
    sentence[segment.sentence_start] = 1
    sentence = np.cumsum(sentence, dtype=np.int32)
    fold = place[segment.fold_of[segment.codes]]
    telling = np.flatnonzero(row[fold] >= 0)  # words that say nothing stand in nobody's way
    fold, sentence = fold[telling], sentence[telling]
    of_word, of_context = row[fold], column[fold]
    keys = []
    for step in range(1, REACH + 1):
        same = sentence[step:] == sentence[:-step]
        for word, context in (
            (of_word[step:], of_context[:-step]),
            (of_word[:-step], of_context[step:]),
        ):
            found = np.flatnonzero(same & (context >= 0))
            keys.append(word[found].astype(np.int64) * len(contexts) + context[found])
    key, times = np.unique(np.concatenate(keys), return_counts=True) if keys else (np.empty(0, int),) * 2
    at = (key // max(len(contexts), 1), key % max(len(contexts), 1))
    return sparse.csr_matrix((times.astype(float), at), shape=(len(words), len(contexts)))


def _positive_information(counts: sparse.csr_matrix) -> sparse.csr_matrix:
    total = counts.sum()
    if not total:
        return counts
    by_word = np.asarray(counts.sum(1)).ravel()
    by_context = np.asarray(counts.sum(0)).ravel() ** SMOOTHING
    by_context /= by_context.sum()
    pairs = counts.tocoo()
    value = np.log(pairs.data / (by_word[pairs.row] * by_context[pairs.col]))
    keep = value > 0
    return sparse.csr_matrix((value[keep], (pairs.row[keep], pairs.col[keep])), shape=counts.shape)


def _reduced(values: sparse.csr_matrix) -> np.ndarray:
    """Left singular vectors, each weighted by the root of its singular value."""
    smaller = min(values.shape)
    if values.nnz == 0 or smaller < 3:
        return np.zeros((values.shape[0], 1))
    k = min(DIMENSIONS, smaller - 1)
    start = np.random.default_rng(1).random(smaller)
    left, size, _ = svds(values, k=k, v0=start)
    return left * np.sqrt(size)
