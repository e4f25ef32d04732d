"""Do groups differ in a rate? Statistics that respect the unit, for one state of the groups or many at once.

All arrays have a first axis B: the states, such as 200 ways to give the same units to the groups.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from scipy import special

from winnower.core.measure.counted import Counted
from winnower.core.measure.rates import LEAST_WITH_HIT

#: A group's own spread counts as much as its units with a hit, the spread of all groups as much as this many.
PRIOR = 10.0
#: Where the units of a group do not differ at all, their spread is taken to be this, so that ratios stay finite.
NO_SPREAD = 1e-6
#: From this many groups on each is set against all others taken together, not against each other one.
PAIRS_UP_TO = 30
#: The same where there would be more pairs than this over all rows.
MOST_PAIRS = 20_000
#: Groups take part in a ratio from this many hits on, in LEAST_WITH_HIT units.
LEAST_HITS = 10


class Sums(NamedTuple):
    """Over the units of each group: n (G); of sizes x and x^2 (B, 1, G); of hits y, y^2, x y, and units with
    a hit (B, K, G)."""

    n: np.ndarray
    x: np.ndarray
    xx: np.ndarray
    y: np.ndarray
    yy: np.ndarray
    xy: np.ndarray
    h: np.ndarray


@dataclass(frozen=True)
class Shape:
    """What stays the same whoever belongs to which group: the entries of ``Counted``, with their sizes.

    ``used`` are the units with a hit; ``entry`` is each entry's place among them, ``first`` the cell of its row in the
    first group.
    """

    counted: Counted
    used: np.ndarray
    entry: np.ndarray
    first: np.ndarray
    weights: tuple[np.ndarray, np.ndarray, np.ndarray]
    repeated: list[np.ndarray] = field(default_factory=list)

    @classmethod
    def of(cls, counted: Counted) -> Shape:
        used, entry = np.unique(counted.unit, return_inverse=True)
        y, x = counted.hits, counted.size[counted.unit]
        first = counted.row.astype(np.int64) * counted.n_groups
        return cls(counted, used, entry, first, (y, y * y, x * y))

    def sums(self, label: np.ndarray, x: np.ndarray, xx: np.ndarray) -> Sums:
        """``label`` int (B, U): the group of each used unit; ``x`` and ``xx`` (B, 1, G)."""
        c, b = self.counted, len(label)
        width = c.n_rows * c.n_groups
        cell = label.take(self.entry, axis=1) + self.first
        if b > 1:
            cell += np.arange(b)[:, None] * width
        flat = cell.ravel()

        def total(weights: np.ndarray | None) -> np.ndarray:
            found = np.bincount(flat, weights=weights, minlength=b * width)
            return found.reshape(b, c.n_rows, c.n_groups).astype(float)

        y, yy, xy = (total(one[: len(flat)]) for one in self._repeated(b))
        return Sums(c.units, x, xx, y, yy, xy, total(None))

    def _repeated(self, times: int) -> tuple[np.ndarray, ...]:
        """The weights of at least so many states on end; kept, since batches are of one size."""
        if self.repeated and len(self.repeated[0]) >= times * len(self.entry):
            return tuple(self.repeated)
        self.repeated[:] = [np.tile(one, times) for one in self.weights]
        return tuple(self.repeated)


def as_it_is(c: Counted) -> Sums:
    """The sums of the groups as they are; B = 1."""
    y, yy, xy = (part[None] for part in (c.totals, c.hits_squared, c.hits_by_size))
    return Sums(c.units, c.sizes[None, None], c.squares[None, None], y, yy, xy, c.with_hit[None])


class Scores(NamedTuple):
    """z (B, K, G): how far each group lies from all others in its rate, in standard errors. heterogeneity
    (B, K): how far the groups lie from each other. spread (B, K, G): variance of hits over their expectation,
    each group's drawn towards that of all; spread_all (B, K)."""

    z: np.ndarray
    heterogeneity: np.ndarray
    spread: np.ndarray
    spread_all: np.ndarray
    weight: np.ndarray


def scores(s: Sums) -> Scores:
    """Studentised differences of rates.

    Under one rate r for all, E_j = Y_j - r X_j is a group's surplus of hits. Its variance is r X_j phi_j, phi_j
    the spread over its units, sum((y - r_j x)^2) * n / (n - 1) / Y_j, drawn towards that of all groups by PRIOR
    units with a hit, since few units know little of their own spread. z sets E_j against the surplus of all
    others; heterogeneity is the weighted sum of squares of the rates about their common one.

    Source: studentised as in Chung and Romano (2013), Annals of Statistics 41, 484-507; overdispersion as in
    McCullagh and Nelder (1989), Generalized Linear Models, ch. 4.5; drawn together as in Smyth (2004),
    Statistical Applications in Genetics and Molecular Biology 3(1).
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        rate = s.y.sum(-1, keepdims=True) / s.x.sum(-1, keepdims=True)
        own_rate = np.where(s.x > 0, s.y / s.x, 0)
        squares = np.maximum(s.yy - 2 * own_rate * s.xy + own_rate**2 * s.xx, 0)
        squares *= np.where(s.n > 1, s.n / (s.n - 1), 0)
        spread_all = squares.sum(-1) / s.y.sum(-1)
        own = np.where(s.y > 0, squares / s.y, 0)
        spread = np.maximum((s.h * own + PRIOR * spread_all[..., None]) / (s.h + PRIOR), NO_SPREAD)
        surplus = s.y - rate * s.x
        variance = rate * s.x * spread
        part = s.x / s.x.sum(-1, keepdims=True)
        rest = variance.sum(-1, keepdims=True) - variance
        z = surplus / np.sqrt((1 - part) ** 2 * variance + part**2 * rest)
        weight = np.where(variance > 0, s.x**2 / variance, 0)
        off = np.where(s.x > 0, surplus / s.x, 0)
        common = (weight * off).sum(-1, keepdims=True) / weight.sum(-1, keepdims=True)
        heterogeneity = (weight * (off - common) ** 2).sum(-1)
    return Scores(z, heterogeneity, spread, spread_all, weight)


def spread_df(counted: Counted) -> np.ndarray:
    """float (K, G): degrees of freedom of a spread: Satterthwaite's of the group's own, and PRIOR."""
    with np.errstate(divide="ignore", invalid="ignore"):
        rate = np.where(counted.sizes > 0, counted.totals / counted.sizes, 0)
        expected = rate.ravel()[counted.cell] * counted.size[counted.unit]
        off = counted.hits - expected
        two = rate**2 * counted.squares + counted.by_cell(off**2 - expected**2)
        four = rate**4 * counted.fourths + counted.by_cell(off**4 - expected**4)
        df = 2 / (four / two**2 - 1 / counted.units)
    return np.clip(np.where(np.isfinite(df) & (df > 0), df, 0), 0, counted.units) + PRIOR


def approximate_p(found: Scores, df: np.ndarray) -> np.ndarray:
    """float (K): p of the heterogeneity by Welch's approximation for spreads that are estimated.

    Source: Welch (1951), Biometrika 38, 330-336.
    """
    weight, q = found.weight[0], found.heterogeneity[0]
    g = (weight > 0).sum(-1)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = weight / weight.sum(-1, keepdims=True)
        uneven = np.where(weight > 0, (1 - share) ** 2 / df, 0).sum(-1)
        f = q / (g - 1) / (1 + 2 * (g - 2) / (g**2 - 1) * uneven)
        p: np.ndarray = special.fdtrc(g - 1, (g**2 - 1) / (3 * uneven), f)
    return p


class Contrasts(NamedTuple):
    """Ratios between groups on the log scale. first, second int (C): groups; second -1: all others.
    estimate, error (B, K, C); NaN where a side has too little."""

    first: np.ndarray
    second: np.ndarray
    estimate: np.ndarray
    error: np.ndarray


def against_others(n_rows: int, n_groups: int) -> bool:
    """Whether there are too many groups, or pairs of them over all rows, to set each against each other one."""
    return n_groups > PAIRS_UP_TO or n_rows * n_groups * (n_groups - 1) // 2 > MOST_PAIRS


def contrasts(s: Sums, found: Scores) -> Contrasts:
    """Every group against every other, or against all others (see ``against_others``).

    Estimate: the difference of the logs of the rates; its variance phi_j / Y_j + phi_l / Y_l. A side takes
    part from LEAST_HITS hits in LEAST_WITH_HIT units on.
    """
    g = len(s.n)
    with np.errstate(divide="ignore", invalid="ignore"):
        enough = (s.y >= LEAST_HITS) & (s.h >= LEAST_WITH_HIT)
        log = np.where(enough, np.log(s.y / s.x), np.nan)
        variance = found.spread / s.y
        if not against_others(s.y.shape[1], g):
            first, second = np.triu_indices(g, 1)
            return Contrasts(
                first,
                second,
                log[..., first] - log[..., second],
                np.sqrt(variance[..., first] + variance[..., second]),
            )
        y, x = (v.sum(-1, keepdims=True) - v for v in (s.y, s.x))
        h = s.h.sum(-1, keepdims=True) - s.h
        rest = np.where((y >= LEAST_HITS) & (h >= LEAST_WITH_HIT), np.log(y / x), np.nan)
        error = np.sqrt(variance + found.spread_all[..., None] / y)
    return Contrasts(np.arange(g), np.full(g, -1), log - rest, error)
