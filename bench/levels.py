"""How often tests reject where there is nothing, and intervals miss what is there: the product beside the customary.

Corpora without any difference between groups, as texts really are: of very unequal length (lognormal, sd 1), with
words in clumps (gamma, shape 0.5), few or many texts, few hits, many groups. Customary are Pearson's chi-squared on
hits, the residuals of Haberman beyond 2, and Cochran's linear interval with Student's t.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial

import numpy as np
from measure import row
from scipy import special

from winnower.core.measure import (
    Counted,
    expected_counts,
    mix_test,
    pearson_test,
    rate_interval,
    rate_tests,
    rates_of,
    trend_test,
)

LEVEL, WITHIN = 0.05, 0.015
AT_ONCE = 2


@dataclass(frozen=True)
class Setting:
    """Groups of so many texts each, rows, the rate of a row in a word, and the spread of lengths."""

    name: str
    groups: int
    texts: int
    rows: int = 6
    rate: float = 0.003
    sd: float = 1.0
    shape: float = 0.5
    slow: bool = False


TESTED = (
    Setting("4 groups of 8 texts", 4, 8),
    Setting("8 groups of 8", 8, 8),
    Setting("8 groups of 25", 8, 25),
    Setting("4 groups of 100", 4, 100),
    Setting("20 groups of 100", 20, 100, slow=True),
    Setting("4 groups of 800", 4, 800, slow=True),
    Setting("52 weeks of 10", 52, 10, slow=True),
    Setting("4 groups of 25, rare", 4, 25, rate=0.0002),
    Setting("one row, 8 groups of 25", 8, 25, rows=1),
)
COVERED = (
    Setting("8 texts", 1, 8, rows=1, rate=0.02),
    Setting("25 texts", 1, 25, rows=1, rate=0.02),
    Setting("25 texts, even lengths", 1, 25, rows=1, rate=0.02, sd=0.3),
    Setting("25 texts, rarer", 1, 25, rows=1, rate=0.005),
    Setting("100 texts", 1, 100, rows=1, rate=0.02),
    Setting("100 texts, rare", 1, 100, rows=1, rate=0.001),
    Setting("400 texts, rare", 1, 400, rows=1, rate=0.0005),
    Setting("800 texts", 1, 800, rows=1, rate=0.003),
)


def corpus(s: Setting, rng: np.random.Generator) -> Counted:
    group = np.repeat(np.arange(s.groups), s.texts)
    words = np.maximum(np.rint(np.exp(rng.normal(np.log(300), s.sd, len(group)))), 1)
    hits = rng.poisson(s.rate * rng.gamma(s.shape, 1 / s.shape, (s.rows, len(group))) * words)
    rows, unit = np.nonzero(hits)
    return Counted(group, words, unit, rows, hits[rows, unit].astype(float), s.groups, s.rows)


def tested(s: Setting, run: int) -> tuple[float, ...]:
    """Whether one corpus is found to differ: rates, mix, cells, gap; customary test and residuals."""
    c = corpus(s, np.random.default_rng(run))
    if len(c.hits) < 2:
        return (np.nan,) * 6
    found = rate_tests(c, seed=run)
    counts = c.totals[c.totals.sum(1) > 0]
    expected = expected_counts(counts)
    with np.errstate(divide="ignore", invalid="ignore"):
        spread = (
            expected * (1 - counts.sum(1, keepdims=True) / counts.sum()) * (1 - counts.sum(0) / counts.sum())
        )
        far = np.abs(counts - expected) / np.sqrt(spread) > 2
    mix = mix_test(c, seed=run).p if s.rows > 1 else np.nan
    return (
        float(np.nanmin(found.p_adjusted) <= LEVEL),
        np.nan if np.isnan(mix) else float(mix <= LEVEL),
        float(np.nanmin(found.z_p) <= LEVEL),
        float(found.gap is not None),
        np.nan if s.rows == 1 else float(pearson_test(c.totals).p <= LEVEL),
        np.nan if s.rows == 1 else float(far.mean()),
    )


def covered(s: Setting, run: int) -> tuple[float, ...]:
    """Whether the interval of one corpus holds the true rate; NaN without one, and for it alone with fewer than ten
    texts with a hit."""
    c = corpus(s, np.random.default_rng(run))
    found = rate_interval(rates_of(c), 1 - LEVEL)
    low, high = found.low[0, 0], found.high[0, 0]
    y = np.zeros(s.texts)
    y[c.unit] = c.hits
    rate = y.sum() / c.size.sum()
    error = np.sqrt(s.texts / (s.texts - 1) * ((y - rate * c.size) ** 2).sum()) / c.size.sum()
    half = special.stdtrit(s.texts - 1, 1 - LEVEL / 2) * error
    return (
        np.nan if np.isnan(low) else float(low <= s.rate <= high),
        float(abs(rate - s.rate) <= half) if rate else 0.0,
        float(c.with_hit[0, 0] >= 10),
    )


def lined(alike: float, run: int) -> tuple[float, ...]:
    """Whether a line is found through 52 weeks without any; neighbours correlate."""
    rng = np.random.default_rng(run)
    noise = rng.normal(size=52)
    for week in range(1, 52):
        noise[week] = alike * noise[week - 1] + np.sqrt(1 - alike**2) * noise[week]
    words = rng.lognormal(9, 0.5, 52)
    hits = rng.poisson(words * 0.003 * np.exp(0.3 * noise))
    return (float(trend_test(hits[None], words).p[0] <= LEVEL),)


def _all(run: Callable[[int], tuple[float, ...]], runs: int) -> np.ndarray:
    with ProcessPoolExecutor(AT_ONCE) as pool:
        return np.array(list(pool.map(run, range(runs), chunksize=10)))


def _means(found: np.ndarray) -> np.ndarray:
    """Of each column over the runs in which it says something; NaN where it never does."""
    known = ~np.isnan(found)
    times = known.sum(0)
    return np.where(times > 0, np.where(known, found, 0).sum(0) / np.maximum(times, 1), np.nan)


def main(runs: int) -> None:
    """``runs`` corpora for every setting, a third where they take long."""
    for s in TESTED:
        n = runs // 3 if s.slow else runs
        rates, mix, cells, gap, pearson, residuals = _means(_all(partial(tested, s), n))
        most = LEVEL + WITHIN + 2 * np.sqrt(LEVEL * (1 - LEVEL) / n)
        ok = bool(np.nanmax([rates, mix, cells, gap]) <= most)
        told = f"rates {rates:.3f}  mix {mix:.3f}  cells {cells:.3f}  gap {gap:.3f}"
        row(f"{s.name}: rejected", told, f"0.05 (customary {pearson:.2f}; cells {residuals:.2f})", ok)
    for s in COVERED:
        found = _all(partial(covered, s), runs)
        own, usual, many = _means(found)
        least = 0.935 if s.texts >= 25 and many > 0.95 else 0.92
        ok = bool(own >= least - 2 * np.sqrt(0.05 * 0.95 / runs))
        without = np.isnan(found[:, 0]).mean()
        told = f"{own:.3f}" + (f", none for {without:.0%}" if without else "")
        row(f"{s.name}: covered", told, f"0.95 (customary {usual:.3f})", ok)
    for alike in (0.0, 0.5, 0.8):
        rejected = float(_all(partial(lined, alike), runs).mean())
        row(
            f"52 weeks alike by {alike}: lines found",
            f"{rejected:.3f}",
            "0.05, told where above",
            alike > 0.5 or rejected < 0.08,
        )
