"""Precision and recall by threshold, over texts that were not learned from, with intervals over texts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

#: From so much on a unit is taken.
THRESHOLDS = np.round(np.arange(1, 100) / 100, 2)
DRAWN = 300


@dataclass(frozen=True)
class Curve:
    """float64 (99,), one entry per threshold; (3, 99) with lower and upper bound in rows 1 and 2. NaN where it is not
    defined. ``best`` is the place of the threshold with the highest F1. ``chosen`` float64 (3, 3): precision, recall and F1
    in rows, each with lower and upper bound, as they are on texts that had no part in choosing the threshold; the
    figures of the curve at ``best`` are higher for having been picked."""

    precision: np.ndarray
    recall: np.ndarray
    f1: np.ndarray
    best: int
    chosen: np.ndarray


def curve_of(probability: np.ndarray, right: np.ndarray, text: np.ndarray, seed: int = 1) -> Curve:
    """``probability`` float and ``right`` bool per unit, ``text`` int: the text it is from.

    Intervals from a seeded bootstrap over texts, since units of one text are alike (Field and Welsh 2007, Journal of
    the Royal Statistical Society B 69, 369-390).
    """
    texts, of = np.unique(text, return_inverse=True)
    # how many thresholds each unit reaches
    reached = np.searchsorted(THRESHOLDS, probability + 1e-12, side="right")
    taken = _reaching(of, reached, np.ones(len(of)), len(texts))
    true = _reaching(of, reached, right.astype(float), len(texts))
    wanted = np.bincount(of, weights=right, minlength=len(texts))
    own = np.ones((1, len(texts)))
    values = _shares(own, taken, true, wanted)
    chosen = np.full((3, 3), np.nan)
    lows = highs = np.full((3, len(THRESHOLDS)), np.nan)
    if len(texts) > 1:
        rng = np.random.default_rng(seed)
        weights = rng.multinomial(len(texts), np.full(len(texts), 1 / len(texts)), DRAWN).astype(float)
        drawn = _shares(weights, taken, true, wanted)
        chosen = _of_chosen(drawn[2], _shares((weights == 0).astype(float), taken, true, wanted))
        known = ~np.isnan(drawn)
        some = known.sum(1) > DRAWN // 2
        filled = np.where(some[:, None, :], drawn, 0.0)
        lows = np.where(some, np.nanquantile(filled, 0.025, axis=1), np.nan)
        highs = np.where(some, np.nanquantile(filled, 0.975, axis=1), np.nan)
    precision, recall, f1 = (np.stack([values[row, 0], lows[row], highs[row]]) for row in range(3))
    return Curve(precision, recall, f1, _best(f1[0]), chosen)


def _of_chosen(f1: np.ndarray, others: np.ndarray) -> np.ndarray:
    """float64 (3, 3): the mean and the range of the shares (3, draws, thresholds) of texts that were not drawn, at the
    threshold that is best in those that were, ``f1`` (draws, thresholds).

    Source: choice within each draw and judgement outside of it: Efron and Tibshirani (1997), JASA 92, 548-560.
    """
    at = [_best(one) for one in f1]
    found = others[:, np.arange(len(at)), at]
    # where nothing is taken there is no precision, and nothing is found
    known = ~np.isnan(found)
    out = np.full((3, 3), np.nan)
    for row in range(3):
        if known[row].sum() > DRAWN // 2:
            some = found[row][known[row]]
            out[row] = some.mean(), *np.quantile(some, (0.025, 0.975))
    return out


def _best(f1: np.ndarray) -> int:
    """The threshold with the highest F1; of several in a row that are as good the middle one."""
    if np.isnan(f1).all():
        return len(THRESHOLDS) // 2
    as_good = np.flatnonzero(f1 >= np.nanmax(f1) - 1e-12)
    row = as_good[: int(np.argmin(np.append(np.diff(as_good), 2) == 1)) + 1]
    return int(row[len(row) // 2])


def _reaching(of: np.ndarray, reached: np.ndarray, weight: np.ndarray, n_texts: int) -> np.ndarray:
    """float64 (texts, thresholds): summed weight of the units that reach each threshold."""
    width = len(THRESHOLDS) + 1
    cells = np.bincount(of * width + reached, weights=weight, minlength=n_texts * width)
    by_reach = cells.reshape(n_texts, width)
    found: np.ndarray = by_reach[:, ::-1].cumsum(1)[:, ::-1][:, 1:]
    return found


def _shares(weights: np.ndarray, taken: np.ndarray, true: np.ndarray, wanted: np.ndarray) -> np.ndarray:
    """float64 (3, draws, thresholds): precision, recall, F1 for each weighting of texts (draws, texts)."""
    n_taken, n_true, n_wanted = weights @ taken, weights @ true, (weights @ wanted)[:, None]
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.stack([n_true / n_taken, n_true / n_wanted, 2 * n_true / (n_taken + n_wanted)])
