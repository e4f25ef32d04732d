"""Tests over groups: that they hold their level where the customary ones do not, and find what is there."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import special, stats
from scipy.stats import linregress

from winnower.core.compare.statement import discovered
from winnower.core.measure import Counted, mix_test, pearson_test, permutation, rate_tests, trend_test
from winnower.core.measure.homogeneity import as_it_is, scores
from winnower.core.measure.multiple import holm
from winnower.core.measure.rates import rate_interval, rates_of


def clumped(rng, groups, texts, rows=4, rate=0.003, shape=0.5, sd=1.0, times=None):
    """Texts of very unequal length (lognormal) with words in clumps (gamma); ``times`` the rate, (rows, groups)."""
    group = np.repeat(np.arange(groups), texts)
    words = np.maximum(np.rint(np.exp(rng.normal(np.log(300), sd, len(group)))), 1)
    expected = rate * (np.ones((rows, groups)) if times is None else np.asarray(times))[:, group]
    hits = rng.poisson(expected * rng.gamma(shape, 1 / shape, (rows, len(group))) * words)
    row, unit = np.nonzero(hits)
    return Counted(group, words, unit, row, hits[row, unit].astype(float), groups, rows)


@pytest.mark.parametrize(("groups", "texts"), [(4, 8), (8, 25), (26, 8)])
def test_tests_hold_their_level_where_words_clump_in_texts_of_unequal_length(groups, texts):
    """Within three standard errors about 0.05; Pearson's test rejects most of these corpora."""
    runs = 150 if groups < 20 else 60
    rejected = dict.fromkeys(("rates", "cells", "gap", "mix", "customary"), 0)
    for run in range(runs):
        c = clumped(np.random.default_rng(run), groups, texts)
        found = rate_tests(c, seed=run)
        rejected["rates"] += np.nanmin(found.p_adjusted) <= 0.05
        rejected["cells"] += np.nanmin(found.z_p) <= 0.05
        rejected["gap"] += found.gap is not None
        rejected["mix"] += mix_test(c, seed=run).p <= 0.05
        rejected["customary"] += pearson_test(c.totals).p <= 0.05
    assert rejected.pop("customary") > 0.5 * runs
    assert max(rejected.values()) <= 0.05 * runs + 3 * np.sqrt(runs * 0.05 * 0.95)


def test_intervals_cover_where_the_customary_ones_do_not():
    truth, runs, covered, customary = 0.003, 400, [], []
    for run in range(runs):
        c = clumped(np.random.default_rng(run), 1, 25, rows=1, shape=1)
        found = rate_interval(rates_of(c))
        if c.with_hit[0, 0] < 10:
            continue
        covered.append(found.low[0, 0] <= truth <= found.high[0, 0])
        y = np.zeros(25)
        y[c.unit] = c.hits
        rate = y.sum() / c.size.sum()
        error = np.sqrt(25 / 24 * ((y - rate * c.size) ** 2).sum()) / c.size.sum()
        customary.append(abs(rate - truth) <= special.stdtrit(24, 0.975) * error)
    assert np.mean(covered) > 0.925
    assert np.mean(customary) < 0.92


def test_a_difference_in_every_row_alike_is_one_of_rates_and_not_of_the_mix():
    times = np.ones((4, 3))
    times[:, 0] = 3
    c = clumped(np.random.default_rng(5), 3, 150, rate=0.01, shape=2, sd=0.5, times=times)
    assert (rate_tests(c).p_adjusted < 0.01).all()
    assert mix_test(c).p > 0.05


def test_the_largest_gap_is_found_corrected_and_covered():
    times = np.ones((4, 6))
    times[2, 4] = 2
    ratios, covered = [], []
    for run in range(30):
        c = clumped(np.random.default_rng(run), 6, 120, shape=2, sd=0.5, times=times)
        gap = rate_tests(c, seed=run).gap
        assert gap is not None and (gap.row, gap.first) == (2, 4)
        assert gap.low <= gap.ratio <= gap.high and gap.p <= 0.05
        ratios.append(gap.ratio)
        covered.append(gap.low <= 2 <= gap.high)
    assert np.mean(covered) >= 0.9
    assert np.median(ratios) == pytest.approx(2, rel=0.25)


def test_a_group_with_next_to_no_hits_is_in_no_ratio():
    times = np.ones((1, 3))
    times[0, 0] = 0.001
    c = clumped(np.random.default_rng(3), 3, 100, rows=1, times=times)
    found = rate_tests(c)
    assert found.tried == 1 and found.z_p[0, 0] < 0.05
    assert found.gap is None or 0 not in (found.gap.first, found.gap.second)


def test_many_groups_are_set_against_all_others():
    times = np.ones((2, 40))
    times[1, 7] = 6
    found = rate_tests(clumped(np.random.default_rng(4), 40, 30, rows=2, shape=2, sd=0.5, times=times))
    assert (found.gap.row, found.gap.first, found.gap.second) == (1, 7, -1)
    assert found.z_p[1, 7] <= 0.05


@given(seed=st.integers(0, 10_000), data=st.data())
@settings(max_examples=25, deadline=None)
def test_the_order_of_units_rows_and_groups_does_not_matter(seed, data):
    c = clumped(np.random.default_rng(seed), 4, 12, rows=3)
    groups = np.array(data.draw(st.permutations(range(4))))
    rows = np.array(data.draw(st.permutations(range(3))))
    turned = Counted(groups[c.group], c.size, c.unit, rows[c.row], c.hits, 4, 3)
    one, other = scores(as_it_is(c)), scores(as_it_is(turned))
    assert other.z[0][np.ix_(rows, groups)] == pytest.approx(one.z[0], nan_ok=True)
    assert other.heterogeneity[0][rows] == pytest.approx(one.heterogeneity[0], nan_ok=True)


def test_two_even_groups_are_compared_as_in_welchs_test():
    """Texts of one length, many of them: z is the t of the difference of two means, but for the drawing
    together of spreads."""
    rng = np.random.default_rng(7)
    hits = np.concatenate([rng.poisson(3, 4000), rng.poisson(3.1, 4000)])
    unit = np.flatnonzero(hits)
    group = np.repeat([0, 1], 4000)
    c = Counted(group, np.full(8000, 100.0), unit, unit * 0, hits[unit].astype(float), 2, 1)
    a, b = hits[:4000], hits[4000:]
    welch = (a.mean() - b.mean()) / np.sqrt(a.var(ddof=1) / 4000 + b.var(ddof=1) / 4000)
    assert scores(as_it_is(c)).z[0, 0] == pytest.approx([welch, -welch], rel=0.01)


def test_the_same_seed_gives_the_same_numbers_and_clear_cases_end_early():
    c = clumped(np.random.default_rng(1), 5, 20)
    one, again, other = rate_tests(c, seed=3), rate_tests(c, seed=3), rate_tests(c, seed=4)
    assert one.p.tolist() == again.p.tolist() and one.gap == again.gap
    assert one.p.tolist() != other.p.tolist()
    assert one.times < permutation.MOST


def test_what_is_approximated_agrees_with_what_is_permuted(monkeypatch):
    times = np.ones((4, 5))
    times[1, 2], times[3, 0] = 1.3, 1.5
    c = clumped(np.random.default_rng(9), 5, 900, times=times, shape=1)
    permuted, permuted_mix = rate_tests(c), mix_test(c)
    monkeypatch.setattr(permutation, "SMALL", 0)
    quick, quick_mix = rate_tests(c), mix_test(c)
    assert (permuted.times > 0, quick.times, quick_mix.times) == (True, 0, 0)
    assert quick.p == pytest.approx(permuted.p, abs=0.05)
    assert quick_mix.p == pytest.approx(permuted_mix.p, abs=0.05)
    assert ((quick.z_p < 0.05) == (permuted.z_p < 0.05)).mean() > 0.9


def test_rare_rows_of_a_large_corpus_are_scattered(monkeypatch):
    """Where only units with a hit are moved, p is that of moving all."""
    rare = [clumped(np.random.default_rng(k), 6, 200, rows=3, rate=0.00005, shape=1) for k in range(12)]
    moved = np.array([rate_tests(c, seed=1).p for c in rare])
    monkeypatch.setattr(permutation, "SMALL", 0)
    scattered = np.array([rate_tests(c, seed=1).p for c in rare])
    assert np.nanmean(np.abs(moved - scattered)) < 0.06


def test_texts_without_any_spread_and_rows_without_hits_are_no_failure():
    group, unit = np.repeat([0, 1], 10), np.arange(20)
    even = Counted(group, np.full(20, 4.0), unit, unit * 0, np.ones(20), 2, 2)
    found = rate_tests(even)
    assert found.p[0] == 1 and np.isnan(found.p[1]) and found.gap is None
    split = Counted(group, np.full(20, 4.0), unit, group, np.ones(20), 2, 2)
    assert (rate_tests(split).p_adjusted < 0.01).all() and mix_test(split).p < 0.01


@pytest.mark.parametrize("alike", [0.0, 0.5])
def test_a_line_over_time_holds_its_level_where_neighbouring_periods_are_alike(alike):
    """Ordinary regression rejects a fifth of corpora whose weeks correlate at 0.5."""
    rng, runs, rejected, ordinary = np.random.default_rng(1), 500, 0, 0
    for _ in range(runs):
        noise = rng.normal(size=52)
        for week in range(1, 52):
            noise[week] = alike * noise[week - 1] + np.sqrt(1 - alike**2) * noise[week]
        words = rng.lognormal(9, 0.5, 52)
        hits = rng.poisson(words * 0.003 * np.exp(0.3 * noise))
        rejected += trend_test(hits[None], words).p[0] <= 0.05
        ordinary += linregress(np.arange(52), hits / words).pvalue <= 0.05
    assert rejected / runs <= 0.05 + 3 * np.sqrt(0.05 * 0.95 / runs)
    assert alike == 0 or ordinary / runs > 0.12


def test_a_line_that_is_there_is_found_with_its_ends():
    words = np.full(40, 50_000.0)
    words[7] = 0
    rate = np.linspace(0.001, 0.004, 40)
    hits = np.random.default_rng(2).poisson(words * np.stack([rate, rate[::-1], np.full(40, 0.002)]))
    found = trend_test(hits, words)
    assert (found.p[:2] < 0.01).all() and found.p[2] > 0.05
    assert (found.first[0], found.last[0]) == pytest.approx((0.001, 0.004), rel=0.15)
    assert found.t[0] > 0 > found.t[1]
    assert np.isnan(trend_test(hits[:, :9], words[:9]).p).all()


def test_what_could_be_seen_is_seen_in_four_of_five_corpora():
    times = np.ones((1, 4))
    even = clumped(np.random.default_rng(0), 4, 150, rows=1, rate=0.01, shape=2, sd=0.5)
    ratio = rate_tests(even).detectable[0]
    times[0, 1] = ratio
    seen = [
        rate_tests(
            clumped(np.random.default_rng(k), 4, 150, rows=1, rate=0.01, shape=2, sd=0.5, times=times), seed=k
        ).p[0]
        <= 0.05
        for k in range(100)
    ]
    assert 0.65 <= np.mean(seen) <= 0.95


def test_states_moved_along_an_order_of_chance_are_like_those_of_all_permutations():
    c = clumped(np.random.default_rng(3), 5, 300, rows=2, rate=0.001)
    moved, drawn = (
        np.concatenate([one.y for seed in range(40) for one in way(c, 50, seed)])
        for way in (permutation.scattered_sums, permutation.permuted_sums)
    )
    assert moved.shape == drawn.shape == (2_000, 2, 5)
    for found in (moved, drawn):
        assert np.array_equal(found.sum(-1), np.broadcast_to(c.totals.sum(1), (2_000, 2)))
    expected = c.totals.sum(1)[:, None] * c.units / c.units.sum()
    error = moved.std(0) / np.sqrt(2_000)
    assert (np.abs(moved.mean(0) - expected) < 4.5 * error).all()
    assert np.abs(np.log(moved.var(0) / drawn.var(0))).max() < 0.2
    assert stats.ks_2samp(moved[:, 0, 2], drawn[:, 0, 2]).pvalue > 0.001


def test_rare_rows_of_a_large_corpus_hold_their_level(monkeypatch):
    monkeypatch.setattr(permutation, "SMALL", 0)
    runs = 200
    corpora = (clumped(np.random.default_rng(k), 4, 90, rows=1, rate=0.0004) for k in range(runs))
    found = [rate_tests(c, seed=k) for k, c in enumerate(corpora)]
    assert all(one.times for one in found)  # drawn, not approximated
    rejected = sum(one.p[0] <= 0.05 for one in found)
    assert rejected <= 0.05 * runs + 3 * np.sqrt(runs * 0.05 * 0.95)


def test_where_holm_could_not_be_reached_the_largest_of_all_rows_adjusts(monkeypatch):
    """Fifty rows and 99 states: fifty times the least p is 0.5. The largest in each state holds the level all the same,
    and finds a row that differs."""
    monkeypatch.setattr(permutation, "WORK", 1)
    monkeypatch.setattr(permutation, "FURTHER_WORK", 1)
    none = np.ones((50, 3))
    strong = none.copy()
    strong[7, 1] = 6
    runs = 60
    rejected = found = 0
    for run in range(runs):
        c = clumped(np.random.default_rng(run), 3, 40, rows=50, rate=0.002, times=none)
        without = rate_tests(c, seed=run)
        assert without.by_largest and without.least_adjusted == pytest.approx(0.01)
        rejected += np.nanmin(without.p_adjusted) <= 0.05
        c = clumped(np.random.default_rng(run), 3, 40, rows=50, rate=0.002, times=strong)
        found += rate_tests(c, seed=run).p_adjusted[7] <= 0.05
    assert rejected <= 0.05 * runs + 3 * np.sqrt(runs * 0.05 * 0.95)
    assert found > 0.3 * runs  # by Holm none could be
    few = rate_tests(clumped(np.random.default_rng(1), 3, 20, rows=4, rate=0.001), seed=1)
    assert not few.by_largest and few.p_adjusted == pytest.approx(holm(few.p))


def with_one_strong(rng, rows):
    """200 and 600 texts without a difference, but for a row that 60 of the 200 have and none of the 600."""
    group = np.repeat([0, 1], [200, 600])
    size = np.maximum(np.rint(np.exp(rng.normal(np.log(300), 1, len(group)))), 1)
    hits = rng.poisson(0.0003 * rng.gamma(0.5, 2, (rows, len(group))) * size)
    hits[0] = 0
    hits[0, rng.permutation(200)[:60]] = 1
    row, unit = np.nonzero(hits)
    return Counted(group, size, unit, row, hits[row, unit].astype(float), 2, rows)


@pytest.mark.parametrize("rows", [60, 400])
def test_one_strong_row_among_many_is_found(rows):
    found = rate_tests(with_one_strong(np.random.default_rng(rows), rows))
    assert found.further and not found.by_largest
    assert found.p[0] == found.least_p and found.p_adjusted[0] < 0.05
    assert found.p_adjusted[0] == pytest.approx(rows * found.least_p)
    assert np.nanmin(found.p_adjusted[1:]) > 0.05


def test_rows_that_get_more_states_hold_their_level():
    """Sixty rows without a difference: those with hardly a state as extreme go on, and any is called different in no
    more than the level of all corpora."""
    runs = 120
    rejected = further = 0
    for run in range(runs):
        c = clumped(np.random.default_rng(run), 3, 12, rows=60, rate=0.002)
        found = rate_tests(c, seed=run)
        rejected += np.nanmin(found.p_adjusted) <= 0.05
        further += found.further > 0
    assert further > 10
    assert rejected <= 0.05 * runs + 3 * np.sqrt(runs * 0.05 * 0.95)


def few_long_and_many_short(rng, rows=3, rate=0.002, shape=0.5):
    """9 texts of about 6,000 words in one group, 430 of about 22 in the other, without a difference of rates."""
    group = np.repeat([0, 1], [9, 430])
    words = np.rint(np.where(group == 0, rng.normal(6_000, 500, len(group)), rng.uniform(15, 30, len(group))))
    hits = rng.poisson(rate * rng.gamma(shape, 1 / shape, (rows, len(group))) * words)
    row, unit = np.nonzero(hits)
    return Counted(group, words, unit, row, hits[row, unit].astype(float), 2, rows)


def test_no_gap_is_named_where_states_of_chance_leave_ratios_undefined():
    """Such states speak against a gap: a few long texts hold nearly all, and most permutations leave a side with none."""
    named = undefined = 0
    for run in range(60):
        found = rate_tests(few_long_and_many_short(np.random.default_rng(run)), seed=run)
        named += found.gap is not None
        undefined += found.undefined > 0
        if found.gap is not None:
            assert found.gap.low < found.gap.high
    assert named <= 0.05 * 60 + 3 * np.sqrt(60 * 0.05 * 0.95)
    assert undefined > 0


@given(st.integers(0, 10_000), st.sampled_from([(2, 6), (3, 20), (5, 10)]))
@settings(max_examples=40, deadline=None)
def test_a_gap_is_of_a_row_that_differs_itself_and_has_a_width(seed, shape):
    rng = np.random.default_rng(seed)
    groups, texts = shape
    times = np.ones((4, groups))
    times[seed % 4, 0] = 1 + seed % 5
    found = rate_tests(clumped(rng, groups, texts, rate=0.01, times=times), seed=1, most=199)
    if found.gap is not None:
        assert found.p_adjusted[found.gap.row] <= 0.05 and found.gap.p <= 0.05
        assert found.gap.low < found.gap.found < found.gap.high


def test_from_twenty_rows_on_the_false_discovery_rate_is_given_as_well():
    p = np.r_[[0.001, 0.002, 0.004], np.linspace(0.2, 0.99, 17)]
    many = replace(rate_tests(with_one_strong(np.random.default_rng(1), 20)), p=p)
    # 0.004 is below 3/20 of the level, 0.2 above 4/20 of it
    assert "(Benjamini-Hochberg), 3 of 20 differ." in discovered(many, 0.95)
    assert discovered(replace(many, p=p[:19]), 0.95) == ""
