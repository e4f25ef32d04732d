"""From hits to sums by group: all that rates, intervals and tests need."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy import sparse

from winnower.core.compare.targets import Corpus, Target
from winnower.core.places import distinct_texts
from winnower.core.scope import Ground


@dataclass(frozen=True)
class GroupSums:
    """Sums over the texts of each of G groups; x are a text's words, y its hits of one of K rows.

    texts, words, words_squared                     (G)
    hits, hits_squared, hits_by_words, with_hit     (K, G)
    rate_sum, rate_squared_sum                      (K, G)  of y / x over texts with words
    texts_with_words                                (G)
    cross                                           (G, T, T) of y_k y_l for the T tested rows;
                                                    None where groups share texts
    """

    texts: np.ndarray
    words: np.ndarray
    words_squared: np.ndarray
    texts_with_words: np.ndarray
    hits: np.ndarray
    hits_squared: np.ndarray
    hits_by_words: np.ndarray
    with_hit: np.ndarray
    rate_sum: np.ndarray
    rate_squared_sum: np.ndarray
    cross: np.ndarray | None


def count_groups(target: Target, corpus: Corpus, ground: Ground) -> GroupSums:
    """Count every row of a target in every group of the scope."""
    groups = ground.groups
    n = groups.n_groups
    shape = (len(target.rows), n)
    names = ("hits", "hits_squared", "hits_by_words", "with_hit", "rate_sum", "rate_squared_sum")
    sums = {name: np.zeros(shape) for name in names}
    tested = target.tested_rows
    kept = {}
    for row in range(shape[0]):
        texts, hits = counts_of(target, row, corpus, ground)
        at, group = groups.expand(texts)
        y, x = hits[at].astype(float), corpus.index.words[texts[at]].astype(float)
        rate = np.divide(y, x, out=np.zeros_like(y), where=x > 0)
        weights = (y, y * y, y * x, None, rate, rate * rate)
        for name, weight in zip(names, weights, strict=True):
            sums[name][row] = np.bincount(group, weights=weight, minlength=n)
        if row in tested:
            kept[row] = (texts, hits)
    size, words, squared, with_words = ground.sizes
    cross = None
    if groups.of_text is not None:
        cross = _cross_products([kept[row] for row in tested], groups.of_text, n)
    return GroupSums(size, words, squared, with_words, cross=cross, **sums)


def counts_of(target: Target, row: int, corpus: Corpus, ground: Ground) -> tuple[np.ndarray, np.ndarray]:
    """Texts of the scope with a hit of a row, sorted, and the hits of each."""
    texts = target.texts_of_hits(row, corpus)
    if not ground.everything:
        texts = texts[ground.mask[texts]]
    return distinct_texts(texts, corpus.index.n_texts)


def _cross_products(
    counted: list[tuple[np.ndarray, np.ndarray]], group_of: np.ndarray, n_groups: int
) -> np.ndarray:
    """(G, T, T): for each group the sums over its texts of y_k * y_l.

    Texts with a hit of any row are laid out sorted by group, so that each group is one matrix
    product: of a sparse table where most cells are empty, else of a dense one.
    """
    any_hit = np.zeros(len(group_of), bool)
    for texts, _ in counted:
        any_hit[texts] = True
    any_hit &= group_of >= 0
    used = np.flatnonzero(any_hit)
    group = group_of[used].astype(np.int16 if n_groups < 2**15 else np.int32)
    order = np.argsort(group, kind="stable")
    place = np.full(len(group_of), -1, np.int32)
    place[used[order]] = np.arange(len(used), dtype=np.int32)
    cells = sum(len(texts) for texts, _ in counted)
    thin = cells * 4 < len(used) * len(counted)
    hits: Any = _sparse(counted, place, len(used)) if thin else _dense(counted, place, len(used))
    ends = np.cumsum(np.bincount(group, minlength=n_groups))
    starts = np.concatenate([[0], ends[:-1]])
    parts = (hits[low:high] for low, high in zip(starts, ends, strict=True))
    products: list[np.ndarray] = [(part.T @ part).toarray() if thin else part.T @ part for part in parts]
    return np.stack(products) if products else np.zeros((0, 0, 0))


def _dense(counted: list[tuple[np.ndarray, np.ndarray]], place: np.ndarray, n: int) -> np.ndarray:
    hits = np.zeros((n, len(counted)))
    for column, (texts, times) in enumerate(counted):
        rows = place[texts]
        inside = rows >= 0
        hits[rows[inside], column] = times[inside]
    return hits


def _sparse(counted: list[tuple[np.ndarray, np.ndarray]], place: np.ndarray, n: int) -> sparse.csr_matrix:
    rows = np.concatenate([place[texts] for texts, _ in counted])
    columns = np.repeat(np.arange(len(counted), dtype=np.int32), [len(texts) for texts, _ in counted])
    times = np.concatenate([times for _, times in counted]).astype(float)
    inside = rows >= 0
    return sparse.csr_matrix((times[inside], (rows[inside], columns[inside])), shape=(n, len(counted)))
