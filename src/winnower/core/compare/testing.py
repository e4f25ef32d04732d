"""The tests of a table: which groups are fit for them, what they say, and what a few long units do to them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from winnower.core.compare.mean_measures import numbers_in_units
from winnower.core.compare.measure import View
from winnower.core.compare.targets import Target
from winnower.core.compare.unit import Unit
from winnower.core.measure import (
    MOST_MIX_TIMES,
    MOST_TIMES,
    NO_MIX,
    Counted,
    MixTest,
    RateTests,
    Trend,
    mean_tests,
    mix_test,
    rate_tests,
    trend_test,
    units_across_groups,
)

#: Groups with fewer units take part in no test.
LEAST_UNITS = 5
#: Units are long when they have so many times the words of the middle one; they are looked at where they hold
#: this part of all words or more.
LONG_TIMES, LONG_SHARE = 10.0, 0.1


@dataclass(frozen=True)
class Verdict:
    """Both questions, for the tested rows and the groups that are fit.

    rates   arrays over all rows and groups of the table, NaN where something is not tested
    mix     whether the groups share their hits out alike
    trend   over all rows, where the groups are periods
    """

    rates: RateTests
    mix: MixTest
    trend: Trend | None = None

    def differing(self, level: float) -> np.ndarray:
        """int: rows whose rate differs between the groups."""
        with np.errstate(invalid="ignore"):
            return np.flatnonzero(self.rates.p_adjusted <= 1 - level)


@dataclass(frozen=True)
class Long:
    """A few long units: how many, from how many words on, their part of all words, and what is found without."""

    units: int
    least_words: int
    share: float
    verdict: Verdict


@dataclass(frozen=True)
class Tests:
    """``reason`` says why there is no ``verdict``; ``left_out`` are groups with too few units, by place."""

    reason: str | None = None
    verdict: Verdict | None = None
    left_out: tuple[int, ...] = ()
    long: Long | None = None


def fit_groups(counted: Counted) -> np.ndarray:
    """bool (G): groups that take part in tests."""
    return (counted.units >= LEAST_UNITS) & (counted.sizes > 0)


def run_tests(view: View, target: Target, unit: Unit, seed: int, periods: bool = False) -> Tests:
    """Test the rows ``view.tested`` across the groups; ``periods``: these follow each other in time."""
    counted = view.counts.counted
    if not view.counts.groups.disjoint:
        return Tests("Some texts belong to several groups, so a test across them would not hold.")
    if not counted.n_groups:
        return Tests("No text has a value here, so there are no groups to compare.")
    if counted.n_groups < 2:
        return Tests("There is only one group, so there is nothing to test.")
    if view.unit is not None and (across := units_across_groups(counted, view.unit)):
        return Tests(
            f"{across:,} {unit.nouns} have texts in several groups, so the groups are not independent and a test "
            "across them would not hold."
        )
    if view.counts.numbers:
        return _tests_of_means(view, unit, seed, periods)
    counted = view.in_units(counted)
    fit = fit_groups(counted)
    left_out = tuple(np.flatnonzero(~fit & (counted.units > 0)).tolist())
    if fit.sum() < 2:
        few = f"Fewer than two groups have {LEAST_UNITS} {unit.nouns} or more, so there is nothing to test."
        return Tests(few, left_out=left_out)
    rows = np.zeros(counted.n_rows, bool)
    rows[list(view.tested)] = True
    tested = counted.some(fit, rows)
    if not len(tested.hits):
        return Tests(
            f"No {target.nouns[0]} has hits in these groups, so there is nothing to test.", left_out=left_out
        )
    verdict = _verdict(tested, rows, fit, view.level, seed)
    if periods:
        verdict = replace(verdict, trend=_trend(counted, rows))
    # what a unit weighs is not how long it is: of weights the design effect tells what a few of them do
    long = None if view.counts.weights is not None else _without_long(tested, rows, fit, view.level, seed)
    return Tests(None, verdict, left_out, long)


def _tests_of_means(view: View, unit: Unit, seed: int, periods: bool) -> Tests:
    """Of each number, in the groups where enough units have one."""
    rows = [numbers_in_units(view, one) for one in view.counts.numbers]
    fit = np.array([one.units >= LEAST_UNITS for one in rows])
    some = np.array([one.units > 0 for one in rows]).any(0)
    left_out = tuple(np.flatnonzero(some & ~fit.any(0)).tolist())
    if (fit.sum(1) < 2).all():
        few = f"Fewer than two groups have {LEAST_UNITS} {unit.nouns} with a value or more, so there is nothing to test."
        return Tests(few, left_out=left_out)
    tested = [
        one if enough[one.units > 0].all() else one.without(~enough[one.group])
        for one, enough in zip(rows, fit, strict=True)
    ]
    rates = mean_tests(tested, view.level, seed)
    if not np.isfinite(rates.p).any():
        return Tests(_without_spread(tested), left_out=left_out)
    trend = _trend_of_means(rows, [one.centre for one in view.counts.numbers]) if periods else None
    return Tests(None, Verdict(rates, NO_MIX, trend), left_out)


def _without_spread(rows: Sequence[Counted]) -> str:
    """Why means are not tested although there are enough units."""
    means = [one.totals[0][one.units > 0] / one.units[one.units > 0] for one in rows]
    if all(len(one) == 0 or np.allclose(one, one[0]) for one in means):
        return "All values are the same in these groups, so there is nothing to test."
    return (
        "Within each group all values are the same. The groups differ, but without any spread within them chance cannot be told "
        "from difference, so nothing is tested."
    )


def _trend_of_means(rows: Sequence[Counted], centres: Sequence[float]) -> Trend:
    found = [trend_test(one.totals, one.sizes, signed=True) for one in rows]
    first, last, t, p = (
        np.array([float(getattr(one, name)[0]) for one in found]) for name in ("first", "last", "t", "p")
    )
    return Trend(first + centres, last + centres, t, max(one.df for one in found), p)


def _verdict(
    tested: Counted, rows: np.ndarray, fit: np.ndarray, level: float, seed: int, times: int = MOST_TIMES
) -> Verdict:
    found = rate_tests(tested, level, seed, times)
    of_row, of_group = np.flatnonzero(rows), np.flatnonzero(fit)

    def spread(values: np.ndarray) -> np.ndarray:
        shape = (len(rows),) if values.ndim == 1 else (len(rows), len(fit))
        out = np.full(shape, np.nan)
        out[of_row if values.ndim == 1 else np.ix_(of_row, of_group)] = values
        return out

    gap = found.gap
    if gap is not None:
        second = int(of_group[gap.second]) if gap.second >= 0 else -1
        gap = replace(gap, row=int(of_row[gap.row]), first=int(of_group[gap.first]), second=second)
    rates = RateTests(
        statistic=spread(found.statistic),
        p=spread(found.p),
        p_adjusted=spread(found.p_adjusted),
        between=spread(found.between),
        detectable=spread(found.detectable),
        z=spread(found.z),
        z_p=spread(found.z_p),
        gap=gap,
        tried=found.tried,
        times=found.times,
        by_largest=found.by_largest,
        least_adjusted=found.least_adjusted,
        undefined=found.undefined,
        further=found.further,
    )
    return Verdict(rates, mix_test(tested, seed, min(times, MOST_MIX_TIMES)) if len(of_row) > 1 else NO_MIX)


def _trend(counted: Counted, rows: np.ndarray) -> Trend:
    """Of the tested rows over all periods, small ones too: they weigh by their words."""
    found = trend_test(counted.totals[rows], counted.sizes)

    def spread(values: np.ndarray) -> np.ndarray:
        out = np.full(len(rows), np.nan)
        out[rows] = values
        return out

    return Trend(spread(found.first), spread(found.last), spread(found.t), found.df, spread(found.p))


def _without_long(tested: Counted, rows: np.ndarray, fit: np.ndarray, level: float, seed: int) -> Long | None:
    """What is found without the units that are far longer than the others, where they weigh much."""
    size = tested.size
    long = size > LONG_TIMES * np.median(size[size > 0])
    share = float(size[long].sum() / size.sum())
    if not long.any() or share < LONG_SHARE:
        return None
    rest = tested.without(long)
    enough = rest.units >= LEAST_UNITS
    still = fit.copy()
    still[np.flatnonzero(fit)[~enough]] = False
    rest = rest.some(enough)
    if rest.n_groups < 2 or not len(rest.hits):
        return None
    # enough for the smallest p, adjusted for all rows, to lie well below what is called a difference
    times = int(np.ceil(2 * rows.sum() / (1 - level)))
    found = _verdict(rest, rows, still, level, seed, min(times, MOST_TIMES))
    return Long(int(long.sum()), int(size[long].min()), share, found)
