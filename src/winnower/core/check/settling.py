"""What becomes of groups of texts that are alike."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Way = Literal["once", "aside", "all"]

TINY_WORDS = 5
"""A text with fewer words is worth a look: often a remainder of a page, not an article."""


def is_tiny(words: NDArray[np.integer]) -> NDArray[np.bool_]:
    """Which texts have a word, but fewer than TINY_WORDS. ``words``: (texts,)."""
    return (words > 0) & (words < TINY_WORDS)


def settled(groups: Sequence[NDArray[np.int64]], way: Way) -> tuple[NDArray[np.int64], NDArray[np.bool_]]:
    """The texts of groups, and which of them no longer count: all but the first of each group ("once"), all
    ("aside"), or none ("all"). The first of a group is the one that stands first in its array.

    >>> places, aside = settled([np.array([4, 2]), np.array([7])], "once")
    >>> places.tolist(), aside.tolist()
    ([4, 2, 7], [False, True, False])
    """
    if not groups:
        return np.empty(0, np.int64), np.empty(0, bool)
    places = np.concatenate(groups)
    if way != "once":
        return places, np.full(len(places), way == "aside")
    aside = np.ones(len(places), bool)
    sizes = np.array([len(group) for group in groups])
    aside[np.cumsum(sizes)[sizes > 0] - sizes[sizes > 0]] = False
    return places, aside
