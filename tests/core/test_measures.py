"""Measures against published or independently computed values, and their properties."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp
from scipy import stats
from statsmodels.stats.multitest import multipletests

from winnower.core.measure import (
    Counted,
    cramers_v,
    cross_products,
    deviation_of_proportions,
    expected_counts,
    holm,
    in_units,
    pearson_test,
    rao_scott,
    rao_scott_test,
    rate_interval,
    rates_of,
    share_covariance,
    units_across_groups,
    wilson_interval,
)

tables = hnp.arrays(np.int64, st.tuples(st.integers(2, 5), st.integers(2, 5)), elements=st.integers(0, 200))


def counted(words, hits, groups=None):
    """One row; units in their order."""
    x, y = np.asarray(words, float), np.asarray(hits, float)
    group = np.zeros(len(x), int) if groups is None else np.asarray(groups)
    unit = np.flatnonzero(y)
    return Counted(group, x, unit, np.zeros(len(unit), int), y[unit], int(group.max(initial=0)) + 1, 1)


def interval(words, hits, level=0.95):
    return [float(part[0, 0]) for part in rate_interval(rates_of(counted(words, hits)), level)]


def test_the_error_of_a_rate_is_the_jackknife_of_its_logarithm():
    rng = np.random.default_rng(2)
    words = rng.integers(50, 500, 14).astype(float)
    hits = np.array([3, 0, 1, 0, 4, 1, 2, 0, 0, 6, 1, 0, 2, 1], float)
    left_out = [np.log(np.delete(hits, i).sum() / np.delete(words, i).sum()) for i in range(14)]
    expected = np.sqrt(13 / 14 * ((left_out - np.mean(left_out)) ** 2).sum())
    found = rates_of(counted(words, hits))
    assert found.value[0, 0] == pytest.approx(hits.sum() / words.sum())
    assert found.error[0, 0] == pytest.approx(expected)
    u = hits / hits.sum() - words / words.sum()
    satterthwaite = 2 / ((u**4).sum() / (u**2).sum() ** 2 - 1 / 14)
    assert found.df[0, 0] == pytest.approx(min(satterthwaite, (hits > 0).sum() - 1))


def test_rate_interval_agrees_with_a_bootstrap_over_texts():
    rng = np.random.default_rng(3)
    words = rng.integers(50, 500, 300)
    hits = rng.poisson(words * rng.gamma(2, 0.01, 300))
    draws = rng.integers(0, 300, (2000, 300))
    rates = hits[draws].sum(1) / words[draws].sum(1)
    _, low, high = interval(words, hits)
    assert (low, high) == pytest.approx(np.quantile(rates, [0.025, 0.975]), rel=0.03)


def test_there_is_no_interval_where_too_little_is_known():
    assert np.isnan(interval([100], [2])[1])
    assert np.isnan(interval([100] * 30, [1] * 4 + [0] * 26)[1])
    assert interval([100, 50], [0, 0])[0] == 0 and np.isnan(interval([100, 50], [0, 0])[2])
    assert np.isnan(interval([100] * 9, [2] * 9)[1])  # no spread at all: not a width of nought


@given(
    st.lists(st.tuples(st.integers(1, 900), st.integers(0, 9)), min_size=2, max_size=40),
    st.integers(2, 9),
)
def test_an_interval_holds_its_rate_and_does_not_mind_units_of_measure(texts, times):
    words, hits = np.array(texts).T
    value, low, high = interval(words, hits)
    if not np.isnan(low):
        assert 0 < low < value < high
        assert [v / times for v in (value, low, high)] == pytest.approx(interval(words * times, hits))


def test_one_text_with_most_of_the_hits_widens_the_interval():
    hits = np.random.default_rng(8).poisson(2, 40)
    _, low, high = interval([100] * 40, hits)
    _, wide_low, wide_high = interval([100] * 40, [*hits[:39], 60])
    assert np.log(wide_high / wide_low) > 2 * np.log(high / low)


def test_units_taken_together_are_counted_as_one():
    texts = counted([10, 20, 30, 40], [1, 0, 2, 3], [0, 0, 0, 1])
    authors = in_units(texts, np.array([7, 7, 9, 9]))
    assert authors.units.tolist() == [2, 1]
    assert (authors.sizes.tolist(), authors.totals.tolist()) == ([60, 40], [[3, 3]])
    assert sorted(authors.hits.tolist()) == [1, 2, 3]
    assert units_across_groups(texts, np.array([7, 7, 9, 9])) == 1


@given(hnp.arrays(float, st.integers(1, 12), elements=st.floats(0, 1)))
@settings(max_examples=30, deadline=None)
def test_holm_agrees_with_statsmodels(p):
    assert holm(p) == pytest.approx(multipletests(p, method="holm")[1])


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


def test_expected_counts():
    assert expected_counts([[10, 20], [30, 40]]).tolist() == [[12, 18], [28, 42]]


def crossed(per_text, groups, n_groups):
    y = np.asarray(per_text, float)
    cross = np.stack([y[groups == g].T @ y[groups == g] for g in range(n_groups)])
    hits = np.stack([y[groups == g].sum(0) for g in range(n_groups)], 1)
    return hits, np.bincount(groups, minlength=n_groups), cross


def test_products_are_those_of_the_units_of_each_group():
    rng = np.random.default_rng(6)
    y, groups = rng.poisson(0.7, (60, 4)), rng.integers(0, 3, 60)
    row, unit = np.nonzero(y.T)
    found = cross_products(Counted(groups, np.ones(60), unit, row, y[unit, row].astype(float), 3, 4))
    assert found == pytest.approx(crossed(y, groups, 3)[2])


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


@pytest.mark.parametrize("rows", [3, 40])
def test_products_of_rows_in_units_are_the_same_in_each_way(rows, monkeypatch):
    rng = np.random.default_rng(rows)
    table = rng.poisson(0.2, (90, rows))
    group = rng.integers(0, 4, 90)
    unit, row = np.nonzero(table)
    mixed = rng.permutation(len(unit))
    unit, row = unit[mixed], row[mixed]
    c = Counted(group, np.ones(90), unit, row, table[unit, row].astype(float), 4, rows)
    expected = np.stack([table[group == at].T @ table[group == at] for at in range(4)])
    for most in (rows, -1):  # by pairs, and without
        monkeypatch.setattr(rao_scott, "MOST_PAIRS", most)
        assert np.array_equal(rao_scott.cross_products(c), expected)


def test_sums_over_units_are_those_of_the_same_units_with_other_rows():
    rng = np.random.default_rng(4)
    c = Counted(
        rng.integers(0, 3, 50), rng.random(50), np.arange(50), rng.integers(0, 2, 50), np.ones(50), 3, 2
    )
    _ = c.units, c.sizes, c.squares, c.fourths
    some = c.some(rows=np.array([True, False]))
    plain = Counted(c.group, c.size, some.unit, some.row, some.hits, 3, 1)
    for name in ("units", "sizes", "squares", "fourths", "totals", "with_hit"):
        assert np.array_equal(getattr(some, name), getattr(plain, name)), name
    fewer = c.some(groups=np.array([True, False, True]))
    assert fewer.squares == pytest.approx(c.squares[[0, 2]]) and fewer.fourths == pytest.approx(
        c.fourths[[0, 2]]
    )
