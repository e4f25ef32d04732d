"""Whether a factor tells anything while others are held equal: residuals dealt out anew within the others' strata."""

from __future__ import annotations

import numpy as np

from winnower.core.measure.permutation import CLEAR, times_for

#: Units' weight of all residuals together in the spread of a level: few units know little of their own.
PRIOR = 10.0
AT_ONCE = 400_000


def stratified_p(
    residuals: np.ndarray, level: np.ndarray, n_levels: int, stratum: np.ndarray, seed: int
) -> tuple[np.ndarray, np.ndarray, int]:
    """Statistic and p of each row, and the number of states drawn.

    ``residuals`` float (K, N) of the model without the factor; ``level`` and ``stratum`` int (N). The statistic adds
    up the squared sums of residuals of the levels, each over its spread; p is the share of states with one as large,
    ended early when all are clearly large.

    Source: permutation of residuals within strata: Freedman and Lane (1983), Journal of Business and Economic
    Statistics 1, 292-298; studentised as in Chung and Romano (2013); ended as in Besag and Clifford (1991).
    """
    rows, n = residuals.shape
    order = np.argsort(stratum, kind="stable")
    residuals, level, stratum = residuals[:, order], level[order], stratum[order]
    units = np.bincount(level, minlength=n_levels).astype(float)
    common = (residuals**2).mean(1) * PRIOR

    def statistic(dealt: np.ndarray) -> np.ndarray:
        """(b, rows) for residuals (b, rows, n) as they lie."""
        b = len(dealt)
        place = np.arange(b * rows)[:, None] * n_levels + level
        sums, squares = (
            np.bincount(place.ravel(), weights=w.ravel(), minlength=b * rows * n_levels).reshape(
                b, rows, n_levels
            )
            for w in (dealt, dealt**2)
        )
        spread = units * (squares + common[:, None]) / (units + PRIOR)
        with np.errstate(divide="ignore", invalid="ignore"):
            of_level: np.ndarray = np.where(spread > 0, sums**2 / spread, 0)
        return np.asarray(of_level.sum(2))

    found = statistic(residuals[None])[0]
    times, rng = times_for(rows * n), np.random.default_rng(seed)
    size = max(1, AT_ONCE // (rows * n))
    above, drawn = np.zeros(rows, int), 0
    while drawn < times and (above < CLEAR).any():
        b = min(size, times - drawn)
        dealt = np.argsort(stratum + rng.random((b, n)), axis=1)
        states = statistic(residuals[:, dealt].transpose(1, 0, 2))
        above += (states >= found * (1 - 1e-9)).sum(0)
        drawn += b
    return found, (above + 1) / (drawn + 1), drawn
