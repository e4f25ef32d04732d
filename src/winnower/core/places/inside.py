"""A corpus cut down to the words inside of some places, or outside of them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from winnower.core.index import TokenIndex
from winnower.core.index.edit import take_tokens
from winnower.core.places.places import Places


def tokens_inside(index: TokenIndex, places: Places) -> list[np.ndarray]:
    """For each segment bool per token: lies in one of the places."""
    out = []
    of_segment = np.searchsorted(index.base, places.text, side="right") - 1
    for at, segment in enumerate(index.segments):
        here = of_segment == at
        n, start = segment.n_tokens + 1, places.start[here]
        open_at = np.bincount(start, minlength=n) - np.bincount(start + places.length[here], minlength=n)
        out.append(np.cumsum(open_at[:-1]) > 0)
    return out


def only_tokens(index: TokenIndex, keep: Sequence[np.ndarray]) -> TokenIndex:
    """The same texts with these tokens only (bool per token of each segment)."""
    return TokenIndex(
        [take_tokens(segment, mask) for segment, mask in zip(index.segments, keep, strict=True)]
    )
