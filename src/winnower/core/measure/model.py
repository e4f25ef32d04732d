"""A model of a rate with several fields at once: what each adds while the others are held equal."""

from __future__ import annotations

import threading
import warnings
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any, NamedTuple

import numpy as np
from scipy import sparse, special

from winnower.core.measure.counted import Counted
from winnower.core.measure.rates import LEAST_WITH_HIT
from winnower.core.measure.stratified import stratified_p

#: One fit at a time: what is said of warnings while it runs is said for the whole process.
_FITTING = threading.Lock()
#: Cells of the crossed fields that a model is made of at most.
MOST_CELLS = 50_000
#: Coefficients of a model at most.
MOST_LEVELS = 400
#: With more sampling units factors are tested by approximation.
MOST_PERMUTED = 30_000
#: A unit that alone decides a coefficient has a leverage of one; its residual is not blown up beyond this.
MOST_LEVERAGE = 0.9


class Factor(NamedTuple):
    """``level`` int (N): the level of each unit, -1 where it has none; ``n_levels``; ``reference``: the level the
    others are set against."""

    level: np.ndarray
    n_levels: int
    reference: int


@dataclass(frozen=True)
class Effect:
    """Ratios of the rates of a factor's levels to that of its reference, all else equal; arrays (levels).

    ``ratio`` 1 at the reference, 0 where a level has no hits, NaN where it has no words; ``low``, ``high`` NaN
    without interval. ``p`` is that of the whole factor, NaN where it is not tested; ``times``: permutations behind
    it, 0 where it is approximated.
    """

    ratio: np.ndarray
    low: np.ndarray
    high: np.ndarray
    p: float
    times: int = 0


@dataclass(frozen=True)
class RateModel:
    """The model of one row: an effect for each factor, or the ``reason`` why there is none. ``units``: those that
    have a level in every factor."""

    effects: tuple[Effect, ...]
    units: int
    reason: str | None = None


def rate_models(
    counted: Counted,
    factors: Sequence[Factor],
    cluster: np.ndarray | None = None,
    level: float = 0.95,
    seed: int = 1,
) -> list[RateModel]:
    """A log-linear model of the hits of each row, with the log of the words as offset.

    Estimates are those of quasi-Poisson regression (McCullagh and Nelder 1989, ch. 6 and 9), fitted to the cells of
    the crossed factors, which hold all there is to know of them. Errors do not believe in Poisson: they come from
    the residuals of the sampling units (``cluster`` int (N), else the units themselves), each divided by one less
    its leverage (the jackknife's; Bell and McCaffrey 2002, Survey Methodology 28), with degrees of freedom by
    Satterthwaite (1946) from the units' parts. A factor is tested by dealing the residuals of the model without it
    out anew among units that are alike in all others (see ``stratified_p``); where there are very many units, or
    units are in several strata, by Wald's statistic as Hotelling's T squared.
    """
    rows = _Rows(counted, factors, cluster)
    models = [rows.model(row, level) for row in range(counted.n_rows)]
    return _tested(rows, models, seed)


def _tested(rows: _Rows, models: list[RateModel], seed: int) -> list[RateModel]:
    """The models with the p of permutations, where they can be had."""
    fitted = [row for row, model in enumerate(models) if model.effects]
    units = rows.sampled()
    if not fitted or units is None or units.n > MOST_PERMUTED:
        return models
    out = list(models)
    for at, factor in enumerate(rows.factors):
        residuals = np.array([units.sums(rows.residuals_without(at, row)) for row in fitted])
        others = units.of([f.level[rows.inside] for n, f in enumerate(rows.factors) if n != at])
        _, p, times = stratified_p(
            residuals, units.first(factor.level[rows.inside]), factor.n_levels, others, seed
        )
        for place, row in enumerate(fitted):
            effects = list(out[row].effects)
            effects[at] = replace(effects[at], p=float(p[place]), times=times)
            out[row] = replace(out[row], effects=tuple(effects))
    return out


class _Sampled:
    """The sampling units of a model, each with one level in every factor."""

    def __init__(self, of_member: np.ndarray) -> None:
        self.of_member = of_member
        self.n = int(of_member.max(initial=-1)) + 1
        self._first = np.unique(of_member, return_index=True)[1]

    def sums(self, values: np.ndarray) -> np.ndarray:
        found: np.ndarray = np.bincount(self.of_member, weights=values, minlength=self.n)
        return found

    def first(self, values: np.ndarray) -> np.ndarray:
        return np.asarray(values[self._first])

    def of(self, levels: Sequence[np.ndarray]) -> np.ndarray:
        """int (n): which units are alike in all of these."""
        if not levels:
            return np.zeros(self.n, int)
        alike = np.unique(np.stack([self.first(level) for level in levels]), axis=1, return_inverse=True)
        return np.asarray(alike[1]).ravel()


class _Rows:
    """What the models of all rows share."""

    def __init__(self, counted: Counted, factors: Sequence[Factor], cluster: np.ndarray | None) -> None:
        self.factors = factors
        inside = counted.size > 0
        for factor in factors:
            inside &= factor.level >= 0
        self.inside, self.place = inside, np.cumsum(inside) - 1
        levels = np.array([factor.level[inside] for factor in factors])
        shape = tuple(factor.n_levels for factor in factors)
        crossed = np.ravel_multi_index(tuple(levels), shape) if inside.any() else np.empty(0, int)
        cells, self.cell = np.unique(crossed, return_inverse=True)
        self.level_of_cell = np.array(np.unravel_index(cells, shape))
        self.size = counted.size[inside]
        self.words = np.bincount(self.cell, weights=self.size, minlength=len(cells))
        self.cluster = None
        if cluster is not None:
            self.cluster = np.unique(cluster[inside], return_inverse=True)[1]
        self.order = np.argsort(counted.row, kind="stable")
        self.ends = np.searchsorted(counted.row[self.order], np.arange(counted.n_rows + 1))
        self.counted = counted

    def hits(self, row: int) -> np.ndarray:
        """float: of each unit that has a level in every factor."""
        y = np.zeros(int(self.inside.sum()))
        entries = self.order[self.ends[row] : self.ends[row + 1]]
        member = self.counted.unit[entries]
        kept = self.inside[member]
        y[self.place[member[kept]]] = self.counted.hits[entries][kept]
        return y

    def sampled(self) -> _Sampled | None:
        """None where a sampling unit has several levels of a factor."""
        if self.cluster is None:
            return _Sampled(np.arange(int(self.inside.sum())))
        pairs = np.unique(np.stack([self.cluster, self.cell]), axis=1)
        return _Sampled(self.cluster) if pairs.shape[1] == int(self.cluster.max()) + 1 else None

    def residuals_without(self, at: int, row: int) -> np.ndarray:
        """What units have more than the model of a row without factor ``at`` expects."""
        y = self.hits(row)
        some = self.level_of_cell[[n for n in range(len(self.factors)) if n != at]]
        cells, of_cell = np.unique(some, axis=1, return_inverse=True)
        cell = of_cell.ravel()[self.cell]
        n = cells.shape[1] if len(some) else 1
        hits = np.bincount(cell, weights=y, minlength=n)
        words = np.bincount(cell, weights=self.size, minlength=n)
        others = [f for m, f in enumerate(self.factors) if m != at]
        alive = _alive(cells, others, hits)
        rate = np.zeros(n)
        if len(some):
            rate[alive] = _fit(hits[alive], words[alive], _design(cells[:, alive], others)[0]).rate
        else:
            rate[:] = hits.sum() / words.sum()
        return np.asarray(y - rate[cell] * self.size)

    def model(self, row: int, level: float) -> RateModel:
        y = self.hits(row)
        units = len(y)
        if np.count_nonzero(y) < LEAST_WITH_HIT:
            return RateModel((), units, "too few hits")
        hits = np.bincount(self.cell, weights=y, minlength=len(self.words))
        alive = _alive(self.level_of_cell, self.factors, hits)
        if any(not alive[self.level_of_cell[at] == f.reference].any() for at, f in enumerate(self.factors)):
            return RateModel((), units, "no hits in the reference level")
        if alive.sum() > MOST_CELLS:
            return RateModel((), units, f"more than {MOST_CELLS:,} combinations of values")
        design, owner = _design(self.level_of_cell[:, alive], self.factors)
        if design.shape[1] > MOST_LEVELS:
            return RateModel((), units, f"more than {MOST_LEVELS} values")
        if np.linalg.matrix_rank(design) < design.shape[1]:
            return RateModel((), units, "its fields cannot be separated: some values only come together")
        fit = _fit(hits[alive], self.words[alive], design)
        spread = self._spread(y, alive, fit, design)
        with_hit = [np.bincount(f.level[self.inside][y > 0], minlength=f.n_levels) for f in self.factors]
        effects = tuple(
            self._effect(at, factor, fit, spread, owner, with_hit[at], level)
            for at, factor in enumerate(self.factors)
        )
        return RateModel(effects, units)

    def _spread(self, y: np.ndarray, alive: np.ndarray, fit: _Fit, design: np.ndarray) -> _Spread:
        """Covariance of the coefficients from what each sampling unit does to them."""
        kept = alive[self.cell]
        cell = (np.cumsum(alive) - 1)[self.cell[kept]]
        expected = self.size[kept] * fit.rate[cell]
        leverage = np.einsum("cp,pq,cq->c", design, fit.inverse, design)
        off = (y[kept] - expected) / (1 - np.minimum(expected * leverage[cell], MOST_LEVERAGE))
        pull = design @ fit.inverse  # (cells, coefficients): what a surplus of one hit does
        if self.cluster is None:
            second, fourth = (np.bincount(cell, weights=off**n, minlength=len(design)) for n in (2, 4))
            covariance = (pull * second[:, None]).T @ pull
            of_fourth = (pull**4 * fourth[:, None]).sum(0)
            n = len(off)
        else:
            of_unit = (
                sparse.coo_array(
                    (off, (self.cluster[kept], cell)), (int(self.cluster.max()) + 1, len(design))
                ).tocsr()
                @ pull
            )
            covariance = of_unit.T @ of_unit
            of_fourth = (of_unit**4).sum(0)
            n = len(of_unit)
        with np.errstate(divide="ignore", invalid="ignore"):
            uneven = of_fourth / np.diag(covariance) ** 2 - 1 / n
            df = np.where(uneven > 0, 2 / uneven, np.inf)
        return _Spread(covariance, np.clip(df, 1, np.maximum(np.count_nonzero(y) - 1, 1)))

    def _effect(
        self,
        at: int,
        factor: Factor,
        fit: _Fit,
        spread: _Spread,
        owner: list[tuple[int, int]],
        with_hit: np.ndarray,
        level: float,
    ) -> Effect:
        ratio = np.full(factor.n_levels, np.nan)
        low, high = ratio.copy(), ratio.copy()
        ratio[np.unique(self.level_of_cell[at])] = 0
        ratio[factor.reference] = 1
        mine = [place for place, (of, _) in enumerate(owner, 1) if of == at]
        for place in mine:
            one = owner[place - 1][1]
            ratio[one] = np.exp(fit.coefficients[place])
            if min(with_hit[one], with_hit[factor.reference]) >= LEAST_WITH_HIT:
                error = np.sqrt(spread.covariance[place, place])
                half = special.stdtrit(spread.df[place], (1 + level) / 2) * error
                low[one], high[one] = ratio[one] * np.exp([-half, half])
        tested = [p for p in mine if with_hit[owner[p - 1][1]] >= LEAST_WITH_HIT]
        return Effect(ratio, low, high, _wald(fit.coefficients[tested], spread, tested))


def _alive(levels: np.ndarray, factors: Sequence[Factor], hits: np.ndarray) -> np.ndarray:
    """bool per cell: in no level that has no hits at all; such a level's rate is nought whatever the others.

    ``levels`` int (factors, cells)."""
    alive = np.ones(len(hits), bool)
    while True:
        before = alive.sum()
        for of_cell, factor in zip(levels, factors, strict=True):
            of_level = np.bincount(of_cell[alive], weights=hits[alive], minlength=factor.n_levels)
            alive &= of_level[of_cell] > 0
        if alive.sum() == before:
            return alive


def _design(levels: np.ndarray, factors: Sequence[Factor]) -> tuple[np.ndarray, list[tuple[int, int]]]:
    """(cells, coefficients), and the factor and level of each coefficient but the first."""
    columns, owner = [np.ones(levels.shape[1])], []
    for at, (of_cell, factor) in enumerate(zip(levels, factors, strict=True)):
        for one in np.unique(of_cell):
            if one != factor.reference:
                columns.append((of_cell == one).astype(float))
                owner.append((at, int(one)))
    return np.column_stack(columns), owner


class _Fit(NamedTuple):
    """``rate`` (cells) hits a word as fitted; ``inverse``: of the information."""

    coefficients: np.ndarray
    rate: np.ndarray
    inverse: np.ndarray


class _Spread(NamedTuple):
    covariance: np.ndarray
    df: np.ndarray


@cache
def _regression() -> tuple[Any, Any]:
    """The regression and its family: a large library, loaded where it is wanted first."""
    from statsmodels.genmod.families import Poisson
    from statsmodels.genmod.generalized_linear_model import GLM

    return GLM, Poisson()


def _fit(hits: np.ndarray, words: np.ndarray, design: np.ndarray) -> _Fit:
    glm, family = _regression()
    # as many cells as coefficients are fitted exactly: no fault here, as errors do not come from the fit
    with _FITTING, warnings.catch_warnings(), np.errstate(divide="ignore", invalid="ignore"):
        warnings.simplefilter("ignore")
        found = glm(hits, design, family=family, offset=np.log(words)).fit()
    information = (design * found.mu[:, None]).T @ design
    return _Fit(np.asarray(found.params), found.mu / words, np.linalg.inv(information))


def _wald(coefficients: np.ndarray, spread: _Spread, places: list[int]) -> float:
    """p; NaN where there are too few units for so many coefficients."""
    q = len(places)
    if not q:
        return np.nan
    squared = float(coefficients @ np.linalg.pinv(spread.covariance[np.ix_(places, places)]) @ coefficients)
    df = float(np.median(spread.df[places]))
    rest = df - q + 1
    return float(special.fdtrc(q, rest, rest / (df * q) * squared)) if rest >= 2 else np.nan
