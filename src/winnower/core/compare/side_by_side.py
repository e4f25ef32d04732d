"""Two dictionaries, or two versions of one, counted on the same scope and split."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.targets import Corpus
from winnower.core.dictionary import Dictionary, category_hits
from winnower.core.pattern import Hits, Term
from winnower.core.scope import Ground


@dataclass(frozen=True)
class SideBySide:
    """Rows are categories by path: all of the first, then those only the second has. R rows, G groups.

    hits   int64 (2, R, G): of the first and the second; 0 where it has no such category
    texts  int64 (2, R, G): texts with a hit
    both   int64 (R): hits of the first that overlap a hit of the second
    """

    paths: tuple[tuple[str, ...], ...]
    has: np.ndarray
    hits: np.ndarray
    texts: np.ndarray
    both: np.ndarray


def side_by_side(first: Dictionary, second: Dictionary, corpus: Corpus, ground: Ground) -> SideBySide:
    """Count both, children included. Categories are matched by their path."""
    index = corpus.index
    paths = tuple(dict.fromkeys(c.path for d in (first, second) for c in d.categories))
    g = ground.groups.n_groups
    hits, texts = np.zeros((2, len(paths), g), np.int64), np.zeros((2, len(paths), g), np.int64)
    has = np.zeros((2, len(paths)), bool)
    both = np.zeros(len(paths), np.int64)
    for row, path in enumerate(paths):
        terms = [_terms(dictionary, path) for dictionary in (first, second)]
        has[:, row] = [found is not None for found in terms]
        for segment, base in zip(index.segments, index.base, strict=False):
            mask = ground.mask[base : base + segment.n_texts]
            found = []
            for side in (0, 1):
                one = category_hits(terms[side] or [], segment)
                one = Hits(*(values[mask[segment.text_of[one.start]]] for values in one))
                found.append(one)
                of_text = np.bincount(segment.text_of[one.start], minlength=segment.n_texts)
                with_hit = np.flatnonzero(of_text)
                at, group = ground.groups.expand(with_hit + base)
                hits[side, row] += np.bincount(group, weights=of_text[with_hit][at], minlength=g).astype(
                    np.int64
                )
                texts[side, row] += np.bincount(group, minlength=g)
            both[row] += _overlapping(*found)
    return SideBySide(paths, has, hits, texts, both)


def _terms(dictionary: Dictionary, path: tuple[str, ...]) -> list[Term] | None:
    under = [c for c in dictionary.categories if c.path[: len(path)] == path]
    if not any(c.path == path for c in under):
        return None
    return [term.parse() for category in under for term in category.terms]


def _overlapping(one: Hits, other: Hits) -> int:
    """Hits of the one that share a token with a hit of the other; both free of overlaps."""
    if not len(one.start) or not len(other.start):
        return 0
    before = np.searchsorted(other.start, one.start + one.length) - 1
    end = (other.start + other.length)[np.maximum(before, 0)]
    return int(((before >= 0) & (end > one.start)).sum())
