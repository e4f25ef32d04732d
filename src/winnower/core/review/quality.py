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
    """What was judged, and the share that is right; NaN where nothing is judged.

    judged, right  verdicts as they were given
    share          weighted by how many there are of each stratum, with its interval ``low`` to ``high``
    effective      as many verdicts as an unweighted sample would need to be as sure
    unseen         the part of all hits in strata without any verdict, 0 to 1: the share says nothing of them
    """

    judged: int
    right: int
    share: float
    low: float
    high: float
    effective: float = 0.0
    unseen: float = 0.0


def precision(right: float, judged: float, level: float = 0.95) -> Quality:
    """Judged right over judged. Source of the interval: Wilson (1927), JASA 22, 209-212."""
    if not judged:
        return Quality(0, 0, np.nan, np.nan, np.nan)
    found = wilson_interval(np.array([right]), np.array([judged]), level)
    low, high = (float(part[0]) for part in found[1:])
    return Quality(int(judged), int(right), float(found.value[0]), low, high, float(judged))


def quality_of(judged: np.ndarray, stratum: np.ndarray | None = None, level: float = 0.95) -> Quality:
    """Precision from what was said of each hit: int8, 1 right, 0 wrong, -1 not judged.

    ``stratum`` int per hit, such as its source: verdicts are weighted by the hits they stand for, since samples
    are drawn in equal numbers from each. Hits of strata without verdicts are left out and told as ``unseen``.
    Without strata every verdict counts the same.

    Source: post-stratification as in Cochran (1977), Sampling Techniques, ch. 5A; Wilson's interval at the
    effective number of verdicts, 1 / sum(W_h^2 / n_h), as in Kish (1965), Survey Sampling, ch. 11.7.
    """
    stratum = np.zeros(len(judged), int) if stratum is None else np.unique(stratum, return_inverse=True)[1]
    said = judged >= 0
    return _weighted(
        np.bincount(stratum),
        stratum[said],
        (judged[said] == 1).astype(float),
        np.ones(int(said.sum())),
        level,
    )


def text_quality_of(
    judged: np.ndarray, text: np.ndarray, stratum: np.ndarray, level: float = 0.95
) -> Quality:
    """The share of texts with hits that rightly have one: of which a judged hit is right.

    ``text`` and ``stratum`` int per hit. A text is drawn as often as it has hits, so it weighs one over their
    number; a text of which the wrong hit was judged counts as wrong, although another may be right.
    """
    texts, first, of = np.unique(text, return_index=True, return_inverse=True)
    group = np.unique(stratum[first], return_inverse=True)[1]
    said = np.bincount(of, weights=judged >= 0) > 0
    right = np.bincount(of, weights=judged == 1) > 0
    weight = 1 / np.bincount(of)
    return _weighted(
        np.bincount(group, minlength=1), group[said], right[said].astype(float), weight[said], level
    )


def _weighted(
    there: np.ndarray, stratum: np.ndarray, right: np.ndarray, weight: np.ndarray, level: float
) -> Quality:
    """``there`` (H): how many each stratum has; of each verdict its stratum, whether it is right, its weight."""
    if not len(right):
        return Quality(0, 0, np.nan, np.nan, np.nan)
    of_stratum = np.bincount(stratum, weights=weight, minlength=len(there))
    seen = of_stratum > 0
    whole = there / there[seen].sum()
    each = weight * whole[stratum] / of_stratum[stratum]
    share = float(min((each * right).sum(), 1.0))
    effective = float(1 / (each**2).sum())
    found = wilson_interval(np.array([share * effective]), np.array([effective]), level)
    unseen = float(there[~seen].sum() / there.sum())
    low, high = (float(part[0]) for part in found[1:])
    return Quality(len(right), int(right.sum()), share, low, high, effective, unseen)


@dataclass(frozen=True)
class Missed:
    """What a simple random sample of texts without a hit says about all of them.

    share          of the judged texts that should have had a hit, with Wilson's interval
    texts          the same scaled up to all texts without a hit: estimate, low, high
    recall         texts that rightly have a hit over all that should have one: estimate, low, high
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
    """Texts that the instrument misses, and recall from that and the share ``right`` of texts with hits that
    rightly have one (see ``text_quality_of``): texts on both sides.

    ``missed`` of ``judged`` sampled texts should have had a hit; ``without_hit`` and ``with_hit`` are
    all texts. Recall = p T / (p T + m U), p the share of texts that are right, m the share
    missed. Its interval is drawn from the Jeffreys posteriors of both shares, seeded.
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
    of_right = right.share * right.effective
    p = rng.beta(of_right + 0.5, right.effective - of_right + 0.5, SIMULATIONS)
    m = rng.beta(missed + 0.5, judged - missed + 0.5, SIMULATIONS)
    drawn = recall(p, m)
    low, high = np.nanquantile(drawn, [(1 - level) / 2, (1 + level) / 2]) if with_hit else (np.nan, np.nan)
    return Missed(share, texts, (float(recall(right.share, share.share)), float(low), float(high)))  # type: ignore[arg-type]
