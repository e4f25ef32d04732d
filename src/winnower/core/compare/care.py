"""Terms and categories to look after: overlaps, terms that add nothing, terms that carry most."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import sparse

from winnower.core.dictionary import Dictionary
from winnower.core.dictionary.hits import caught_by_each
from winnower.core.index import Segment, TokenIndex
from winnower.core.pattern import Term
from winnower.core.scope import Ground

#: A term with more than this share of its category's hits carries it.
CARRIES = 0.5
LEAST_TERMS = 3
LEAST_HITS = 20


@dataclass(frozen=True)
class Overlap:
    """Two categories, places in the dictionary, and how many words both count."""

    first: int
    second: int
    words: int


@dataclass(frozen=True)
class Care:
    """Terms are numbered through the dictionary, from 0.

    overlaps   pairs of categories of which neither holds the other, most shared words first
    idle       terms with hits, all of which other terms of their category catch, too
    carrying   terms with most of their category's own hits, and their share
    """

    overlaps: tuple[Overlap, ...]
    idle: tuple[int, ...]
    carrying: tuple[tuple[int, float], ...]


def look_over(target: Dictionary, index: TokenIndex, ground: Ground) -> Care:
    """Look over every term and every pair of categories in a scope."""
    terms = [entry.parse() for category in target.categories for entry in category.terms]
    home = np.array([at for at, c in enumerate(target.categories) for _ in c.terms], int)
    n, k = len(terms), len(target.categories)
    hits, alone = np.zeros(n, np.int64), np.zeros(n, np.int64)
    shared = np.zeros((k, k))
    for segment, base in zip(index.segments, index.base, strict=False):
        mask = None if ground.everything else ground.mask[base : base + segment.n_texts]
        term_of, position, counted = _words_caught(terms, segment, mask)
        hits += counted
        alone += _caught_alone(term_of, position, home, n)
        shared += _shared(home[term_of], position, k)
    own = np.bincount(home, weights=hits, minlength=k)
    many = np.bincount(home, minlength=k) >= LEAST_TERMS
    share = np.divide(hits, own[home], out=np.zeros(n), where=own[home] > 0) if n else np.zeros(0)
    much = many[home] & (share > CARRIES) & (hits >= LEAST_HITS) if n else np.zeros(0, bool)
    carrying = np.flatnonzero(much)
    pairs = [
        Overlap(a, b, int(shared[a, b]))
        for a in range(k)
        for b in range(a + 1, k)
        if shared[a, b] and not _holds(target, a, b)
    ]
    return Care(
        tuple(sorted(pairs, key=lambda pair: (-pair.words, pair.first, pair.second))),
        tuple(np.flatnonzero((hits > 0) & (alone == 0)).tolist()),
        tuple((int(at), float(share[at])) for at in carrying),
    )


def _words_caught(
    terms: list[Term], segment: Segment, mask: np.ndarray | None
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Term and position of every token in a hit of a term, and the hits of each term."""
    found = caught_by_each(terms, segment, mask)
    counted = np.bincount(found.of, minlength=len(terms))
    if (found.length == 1).all():
        return found.of, found.start, counted
    within = np.arange(int(found.length.sum())) - np.repeat(
        np.cumsum(found.length) - found.length, found.length
    )
    return np.repeat(found.of, found.length), np.repeat(found.start, found.length) + within, counted


def _caught_alone(term_of: np.ndarray, position: np.ndarray, home: np.ndarray, n: int) -> np.ndarray:
    """Tokens of each term that no other term of its category catches."""
    if not len(position):
        return np.zeros(n, np.int64)
    spot = home[term_of] * (int(position.max()) + 1) + position
    _, back, times = np.unique(spot, return_inverse=True, return_counts=True)
    return np.bincount(term_of[times[back] == 1], minlength=n)


def _shared(category_of: np.ndarray, position: np.ndarray, k: int) -> np.ndarray:
    """(k, k): tokens that both of two categories catch by their own terms."""
    if not len(position):
        return np.zeros((k, k))
    places, row = np.unique(position, return_inverse=True)
    caught = sparse.csr_matrix(
        (np.ones(len(row)), (row, category_of)), shape=(len(places), k), dtype=np.float64
    )
    caught.sum_duplicates()
    caught.data[:] = 1
    return (caught.T @ caught).toarray()


def _holds(target: Dictionary, a: int, b: int) -> bool:
    first, second = target.categories[a].path, target.categories[b].path
    return first == second[: len(first)] or second == first[: len(second)]
