"""Moving averages of rates."""

from __future__ import annotations

import numpy as np


def moving(hits: np.ndarray, sizes: np.ndarray, window: int) -> np.ndarray:
    """Hits over sizes in ``window`` periods around each; float (K, T) from hits (K, T) and sizes (T).

    The window is centred, and shorter at both ends. A period without anything has no value of its own but lends none
    either: it is a ratio of sums. NaN where the whole window is empty.

    >>> moving(np.array([[1.0, 2.0, 3.0]]), np.array([10.0, 10.0, 10.0]), 3).tolist()
    [[0.15, 0.2, 0.25]]
    """
    t = len(sizes)
    half = window // 2
    low = np.maximum(np.arange(t) - half, 0)
    high = np.minimum(np.arange(t) + (window - half), t)

    def summed(values: np.ndarray) -> np.ndarray:
        before = np.concatenate([np.zeros((*values.shape[:-1], 1)), np.cumsum(values, -1)], -1)
        return np.asarray(before[..., high] - before[..., low])

    size = summed(sizes)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(size > 0, summed(hits) / size, np.nan)
