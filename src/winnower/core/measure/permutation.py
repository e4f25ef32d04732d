"""Units given to the groups anew, many times: how large a difference chance alone would make.

Every state of chance is drawn with ``numpy.random.PCG64`` from the seed, and sums are taken in one order, so that
the same seed gives the same numbers on every machine.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

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
#: Rows with at most so many states as extreme are given more of them where they are tested among very many rows.
FEW_AS_EXTREME = 2
#: Entries looked at in all for these.
FURTHER_WORK = 60_000_000

#: A number, or several that together stand for one.
Seed = int | tuple[int, ...]


def permuted_sums(counted: Counted, times: int, seed: Seed) -> Iterator[Sums]:
    """The sums of ``times`` states, in batches: the units are given to the groups at random, as many to each."""
    shape, rng = Shape.of(counted), np.random.default_rng(seed)
    g, x = counted.n_groups, counted.size
    group = counted.group.astype(np.int16 if g < 2**15 else np.int32)
    repeated: list[np.ndarray] = []
    for b in _batches(times, len(group) + 4 * len(counted.unit)):
        label = rng.permuted(np.broadcast_to(group, (b, len(group))), axis=1)
        flat = _flat(label, g)
        repeated = repeated or [np.tile(w, b) for w in (x, x * x)]
        of_x, of_xx = (
            np.bincount(flat, weights=w[: len(flat)], minlength=b * g).reshape(b, 1, g) for w in repeated
        )
        yield shape.sums(label[:, shape.used], of_x, of_xx)


def scattered_sums(counted: Counted, times: int, seed: Seed) -> Iterator[Sums]:
    """The same where few of very many units have a hit: these alone are given new places.

    A group keeps the mean size of its units without a hit. Where nearly all units are such, that is what
    moving them would give.

    All units are put in one order of chance; in each state the groups are moved along it by a number of chance. Such
    moves are a group of permutations that has the state as it is in it, so states drawn from it keep the level as
    those drawn from all permutations do, at a tenth of the cost. Source: Hemerik and Goeman (2018), TEST 27, 811-825.
    """
    rng = np.random.default_rng(seed)
    c, n, g = counted, len(counted.group), counted.n_groups
    order = rng.permutation(np.arange(n, dtype=np.int32))
    shape, place = _along(Shape.of(c), order)
    x = c.size[shape.used]
    used = c.group[shape.used]
    without = c.units - np.bincount(used, minlength=g)
    mean = [
        np.divide(
            whole - np.bincount(used, weights=part, minlength=g), without, out=np.zeros(g), where=without > 0
        )
        for whole, part in (
            (c.sizes, x),
            (c.squares, x * x),
        )
    ]
    # twice on end, so that a move never runs over; the fewer bytes, the more of it is at hand
    along = np.tile(c.group.astype(np.min_scalar_type(g))[order], 2)
    weights: list[np.ndarray] = []
    for b in _batches(times, 2 * len(x) + 4 * len(c.unit)):
        label = np.stack([along[move : move + n].take(place) for move in rng.integers(0, n, b)])
        flat = _flat(label, g)
        weights = weights if weights and len(weights[0]) == len(flat) else [np.tile(w, b) for w in (x, x * x)]
        placed = c.units - np.bincount(flat, minlength=b * g).reshape(b, g)
        of_x, of_xx = (
            placed * one + np.bincount(flat, weights=w, minlength=b * g).reshape(b, g)
            for one, w in zip(mean, weights, strict=True)
        )
        yield shape.sums(label, of_x[:, None], of_xx[:, None])


def _flat(label: np.ndarray, width: int) -> np.ndarray:
    """int64 (B times U): labels (B, U) that differ between states, for sums over all of them at once."""
    found = label.astype(np.int64)
    if len(found) > 1:
        found += np.arange(len(found))[:, None] * width
    return found.ravel()


def _along(shape: Shape, order: np.ndarray) -> tuple[Shape, np.ndarray]:
    """The units with a hit as they follow each other in an order of all units, and their places there: what is looked
    up is then walked along, not jumped about in."""
    place = np.empty(len(order), np.int64)
    place[order] = np.arange(len(order))
    by = np.argsort(place[shape.used])
    rank = np.empty(len(by), np.int64)
    rank[by] = np.arange(len(by))
    used = shape.used[by]
    return replace(shape, used=used, entry=rank[shape.entry]), place[used]


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
