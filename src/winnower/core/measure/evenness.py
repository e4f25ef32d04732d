"""How evenly hits fall over the parts of a corpus."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike


def deviation_of_proportions(hits: ArrayLike, words: ArrayLike) -> np.ndarray:
    """Gries' DP, normalised: 0 where hits fall over the parts as words do, 1 where all are in one.

    hits   ... by P: hits in each of P parts
    words  P: words of each part

    DP = sum(|hits share - words share|) / 2, divided by 1 - the smallest words share.
    Parts without words are left out. NaN without hits, or with fewer than two parts.

    Source: Gries (2008), International Journal of Corpus Linguistics 13, 403-437; normalised as in
    Lijffijt and Gries (2012), the same journal 17, 147-149.

    >>> deviation_of_proportions([10, 0], [50, 50]).item()
    1.0
    """
    counts, sizes = np.asarray(hits, float), np.asarray(words, float)
    counts, sizes = counts[..., sizes > 0], sizes[sizes > 0]
    if len(sizes) < 2:
        return np.full(counts.shape[:-1], np.nan)
    part = sizes / sizes.sum()
    with np.errstate(divide="ignore", invalid="ignore"):
        share = counts / counts.sum(-1, keepdims=True)
    found: np.ndarray = np.abs(share - part).sum(-1) / 2 / (1 - part.min())
    return found
