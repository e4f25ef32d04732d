"""Rates with other fields held equal, and corrected for verdicts: how often they find what is not there, and how often
their intervals hold what is.

Groups favour different strata, and strata have other rates, so that plain rates differ between groups while nothing
does once the strata are held equal. Beside them: the plain test (which is right to reject), and regression that
believes in Poisson.
"""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial

import numpy as np
from levels import AT_ONCE, LEVEL, WITHIN, _means
from measure import row

from winnower.core.compare.judged import Judged, Shares, corrected_rates
from winnower.core.measure import (
    Counted,
    Factor,
    rate_interval,
    rate_models,
    rate_tests,
    rates_of,
    standardised,
)
from winnower.core.review import Quality, quality_of


@dataclass(frozen=True)
class Setting:
    groups: int
    texts: int
    strata: int
    rate: float

    @property
    def name(self) -> str:
        return f"{self.groups} groups of {self.texts}, {self.strata} strata"


SETTINGS = (
    Setting(8, 8, 2, 0.02),
    Setting(4, 25, 3, 0.01),
    Setting(8, 25, 3, 0.01),
    Setting(4, 100, 3, 0.01),
    Setting(4, 100, 12, 0.01),
    Setting(20, 25, 3, 0.01),
    Setting(20, 100, 3, 0.01),
    Setting(4, 400, 3, 0.003),
)
VERDICTS = ((50, 0.01, 0.8, 20), (200, 0.01, 0.5, 60), (200, 0.003, 0.9, 200), (800, 0.003, 0.8, 60))


def corpus(s: Setting, rng: np.random.Generator) -> tuple[Counted, np.ndarray]:
    """Counts of one row, and the stratum of each text."""
    group = np.repeat(np.arange(s.groups), s.texts)
    favoured = (np.arange(s.groups)[:, None] + np.arange(s.strata)) % s.strata == 0
    chances = np.where(favoured, 3.0, 1.0)
    chances /= chances.sum(1, keepdims=True)
    stratum = (rng.random(len(group))[:, None] > chances.cumsum(1)[group]).sum(1)
    words = np.maximum(np.rint(np.exp(rng.normal(np.log(300), 1, len(group)))), 1)
    times = np.linspace(1, 3, s.strata)[stratum]
    hits = rng.poisson(s.rate * times * rng.gamma(0.5, 2, len(group)) * words)
    unit = np.flatnonzero(hits)
    counted = Counted(group, words, unit, np.zeros(len(unit), int), hits[unit].astype(float), s.groups, 1)
    return counted, stratum


def held_equal(s: Setting, run: int) -> tuple[float, ...]:
    """Rejected by the model, by the plain test; parts of intervals that hold: ratios, adjusted rates."""
    counted, stratum = corpus(s, np.random.default_rng(run))
    factors = [Factor(counted.group, s.groups, 0), Factor(stratum, s.strata, 0)]
    model = rate_models(counted, factors, seed=run)[0]
    plain = float(np.nanmin(rate_tests(counted, seed=run).p) <= LEVEL)
    ratios = p = np.nan
    if model.effects:
        effect = model.effects[0]
        known = np.isfinite(effect.low)
        ratios = _share((effect.low <= 1) & (effect.high >= 1), known)
        p = np.nan if np.isnan(effect.p) else float(effect.p <= LEVEL)
    found = standardised(counted, stratum, s.strata)
    weight = (
        np.bincount(stratum, weights=counted.size * ~found.out[counted.group], minlength=s.strata)
        * found.used
    )
    if not weight.any():
        return p, plain, ratios, np.nan
    true = s.rate * (weight / weight.sum() * np.linspace(1, 3, s.strata)).sum()
    interval = rate_interval(found.rates)
    inside = (interval.low[0] <= true) & (true <= interval.high[0])
    return p, plain, ratios, _share(inside, np.isfinite(interval.low[0]))


def _share(holds: np.ndarray, known: np.ndarray) -> float:
    return float(holds[known].mean()) if known.any() else np.nan


def corrected(texts: int, rate: float, precision: float, verdicts: int, run: int) -> tuple[float, ...]:
    """Whether the corrected interval holds the rate of what fits, and whether that of the plain rate does."""
    rng = np.random.default_rng(run)
    words = np.maximum(np.rint(np.exp(rng.normal(np.log(300), 1, texts))), 1)
    expected = rng.gamma(0.5, 2, texts) * words * rate
    right, wrong = rng.poisson(expected * precision), rng.poisson(expected * (1 - precision))
    unit = np.flatnonzero(right + wrong)
    hits = (right + wrong)[unit].astype(float)
    rates = rates_of(Counted(np.zeros(texts, int), words, unit, np.zeros(len(unit), int), hits, 1, 1))
    said = np.repeat([1, 0], [right.sum(), wrong.sum()]).astype(np.int8)
    judged = np.full(len(said), -1, np.int8)
    drawn = rng.permutation(len(said))[:verdicts]
    judged[drawn] = said[drawn]
    shares = _shares(quality_of(judged))
    true = rate * precision
    return tuple(
        float(found.low[0, 0] <= true <= found.high[0, 0]) if np.isfinite(found.low[0, 0]) else np.nan
        for found in (corrected_rates(rates, Judged(shares, shares, shares), 1 - LEVEL), rate_interval(rates))
    )


def _shares(found: Quality) -> Shares:
    cells = [
        np.array([[v]], float) for v in (found.share, found.low, found.high, found.judged, found.effective)
    ]
    return Shares(*cells, np.array([[found.share], [found.judged], [found.effective]], float))


def _all(run: partial, runs: int) -> np.ndarray:
    with ProcessPoolExecutor(AT_ONCE) as pool:
        return np.array(list(pool.map(run, range(runs), chunksize=10)))


def main(runs: int) -> None:
    """``runs`` corpora for every setting."""
    for s in SETTINGS:
        rejected, plain, ratios, rates = _means(_all(partial(held_equal, s), runs))
        most = LEVEL + WITHIN + 2 * np.sqrt(LEVEL * (1 - LEVEL) / runs)
        told = f"{rejected:.3f}"
        row(f"{s.name}: model rejects", told, f"0.05 (plain test {plain:.2f})", bool(rejected <= most))
        least = 0.92 - 2 * np.sqrt(0.05 * 0.95 / (runs * s.groups))
        ok = bool(ratios >= least and (np.isnan(rates) or rates >= least))
        row(f"{s.name}: covered", f"ratios {ratios:.3f}  rates {rates:.3f}", "0.95", ok)
    for texts, rate, precision, verdicts in VERDICTS:
        own, plain = _means(_all(partial(corrected, texts, rate, precision, verdicts), runs))
        name = f"{texts} texts, precision {precision}, {verdicts} verdicts: covered"
        row(name, f"{own:.3f}", f"0.95 (uncorrected {plain:.2f})", bool(own >= 0.92))
