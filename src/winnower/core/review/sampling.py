"""Samples drawn to be judged: places in equal numbers from each group, or texts without any."""

from __future__ import annotations

import numpy as np

from winnower.core.index import TokenIndex
from winnower.core.places import Places, places_in_texts
from winnower.core.review.quality import balanced_sample
from winnower.core.review.verdicts import texts_without


def sample_places(
    found: Places, group: np.ndarray, index: TokenIndex, size: int, seed: int
) -> list[list[int]]:
    """Some of the places, as many from each group of texts as there are, in mixed order.

    ``group`` int per text. Each as [text id, start, end] in code points.
    """
    chosen = balanced_sample(group[found.text], size, seed)
    return [list(row) for row in places_in_texts(found.some(chosen), index).iter_rows()]


def sample_texts(
    found: Places | None, mask: np.ndarray, index: TokenIndex, size: int, seed: int
) -> list[list[int]]:
    """Ids of texts in ``mask`` without any of the places, drawn at random; each as [text id]. Empty where
    every text has one."""
    places = np.flatnonzero(texts_without(found, index, mask))
    chosen = np.random.default_rng(seed).choice(places, min(size, len(places)), replace=False)
    return [[int(text_id)] for text_id in index.text_id[chosen]]
