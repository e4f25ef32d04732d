"""How often tests of means find what is not there, and intervals miss what is: sentences of texts, alike within a text.

Texts have very unequal numbers of sentences (lognormal, sd 0.8), whose numbers share the spread of their text; groups are of
unequal size, and in some settings one is twice as spread as the others. Customary are the analysis of variance over
sentences, and Student's interval over them.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np
from levels import LEVEL, WITHIN, _all, _means
from measure import row
from scipy import special, stats

from winnower.core.measure import Counted, mean_interval, mean_tests, means_of


@dataclass(frozen=True)
class Setting:
    """``texts`` of each group; ``several`` sentences a text or one number; ``spread`` of the first group over the others';
    skewed numbers are lognormal."""

    name: str
    texts: tuple[int, ...]
    several: bool = True
    spread: float = 1.0
    skewed: bool = False
    slow: bool = False


TESTED = (
    Setting("4 groups of 8 texts", (8,) * 4),
    Setting("6 to 80 texts", (6, 8, 15, 40, 80)),
    Setting("6 to 80 texts, one number each, skewed", (6, 8, 15, 40, 80), several=False, skewed=True),
    Setting("25 and 100 texts, the fewer twice as spread", (25, 100, 100), spread=2.0),
    Setting("100 and 25 texts, the more twice as spread", (100, 25, 25), spread=2.0),
    Setting("40 groups of 20", (20,) * 40, slow=True),
    Setting("3 groups of 10,000", (10_000,) * 3, several=False, skewed=True, slow=True),
)
COVERED = (
    Setting("8 texts", (8,)),
    Setting("25 texts", (25,)),
    Setting("25 texts, one number each", (25,), several=False),
    Setting("25 texts, one number each, skewed", (25,), several=False, skewed=True),
    Setting("100 texts", (100,)),
    Setting("100 texts, skewed", (100,), skewed=True),
)


def corpus(s: Setting, rng: np.random.Generator) -> Counted:
    """Numbers with the mean nought in every group."""
    group = np.repeat(np.arange(len(s.texts)), s.texts)
    n = len(group)
    size = np.ceil(rng.lognormal(2, 0.8, n)) if s.several else np.ones(n)
    drawn = (lambda k: rng.lognormal(0, 1, k) - np.exp(0.5)) if s.skewed else (lambda k: rng.normal(0, 1, k))
    spread = np.where(group == 0, s.spread, 1.0)
    total = spread * (size * drawn(n) + np.sqrt(size) * rng.normal(0, 1, n) * s.several)
    return Counted(group, size, np.arange(n), np.zeros(n, np.int64), total, len(s.texts), 1)


def tested(s: Setting, run: int) -> tuple[float, ...]:
    """Whether a difference, a cell, a gap is found; whether the customary test finds one."""
    rng = np.random.default_rng(run)
    c = corpus(s, rng)
    found = mean_tests([c], seed=run + 1, most=399)
    with np.errstate(invalid="ignore"):
        cell = bool(np.nanmin(found.z_p) <= LEVEL)
    return (
        float(found.p[0] <= LEVEL),
        float(cell),
        float(found.gap is not None),
        float(_customary(c, rng) <= LEVEL),
    )


def _customary(c: Counted, rng: np.random.Generator) -> float:
    """p of the analysis of variance over sentences: each that of its text and a spread of its own."""
    size = c.size.astype(int)
    values = np.repeat(c.hits / c.size, size) + (rng.normal(0, 1, size.sum()) if size.max() > 1 else 0)
    group = np.repeat(c.group, size)
    return float(stats.f_oneway(*(values[group == at] for at in range(c.n_groups))).pvalue)


def covered(s: Setting, run: int) -> tuple[float, ...]:
    """Whether the interval holds nought, and whether the customary one does."""
    rng = np.random.default_rng(run)
    c = corpus(s, rng)
    found = mean_interval(means_of(c))
    size = c.size.astype(int)
    values = np.repeat(c.hits / c.size, size) + (rng.normal(0, 1, size.sum()) if size.max() > 1 else 0)
    half = special.stdtrit(len(values) - 1, 0.975) * values.std(ddof=1) / np.sqrt(len(values))
    own = found.low[0] <= 0 <= found.high[0]
    return float(own), float(abs(values.mean()) <= half)


def main(runs: int) -> None:
    """``runs`` corpora for every setting, a third where they take long."""
    for s in TESTED:
        n = runs // 3 if s.slow else runs
        p, cells, gap, customary = _means(_all(partial(tested, s), n))
        most = LEVEL + WITHIN + 2 * np.sqrt(LEVEL * (1 - LEVEL) / n)
        told = f"means {p:.3f}  cells {cells:.3f}  gap {gap:.3f}"
        row(f"{s.name}: rejected", told, f"0.05 (customary {customary:.2f})", max(p, cells, gap) <= most)
    for s in COVERED:
        own, usual = _means(_all(partial(covered, s), runs))
        # a few skewed numbers say less than any interval that does not know their shape can tell
        least = 0.85 if s.skewed else 0.92
        row(f"{s.name}: covered", f"{own:.3f}", f"0.95 (customary {usual:.3f})", own >= least)
