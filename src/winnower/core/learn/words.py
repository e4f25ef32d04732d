"""Words, and pairs of words that stand side by side, of units as a matrix of counts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix

from winnower.core.index import Lexicon, TokenIndex
from winnower.core.index.lexicon import KINDS
from winnower.core.places.units import Units

#: Numbers, addresses and names of accounts tell of one text, not of what it says.
USED = ("word", "hashtag", "emoji")
MOST_COLUMNS = 60_000


@dataclass(frozen=True)
class Tokens:
    """Tokens of chosen units that are used, in order; arrays of one length.

    row    int64, number of the unit among those chosen
    token  int64, counted over all segments
    fold   int64, its number in the lexicon
    pair   bool, whether the next entry is the next token of the same unit
    """

    row: np.ndarray
    token: np.ndarray
    fold: np.ndarray
    pair: np.ndarray


def tokens_of(
    units: Units, at: np.ndarray, index: TokenIndex, lexicon: Lexicon, kinds: Sequence[str] = USED
) -> Tokens:
    """Tokens of some kinds of the units ``at`` (int, ascending)."""
    start, length = units.start[at], units.after[at] - units.start[at]
    row = np.repeat(np.arange(len(at)), length)
    before = np.cumsum(length) - length
    token = np.arange(int(length.sum())) + np.repeat(start - before, length)
    fold = np.empty(len(token), np.int64)
    bounds = np.searchsorted(token, units.base)
    for number, segment in enumerate(index.segments):
        low, high = bounds[number], bounds[number + 1]
        if low < high:
            fold[low:high] = lexicon.of_tokens(segment, number, token[low:high] - units.base[number])
    used = np.isin(lexicon.kinds, [KINDS.index(kind) for kind in kinds])[fold]
    row, token, fold = row[used], token[used], fold[used]
    pair = np.zeros(len(row), bool)
    if len(row):
        pair[:-1] = (row[1:] == row[:-1]) & (token[1:] == token[:-1] + 1)
    return Tokens(row, token, fold, pair)


@dataclass(frozen=True)
class Words:
    """What a learner knows, a column each: ``folds`` (numbers in the lexicon, ascending), then ``pairs`` (first fold
    times ``n_folds`` plus second, ascending)."""

    folds: np.ndarray
    pairs: np.ndarray
    n_folds: int

    def __len__(self) -> int:
        return len(self.folds) + len(self.pairs)

    def names(self, lexicon: Lexicon) -> list[str]:
        first, second = np.divmod(self.pairs, self.n_folds)
        single = lexicon.folds.gather(self.folds).to_list()
        both = zip(lexicon.folds.gather(first), lexicon.folds.gather(second), strict=True)
        return [*single, *(f"{one} {other}" for one, other in both)]

    def some(self, columns: np.ndarray) -> Words:
        """Those of a mask (bool per column)."""
        n = len(self.folds)
        return Words(self.folds[columns[:n]], self.pairs[columns[n:]], self.n_folds)

    def found(self, tokens: Tokens) -> tuple[np.ndarray, np.ndarray]:
        """Each occurrence of a known word or pair: its entry in ``tokens`` and its column; int64."""
        column_of = np.full(self.n_folds + 1, -1, np.int64)
        column_of[self.folds] = np.arange(len(self.folds))
        single = column_of[tokens.fold]
        alone = np.flatnonzero(single >= 0)
        at, pair = self._pairs(tokens)
        return np.concatenate([alone, at]), np.concatenate([single[alone], pair])

    def _pairs(self, tokens: Tokens) -> tuple[np.ndarray, np.ndarray]:
        if not len(self.pairs):
            return np.empty(0, np.int64), np.empty(0, np.int64)
        # most pairs cannot be known ones: one of their words is in none
        begins, ends = np.zeros(self.n_folds, bool), np.zeros(self.n_folds, bool)
        begins[self.pairs // self.n_folds] = True
        ends[self.pairs % self.n_folds] = True
        at = np.flatnonzero(tokens.pair)
        at = at[begins[tokens.fold[at]]]
        at = at[ends[tokens.fold[at + 1]]]
        key = tokens.fold[at] * self.n_folds + tokens.fold[at + 1]
        place = np.minimum(np.searchsorted(self.pairs, key), len(self.pairs) - 1)
        there = self.pairs[place] == key
        return at[there], place[there] + len(self.folds)

    def counts(self, tokens: Tokens, n_rows: int) -> csr_matrix:
        """float64 (units, columns): how often each unit has each."""
        at, column = self.found(tokens)
        counts = csr_matrix(
            (np.ones(len(at)), (tokens.row[at], column)), shape=(n_rows, len(self)), dtype=np.float64
        )
        counts.sum_duplicates()
        return counts


def weighted(counts: csr_matrix, idf: np.ndarray) -> csr_matrix:
    """Counts as weights, each row of length 1: as scikit-learn's ``TfidfTransformer`` with ``sublinear_tf``."""
    values = (1 + np.log(counts.data)) * idf[counts.indices]
    row = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr))
    length = np.sqrt(np.bincount(row, weights=values * values, minlength=counts.shape[0]))
    values = values / np.where(length > 0, length, 1.0)[row]
    return csr_matrix((values, counts.indices, counts.indptr), shape=counts.shape)


def words_of(
    tokens: Tokens, lexicon: Lexicon, least: int, always: np.ndarray, functions: np.ndarray
) -> Words:
    """Words and pairs that at least so many units have, the most frequent where there are too many; the folds
    ``always`` in any case. The folds ``functions`` stand alone, and in no pair: "that they" tells of no topic."""
    n = len(lexicon)
    single = _frequent(tokens.row, tokens.fold, least)
    pairs = tokens.fold[:-1] * n + tokens.fold[1:]
    content = ~np.isin(tokens.fold, functions)
    both = tokens.pair[:-1] & content[:-1] & content[1:]
    pair = _frequent(tokens.row[:-1][both], pairs[both], least)
    return Words(np.union1d(single, always).astype(np.int64), pair, n)


def _frequent(row: np.ndarray, key: np.ndarray, least: int) -> np.ndarray:
    """Keys, ascending, that at least so many rows have."""
    if not len(key):
        return np.empty(0, np.int64)
    keys, number = np.unique(key, return_inverse=True)
    once = np.unique(number.astype(np.int64) * (int(row.max()) + 1) + row)
    rows = np.bincount(once // (int(row.max()) + 1), minlength=len(keys))
    stay = np.flatnonzero(rows >= least)
    if len(stay) > MOST_COLUMNS:
        stay = np.sort(stay[np.argsort(-rows[stay], kind="stable")[:MOST_COLUMNS]])
    found: np.ndarray = keys[stay].astype(np.int64)
    return found
