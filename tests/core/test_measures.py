"""Measures against published or independently computed values, and their properties."""

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp
from scipy import stats

from winnower.core.measure import (
    adjusted_residuals,
    cramers_v,
    deviation_of_proportions,
    expected_counts,
    mean_of_rates,
    pearson_test,
    rao_scott_test,
    rate_interval,
    ratio_of_rates,
    share_covariance,
    small_table_p,
    wilson_interval,
)

tables = hnp.arrays(np.int64, st.tuples(st.integers(2, 5), st.integers(2, 5)), elements=st.integers(0, 200))


def sums(words, hits):
    x, y = np.asarray(words, float), np.asarray(hits, float)
    return len(x), x.sum(), (x * x).sum(), y.sum(), (y * y).sum(), (x * y).sum()


def test_rate_is_a_ratio_of_sums_with_cochrans_variance():
    words, hits = np.array([100, 200, 50, 400]), np.array([3, 2, 1, 9])
    found = rate_interval(*sums(words, hits))
    rate = hits.sum() / words.sum()
    variance = 4 / 3 * ((hits - rate * words) ** 2).sum() / words.sum() ** 2
    half = stats.t.ppf(0.975, 3) * np.sqrt(variance)
    assert found.value == pytest.approx(0.02)
    assert found.high == pytest.approx(rate + half)
    assert found.low == pytest.approx(max(rate - half, 0))


def test_rate_interval_agrees_with_a_bootstrap_over_texts():
    rng = np.random.default_rng(3)
    words = rng.integers(50, 500, 300)
    hits = rng.poisson(words * rng.gamma(2, 0.01, 300))
    found = rate_interval(*sums(words, hits))
    draws = rng.integers(0, 300, (2000, 300))
    rates = hits[draws].sum(1) / words[draws].sum(1)
    low, high = np.quantile(rates, [0.025, 0.975])
    assert found.low == pytest.approx(low, rel=0.03)
    assert found.high == pytest.approx(high, rel=0.03)


def test_rate_without_hits_or_with_one_text_has_no_interval():
    assert np.isnan(rate_interval(*sums([100], [2])).low)
    none = rate_interval(*sums([100, 50], [0, 0]))
    assert none.value == 0 and np.isnan(none.high)
    assert np.isnan(rate_interval(0, 0, 0, 0, 0, 0).value)


def test_one_long_text_widens_the_interval():
    even = rate_interval(*sums([100] * 20, [2] * 19 + [3]))
    burst = rate_interval(*sums([100] * 20, [0] * 19 + [41]))
    assert burst.value == even.value
    assert burst.high - burst.low > 5 * (even.high - even.low)


def test_ratio_turns_round_with_its_sides():
    a, b = sums([100, 300, 80, 120], [5, 9, 2, 8]), sums([200, 150, 90], [2, 1, 2])
    one, other = ratio_of_rates(a, b), ratio_of_rates(b, a)
    assert one.value == pytest.approx(1 / other.value)
    assert one.low == pytest.approx(1 / other.high)
    assert np.isnan(ratio_of_rates(a, sums([10, 10], [0, 0])).value)


def test_wilson_published_values():
    # Newcombe (1998), Statistics in Medicine 17, table I: 81 of 263, 15 of 148, 0 of 20, 1 of 29
    for k, n, low, high in (
        (81, 263, 0.2553, 0.3662),
        (15, 148, 0.0624, 0.1605),
        (0, 20, 0.0, 0.1611),
        (1, 29, 0.0061, 0.1718),
    ):
        found = wilson_interval(k, n)
        assert (round(float(found.low), 4), round(float(found.high), 4)) == (low, high)


@given(st.integers(0, 500), st.integers(1, 500))
def test_wilson_stays_within_bounds_and_turns_round(k, n):
    k = min(k, n)
    found, turned = wilson_interval(k, n), wilson_interval(n - k, n)
    assert 0 <= found.low <= found.value <= found.high <= 1
    assert found.low == pytest.approx(1 - turned.high)


def test_wilson_refuses_more_successes_than_trials():
    with pytest.raises(ValueError, match="between 0 and trials"):
        wilson_interval(3, 2)
    assert np.isnan(wilson_interval(0, 0).value)


def test_mean_of_rates_weighs_every_text_the_same():
    rates = np.array([0.1, 0.0, 0.02])
    found = mean_of_rates(3, rates.sum(), (rates**2).sum())
    expected = stats.t.interval(0.95, 2, rates.mean(), stats.sem(rates))
    assert found.value == pytest.approx(rates.mean())
    assert found.high == pytest.approx(expected[1])


@given(tables)
def test_pearson_agrees_with_scipy(table):
    found = pearson_test(table)
    used = table[table.sum(1) > 0][:, table.sum(0) > 0]
    if min(used.shape) < 2:
        assert np.isnan(found.chi2) and found.df == 0
        return
    expected = stats.chi2_contingency(used, correction=False)
    assert found.chi2 == pytest.approx(expected.statistic)
    assert (found.df, found.p) == (expected.dof, pytest.approx(expected.pvalue))


@given(tables)
def test_residuals_agree_with_statsmodels(table):
    if (table.sum(0) == 0).any() or (table.sum(1) == 0).any():
        return
    found = adjusted_residuals(table)
    expected = sm.stats.Table(table, shift_zeros=False).standardized_resids
    known = ~np.isnan(found)
    assert found[known] == pytest.approx(np.asarray(expected)[known], abs=1e-8)


@given(tables)
def test_v_is_a_share_and_does_not_mind_order(table):
    found = cramers_v(table)
    if not np.isnan(found):
        assert 0 <= found <= 1
        assert found == pytest.approx(cramers_v(table[::-1, ::-1]))
        assert found == pytest.approx(cramers_v(table.T))


def test_v_by_its_formula():
    # n 60, chi2 6.6667: phi2' = 1/9 - 1/59, k' = r' = 2 - 1/59
    assert cramers_v([[10, 20], [20, 10]]) == pytest.approx(np.sqrt((1 / 9 - 1 / 59) / (1 - 1 / 59)))
    assert cramers_v([[15, 15], [15, 15]]) == 0


def test_small_tables_take_an_exact_or_drawn_p():
    p, way = small_table_p([[3, 1], [1, 3]])
    assert p == pytest.approx(0.4857, abs=1e-4) and "Fisher" in way  # the lady tasting tea, two-sided
    p, way = small_table_p([[5, 0, 1], [0, 6, 1], [1, 0, 4]], seed=5)
    assert p < 0.01 and "seed 5" in way
    assert small_table_p([[5, 0, 1], [0, 6, 1]], seed=5) == small_table_p([[5, 0, 1], [0, 6, 1]], seed=5)


def test_expected_counts():
    assert expected_counts([[10, 20], [30, 40]]).tolist() == [[12, 18], [28, 42]]


def crossed(per_text, groups, n_groups):
    y = np.asarray(per_text, float)
    cross = np.stack([y[groups == g].T @ y[groups == g] for g in range(n_groups)])
    hits = np.stack([y[groups == g].sum(0) for g in range(n_groups)], 1)
    return hits, np.bincount(groups, minlength=n_groups), cross


def test_share_covariance_by_its_definition():
    y = np.array([[3, 1], [0, 2], [4, 0], [1, 1]], float)
    total, share = y.sum(), y.sum(0) / y.sum()
    z = (y - np.outer(y.sum(1), share)) / total
    expected = 4 / 3 * z.T @ z
    assert share_covariance(4, y.sum(0), y.T @ y) == pytest.approx(expected)
    assert np.isnan(share_covariance(1, [1, 1], np.ones((2, 2)))).all()


def test_adjusted_test_is_the_plain_one_where_every_text_holds_one_hit():
    rng = np.random.default_rng(1)
    groups = np.repeat([0, 1, 2], 4000)
    y = np.eye(4)[rng.integers(0, 4, len(groups))]
    hits, texts, cross = crossed(y, groups, 3)
    plain, adjusted = pearson_test(hits), rao_scott_test(hits, texts, cross)
    assert adjusted.design_effect == pytest.approx(1, abs=0.03)
    assert adjusted.p == pytest.approx(plain.p, abs=0.02)


def test_adjusted_test_with_two_groups_and_categories_is_the_squared_difference_over_its_variance():
    rng = np.random.default_rng(9)
    groups = rng.integers(0, 2, 400)
    y = rng.poisson(rng.gamma(0.5, 2, (400, 2)))
    hits, texts, cross = crossed(y, groups, 2)
    share = hits[0] / hits.sum(0)
    variance = sum(share_covariance(texts[g], hits[:, g], cross[g])[0, 0] for g in (0, 1))
    found = rao_scott_test(hits, texts, cross)
    assert found.chi2 == pytest.approx((share[0] - share[1]) ** 2 / variance)
    assert found.df == pytest.approx(1)


def test_adjusted_test_keeps_its_level_where_words_clump():
    rng = np.random.default_rng(11)
    rejected = {"adjusted": 0, "plain": 0}
    runs = 300
    for _ in range(runs):
        groups = rng.integers(0, 4, 400)
        topic = rng.dirichlet(np.full(6, 0.4), 400)
        y = rng.poisson(topic * rng.gamma(1, 6, (400, 1)))
        hits, texts, cross = crossed(y, groups, 4)
        rejected["plain"] += pearson_test(hits).p < 0.05
        rejected["adjusted"] += rao_scott_test(hits, texts, cross).p < 0.05
    assert rejected["plain"] / runs > 0.6
    assert 0.02 < rejected["adjusted"] / runs < 0.09


def test_adjusted_test_does_not_mind_the_order_of_groups_or_categories():
    rng = np.random.default_rng(4)
    groups = rng.integers(0, 3, 200)
    y = rng.poisson(1.5, (200, 4))
    hits, texts, cross = crossed(y, groups, 3)
    one = rao_scott_test(hits, texts, cross)
    rows, columns = [2, 0, 3, 1], [1, 2, 0]
    turned = rao_scott_test(hits[rows][:, columns], texts[columns], cross[columns][:, rows][:, :, rows])
    assert turned == pytest.approx(one)


def test_adjusted_test_leaves_out_what_is_empty_and_is_undefined_where_it_must():
    groups = np.array([0, 0, 1, 1])
    y = np.array([[1, 0, 2], [2, 0, 1], [3, 0, 0], [1, 0, 1]])
    hits, texts, cross = crossed(y, groups, 2)
    assert rao_scott_test(hits, texts, cross).p == pytest.approx(
        rao_scott_test(hits[[0, 2]], texts, cross[:, [0, 2]][:, :, [0, 2]]).p
    )
    assert np.isnan(rao_scott_test([[1, 2]], [3, 3], np.ones((2, 1, 1))).p)
    assert np.isnan(rao_scott_test([[1, 2], [2, 1]], [1, 3], np.ones((2, 2, 2))).p)


def test_evenness_of_gries_example():
    # five parts of 9, 10, 10, 10, 11 words with 1, 2, 3, 4, 5 hits: DP = 0.18 (Gries 2008), normalised by 1 - 0.18
    found = deviation_of_proportions([1, 2, 3, 4, 5], [9, 10, 10, 10, 11])
    assert found == pytest.approx(0.18 / 0.82, abs=0.002)


@given(
    hnp.arrays(np.int64, 4, elements=st.integers(0, 50)),
    hnp.arrays(np.int64, 4, elements=st.integers(1, 500)),
)
def test_evenness_lies_between_nought_and_one(hits, words):
    found = float(deviation_of_proportions(hits, words))
    assert np.isnan(found) if hits.sum() == 0 else -1e-12 <= found <= 1 + 1e-12


def test_evenness_at_its_ends():
    assert deviation_of_proportions([5, 10], [50, 100]) == pytest.approx(0)
    assert deviation_of_proportions([7, 0], [50, 100]) == pytest.approx(1)
    assert np.isnan(deviation_of_proportions([7], [50]))
