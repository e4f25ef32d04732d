"""The bands of a tone between -1 and 1."""

from __future__ import annotations

from typing import Literal

import numpy as np

Band = Literal["strongly negative", "negative", "neutral", "positive", "strongly positive"]
BANDS: tuple[Band, ...] = ("strongly negative", "negative", "neutral", "positive", "strongly positive")
NEUTRAL = 2
#: From here on a tone is not neutral, and from here on it is strong; see docs/methods.md.
SOME, STRONG = 0.05, 0.5


def band_of(score: np.ndarray) -> np.ndarray:
    """int64 places in BANDS of scores (float64). What lies on a limit has the stronger band."""
    found: np.ndarray = np.full(len(score), NEUTRAL, np.int64)
    found[score >= SOME] = 3
    found[score >= STRONG] = 4
    found[score <= -SOME] = 1
    found[score <= -STRONG] = 0
    return found
