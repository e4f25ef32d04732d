"""p values of many tests at once."""

from __future__ import annotations

import numpy as np


def holm(p: np.ndarray) -> np.ndarray:
    """p adjusted so that any of them at or below a level is a mistake at most that often; NaN stay.

    Source: Holm (1979), Scandinavian Journal of Statistics 6, 65-70.

    >>> holm(np.array([0.01, 0.04, 0.03])).round(3).tolist()
    [0.03, 0.06, 0.06]
    """
    out = np.full(p.shape, np.nan)
    known = np.flatnonzero(~np.isnan(p))
    order = known[np.argsort(p[known], kind="stable")]
    out[order] = np.minimum(np.maximum.accumulate(p[order] * np.arange(len(order), 0, -1)), 1)
    return out
