"""Means of numbers by group: intervals, tests and changes, against scipy, statsmodels and plain sums."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.oneway import anova_oneway

from winnower.core.change import changes, moving
from winnower.core.measure import (
    Counted,
    in_units,
    mean_differences,
    mean_interval,
    mean_tests,
    means_of,
    trend_test,
)
from winnower.core.measure.homogeneity import approximate_p, as_it_is
from winnower.core.measure.means import effective_df, mean_contrasts, mean_scores, spread_within


def counted(values, group, size=None, groups=None):
    values, group = np.asarray(values, float), np.asarray(group)
    n = len(values)
    size = np.ones(n) if size is None else np.asarray(size, float)
    at = np.arange(n)
    return Counted(group, size, at, np.zeros(n, int), values, groups or int(group.max()) + 1, 1)


def drawn(seed, sizes=(12, 30, 9), spreads=(1, 3, 0.5), means=(0, 1, -2)):
    rng = np.random.default_rng(seed)
    values = np.concatenate([rng.normal(m, s, n) for n, s, m in zip(sizes, spreads, means, strict=True)])
    return values, np.repeat(np.arange(len(sizes)), sizes)


@given(st.integers(0, 10_000), st.sampled_from([0.0, 40.0, 2_020.0]), st.floats(0.6, 0.99))
@settings(max_examples=30)
def test_a_mean_and_its_interval_are_students(seed, at, level):
    values, group = drawn(seed)
    found = mean_interval(means_of(counted(values, group), at), level)
    for g in range(3):
        some = values[group == g]
        low, high = stats.t.interval(level, len(some) - 1, some.mean() + at, stats.sem(some))
        np.testing.assert_allclose(
            [found.value[g], found.low[g], found.high[g]], [some.mean() + at, low, high], rtol=1e-9
        )


@given(st.integers(0, 10_000))
@settings(max_examples=30)
def test_two_means_are_set_apart_as_by_welch(seed):
    values, group = drawn(seed)
    numbers = counted(values, group)
    found = mean_differences(numbers, 1, 0.9)
    for g in (0, 2):
        known = stats.ttest_ind(values[group == g], values[group == 1], equal_var=False)
        ends = known.confidence_interval(0.9)
        np.testing.assert_allclose([found.low[g], found.high[g]], [ends.low, ends.high], rtol=1e-9)
    assert found.value[1] == 0 and np.isnan(found.low[1])
    against = mean_differences(numbers, None, 0.9)
    for g in range(3):
        known = stats.ttest_ind(values[group == g], values[group != g], equal_var=False)
        ends = known.confidence_interval(0.9)
        np.testing.assert_allclose([against.low[g], against.high[g]], [ends.low, ends.high], rtol=1e-9)


@given(st.integers(0, 10_000))
@settings(max_examples=30)
def test_without_drawing_spreads_together_the_statistic_is_welchs(seed):
    values, group = drawn(seed)
    numbers = counted(values, group)
    found = mean_scores(as_it_is(numbers), prior=0)
    known = anova_oneway(values, group, use_var="unequal")
    p = approximate_p(found, effective_df(numbers)[None])
    assert p[0] == pytest.approx(known.pvalue, rel=1e-9)
    assert spread_within(numbers) ** 2 == pytest.approx(
        sum(((values[group == g] - values[group == g].mean()) ** 2).sum() for g in range(3))
        / (len(values) - 3)
    )


def test_several_numbers_of_a_text_are_a_ratio_over_texts():
    """The error is the linearised one of a ratio; a text twice as long weighs twice as much."""
    y, x, group = (
        np.array([3.0, -1, 4, 2, 0, 5]),
        np.array([2.0, 1, 3, 4, 1, 2]),
        np.array([0, 0, 0, 0, 1, 1]),
    )
    found = means_of(counted(y, group, x))
    first = y[:4].sum() / x[:4].sum()
    error = np.sqrt(4 / 3 * ((y[:4] - first * x[:4]) ** 2).sum()) / x[:4].sum()
    assert (found.value[0], found.error[0]) == pytest.approx((first, error), rel=1e-12)
    assert found.df[0] == pytest.approx((x[:4] ** 2).sum() ** 2 / (x[:4] ** 4).sum() - 1)


def test_larger_units_hold_what_their_texts_have():
    values, group = drawn(5, sizes=(12, 12), spreads=(1, 1), means=(0, 0))
    author = np.repeat(np.arange(8), 3)
    whole = in_units(counted(values, group), author)
    assert whole.units.tolist() == [4, 4] and whole.sizes.tolist() == [12, 12]
    sums = values.reshape(8, 3).sum(1)
    np.testing.assert_allclose(np.sort(whole.hits), np.sort(sums))
    assert means_of(whole).value == pytest.approx([values[:12].mean(), values[12:].mean()])


def test_one_unit_or_none_has_no_error():
    found = means_of(counted([4.0], [0], groups=2))
    assert found.value[0] == 4 and np.isnan(found.value[1])
    assert np.isnan(found.error).all()


def test_differences_are_found_where_they_are():
    values, group = drawn(3, sizes=(40, 40, 40), spreads=(1, 1, 1), means=(0, 0, 3))
    found = mean_tests([counted(values, group)])
    assert found.p[0] == pytest.approx(1 / 1000) and found.times == 999
    assert found.gap is not None and found.gap.first == 2 and found.gap.second in (0, 1)
    assert found.gap.low < found.gap.found < found.gap.high and 0 < found.gap.ratio <= found.gap.found
    assert found.gap.spread == pytest.approx(1, abs=0.2)
    assert (found.z[0] > 0).tolist() == [False, False, True]
    assert found.between[0] > 1


def test_the_way_is_approximated_where_there_are_too_many_units():
    rng = np.random.default_rng(1)
    group = np.repeat(np.arange(3), 12_000)
    values = rng.normal(0, 1, 36_000) + 0.1 * (group == 1)
    found = mean_tests([counted(values, group)])
    assert found.times == 0
    assert found.p[0] == pytest.approx(anova_oneway(values, group, use_var="unequal").pvalue, rel=0.01)
    assert found.gap is not None and found.gap.first == 1


def test_numbers_that_are_all_the_same_are_not_tested():
    found = mean_tests(
        [counted(np.full(40, 7.0), np.repeat([0, 1], 20)), counted(*drawn(2, (20, 20), (1, 1), (0, 5)))]
    )
    assert np.isnan(found.p[0]) and found.p[1] < 0.01
    assert found.gap is not None and found.gap.row == 1


def test_a_group_whose_units_are_all_alike_does_not_make_it_sure():
    """Six texts with the same number, among very many: their own spread says nothing."""
    rng = np.random.default_rng(0)
    values = np.concatenate([np.full(6, 1.0), rng.normal(0, 1, 40_000)])
    group = np.repeat([0, 1], [6, 40_000])
    found = mean_tests([counted(values, group)])
    known = stats.norm.sf(1 * np.sqrt(6)) * 2
    assert found.times == 0 and found.p[0] > known / 10


@pytest.mark.parametrize("skewed", [False, True])
def test_without_a_difference_one_is_claimed_in_at_most_five_of_a_hundred(skewed):
    """Groups of very unequal size and spread alike; the largest gap is chosen from ten."""
    rng = np.random.default_rng(11)
    sizes = (6, 8, 15, 40, 80)
    group = np.repeat(np.arange(5), sizes)
    rows, gaps, times = 0, 0, 200
    for _ in range(times):
        values = rng.lognormal(0, 1, len(group)) if skewed else rng.normal(0, 1, len(group))
        found = mean_tests([counted(values, group)], seed=int(rng.integers(1, 10_000)), most=199)
        rows += found.p[0] <= 0.05
        gaps += found.gap is not None
    limit = stats.binom.ppf(0.999, times, 0.05)
    assert rows <= limit and gaps <= limit


def test_intervals_of_clumped_numbers_cover():
    """Texts with several sentences that are alike: the interval over texts covers, over sentences it would not."""
    rng = np.random.default_rng(4)
    times, inside, naive = 400, 0, 0
    for _ in range(times):
        x = rng.integers(1, 12, 40)
        of_text = rng.normal(0, 1, 40)
        sentences = np.repeat(of_text, x) + rng.normal(0, 0.5, x.sum())
        y = np.add.reduceat(sentences, np.cumsum(x) - x)
        found = mean_interval(means_of(counted(y, np.zeros(40, int), x)))
        inside += bool(found.low[0] <= 0 <= found.high[0])
        low, high = stats.t.interval(0.95, len(sentences) - 1, sentences.mean(), stats.sem(sentences))
        naive += bool(low <= 0 <= high)
    assert inside / times > 0.92 > naive / times


def test_against_all_others_where_groups_are_many():
    values, group = drawn(8, sizes=(20,) * 40, spreads=(1,) * 40, means=(*(0,) * 39, 4))
    numbers = counted(values, group)
    sums = as_it_is(numbers)
    found = mean_contrasts(sums, mean_scores(sums, prior=0))
    assert (found.second == -1).all()
    rest = values[group != 39]
    assert found.estimate[0, 0, 39] == pytest.approx(values[group == 39].mean() - rest.mean())
    # the others are taken group by group: their spread is that within groups
    within = sum(values[group == g].var(ddof=1) * 20 for g in range(39)) / len(rest) ** 2
    assert found.error[0, 0, 39] == pytest.approx(np.sqrt(values[group == 39].var(ddof=1) / 20 + within))
    assert mean_tests([numbers]).gap.first == 39


def test_a_mean_changes_over_time_below_nought_too():
    rng = np.random.default_rng(6)
    period = np.repeat(np.arange(24), 20)
    values = rng.normal(0, 0.3, len(period)) - np.where(period >= 15, 0.6, 0)
    (found,) = changes(values - values.mean(), np.ones(len(period)), period, 24, seed=1, signed=True)
    assert found.low <= 15 <= found.high and abs(found.period - 15) <= 1
    assert found.after - found.before == pytest.approx(-0.6, abs=0.1) and found.p <= 0.001
    still = rng.normal(0, 1, len(period))
    assert changes(still - still.mean(), np.ones(len(period)), period, 24, seed=1, signed=True) == []


def test_a_line_through_means_can_lie_below_nought():
    totals = -np.arange(1.0, 25)[None] * 10
    found = trend_test(totals, np.full(24, 10.0), signed=True)
    assert (found.first[0], found.last[0]) == pytest.approx((-1, -24))
    assert trend_test(-totals, np.full(24, 10.0)).last[0] == pytest.approx(24)
    assert moving(totals, np.full(24, 10.0), 3)[0, 1] == pytest.approx(-2)
