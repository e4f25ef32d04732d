"""In which order found passages stand."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Literal

import numpy as np

from winnower.core.coding.passages import Passages

#: By the text and the place in it, the date of the text, the length (longest first), the strength (strongest first), or
#: who coded it.
SortBy = Literal["text", "date", "length", "strength", "coder"]


def in_order(
    found: Passages,
    sort: SortBy,
    days: Callable[[Passages], np.ndarray],
    coders: Callable[[], Sequence[int]],
) -> Passages:
    """Passages sorted; of two alike the earlier in ``found`` comes first.

    ``days`` gives the day of each one's text (float64, NaN for none: they come last), ``coders`` the numbers of all coders in
    the order of their names; runs, which are not among them, come first. Neither is asked for where it is not needed.
    """
    if sort == "text" or not len(found):
        return found
    if sort == "length":
        by = -(found.end - found.start).astype(np.int64)
    elif sort == "strength":
        by = -found.strength.astype(np.int64)
    elif sort == "coder":
        place = {coder: at for at, coder in enumerate(coders())}
        by = np.array([place.get(one, -1) for one in found.made_by.tolist()], np.int64)
    else:
        by = days(found)
    return found.taken(np.argsort(by, kind="stable"))
