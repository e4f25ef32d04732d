"""What a search finds, by group."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.counting import counts_of
from winnower.core.compare.targets import Corpus, SearchTarget
from winnower.core.pattern import matching_texts, parse_query
from winnower.core.scope import Ground


@dataclass(frozen=True)
class Found:
    """Texts a search finds in a scope, and its hits in them; the arrays are int64 (G), by group.

    A text can be found without a hit, by what it does not have.
    """

    texts: int
    hits: int
    group_texts: np.ndarray
    group_hits: np.ndarray


def count_search(target: SearchTarget, corpus: Corpus, ground: Ground) -> Found:
    """Count texts and hits of a search over the groups of a ground."""
    groups = ground.groups
    n = groups.n_groups
    found = np.flatnonzero(matching_texts(parse_query(target.query), corpus.index) & ground.mask)
    texts, times = counts_of(target, 0, corpus, ground)
    _, of_found = groups.expand(found)
    at, of_hits = groups.expand(texts)
    return Found(
        texts=len(found),
        hits=int(times.sum()),
        group_texts=np.bincount(of_found, minlength=n),
        group_hits=np.bincount(of_hits, weights=times[at], minlength=n).astype(np.int64),
    )
