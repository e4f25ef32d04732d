"""Rates made comparable by direct standardising: what they would be, were every group made up alike."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from winnower.core.measure.counted import Counted
from winnower.core.measure.rates import LEAST_WITH_HIT, Rates

#: Groups with fewer units do not decide which strata are used.
LEAST_IN_GROUP = 5
#: Where the strata that all groups share hold less of all words, groups that lack most of them stay out.
LEAST_SHARED = 0.5


class Standardised(NamedTuple):
    """rates    of K rows in G groups, standardised
    used     bool (S): strata in which every group that is compared has words; only these are used
    covered  the part of the words of these groups that lies in them, 0 to 1
    out      bool (G): groups that lack a stratum which is used, and have no adjusted rate therefore
    """

    rates: Rates
    used: np.ndarray
    covered: float
    out: np.ndarray


def standardised(
    counted: Counted, stratum: np.ndarray, n_strata: int, cluster: np.ndarray | None = None
) -> Standardised:
    """Each group's rates in the strata, weighted by the words all groups together have there.

    ``stratum`` int (N) of each unit of ``counted``, -1 where it is not known: such units are left out, and so are
    strata in which a group has no words, but for groups of fewer than LEAST_IN_GROUP units and those that would leave
    next to nothing to compare: they have no adjusted rate. ``cluster`` int (N): the sampling unit each unit belongs
    to, where that is another.

    The error of the log of a rate is the jackknife's, as in ``rates_of``: a sampling unit is left out of all
    strata at once. It is NaN with fewer than LEAST_WITH_HIT units with a hit for each stratum used.

    Source: direct standardisation as in Rothman, Greenland and Lash (2008), Modern Epidemiology, ch. 3; Tukey
    (1958); degrees of freedom Satterthwaite (1946).
    """
    n_groups, n_rows = counted.n_groups, counted.n_rows
    known = (stratum >= 0) & (counted.size > 0)
    cell = np.where(known, counted.group.astype(np.int64) * n_strata + stratum, 0)
    words = np.bincount(cell[known], weights=counted.size[known], minlength=n_groups * n_strata).reshape(
        n_groups, n_strata
    )
    compared = _comparable(words, counted.units)
    used = (words[compared] > 0).all(0) & compared.any()
    weight = np.where(used, words[compared].sum(0), 0)
    whole = np.bincount(counted.group, weights=counted.size, minlength=n_groups)[compared].sum()
    covered = float(weight.sum() / whole) if whole else 0.0
    out = ((words <= 0) & used).any(1) & (counted.sizes > 0)
    nothing = np.full((n_rows, n_groups), np.nan)
    if not weight.any():
        return Standardised(Rates(nothing, nothing.copy(), np.ones((n_rows, n_groups))), used, 0.0, out)
    weight = weight / weight.sum()
    inside = known & used[np.where(known, stratum, 0)]
    found = _Jackknife(counted, cell, words, weight, inside, cluster)
    value, error, df = nothing.copy(), nothing.copy(), np.ones((n_rows, n_groups))
    order = np.argsort(counted.row, kind="stable")
    ends = np.searchsorted(counted.row[order], np.arange(n_rows + 1))
    for row in range(n_rows):
        entries = order[ends[row] : ends[row + 1]]
        value[row], error[row], df[row] = found.of_row(counted.unit[entries], counted.hits[entries])
    for part in (value, error):
        part[:, ((words <= 0) & used).any(1)] = np.nan
    return Standardised(Rates(value, error, df), used, covered, out)


def _comparable(words: np.ndarray, units: np.ndarray) -> np.ndarray:
    """bool (G): groups whose common strata are used; ``words`` (G, S). One after the other that lacks most is given
    up until the others share LEAST_SHARED of their words, or two are left."""
    compared: np.ndarray = (units >= LEAST_IN_GROUP) & (words.sum(1) > 0)
    if not compared.any():
        compared = words.sum(1) > 0
    while compared.sum() > 2:
        weight = words[compared].sum(0)
        shared = (words[compared] > 0).all(0)
        if weight[shared].sum() >= LEAST_SHARED * weight.sum():
            break
        lacking = ((words <= 0) * weight).sum(1)
        compared[np.argmax(np.where(compared, lacking, -1))] = False
    return compared


class _Jackknife:
    """What all rows share: the parts of each sampling unit, one for each stratum it has words in."""

    def __init__(
        self,
        counted: Counted,
        cell: np.ndarray,
        words: np.ndarray,
        weight: np.ndarray,
        inside: np.ndarray,
        cluster: np.ndarray | None,
    ) -> None:
        self.n_groups, self.inside = counted.n_groups, inside
        self.words, self.weight = words.ravel(), np.tile(weight, counted.n_groups)
        self.strata = np.count_nonzero(weight)
        self.cell, self.size = cell[inside], counted.size[inside]
        self.place = np.cumsum(inside) - 1
        group = counted.group[inside].astype(np.int64)
        self.unit: np.ndarray | None = None  # each part is a unit
        if cluster is None:
            self.group = group
        else:
            pair = cluster[inside].astype(np.int64) * counted.n_groups + group
            found, self.unit = np.unique(pair, return_inverse=True)
            self.group = found % counted.n_groups
        self.part_group = group
        self.units = np.bincount(self.group, minlength=self.n_groups).astype(float)
        # of each part: its stratum's words in its group without it, and its weight by a word there
        self.left = self.words[self.cell] - self.size
        self.by_word = self.weight[self.cell] / self.words[self.cell]

    def of_row(self, member: np.ndarray, hits: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Value, error of its log and degrees of freedom in each group, (G) each."""
        y = np.zeros(len(self.size))
        kept = self.inside[member]
        y[self.place[member[kept]]] = hits[kept]
        n = self.units
        with np.errstate(divide="ignore", invalid="ignore"):
            total = np.bincount(self.cell, weights=y, minlength=len(self.words))
            rate = np.where(self.words > 0, total / self.words, 0)
            value = (self.weight * rate).reshape(self.n_groups, -1).sum(1)
            # what a part has more than its stratum, as a part of the whole; and what leaving it out changes
            pull = (y - rate[self.cell] * self.size) * self.by_word / value[self.part_group]
            alone = self.left <= 0
            change = -pull * np.where(alone, 1, self.words[self.cell] / np.where(alone, 1, self.left))
            pull, change = self._of_units(pull), self._of_units(change)
            gone = np.log1p(np.maximum(change, -0.999))
            mean = self._sum(gone) / n
            variance = (n - 1) / n * self._sum((gone - mean[self.group]) ** 2)
            square = pull * pull
            uneven = self._sum(square * square) / self._sum(square) ** 2 - 1 / n
            df = np.where(uneven > 0, 2 / uneven, np.inf)
        with_hit = self._sum((self._of_units(y) > 0).astype(float))
        fit = (n > 1) & (with_hit >= LEAST_WITH_HIT * self.strata) & (variance > 0)
        error = np.sqrt(np.where(fit, variance, np.nan))
        # every stratum's rate is estimated too (bench/adjusting.py): two units each are given up
        df = np.nan_to_num(df, nan=1.0, posinf=1e9) * (n - 2 * self.strata) / np.maximum(n, 1)
        return value, error, np.clip(df, 1, np.maximum(with_hit - 2 * self.strata, 1))

    def _of_units(self, parts: np.ndarray) -> np.ndarray:
        """Parts added up over the sampling units they belong to."""
        if self.unit is None:
            return parts
        return np.asarray(np.bincount(self.unit, weights=parts, minlength=len(self.group)))

    def _sum(self, values: np.ndarray) -> np.ndarray:
        """float (G): sums over the sampling units of each group."""
        return np.asarray(np.bincount(self.group, weights=values, minlength=self.n_groups))
