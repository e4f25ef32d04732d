"""Agreement on yes or no per unit: two codings beside each other, or any number of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

BOOTSTRAPS = 1_000


def cohens_kappa(both: float, only_first: float, only_second: float, neither: float) -> float:
    """Agreement of two beyond chance, from counts of units; NaN where one of them always says the same as chance would.

    Source: Cohen (1960), Educational and Psychological Measurement 20, 37-46.
    """
    n = both + only_first + only_second + neither
    if not n:
        return np.nan
    observed = (both + neither) / n
    first, second = (both + only_first) / n, (both + only_second) / n
    expected = first * second + (1 - first) * (1 - second)
    return np.nan if expected == 1 else (observed - expected) / (1 - expected)


def nominal_alpha(values: np.ndarray) -> float:
    """Krippendorff's alpha for named values, ``values`` float (coders, units), NaN where a coder said nothing of a
    unit. NaN where nothing can be compared or all say the same throughout.

    Source: Krippendorff (2011), Computing Krippendorff's Alpha-Reliability, with its example as the test.
    """
    kinds = np.unique(values[~np.isnan(values)])
    counts = np.stack([(values == kind).sum(0) for kind in kinds], 1) if len(kinds) else np.zeros((0, 0))
    told = counts.sum(1) if len(kinds) else np.zeros(0)
    counts = counts[told > 1].astype(float)
    n = counts.sum()
    if not n:
        return np.nan
    m = counts.sum(1, keepdims=True)
    disagreed = float(((counts * (m - counts)) / (m - 1)).sum() / n)
    of_kind = counts.sum(0)
    expected = float((of_kind * (n - of_kind)).sum() / (n * (n - 1)))
    return np.nan if expected == 0 else 1 - disagreed / expected


#: With units in fewer texts than this nothing is said of what other texts would give.
LEAST_TEXTS = 5


@dataclass(frozen=True)
class Beside:
    """One coding (such as a run) beside another taken as right (such as people), over units.

    both, only_run, only_hand, neither   units
    precision, recall, f1                each as (value, low, high); NaN where it is not defined
    """

    both: int
    only_run: int
    only_hand: int
    neither: int
    precision: tuple[float, float, float]
    recall: tuple[float, float, float]
    f1: tuple[float, float, float]
    kappa: float
    alpha: float


def beside(run: np.ndarray, hand: np.ndarray, text: np.ndarray, seed: int = 1, level: float = 0.95) -> Beside:
    """``run`` and ``hand`` bool per unit, ``text`` int per unit: the text it is from.

    Intervals from a seeded bootstrap over texts, since units of one text are alike (Field and Welsh 2007, Journal of
    the Royal Statistical Society B 69, 369-390). Where all units that count agree (or none does) every draw is the same:
    then the exact limit of Clopper and Pearson (1934, Biometrika 26), with texts as the units. None where units that
    count are in fewer than LEAST_TEXTS texts.
    """
    texts, of = np.unique(text, return_inverse=True)
    kinds = (run & hand, run & ~hand, ~run & hand, ~run & ~hand)
    by_text = np.stack([np.bincount(of, weights=kind, minlength=len(texts)) for kind in kinds], 1)
    total = by_text.sum(0)
    values = _scores(total[None])[:, 0]
    lows = highs = np.full(3, np.nan)
    if len(texts) > 1:
        rng = np.random.default_rng(seed)
        drawn = rng.multinomial(len(texts), np.full(len(texts), 1 / len(texts)), BOOTSTRAPS)
        scores = _scores(drawn @ by_text)
        known = ~np.isnan(scores)
        tail = (1 - level) / 2
        some = known.sum(1) > BOOTSTRAPS // 2
        lows, highs = (
            np.array(
                [np.nanquantile(one, at) if ok else np.nan for one, ok in zip(scores, some, strict=True)]
            )
            for at in (tail, 1 - tail)
        )
    lows, highs = _held(values, lows, highs, by_text > 0, (1 - level) / 2)
    precision, recall, f1 = (
        (float(v), float(low), float(high)) for v, low, high in zip(values, lows, highs, strict=True)
    )
    both, only_run, only_hand, neither = (int(one) for one in total)
    alpha = nominal_alpha(np.stack([run, hand]).astype(float)) if len(run) else np.nan
    kappa = cohens_kappa(both, only_run, only_hand, neither)
    return Beside(both, only_run, only_hand, neither, precision, recall, f1, kappa, alpha)


def _held(
    values: np.ndarray, lows: np.ndarray, highs: np.ndarray, in_text: np.ndarray, tail: float
) -> tuple[np.ndarray, np.ndarray]:
    """Limits of precision, recall and F1 (3 each) that hold with few units and with all alike; ``in_text`` bool (texts, 4):
    whether a text has units of each kind."""
    run, hand = in_text[:, 0] | in_text[:, 1], in_text[:, 0] | in_text[:, 2]
    texts = np.array([run.sum(), hand.sum(), (run | hand).sum()])
    low, high = lows.copy(), highs.copy()
    few = texts < LEAST_TEXTS
    low[few] = high[few] = np.nan
    exact = tail ** (1 / np.maximum(texts, 1))
    low = np.where(~few & (values == 1), exact, low)
    high = np.where(~few & (values == 0), 1 - exact, high)
    return low, high


def _scores(counts: np.ndarray) -> np.ndarray:
    """Precision, recall and F1 of rows of counts (n, 4); (3, n), NaN where not defined."""
    both, only_run, only_hand = counts[:, 0], counts[:, 1], counts[:, 2]
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.stack(
            [
                both / (both + only_run),
                both / (both + only_hand),
                2 * both / (2 * both + only_run + only_hand),
            ]
        )
