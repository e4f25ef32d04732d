"""Do groups differ in the rate of each row, which of them stand out, and which gap is the largest?"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import special

from winnower.core.measure import permutation
from winnower.core.measure.counted import Counted
from winnower.core.measure.family import Family, Kind, adjusted_p, family_of, is_small, part_kept, permute
from winnower.core.measure.homogeneity import Scores, contrasts, scores, spread_df

#: Where every group has so many units and could expect so many with a hit, the tests are approximated: they hold
#: their level there (bench/levels.py), and cost nothing.
MANY_UNITS, MANY_WITH_HIT = 100, 20
#: The share of corpora in which a difference is to be found for it to count as one that could have been seen.
POWER = 0.8
#: With more cells than this only rows of which every group has many are tested, by approximation.
MOST_CELLS = 40_000


_RATES = Kind(scores, contrasts)


@dataclass(frozen=True)
class Gap:
    """The largest ratio between two groups that chance would not give; of means the largest difference. ``second`` -1: all
    other groups.

    found      the ratio as it is
    ratio      drawn towards 1 (of means towards 0) for having been chosen
    low, high  of the raw ratio, held by all contrasts together
    p          the share of states without difference in which any contrast is as large
    spread     of means: the standard deviation of units within groups, else NaN
    """

    row: int
    first: int
    second: int
    found: float
    ratio: float
    low: float
    high: float
    p: float
    spread: float = float("nan")


@dataclass(frozen=True)
class RateTests:
    """Of K rows in G groups; NaN where a row or a cell is not tested. Of means (see ``mean_tests``) read mean for rate,
    difference for ratio, and the standard deviation within groups as the unit of ``between`` and ``detectable``.

    statistic  (K) heterogeneity; about chi-squared with G - 1 df without difference
    p          (K) that the groups differ in the rate
    p_adjusted (K) the same, adjusted over rows: by Holm, or ``by_largest`` where Holm could not come below the level
    between    (K) spread of the rates between groups beyond chance, relative to the rate (0.3: 30%)
    detectable (K) how many times as high a rate a group of middling size would have needed for the row to be found
               to differ in 4 of 5 corpora like this one
    z, z_p     (K, G) a group against all others; p adjusted over all cells
    gap        the largest ratio beyond chance at the level asked for
    tried      ratios looked at
    times      states drawn, 0 where everything is approximated
    further    states drawn beyond these for the rows that needed them to be told among so many
    by_largest p is adjusted by the largest statistic of all rows in each state (Westfall and Young 1993, single step)
    least_adjusted  the smallest adjusted p that so many states can give; 0 where p is approximated
    undefined  of the ratios tried, those that too many states of chance give no value for to be tested
    """

    statistic: np.ndarray
    p: np.ndarray
    p_adjusted: np.ndarray
    between: np.ndarray
    detectable: np.ndarray
    z: np.ndarray
    z_p: np.ndarray
    gap: Gap | None
    tried: int
    times: int
    by_largest: bool = False
    least_adjusted: float = 0.0
    undefined: int = 0
    further: int = 0

    @property
    def least_p(self) -> float:
        """The smallest p of a row that so many states can give; 0 where p is approximated."""
        return 1 / (self.times + self.further + 1) if self.times else 0.0


def rate_tests(
    counted: Counted, level: float = 0.95, seed: int = 1, most: int = permutation.MOST
) -> RateTests:
    """Test all rows with hits, with ``most`` states of chance at most. Needs two groups with a size.

    By permutation of units over groups, studentised (Chung and Romano 2013, Annals of Statistics 41), the
    maximum over cells and over contrasts from the same states (Westfall and Young 1993, Resampling-Based
    Multiple Testing); rows of which every group has many, in corpora too large to permute, by Welch's
    approximation (1951, Biometrika 38).
    """
    k, g = counted.n_rows, counted.n_groups
    filled = counted.totals.sum(1) > 0
    among = int(filled.sum())
    families = [
        _test(counted, rows, large, level, seed, most, among) for rows, large in _families(counted, filled)
    ]
    statistic, p, between, could = (np.full(k, np.nan) for _ in range(4))
    z, z_p = np.full((k, g), np.nan), np.full((k, g), np.nan)
    cells = sum(np.isfinite(one.found.z).sum() for one in families)
    tried = sum(int(np.isfinite(one.gaps.estimate).sum()) for one in families)
    for one in families:
        statistic[one.rows], p[one.rows] = one.found.heterogeneity[0], one.p
        could[one.rows] = _detectable(one.found, counted, one.rows, (1 - level) / max(among, 1))
        between[one.rows] = _between(one.found, counted.totals[one.rows].sum(1) / counted.sizes.sum())
        z[one.rows] = one.found.z[0]
        # several families share the level out by their number of cells
        own = np.isfinite(one.found.z).sum()
        z_p[one.rows] = np.minimum(one.z_p * (cells / own if own else 1), 1)
    times = max((one.times for one in families), default=0)
    adjusted, by_largest, least = adjusted_p(families, p, level)
    return RateTests(
        statistic,
        p,
        adjusted,
        between,
        could,
        z,
        z_p,
        _largest(families, adjusted, tried, level),
        tried,
        times,
        by_largest,
        least,
        sum(one.undefined for one in families),
        max((one.further for one in families), default=0),
    )


def _between(found: Scores, rate: np.ndarray) -> np.ndarray:
    """Source: DerSimonian and Laird (1986), Controlled Clinical Trials 7, 177-188, for rates over their common
    one."""
    weight = found.weight[0] * rate[:, None] ** 2
    with np.errstate(divide="ignore", invalid="ignore"):
        free = weight.sum(1) - (weight**2).sum(1) / weight.sum(1)
        beyond = found.heterogeneity[0] - ((weight > 0).sum(1) - 1)
        spread: np.ndarray = np.sqrt(np.maximum(beyond, 0) / free)
    return spread


def _detectable(found: Scores, counted: Counted, rows: np.ndarray, alpha: float) -> np.ndarray:
    """The ratio whose noncentrality gives POWER at ``alpha``, for the group with the middling error.

    Source: Patnaik (1949), Biometrika 36, 202-232, for the noncentral chi-squared; the variance of a log ratio as in
    ``contrasts``.
    """
    df = counted.n_groups - 1
    noncentral = special.chndtrinc(special.chdtri(df, alpha), df, 1 - POWER)
    expected = counted.totals[rows].sum(1, keepdims=True) * counted.sizes / counted.sizes.sum()
    rest = expected.sum(1, keepdims=True) - expected
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        error = found.spread[0] / expected + found.spread_all[0][:, None] / rest
        ratio: np.ndarray = np.exp(np.sqrt(noncentral * np.nanmedian(error, axis=1)))
    return np.where(np.isfinite(ratio), ratio, np.nan)


def _families(counted: Counted, filled: np.ndarray) -> list[tuple[np.ndarray, bool]]:
    """Rows (int) and whether they are approximated."""
    rows = np.flatnonzero(filled)
    if (is_small(counted) and len(rows) * counted.n_groups <= MOST_CELLS) or not len(rows):
        return [(rows, False)] if len(rows) else []
    units = counted.units
    least = units.min() / units.sum() * counted.with_hit.sum(1)
    dense = filled & (units.min() >= MANY_UNITS) & (least >= MANY_WITH_HIT)
    if filled.sum() * counted.n_groups > MOST_CELLS:
        return [(np.flatnonzero(dense), True)] if dense.any() else []
    found = [(np.flatnonzero(dense), True), (np.flatnonzero(filled & ~dense), False)]
    return [(one, way) for one, way in found if len(one)]


def _test(
    counted: Counted, rows: np.ndarray, approximated: bool, level: float, seed: int, most: int, among: int
) -> Family:
    wanted = np.zeros(counted.n_rows, bool)
    wanted[rows] = True
    c = counted if wanted.all() else counted.some(rows=wanted)
    one = family_of(_RATES, rows, c, spread_df(c), level)
    if not approximated:
        permute(one, _RATES, c, level, seed, most, among)
    return one


def _largest(families: list[Family], adjusted: np.ndarray, tried: int, level: float) -> Gap | None:
    """Of the ratios beyond chance the one that is large for sure: with the highest lower end. None is named of a row
    that does not differ itself (``adjusted`` p of all rows)."""
    best: tuple[float, Gap] | None = None
    for one in families:
        estimate, error = one.gaps.estimate[0], one.gaps.error[0]
        own = int(np.isfinite(estimate).sum())
        p = np.minimum(one.gap_p * (tried / own if own else 1), 1)
        with np.errstate(invalid="ignore"):
            differs = (adjusted[one.rows] <= 1 - level)[:, None]
            sure = np.where((p <= 1 - level) & differs, np.abs(estimate) - one.critical * error, -np.inf)
        if not sure.size or not (sure.max() > -np.inf):
            continue
        row, at = np.unravel_index(int(np.argmax(sure)), sure.shape)
        if best is None or sure[row, at] > best[0]:
            best = (float(sure[row, at]), _gap(one, int(row), int(at), float(p[row, at])))
    return best[1] if best else None


def _gap(one: Family, row: int, at: int, p: float) -> Gap:
    raw, error = float(one.gaps.estimate[0][row, at]), float(one.gaps.error[0][row, at])
    first, second = int(one.gaps.first[at]), int(one.gaps.second[at])
    low, high = abs(raw) - one.critical * error, abs(raw) + one.critical * error
    ratio = float(np.clip(abs(raw) * part_kept(one.gaps, row), max(low, 0), abs(raw)))
    if raw < 0 and second >= 0:
        first, second, raw = second, first, -raw
    elif raw < 0:
        ratio, low, high = -ratio, -high, -low
    else:
        raw = abs(raw)
    found, *times = (float(np.exp(value)) for value in (raw, ratio, low, high))
    return Gap(int(one.rows[row]), first, second, found, times[0], times[1], times[2], p)
