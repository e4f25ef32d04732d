"""A whole dictionary in a scope at a glance: counts of its categories, and terms to look after."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.counting import count_groups
from winnower.core.compare.targets import Corpus, DictionaryTarget
from winnower.core.dictionary import Dictionary, texts_of_hits
from winnower.core.dictionary.hits import count_each
from winnower.core.scope import Ground


@dataclass(frozen=True)
class Overview:
    """Counts by category (K), and terms by their place in the dictionary, numbered through from 0.

    hits, texts      float64 (K): in the whole scope, children included
    texts_matched    texts of the scope with a hit of any term
    empty_terms      terms without any hit in the corpus
    double_terms     terms that stand in more than one category; case is ignored
    """

    hits: np.ndarray
    texts: np.ndarray
    texts_matched: int
    empty_terms: tuple[int, ...]
    double_terms: tuple[int, ...]


def dictionary_overview(target: Dictionary, corpus: Corpus, ground: Ground) -> Overview:
    """Count all categories over the groups of ``ground`` and look over every term."""
    index = corpus.index
    counts = count_groups(DictionaryTarget(target), corpus, ground) if target.categories else None
    placed = [(at, entry) for at, category in enumerate(target.categories) for entry in category.terms]
    terms = [entry.parse() for _, entry in placed]
    matched = np.zeros(index.n_texts, bool)
    if terms:
        matched[texts_of_hits(terms, index)] = True
    homes: dict[str, set[int]] = {}
    for at, entry in placed:
        homes.setdefault(entry.source.casefold(), set()).add(at)
    return Overview(
        hits=counts.hits.sum(1) if counts else np.empty(0),
        texts=counts.with_hit.sum(1) if counts else np.empty(0),
        texts_matched=int((matched & ground.mask).sum()),
        empty_terms=tuple(np.flatnonzero(count_each(terms, index) == 0).tolist()),
        double_terms=tuple(at for at, (_, e) in enumerate(placed) if len(homes[e.source.casefold()]) > 1),
    )
