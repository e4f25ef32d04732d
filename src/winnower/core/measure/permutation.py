"""Units given to the groups anew, many times: how large a difference chance alone would make.

Every state of chance is drawn with ``numpy.random.PCG64`` from the seed, and sums are taken in one order, so that
the same seed gives the same numbers on every machine.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from winnower.core.measure.counted import Counted
from winnower.core.measure.homogeneity import Shape, Sums

#: How many times units are given to the groups, at most and at least.
MOST, LEAST = 999, 99
#: Entries looked at in all, and at once; the number of times follows from them.
WORK, AT_ONCE = 24_000_000, 300_000
#: Up to so many entries in a state everything is permuted, however many there are in each group.
SMALL = 120_000
#: A p is clear when this many states were as extreme: it is then known to lie far above any usual level, so
#: nothing more is drawn. Source: Besag and Clifford (1991), Biometrika 78, 301-304.
CLEAR = 40


def permuted_sums(counted: Counted, times: int, seed: int) -> Iterator[Sums]:
    """The sums of ``times`` states, in batches: the units are given to the groups at random, as many to each."""
    shape, rng = Shape.of(counted), np.random.default_rng(seed)
    g, x = counted.n_groups, counted.size
    group = counted.group.astype(np.int16 if g < 2**15 else np.int32)
    repeated: list[np.ndarray] = []
    for b in _batches(times, len(group) + 4 * len(counted.unit)):
        label = rng.permuted(np.broadcast_to(group, (b, len(group))), axis=1)
        flat = (label + np.arange(b, dtype=np.int64)[:, None] * g).ravel()
        repeated = repeated or [np.tile(w, b) for w in (x, x * x)]
        of_x, of_xx = (
            np.bincount(flat, weights=w[: len(flat)], minlength=b * g).reshape(b, 1, g) for w in repeated
        )
        yield shape.sums(label[:, shape.used], of_x, of_xx)


def scattered_sums(counted: Counted, times: int, seed: int) -> Iterator[Sums]:
    """The same where few of very many units have a hit: these alone are given new places.

    A group keeps the mean size of its units without a hit. Where nearly all units are such, that is what
    moving them would give.
    """
    shape, rng = Shape.of(counted), np.random.default_rng(seed)
    c, n = counted, len(counted.group)
    g, x = c.n_groups, c.size[shape.used]
    without = c.units - np.bincount(c.group[shape.used], minlength=g)
    mean = [
        np.divide(whole - part, without, out=np.zeros(g), where=without > 0)
        for whole, part in (
            (c.sizes, np.bincount(c.group[shape.used], weights=x, minlength=g)),
            (
                np.bincount(c.group, weights=c.size**2, minlength=g),
                np.bincount(c.group[shape.used], weights=x * x, minlength=g),
            ),
        )
    ]
    place = np.zeros(n, np.int32)
    for b in _batches(times, 2 * len(x) + 4 * len(c.unit)):
        label = np.stack([c.group[_distinct(rng, n, len(x), place)] for _ in range(b)])
        flat = (label + np.arange(b, dtype=np.int64)[:, None] * g).ravel()
        placed = np.bincount(flat, minlength=b * g).reshape(b, g)
        sums = [
            (c.units - placed) * one + np.bincount(flat, weights=np.tile(w, b), minlength=b * g).reshape(b, g)
            for one, w in zip(mean, (x, x * x), strict=True)
        ]
        yield shape.sums(label, sums[0][:, None], sums[1][:, None])


def _distinct(rng: np.random.Generator, n: int, m: int, place: np.ndarray) -> np.ndarray:
    """m different numbers below n, in an order of chance; ``place`` int32 (n), any numbers from 0 on, is room to work in.

    Numbers that were drawn before, or twice at once, are drawn anew. Which of several keeps one does not depend on the
    number, so no choice of numbers is likelier than another. Where m is no small part of n, numbers are permuted.
    """
    if m * 4 > n:
        return rng.permutation(n)[:m]
    found = rng.integers(0, n, m)
    at = np.arange(m, dtype=np.int32)
    place[found] = at
    late = np.flatnonzero(place[found] != at)
    while len(late):
        found[late] = -1
        drawn = rng.integers(0, n, len(late))
        # a number is taken where the one that is noted for it has it
        owner = np.minimum(place[drawn], m - 1)
        free = found[owner] != drawn
        place[drawn[free]] = late[free]
        won = free.copy()
        won[free] = place[drawn[free]] == late[free]
        found[late[won]] = drawn[won]
        late = late[~won]
    return found


def times_for(cost: int, most: int = MOST) -> int:
    """How many states are drawn where each costs so many entries."""
    return int(np.clip(WORK // max(cost, 1), LEAST, most))


def _batches(times: int, cost: int) -> Iterator[int]:
    size = int(np.clip(AT_ONCE // max(cost, 1), 1, 200))
    for start in range(0, times, size):
        yield min(size, times - start)


def as_extreme(drawn: np.ndarray, found: np.ndarray) -> np.ndarray:
    """int (...): states of ``drawn`` (B, ...) at least as large as ``found`` (...), but for rounding. States in
    which nothing can be said (NaN) count as such."""
    times: np.ndarray = (~(drawn < found * (1 - 1e-9))).sum(0)
    return times
