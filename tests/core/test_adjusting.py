"""Fields held equal: direct standardising and the rate model, against independent ways to the same numbers."""

from __future__ import annotations

import numpy as np
import pandas as pd
import pytest
import statsmodels.api as sm
import statsmodels.formula.api as smf
from hypothesis import given, settings
from hypothesis import strategies as st

from winnower.core.measure import Counted, Factor, rate_interval, rate_models, rates_of, standardised
from winnower.core.measure.standard import LEAST_SHARED


def corpus(seed, groups=4, texts=40, strata=3, rate=0.01, effect=None, rows=1):
    """Texts of unequal length with words in clumps; groups favour different strata, strata have other rates."""
    rng = np.random.default_rng(seed)
    group = np.repeat(np.arange(groups), texts)
    weights = np.array(
        [[1 + 2 * ((g + s) % strata == 0) for s in range(strata)] for g in range(groups)], float
    )
    stratum = np.array([rng.choice(strata, p=weights[g] / weights[g].sum()) for g in group])
    words = np.maximum(np.rint(np.exp(rng.normal(np.log(300), 1, len(group)))), 1)
    times = (np.ones(groups) if effect is None else effect)[group] * np.linspace(1, 3, strata)[stratum]
    hits = rng.poisson(rate * times * rng.gamma(0.5, 2, (rows, len(group))) * words)
    row, unit = np.nonzero(hits)
    return Counted(group, words, unit, row, hits[row, unit].astype(float), groups, rows), stratum


def frame(counted, stratum):
    y = np.zeros(len(counted.group))
    y[counted.unit] = counted.hits
    return pd.DataFrame({"y": y, "words": counted.size, "group": counted.group, "stratum": stratum})


@given(st.integers(0, 10_000), st.integers(2, 5), st.integers(1, 4))
@settings(max_examples=30, deadline=None)
def test_standardised_rates_are_weighted_sums_of_the_rates_in_the_strata(seed, groups, strata):
    counted, stratum = corpus(seed, groups, 25, strata)
    found = standardised(counted, stratum, strata)
    table = frame(counted, stratum).groupby(["group", "stratum"])[["y", "words"]].sum()
    cells = table.unstack(fill_value=0)
    compared = compared_groups(cells["words"])
    used = (cells["words"].loc[compared] > 0).all(axis=0)
    weight = cells["words"].loc[compared].sum().where(used, 0)
    expected = ((cells["y"] / cells["words"]).fillna(0) * weight / weight.sum()).sum(axis=1)
    lacks = ((cells["words"] <= 0) & used).any(axis=1)
    np.testing.assert_allclose(found.rates.value[0], expected.where(~lacks), rtol=1e-12)
    assert found.covered == pytest.approx(weight.sum() / cells["words"].loc[compared].to_numpy().sum())


def compared_groups(words):
    """Groups whose common strata are used: the one that lacks most is given up until the others share enough, said
    once more in another way."""
    groups = list(words.index)
    while len(groups) > 2:
        of_all = words.loc[groups].sum()
        shared = [s for s in words.columns if all(words.loc[g, s] > 0 for g in groups)]
        if of_all[shared].sum() >= LEAST_SHARED * of_all.sum():
            break
        groups.remove(
            max(groups, key=lambda g: sum(of_all[s] for s in words.columns if words.loc[g, s] <= 0))
        )
    return groups


def test_a_published_example_of_direct_standardising():
    """Two populations with deaths and person-years by age, weighted by both together (worked out by hand)."""
    years, deaths = np.array([[100, 300], [200, 100]]), np.array([[2, 12], [3, 5]])
    group, stratum = np.repeat([0, 1], 2), np.tile([0, 1], 2)
    counted = Counted(
        group, years.ravel().astype(float), np.arange(4), np.zeros(4, int), deaths.ravel() * 1.0, 2, 1
    )
    found = standardised(counted, stratum, 2)
    # weights 300/700 and 400/700; rates 0.02, 0.04 and 0.015, 0.05
    np.testing.assert_allclose(found.rates.value[0], [(3 * 0.02 + 4 * 0.04) / 7, (3 * 0.015 + 4 * 0.05) / 7])


def test_one_stratum_is_the_rate_itself():
    counted, _ = corpus(3)
    found = standardised(counted, np.zeros(len(counted.group), int), 1)
    np.testing.assert_allclose(found.rates.value, rates_of(counted).value)
    np.testing.assert_allclose(found.rates.error, rates_of(counted).error, rtol=0.1)


def test_a_unit_in_several_strata_is_left_out_of_all_at_once():
    """Every text cut into two halves of unlike strata: two pieces are one unit, not two."""
    counted, stratum = corpus(5, texts=60, strata=2)
    n = len(counted.group)
    halves = Counted(
        np.tile(counted.group, 2),
        np.tile(counted.size / 2, 2),
        np.concatenate([counted.unit, counted.unit + n]),
        np.tile(counted.row, 2),
        np.tile(counted.hits / 2, 2),
        counted.n_groups,
        1,
    )
    stratum = np.concatenate([np.zeros(n, int), np.ones(n, int)])
    together = standardised(halves, stratum, 2, np.tile(np.arange(n), 2))
    apart = standardised(halves, stratum, 2)
    whole = rates_of(counted)
    np.testing.assert_allclose(together.rates.error, whole.error, rtol=0.15)
    np.testing.assert_allclose(apart.rates.error * np.sqrt(2), whole.error, rtol=0.15)


def test_a_group_that_shares_nothing_stays_out_and_is_named():
    counted, stratum = corpus(7, groups=3)
    stratum[counted.group == 2] = 3
    found = standardised(counted, stratum, 4)
    assert found.out.tolist() == [False, False, True]
    assert np.isnan(found.rates.value[0, 2]) and np.isfinite(found.rates.value[0, :2]).all()
    assert not found.used[3]


def test_intervals_of_standardised_rates_cover():
    inside = tried = 0
    for run in range(250):
        counted, stratum = corpus(run, texts=40, rate=0.02)
        found = standardised(counted, stratum, 3)
        weight = np.bincount(stratum, weights=counted.size, minlength=3) * found.used
        true = 0.02 * (weight / weight.sum() * np.linspace(1, 3, 3)).sum()
        interval = rate_interval(found.rates)
        known = np.isfinite(interval.low[0])
        inside += ((interval.low[0] <= true) & (true <= interval.high[0]))[known].sum()
        tried += known.sum()
    assert tried > 900
    assert inside / tried > 0.92


def test_ratios_are_those_of_poisson_regression_text_by_text():
    counted, stratum = corpus(11, effect=np.array([1, 2, 1, 1.5]))
    table = frame(counted, stratum)
    whole = smf.glm(
        "y ~ C(group) + C(stratum)", table, family=sm.families.Poisson(), offset=np.log(table.words)
    ).fit()
    model = rate_models(counted, [Factor(counted.group, 4, 0), Factor(stratum, 3, 0)])[0]
    expected = np.exp(whole.params)
    np.testing.assert_allclose(model.effects[0].ratio[1:], expected.iloc[1:4], rtol=1e-6)
    np.testing.assert_allclose(model.effects[1].ratio[1:], expected.iloc[4:], rtol=1e-6)


def test_errors_are_the_robust_ones_of_the_library_but_for_the_leverage():
    """Many texts: dividing by one less the leverage does next to nothing, and both are the same."""
    counted, stratum = corpus(13, texts=2_000, rate=0.005)
    table = frame(counted, stratum)
    robust = smf.glm(
        "y ~ C(group) + C(stratum)", table, family=sm.families.Poisson(), offset=np.log(table.words)
    ).fit(cov_type="HC0")
    effect = rate_models(counted, [Factor(counted.group, 4, 0), Factor(stratum, 3, 0)])[0].effects[0]
    width = np.log(effect.high[1:] / effect.low[1:]) / 2 / 1.96
    np.testing.assert_allclose(width, robust.bse.iloc[1:4], rtol=0.03)


def test_clusters_are_the_library_s_clusters():
    counted, stratum = corpus(17, texts=1_200, rate=0.005)
    cluster = np.random.default_rng(0).integers(0, 1_500, len(counted.group))
    table = frame(counted, stratum)
    robust = smf.glm(
        "y ~ C(group) + C(stratum)", table, family=sm.families.Poisson(), offset=np.log(table.words)
    ).fit(cov_type="cluster", cov_kwds={"groups": cluster, "use_correction": False})
    effect = rate_models(counted, [Factor(counted.group, 4, 0), Factor(stratum, 3, 0)], cluster)[0].effects[0]
    width = np.log(effect.high[1:] / effect.low[1:]) / 2 / 1.96
    np.testing.assert_allclose(width, robust.bse.iloc[1:4], rtol=0.04)
    assert effect.times == 0 and np.isfinite(effect.p)  # a cluster in several groups cannot be dealt out anew


def test_a_model_sees_through_what_the_plain_rates_confuse():
    """Groups differ only because they favour other strata: the factor of the groups is seldom found to matter."""
    found = confused = 0
    for run in range(120):
        counted, stratum = corpus(run, texts=60, rate=0.02)
        both = rate_models(counted, [Factor(counted.group, 4, 0), Factor(stratum, 3, 0)], seed=run)[0]
        alone = rate_models(counted, [Factor(counted.group, 4, 0)], seed=run)[0]
        found += both.effects[0].p <= 0.05
        confused += alone.effects[0].p <= 0.05
    assert found <= 14  # 0.05 of 120 is 6
    assert confused > 2 * found


def test_a_true_difference_is_found():
    counted, stratum = corpus(23, texts=200, rate=0.02, effect=np.array([1, 1, 1, 2.5]))
    effect = rate_models(counted, [Factor(counted.group, 4, 0), Factor(stratum, 3, 0)])[0].effects[0]
    assert effect.p <= 0.01
    assert 1 < effect.low[3] < 2.5 < effect.high[3]
    assert effect.low[1] < 1 < effect.high[1]


def test_levels_without_hits_have_a_ratio_of_nought_and_no_interval():
    counted, stratum = corpus(29, rate=0.02)
    quiet = counted.group[counted.unit] == 2
    counted = Counted(
        counted.group,
        counted.size,
        counted.unit[~quiet],
        counted.row[~quiet],
        counted.hits[~quiet],
        4,
        1,
    )
    effect = rate_models(counted, [Factor(counted.group, 4, 0), Factor(stratum, 3, 0)])[0].effects[0]
    assert effect.ratio[2] == 0 and np.isnan(effect.low[2]) and np.isfinite(effect.low[1])
    assert effect.p <= 0.05  # that a level has none is evidence too


@pytest.mark.parametrize(
    ("change", "reason"),
    [
        (lambda g, s: (g, g % 3), "cannot be separated"),
        (lambda g, s: (g, np.full(len(g), -1)), "too few hits"),
    ],
)
def test_what_cannot_be_modelled_says_why(change, reason):
    counted, stratum = corpus(31)
    first, second = change(counted.group, stratum)
    model = rate_models(counted, [Factor(first, 4, 0), Factor(second, 3, 0)])[0]
    assert not model.effects and reason in model.reason


def test_the_same_seed_gives_the_same_p():
    counted, stratum = corpus(37, rows=3, rate=0.01)
    factors = [Factor(counted.group, 4, 0), Factor(stratum, 3, 0)]
    once, again = (rate_models(counted, factors, seed=4) for _ in range(2))
    assert [m.effects[0].p for m in once] == [m.effects[0].p for m in again]
