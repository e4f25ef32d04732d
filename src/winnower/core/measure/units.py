"""The unit of rates: the one place that knows it."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

#: A rate is given for so many words.
PER_WORDS = 1_000
RATE_UNIT = f"per {PER_WORDS:,} words"


def per_words(hits: ArrayLike, words: ArrayLike) -> np.ndarray:
    """Hits for each PER_WORDS words; arrays that broadcast. NaN where there are no words.

    >>> per_words([3, 1], [600, 0]).tolist()
    [5.0, nan]
    """
    x, y = np.asarray(words, float), np.asarray(hits, float)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(x > 0, y / x * PER_WORDS, np.nan)
