"""Words typical of a group: customary measures, p over texts, evenness; lemmas, phrases, hashtags."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from tests.core.test_compare import corpus
from tests.core.texts import Texts
from winnower.core.errors import ScopeError
from winnower.core.index import KINDS
from winnower.core.keyness import (
    Keywords,
    keyness,
    keywords_method,
    keywords_statements,
    most_typical,
    occurrences,
    sides_of,
)
from winnower.core.measure import deviation_of_proportions
from winnower.core.scope import Part, Scope, Split, lay_ground

BODIES = [
    "lamb lamb wolf the the",
    "lambs and the wolf",
    "market price the the the #valley",
    "the price of a lamb #valley #hill",
    "the wolf the wolf the lamb",
    "price price market the",
]
SOURCES = ["A", "A", "B", "B", "A", "B"]


@pytest.fixture(scope="module")
def news(tmp_path_factory):
    return Texts(*corpus(tmp_path_factory.mktemp("keyness"), BODIES, SOURCES))


def asked(news, group="A", against=None, split=None, **how):
    request = Keywords(split or Split("source"), group, against)
    ground = lay_ground(Scope(), request.split, news.index, news.columns)
    sides = sides_of(request, ground.groups, news.index.n_texts)
    found = occurrences(news.index, news.lexicon, sides.side >= 0, **how)
    return request, sides, found, keyness(found, sides.side, news.index.words)


def by_name(found, result):
    return {found.names[int(row)]: at for at, row in enumerate(result.row)}


def test_counts_are_those_of_reading_the_texts(news):
    _, _, found, result = asked(news)
    at = by_name(found, result)
    for word, row in at.items():
        for side, source in enumerate("AB"):
            bodies = [body.split() for body, s in zip(BODIES, SOURCES, strict=True) if s == source]
            assert result.hits[row, side] == sum(body.count(word) for body in bodies)
            assert result.texts[row, side] == sum(word in body for body in bodies)
    assert result.words.tolist() == [15, 17] and result.n_texts.tolist() == [3, 3]


def test_measures_equal_their_formulas(news):
    _, _, found, result = asked(news)
    x = result.words.astype(float)
    for row in range(len(result.row)):
        y = result.hits[row].astype(float)
        table = np.array([y, x - y])
        g2 = stats.chi2_contingency(table, correction=False, lambda_="log-likelihood").statistic
        assert abs(result.g2[row]) == pytest.approx(g2, rel=1e-9, abs=1e-12)
        rate = np.where(y > 0, y, 0.5) / x
        assert result.ratio[row] == pytest.approx(np.log2(rate[0] / rate[1]), rel=1e-12)
        prior, whole = y.sum(), x.sum()
        odds = np.log((y + prior) / (x + whole - y - prior))
        z = (odds[0] - odds[1]) / np.sqrt((1 / (y + prior)).sum())
        assert result.odds[row] == pytest.approx(z, rel=1e-9)


def test_evenness_is_that_over_the_texts_of_the_group(news):
    _, _, found, result = asked(news)
    words = np.asarray([len(body.split()) for body, s in zip(BODIES, SOURCES, strict=True) if s == "A"])
    for word, row in by_name(found, result).items():
        hits = [body.split().count(word) for body, s in zip(BODIES, SOURCES, strict=True) if s == "A"]
        expected = deviation_of_proportions(hits, words)
        assert result.evenness[row] == pytest.approx(float(expected), nan_ok=True)
        assert result.most[row] == pytest.approx(max(hits) / sum(hits) if sum(hits) else 0)


def drawn(rng, n, difference=1.0):
    """Hits of one word in the texts of two sides, clumped; sizes differ. ``difference``: times as often on the first."""
    size = rng.integers(40, 300, 2 * n)
    side = np.repeat([0, 1], n).astype(np.int8)
    rate = rng.gamma(0.7, 0.02, 2 * n) * np.where(side == 0, difference, 1)
    return side, size, rng.poisson(size * rate)


class Word:
    """Occurrences of one word with given hits."""

    def __init__(self, hits):
        import polars as pl

        self.text = np.flatnonzero(hits)
        self.hits = hits[self.text]
        self.row = np.zeros(len(self.text), np.int64)
        self.names, self.kinds = pl.Series(["word"]), np.zeros(1, np.uint8)


def test_p_is_that_of_a_t_test_on_the_linearised_values():
    side, size, hits = drawn(np.random.default_rng(3), 40)
    result = keyness(Word(hits), side, size)
    logs, variances, dfs = [], [], []
    for one in (0, 1):
        x, y = size[side == one].astype(float), hits[side == one].astype(float)
        rate = y.sum() / x.sum()
        residual = (y - rate * x) / y.sum()
        variances.append(
            len(x) * residual.var(ddof=1) + len(x) / (len(x) - 1) * len(x) * residual.mean() ** 2
        )
        logs.append(np.log(rate))
        dfs.append((y > 0).sum() - 1)
    v = np.asarray(variances)
    df = v.sum() ** 2 / (v**2 / dfs).sum()
    t = (logs[0] - logs[1]) / np.sqrt(v.sum())
    assert result.p[0] == pytest.approx(2 * stats.t.sf(abs(t), df), rel=1e-9)


@pytest.mark.parametrize("n", [15, 60])
def test_p_keeps_its_level_on_clumped_words_where_g2_does_not(n):
    ours = customary = tried = 0
    for run in range(600):
        result = keyness(Word((values := drawn(np.random.default_rng([n, run]), n))[2]), values[0], values[1])
        if len(result.p) and np.isfinite(result.p[0]):
            tried += 1
            ours += result.p[0] <= 0.05
            customary += abs(result.g2[0]) > stats.chi2.isf(0.05, 1)
    assert tried > 500
    assert stats.binomtest(ours, tried, 0.05, "greater").pvalue > 0.001
    assert customary / tried > 0.15


def test_a_difference_that_is_there_is_found():
    found = [
        keyness(Word((v := drawn(np.random.default_rng(run), 80, 2.5))[2]), v[0], v[1]).p[0]
        for run in range(100)
    ]
    assert np.mean(np.asarray(found) <= 0.05) > 0.8


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.integers(0, 4), min_size=12, max_size=12),
    st.lists(st.integers(4, 9), min_size=12, max_size=12),
)
def test_turning_the_sides_round_turns_every_sign(hits, sizes):
    side = np.repeat([0, 1], 6).astype(np.int8)
    one = keyness(Word(np.asarray(hits)), side, np.asarray(sizes))
    other = keyness(Word(np.asarray(hits)), (1 - side).astype(np.int8), np.asarray(sizes))
    assert one.g2 == pytest.approx(-other.g2, abs=1e-9) and one.ratio == pytest.approx(-other.ratio)
    assert one.odds == pytest.approx(-other.odds, abs=1e-12)
    assert one.p == pytest.approx(other.p, nan_ok=True)


def test_with_too_few_texts_nothing_is_tested(news):
    _, _, _, result = asked(news)
    assert not np.isfinite(result.p).any() and result.tested == 0


def test_p_is_adjusted_over_all_that_were_tested(tmp_path):
    rng = np.random.default_rng(1)
    words = ["lamb", "wolf", "market", "the", "hill"]
    even, odd = [0.2] * 5, [0.45, 0.1, 0.15, 0.15, 0.15]
    bodies = [" ".join(rng.choice(words, 30, p=odd if at < 15 else even)) for at in range(30)]
    texts = Texts(*corpus(tmp_path, bodies, ["A"] * 15 + ["B"] * 15))
    _, _, _, result = asked(texts)
    assert result.tested == 5
    assert result.adjusted == pytest.approx(stats.false_discovery_control(result.p))
    assert (result.adjusted >= result.p).all() and result.adjusted.min() < 0.05


def test_lemmas_are_one_row_and_stop_words_none(news):
    stop = news.lexicon.numbers_of(["the"])
    _, _, found, result = asked(news, merge="lemma", language="en", stop=stop)
    at = by_name(found, result)
    assert result.hits[at["lamb"]].tolist() == [4, 1] and "lambs" not in at and "the" not in at
    assert result.texts[at["lamb"]].tolist() == [3, 1]


def test_phrases_and_hashtags(news):
    _, _, found, result = asked(news, unit="phrase", length=2)
    at = by_name(found, result)
    assert result.hits[at["the wolf"]].tolist() == [3, 0]
    _, _, found, result = asked(news)
    tags = {found.names[int(row)] for row in result.row if found.kinds[int(row)] == KINDS.index("hashtag")}
    assert tags == {"#valley", "#hill"}


def test_orders_hold_rows_of_one_direction_without_a_value_last(news):
    _, _, found, result = asked(news)
    over, under = most_typical(result, "g2"), most_typical(result, "g2", rare=True)
    assert (result.ratio[over] > 0).all() and (result.ratio[under] < 0).all()
    assert (np.diff(np.abs(result.g2[over])) <= 0).all()
    for order in ("ratio", "odds", "p", "hits", "texts", "evenness", "name"):
        assert sorted(most_typical(result, order).tolist()) == sorted(over.tolist())
    assert found.names[int(result.row[most_typical(result, "name", descending=False)[0]])] == "and"


def test_sides_that_are_not_there_or_share_texts(news):
    with pytest.raises(ScopeError, match="no group “Z”"):
        asked(news, group="Z")
    with pytest.raises(ScopeError, match="not with itself"):
        Keywords(Split("source"), "A", "A")
    with pytest.raises(ScopeError, match="Choose across what"):
        Keywords(Split(), "A")
    both = Split(parts=(Part("all"), Part("none of them")))
    ground = lay_ground(Scope(), both, news.index, news.columns)
    with pytest.raises(ScopeError, match="no texts"):
        sides_of(Keywords(both, "all"), ground.groups, 6)


def test_what_is_said_of_them(news):
    request, sides, found, result = asked(news)
    said = " ".join(one.text for one in keywords_statements(request, sides, found, result))
    assert "More frequent in A than in all other groups, but not tested: “wolf”" in said
    assert "none is tested" in said and "typical" not in said and "wrong" not in said
    method = " ".join(part.words for part in keywords_method(request, sides, result, "en"))
    assert "3 texts (15 words) of A" in method
    nothing = keyness(found, sides.side, news.index.words, least_hits=1_000)
    assert (
        "No word occurs"
        in keywords_statements(Keywords(Split("source"), "A", least_hits=1_000), sides, found, nothing)[
            0
        ].text
    )
