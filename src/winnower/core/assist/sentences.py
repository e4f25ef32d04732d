"""Sentences that are looked at, as rows of weights, and the choice among them."""

from __future__ import annotations

from dataclasses import dataclass
from hashlib import blake2b

import numpy as np
import polars as pl
from scipy.sparse import csr_matrix

from winnower.core.assist.wordlists import DENIALS, NUMBERS
from winnower.core.index import Lexicon, TokenIndex
from winnower.core.index.lexicon import KINDS
from winnower.core.learn.words import Tokens, Words, tokens_of, weighted, words_of
from winnower.core.places.units import Units

#: Shorter and longer sentences are not quoted: headings, and lists that were taken for one sentence.
LEAST_TOKENS, MOST_TOKENS = 6, 90
#: So many sentences are looked at closely, spread evenly over the texts.
MOST_SENTENCES = 4_000
#: From this likeness (cosine) on two sentences say the same.
ALIKE = 0.55
#: The prior weighs as much as so many words, and never more than a tenth of those that are there.
MOST_PRIOR = 1_000
VARIETY = 0.7


@dataclass(frozen=True)
class Sentences:
    """Sentences by their numbers among ``units``; ``weight`` float64 (sentences, words), rows of length 1; ``counts``
    how often each has each word; ``of`` is how many there were to choose from."""

    units: Units
    at: np.ndarray
    words: Words
    counts: csr_matrix
    weight: csr_matrix
    of: int
    #: What may not differ between sentences that say the same: their numbers and whether they deny something, as one
    #: number a row.
    claims: np.ndarray

    def __len__(self) -> int:
        return len(self.at)

    def some(self, rows: np.ndarray) -> Sentences:
        return Sentences(
            self.units,
            self.at[rows],
            self.words,
            self.counts[rows],
            self.weight[rows],
            self.of,
            self.claims[rows],
        )


def fit_to_quote(units: Units, at: np.ndarray) -> np.ndarray:
    """Those of the sentences that are neither too short nor too long."""
    return fitting(units, at, LEAST_TOKENS, MOST_TOKENS)


def fitting(units: Units, at: np.ndarray, least: int, most: int) -> np.ndarray:
    """Those of the sentences that have from ``least`` to ``most`` tokens."""
    size = units.after[at] - units.start[at]
    found: np.ndarray = at[(size >= least) & (size <= most)]
    return found


def spread(at: np.ndarray, most: int) -> np.ndarray:
    """At most so many, evenly spread."""
    if len(at) <= most:
        return at
    found: np.ndarray = at[np.linspace(0, len(at) - 1, most).astype(np.int64)]
    return found


def sentences_of(
    units: Units,
    at: np.ndarray,
    index: TokenIndex,
    lexicon: Lexicon,
    functions: np.ndarray,
    together: np.ndarray,
    most: int = MOST_SENTENCES,
    least: int = LEAST_TOKENS,
) -> Sentences:
    """The sentences ``at`` (int, ascending) of ``least`` and more tokens with their content words: ``functions`` are folds of the stop list,
    ``together`` int64 per fold, the one that stands for it and its like."""
    fit = fitting(units, at, least, MOST_TOKENS)
    chosen = spread(fit, most)
    tokens = tokens_of(units, chosen, index, lexicon)
    every = tokens_of(units, chosen, index, lexicon, KINDS)
    claims = claims_of(every, len(chosen), lexicon.folds)
    content = ~np.isin(tokens.fold, functions)
    tokens = Tokens(
        tokens.row[content],
        tokens.token[content],
        together[tokens.fold[content]],
        np.zeros(int(content.sum()), bool),
    )
    rare = 2 if len(chosen) > 50 else 1
    nothing = np.empty(0, np.int64)
    known = words_of(tokens, lexicon, rare, nothing, nothing)
    counts = known.counts(tokens, len(chosen))
    return Sentences(units, chosen, known, counts, weighted(counts, inverse(counts)), len(fit), claims)


def claims_of(tokens: Tokens, rows: int, folds: pl.Series) -> np.ndarray:
    """uint64 per row: the same for rows with the same numbers that deny something, or not, alike. ``folds`` are the
    words by number."""
    used, of = np.unique(tokens.fold, return_inverse=True)
    of_token = np.array([_claim(fold) for fold in folds.gather(used)], np.uint64)[of]
    held = np.flatnonzero(of_token)
    pairs = np.unique(np.column_stack([tokens.row[held].astype(np.uint64), of_token[held]]), axis=0)
    found = np.zeros(rows, np.uint64)
    np.bitwise_xor.at(found, pairs[:, 0].astype(np.int64), pairs[:, 1])
    return found


def _claim(fold: str) -> int:
    """A number for a word that is a number or denies something, 0 for all others. All denials are one."""
    if fold in DENIALS or fold.endswith(("n't", "n’t")):
        return _hashed("\0denied")
    if fold in NUMBERS or any(sign.isdigit() for sign in fold):
        return _hashed(fold)
    return 0


def _hashed(words: str) -> int:
    return int.from_bytes(blake2b(words.encode(), digest_size=8).digest(), "big") | 1


def inverse(counts: csr_matrix) -> np.ndarray:
    """Inverse frequency of each word over the rows, smoothed (Spärck Jones 1972, Journal of Documentation 28)."""
    having = np.bincount(counts.indices, minlength=counts.shape[1])
    found: np.ndarray = np.log((1 + counts.shape[0]) / (1 + having)) + 1
    return found


def central(found: Sentences) -> np.ndarray:
    """How near each sentence is to the middle of all (the centroid of Radev and others 2004, Information Processing and
    Management 40), float64."""
    middle = np.asarray(found.weight.mean(0)).ravel()
    length = np.sqrt((middle * middle).sum())
    score: np.ndarray = found.weight @ (middle / length if length else middle)
    return score


def varied(found: Sentences, score: np.ndarray, most: int) -> list[int]:
    """Rows with the highest score that do not say again what is chosen (maximal marginal relevance: Carbonell and
    Goldstein 1998, SIGIR). Rows that score nothing are left out."""
    top = np.argsort(-score, kind="stable")[: max(most * 40, 200)]
    top = top[score[top] > 0]
    scale = score[top].max(initial=0) or 1.0
    alike = np.zeros(len(top))
    open_ = np.ones(len(top), bool)
    chosen: list[int] = []
    while len(chosen) < most and open_.any():
        value = np.where(
            open_ & (alike < ALIKE), VARIETY * score[top] / scale - (1 - VARIETY) * alike, -np.inf
        )
        best = int(np.argmax(value))
        if not np.isfinite(value[best]):
            break
        chosen.append(int(top[best]))
        open_[best] = False
        near = (found.weight[top] @ found.weight[top[best]].T).toarray().ravel()
        # another number, or a denial, is another statement, however alike the words are
        alike = np.maximum(alike, np.where(found.claims[top] == found.claims[top[best]], near, 0.0))
    return chosen


def saying_alike(found: Sentences, row: int, most: int) -> list[int]:
    """Other rows that say nearly the same, the nearest first."""
    near = (found.weight @ found.weight[row].T).toarray().ravel()
    near[(found.claims != found.claims[row])] = 0
    near[row] = 0
    order = np.argsort(-near, kind="stable")[:most]
    return [int(one) for one in order if near[one] >= ALIKE]


def telling(first: csr_matrix, second: csr_matrix) -> np.ndarray:
    """z of the log odds of each word in ``first`` against ``second`` (counts over the same words), with both together as
    the prior (Monroe, Colaresi and Quinn 2008, Political Analysis 16), float64."""
    a, b = (np.asarray(part.sum(0)).ravel() for part in (first, second))
    total = max((a + b).sum(), 1.0)
    prior = (a + b) / total * min(MOST_PRIOR, total / 10) + 0.01
    n_a, n_b, n_0 = a.sum(), b.sum(), prior.sum()
    odds = np.log((a + prior) / (n_a + n_0 - a - prior)) - np.log((b + prior) / (n_b + n_0 - b - prior))
    found: np.ndarray = odds / np.sqrt(1 / (a + prior) + 1 / (b + prior))
    return found


def pairs_in(tokens: Tokens, functions: np.ndarray, n_folds: int) -> tuple[np.ndarray, np.ndarray]:
    """Pairs of content words side by side (first fold times ``n_folds`` plus second), and in how many rows each is."""
    content = ~np.isin(tokens.fold, functions)
    both = (
        np.flatnonzero(tokens.pair[:-1] & content[:-1] & content[1:])
        if len(tokens.fold)
        else np.empty(0, np.int64)
    )
    key = tokens.fold[both].astype(np.int64) * n_folds + tokens.fold[both + 1]
    once = np.unique(np.column_stack([key, tokens.row[both]]), axis=0)[:, 0] if len(both) else key
    keys, rows = np.unique(once, return_counts=True)
    return keys, rows
