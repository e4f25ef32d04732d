"""Do groups differ in the mean of a number, which of them stand out, and which gap is the largest?"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy import special

from winnower.core.measure import permutation
from winnower.core.measure.counted import Counted
from winnower.core.measure.differences import POWER, Gap, RateTests
from winnower.core.measure.family import Family, Kind, adjusted_p, family_of, is_small, part_kept, permute
from winnower.core.measure.homogeneity import Scores
from winnower.core.measure.means import PRIOR, effective_df, mean_contrasts, mean_scores, spread_within

_MEANS = Kind(mean_scores, mean_contrasts)


def mean_tests(
    rows: Sequence[Counted], level: float = 0.95, seed: int = 1, most: int = permutation.MOST
) -> RateTests:
    """Test the numbers of each row (see core/measure/means.py) across the same groups.

    By permutation of units over groups, studentised (Chung and Romano 2013, Annals of Statistics 41), the maximum over
    cells and over contrasts from the same states (Westfall and Young 1993, Resampling-Based Multiple Testing), shared out
    over rows; where there are too many units for that by Welch's approximation (1951, Biometrika 38). A row is not tested
    where all its numbers are the same, or only one group has enough units with one.
    """
    k, g = len(rows), rows[0].n_groups
    statistic, p, between, could = (np.full(k, np.nan) for _ in range(4))
    z, z_p = np.full((k, g), np.nan), np.full((k, g), np.nan)
    spread = np.array([spread_within(one) for one in rows])
    tested = [at for at in range(k) if (rows[at].units >= 2).sum() >= 2 and spread[at] > 0]
    share = 1 - (1 - level) / max(len(tested), 1)
    families: list[Family] = []
    for at in tested:
        one = _test(rows[at], at, share, seed, most)
        families.append(one)
        statistic[at], p[at] = one.found.heterogeneity[0, 0], one.p[0]
        z[at], z_p[at] = one.found.z[0, 0], np.minimum(one.z_p[0] * len(tested), 1)
        between[at] = _between(one.found) / spread[at]
        could[at] = _detectable(one.found, 1 - share) / spread[at]
    adjusted, by_largest, least = adjusted_p(families, p, level)
    tried = sum(int(np.isfinite(one.gaps.estimate).sum()) for one in families)
    times = max((one.times for one in families), default=0)
    gap = _largest(families, adjusted, spread, level)
    return RateTests(
        statistic, p, adjusted, between, could, z, z_p, gap, tried, times, by_largest, least,
        sum(one.undefined for one in families),
    )  # fmt: skip


def _test(numbers: Counted, row: int, level: float, seed: int, most: int) -> Family:
    df = np.maximum(effective_df(numbers), 0)[None] + PRIOR
    one = family_of(_MEANS, np.array([row]), numbers, df, level)
    if is_small(numbers):
        permute(one, _MEANS, numbers, level, seed, most)
    return one


def _between(found: Scores) -> float:
    """Source: DerSimonian and Laird (1986), Controlled Clinical Trials 7, 177-188."""
    weight = found.weight[0, 0]
    beyond = found.heterogeneity[0, 0] - ((weight > 0).sum() - 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        return float(np.sqrt(max(beyond, 0) / (weight.sum() - (weight**2).sum() / weight.sum())))


def _detectable(found: Scores, alpha: float) -> float:
    """The difference from all others whose noncentrality gives POWER at ``alpha``, for the group with the middling error.

    Source: Patnaik (1949), Biometrika 36, 202-232, for the noncentral chi-squared.
    """
    weight = found.weight[0, 0]
    df = int((weight > 0).sum()) - 1
    noncentral = special.chndtrinc(special.chdtri(df, alpha), df, 1 - POWER)
    error = 1 / weight[weight > 0]
    return float(np.sqrt(noncentral * np.median(error + 1 / (weight.sum() - 1 / error))))


def _largest(
    families: Sequence[Family], adjusted: np.ndarray, spread: np.ndarray, level: float
) -> Gap | None:
    """Of the differences beyond chance the one that is large for sure: with the highest lower end, in standard
    deviations. None is named of a number that does not differ itself (``adjusted`` p of all numbers)."""
    best: tuple[float, Gap] | None = None
    for one in families:
        row = int(one.rows[0])
        if not adjusted[row] <= 1 - level:
            continue
        estimate, error = one.gaps.estimate[0, 0], one.gaps.error[0, 0]
        p = np.minimum(one.gap_p[0] * len(families), 1)
        with np.errstate(invalid="ignore"):
            sure = np.where(p <= 1 - level, np.abs(estimate) - one.critical * error, -np.inf) / spread[row]
        if not sure.size or not (sure.max() > -np.inf):
            continue
        at = int(np.argmax(sure))
        if best is None or sure[at] > best[0]:
            best = (float(sure[at]), _gap(one, row, at, float(p[at]), float(spread[row])))
    return best[1] if best else None


def _gap(one: Family, row: int, at: int, p: float, spread: float) -> Gap:
    """Between two groups the larger mean comes first; against all others the group does, whatever its sign."""
    raw, error = float(one.gaps.estimate[0, 0, at]), float(one.gaps.error[0, 0, at])
    first, second = int(one.gaps.first[at]), int(one.gaps.second[at])
    half = one.critical * error
    drawn = float(np.clip(abs(raw) * part_kept(one.gaps, 0), max(abs(raw) - half, 0), abs(raw)))
    if raw < 0 and second >= 0:
        first, second, raw = second, first, -raw
    return Gap(row, first, second, raw, float(np.copysign(drawn, raw)), raw - half, raw + half, p, spread)
