"""Work on large arrays that numpy does slower than it could."""

from __future__ import annotations

import numpy as np


def distinct(values: np.ndarray) -> np.ndarray:
    """Each value once, ascending. By sorting: of millions of whole numbers many times faster than ``np.unique``, which
    hashes them.

    >>> distinct(np.array([3, 1, 3])).tolist()
    [1, 3]
    """
    ordered = np.sort(values)
    if not len(ordered):
        return ordered
    new = np.ones(len(ordered), bool)
    np.not_equal(ordered[1:], ordered[:-1], out=new[1:])
    found: np.ndarray = ordered[new]
    return found
