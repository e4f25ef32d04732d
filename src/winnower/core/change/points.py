"""Where the rate of a row changed: change points with their uncertainty."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

#: Texts beyond this many are gathered in blocks of the same period.
MOST_BLOCKS = 2_000
#: Part of all periods, and how many at least, that lie on each side of a change.
LEAST_PART, LEAST_PERIODS = 0.05, 2
TIMES, DRAWS = 999, 300
#: Beyond so many periods places are looked at in steps, and then one by one around the best.
FINE = 200
#: What a stretch with so much (y) of a size (x) takes off the deviance, by half.
Part = Callable[[np.ndarray, np.ndarray], np.ndarray]


@dataclass(frozen=True)
class Change:
    """period   the first of the new rate, by place
    low, high   the interval of that place
    before, after   rates on both sides, up to the next change
    p           share of states without a change in which the best place gives as much
    """

    period: int
    low: int
    high: int
    before: float
    after: float
    p: float


@dataclass(frozen=True)
class _Blocks:
    """Units sorted by period: hits and size of each, its period, and how many each period has."""

    y: np.ndarray
    x: np.ndarray
    period: np.ndarray
    ends: np.ndarray


def changes(
    y: np.ndarray,
    x: np.ndarray,
    period: np.ndarray,
    n_periods: int,
    *,
    seed: int,
    level: float = 0.95,
    rows: int = 1,
    signed: bool = False,
) -> list[Change]:
    """Changes of the rate of one row, in time. ``y`` hits, ``x`` size and ``period`` of each unit (N); ``signed`` where
    these are numbers less their mean, whose mean changes.

    The cost of a stretch is its quasi-Poisson deviance, of numbers the sum of squares; stretches are parted by PELT (Killick, Fearnhead and Eckley
    2012, JASA 107; the package ruptures), each parting having to gain more than the best one does in all but 1 - level of
    the states in which units are given to the periods anew: so of series without a change at most that part shows one
    (shared out over ``rows``). Where a change lies: a bootstrap of the units on both sides of it, over the places
    between its neighbours.
    """
    blocks = _blocks(y, x, period, n_periods, seed)
    least = max(LEAST_PERIODS, int(np.ceil(LEAST_PART * n_periods)))
    if n_periods < 2 * least or not len(y) or not (y.any() if signed else y.sum() > 0):
        return []
    part = _square_part if signed else _gain_part
    rng = np.random.default_rng(seed)
    best = _best_by_chance(blocks, n_periods, least, rng, part)
    penalty = float(np.quantile(best, 1 - (1 - level) / rows, method="higher"))
    ys, xs = _by_period(blocks.y, blocks, n_periods), _by_period(blocks.x, blocks, n_periods)
    places = _parted(ys, xs, least, penalty, part)
    edges = [0, *places, n_periods]
    out = []
    for at, place in enumerate(places, start=1):
        low, high = edges[at - 1], edges[at + 1]
        gain = float(_gains(np.cumsum(ys[low:high]), np.cumsum(xs[low:high]), part)[place - low - 1])
        p = (1 + int((best >= gain).sum())) / (len(best) + 1)
        first, last = _where(blocks, low, place, high, rng, level, part)
        rate = [float(ys[a:b].sum() / max(xs[a:b].sum(), 1e-300)) for a, b in ((low, place), (place, high))]
        out.append(Change(place, min(first, place), max(last, place), rate[0], rate[1], p))
    return out


def _blocks(y: np.ndarray, x: np.ndarray, period: np.ndarray, t: int, seed: int) -> _Blocks:
    """Units in the order of their periods; where there are many, some of one period, at random, together."""
    order = np.random.default_rng(seed).permutation(len(y))
    order = order[np.argsort(period[order], kind="stable")]
    y, x, period = y[order].astype(float), x[order].astype(float), period[order].astype(np.int64)
    if len(y) > MOST_BLOCKS:
        of_period = np.bincount(period, minlength=t)
        wanted = np.maximum(np.ceil(of_period * (MOST_BLOCKS / len(y))), 1).astype(np.int64)
        start = np.concatenate([[0], np.cumsum(of_period)])[:-1]
        within = np.arange(len(y)) - start[period]
        block = (
            np.concatenate([[0], np.cumsum(wanted)])[:-1][period]
            + within * wanted[period] // of_period[period]
        )
        used, block = np.unique(block, return_inverse=True)
        y, x = (np.bincount(block, weights=values, minlength=len(used)) for values in (y, x))
        first = np.zeros(len(used), np.int64)
        first[block] = period
        period = first
    return _Blocks(y, x, period, np.cumsum(np.bincount(period, minlength=t)))


def _by_period(values: np.ndarray, blocks: _Blocks, t: int) -> np.ndarray:
    return np.bincount(blocks.period, weights=values, minlength=t)


def _gain_part(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where((y > 0) & (x > 0), y * np.log(y / x), 0.0)


def _square_part(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(x > 0, y**2 / x / 2, 0.0)


def _gains(y: np.ndarray, x: np.ndarray, part: Part) -> np.ndarray:
    """What parting after each place gains in deviance, from running sums (..., T); (..., T - 1)."""
    whole = part(y[..., -1:], x[..., -1:])
    left = part(y[..., :-1], x[..., :-1])
    right = part(y[..., -1:] - y[..., :-1], x[..., -1:] - x[..., :-1])
    found: np.ndarray = 2 * (left + right - whole)
    return found


def _best_by_chance(blocks: _Blocks, t: int, least: int, rng: np.random.Generator, part: Part) -> np.ndarray:
    """The largest gain in each of TIMES states in which blocks are given to the periods anew."""
    n = len(blocks.y)
    out = np.empty(TIMES)
    at = np.maximum(blocks.ends - 1, 0)
    step = max(1, 2_000_000 // max(n, 1))
    for start in range(0, TIMES, step):
        times = min(step, TIMES - start)
        order = rng.permuted(np.tile(np.arange(n), (times, 1)), axis=1)
        ys = np.cumsum(blocks.y[order], axis=1)[:, at]
        xs = np.cumsum(blocks.x[order], axis=1)[:, at]
        empty = blocks.ends == 0  # periods before the first block
        ys[:, empty], xs[:, empty] = 0, 0
        gains = _gains(ys, xs, part)[:, least - 1 : t - least]
        out[start : start + times] = gains.max(1, initial=0)
    return out


def _parted(ys: np.ndarray, xs: np.ndarray, least: int, penalty: float, part: Part) -> list[int]:
    """First periods of new stretches, by PELT."""
    import ruptures  # loaded where it is needed

    y, x = (np.concatenate([[0.0], np.cumsum(values)]) for values in (ys, xs))

    class Deviance(ruptures.base.BaseCost):  # type: ignore[misc]
        """-2 times the log-likelihood of one Poisson rate (the squares about one mean), but for what does not depend on
        where it is parted."""

        model, min_size = "deviance", 1

        def fit(self, signal: np.ndarray) -> Deviance:
            self.signal = signal
            return self

        def error(self, start: int, end: int) -> float:
            hits, size = y[end] - y[start], x[end] - x[start]
            if size <= 0:
                return 0.0
            if part is _square_part:
                return -float(hits * hits / size)
            return -2 * hits * float(np.log(hits / size)) if hits > 0 else 0.0

    jump = max(1, -(-len(ys) // FINE))
    search = ruptures.Pelt(custom_cost=Deviance(), min_size=least, jump=jump)
    found = [int(at) for at in search.fit(ys[:, None]).predict(pen=penalty) if at < len(ys)]
    edges = [0, *found, len(ys)]
    out = []
    for at in range(1, len(edges) - 1):
        low, high = edges[at - 1], edges[at + 1]
        near = np.arange(max(low + least, edges[at] - jump), min(high - least, edges[at] + jump) + 1)
        gains = _gains(np.cumsum(ys[low:high]), np.cumsum(xs[low:high]), part)[near - low - 1]
        best = int(near[gains.argmax()])
        if gains.max() > penalty:
            out.append(best)
            edges[at] = best
    return out


def _where(
    blocks: _Blocks, low: int, place: int, high: int, rng: np.random.Generator, level: float, part: Part
) -> tuple[int, int]:
    """Places between which the change lies, by drawing the blocks of each side anew."""
    inside = np.flatnonzero((blocks.period >= low) & (blocks.period < high))
    before = blocks.period[inside] < place
    weights = np.zeros((DRAWS, len(inside)))
    for side in (before, ~before):
        n = int(side.sum())
        if n:
            weights[:, side] = rng.multinomial(n, np.full(n, 1 / n), size=DRAWS)
    t = high - low
    of_period = np.zeros((len(inside), t))
    of_period[np.arange(len(inside)), blocks.period[inside] - low] = 1
    ys, xs = ((weights * values[inside]) @ of_period for values in (blocks.y, blocks.x))
    gains = _gains(np.cumsum(ys, 1), np.cumsum(xs, 1), part)
    best = low + 1 + gains.argmax(1)
    alpha = (1 - level) / 2
    return (int(np.quantile(best, alpha, method="lower")), int(np.quantile(best, 1 - alpha, method="higher")))
