"""How good a term or a category is: samples to judge, and what the judgements say."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from winnower.core.measure import wilson_interval

SIMULATIONS = 4_000


def balanced_sample(group: np.ndarray, size: int, seed: int) -> np.ndarray:
    """Places of a sample of ``size`` items, as many from each group as there are, in mixed order.

    ``group`` int per item (any values). Groups that are used up leave their share to the others. The
    same items, size and seed give the same sample.
    """
    rng = np.random.default_rng(seed)
    mixed = rng.permutation(len(group))
    by_group = mixed[np.argsort(group[mixed], kind="stable")]
    sizes = np.unique(group, return_counts=True)[1]
    rank = np.concatenate([np.arange(n) for n in sizes]) if len(sizes) else np.empty(0, int)
    tie = rng.random(len(by_group))
    chosen = by_group[np.lexsort((tie, rank))][:size]
    return rng.permutation(chosen)


@dataclass(frozen=True)
class Quality:
    """``right`` of ``judged``, their share with Wilson's interval; NaN where nothing is judged."""

    judged: int
    right: int
    share: float
    low: float
    high: float


def precision(right: int, judged: int, level: float = 0.95) -> Quality:
    """Judged right over judged. Source of the interval: Wilson (1927), JASA 22, 209-212."""
    if not judged:
        return Quality(0, 0, np.nan, np.nan, np.nan)
    found = wilson_interval(np.array([right]), np.array([judged]), level)
    return Quality(judged, right, float(found.value[0]), float(found.low[0]), float(found.high[0]))


def quality_of(judged: np.ndarray, level: float = 0.95) -> Quality:
    """Precision from what was said of each hit: int8, 1 right, 0 wrong, -1 not judged."""
    return precision(int((judged == 1).sum()), int((judged >= 0).sum()), level)


@dataclass(frozen=True)
class Missed:
    """What a simple random sample of texts without a hit says about all of them.

    share          of the judged texts that should have had a hit, with Wilson's interval
    texts          the same scaled up to all texts without a hit: estimate, low, high
    recall         texts with a right hit over all that should have one: estimate, low, high
    """

    share: Quality
    texts: tuple[float, float, float]
    recall: tuple[float, float, float]


def missed_texts(
    missed: int,
    judged: int,
    without_hit: int,
    with_hit: int,
    right: Quality,
    *,
    seed: int = 1,
    level: float = 0.95,
) -> Missed:
    """Texts that the instrument misses, and recall from that and the precision ``right``.

    ``missed`` of ``judged`` sampled texts should have had a hit; ``without_hit`` and ``with_hit`` are
    all texts. Recall = p T / (p T + m U), p the precision of hits (taken for that of texts), m the
    share missed. Its interval is drawn from the Jeffreys posteriors of both shares, seeded.
    Everything is NaN where nothing was judged.
    """
    share = precision(missed, judged, level)
    texts = tuple(value * without_hit for value in (share.share, share.low, share.high))
    if not judged or not right.judged:
        return Missed(share, texts, (np.nan,) * 3)  # type: ignore[arg-type]

    def recall(p: ArrayLike, m: ArrayLike) -> np.ndarray:
        found = np.asarray(p, float) * with_hit
        should = found + np.asarray(m, float) * without_hit
        with np.errstate(invalid="ignore", divide="ignore"):
            return np.where(should > 0, found / should, np.nan)

    rng = np.random.default_rng(seed)
    p = rng.beta(right.right + 0.5, right.judged - right.right + 0.5, SIMULATIONS)
    m = rng.beta(missed + 0.5, judged - missed + 0.5, SIMULATIONS)
    drawn = recall(p, m)
    low, high = np.nanquantile(drawn, [(1 - level) / 2, (1 + level) / 2]) if with_hit else (np.nan, np.nan)
    return Missed(share, texts, (float(recall(right.share, share.share)), float(low), float(high)))  # type: ignore[arg-type]
