"""Weights of texts: what a weighted rate is, what it costs in certainty, and which fields are none."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_compare import category, corpus
from tests.core.texts import Texts
from winnower.core.compare import Comparison, DictionaryTarget, OfGiven, compare, how_counted, statements
from winnower.core.compare.map import map_of
from winnower.core.compare.weights import Weights
from winnower.core.dictionary import Dictionary
from winnower.core.errors import ComparisonError, ScopeError
from winnower.core.measure import Counted, rate_interval, rates_of, wilson_interval
from winnower.core.scope import NumberColumn, Split

BOTH = Dictionary("Both", (category("Livelihood", "lamb*"), category("Ecology", "deer")))
#: Measures that a weight says something about.
WEIGHTED = (
    "rate",
    "mean_rate",
    "share",
    "share_of_texts",
    "ratio",
    "difference",
    "share_of_row",
    "share_of_all",
)


def made(folder, texts, sources, weights):
    index, columns = corpus(folder, texts, sources)
    fields = dict(columns.fields) | {"v1": NumberColumn(np.array(weights, float))}
    return Texts(index, replace(columns, fields=fields, names=dict(columns.names) | {"v1": "Weight"}))


def table(texts, measure="rate", weight="v1", **more):
    comparison = Comparison(
        OfGiven("Both", BOTH.categories), split=Split("source"), measure=measure, weight=weight, **more
    )
    return compare(comparison, DictionaryTarget(BOTH), texts)


def some_texts(n, seed=4):
    rng = np.random.default_rng(seed)
    return [" ".join(rng.choice(["lamb", "hill", "deer", "the"], rng.integers(5, 30))) for _ in range(n)]


@pytest.fixture
def sixty(tmp_path):
    rng = np.random.default_rng(1)
    return made(tmp_path, some_texts(60), list("AB" * 30), rng.choice([0.5, 1, 2.5], 60))


def test_equal_weights_change_nothing(tmp_path):
    texts = made(tmp_path, some_texts(40), list("AB" * 20), [3.0] * 40)
    plain, weighted = (table(texts, weight=weight) for weight in (None, "v1"))
    for measure in (*WEIGHTED, "hits", "texts"):
        for one, other in zip(plain.measure(measure), weighted.measure(measure), strict=True):
            np.testing.assert_allclose(one, other, rtol=1e-9)
    np.testing.assert_allclose(plain.tests.verdict.rates.p, weighted.tests.verdict.rates.p)


@given(st.lists(st.integers(1, 4), min_size=12, max_size=12))
@settings(max_examples=25, deadline=None)
def test_a_whole_weight_is_a_text_that_often(tmp_path_factory, weights):
    texts, sources = some_texts(12), list("AB" * 6)
    folder = tmp_path_factory.mktemp("w")
    weighted = table(made(folder / "a", texts, sources, weights))
    often = [at for at, times in enumerate(weights) for _ in range(times)]
    repeated = table(
        made(folder / "b", [texts[at] for at in often], [sources[at] for at in often], [1] * len(often)),
        weight=None,
    )
    for measure in WEIGHTED:
        np.testing.assert_allclose(weighted.measure(measure).value, repeated.measure(measure).value)


def test_numbers_of_hits_and_texts_are_not_weighted(sixty):
    weighted, plain = table(sixty), table(sixty, weight=None)
    for name in ("hits", "texts_with_hit", "counted", "words", "texts", "sizes"):
        np.testing.assert_array_equal(getattr(weighted, name), getattr(plain, name))
    assert (weighted.measure("rate").value != plain.measure("rate").value).all()


def test_the_effective_number_is_that_of_kish():
    found = Weights("w", np.array([1.0, 1, 2, 5, 5])).effective(np.array([0, 0, 0, 1, 1]), 3)
    np.testing.assert_allclose(found, [16 / 6, 2, 0])


def test_the_share_of_texts_has_the_interval_of_the_effective_number(sixty):
    found = table(sixty, "share_of_texts")
    share = found.measure("share_of_texts")
    worth = found.counts.weights.effective(found.groups.group, 2)
    expected = wilson_interval(share.value * worth, np.broadcast_to(worth, share.value.shape))
    np.testing.assert_allclose(share.low, expected.low)
    np.testing.assert_allclose(share.high, expected.high)
    plain = table(sixty, "share_of_texts", weight=None).measure("share_of_texts")
    assert (share.high - share.low > plain.high - plain.low).all()


def test_weighted_intervals_hold_what_they_promise():
    """Of 400 samples drawn with unequal chances and weighted back, about 95 in 100 hold the true rate."""
    rng = np.random.default_rng(8)
    inside = 0
    for _ in range(400):
        kind = rng.random(120) < 0.5
        words = rng.integers(50, 150, 120).astype(float)
        hits = rng.poisson(words * np.where(kind, 0.02, 0.06)).astype(float)
        weight = np.where(
            kind, 1.5, 0.5
        )  # the first kind is three quarters of all, and was drawn half of the time
        at = np.flatnonzero(hits)
        counted = Counted(
            np.zeros(120, np.int64),
            words * weight,
            at,
            np.zeros(len(at), np.int64),
            (hits * weight)[at],
            1,
            1,
        )
        found = rate_interval(rates_of(counted))
        inside += bool(found.low[0, 0] <= 0.75 * 0.02 + 0.25 * 0.06 <= found.high[0, 0])
    assert 0.91 <= inside / 400 <= 0.985


def test_texts_without_a_weight_are_left_out_and_told(tmp_path):
    weights = [1.0] * 20 + [np.nan, 0.0]
    found = table(made(tmp_path, some_texts(22), list("AB" * 11), weights))
    assert found.texts.sum() == 20
    (said,) = [one.text for one in statements(found) if one.text.startswith("Weighted by “Weight”")]
    assert "effective sample size 20 of 20 texts (design effect 1.00)" in said
    assert said.endswith("2 texts of the project have no weight and are left out.")


def test_the_method_says_what_each_group_is_worth(sixty):
    (part,) = [one for one in how_counted(table(sixty)) if one.heading == "Weights"]
    assert "The design effect is 1." in part.words and "By group: A " in part.words


@pytest.mark.parametrize(
    ("weights", "message"),
    [([1.0, -1.0] * 10, "below 0 in 10 texts"), ([0.0] * 20, "above 0"), ([np.nan] * 20, "above 0")],
)
def test_what_is_no_weight_is_refused(tmp_path, weights, message):
    with pytest.raises(ScopeError, match=message):
        table(made(tmp_path, some_texts(20), list("AB" * 10), weights))


def test_weights_do_not_go_with_everything(sixty):
    for field in ("source", "title"):
        with pytest.raises(ScopeError, match="number"):
            table(sixty, weight=field)
    with pytest.raises(ComparisonError, match="controlled for"):
        table(sixty, adjust=(Split("v1"),))
    with pytest.raises(ComparisonError, match="not weighted"):
        table(sixty, "corrected")


def test_a_map_is_of_the_weighted_table_as_the_sentences_beside_it_are(tmp_path):
    rng = np.random.default_rng(3)
    texts = [" ".join(rng.choice(["lamb", "deer", "hill"], 20)) for _ in range(30)]
    weights = rng.integers(1, 4, 30)
    sources = list("ABC" * 10)
    weighted = map_of(table(made(tmp_path / "a", texts, sources, weights)))
    often = [at for at, times in enumerate(weights) for _ in range(times)]
    repeated = map_of(
        table(
            made(
                tmp_path / "b", [texts[at] for at in often], [sources[at] for at in often], [1] * len(often)
            ),
            weight=None,
        )
    )
    np.testing.assert_allclose(weighted.found.shares, repeated.found.shares)
