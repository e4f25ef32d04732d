"""Co-occurrence: counts, Jaccard, lift and a test that respects texts, against reading the texts."""

import itertools
from unittest.mock import patch

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from tests.core.test_compare import corpus
from tests.core.test_comparison_value import SOURCES, TEXTS, Nothing
from tests.core.texts import Texts
from winnower.core.compare.targets import OfCodes, OfSearch, OfTerms, OfValues
from winnower.core.compare.wording import p_text
from winnower.core.dictionary import TermEntry
from winnower.core.errors import ComparisonError
from winnower.core.together import (
    Together,
    count_together,
    pairs,
    places_together,
    together_method,
    together_statements,
)
from winnower.core.together import count as counting

BODIES = [
    "Lamb and wolf. Deer alone.\n\nWolf with deer. Lamb.",
    "Wolf. Wolf and lamb and deer.",
    "Nothing here. Lamb.\n\nLamb and wolf met.",
    "Deer.",
]
WORDS = ("lamb", "wolf", "deer")


@pytest.fixture(scope="module")
def news(tmp_path_factory):
    return Texts(*corpus(tmp_path_factory.mktemp("pairs"), BODIES, ["A", "A", "B", "B"]))


@pytest.fixture(scope="module")
def coded_news(tmp_path_factory):
    return Texts(*corpus(tmp_path_factory.mktemp("coded"), TEXTS, SOURCES))


def terms(*words):
    return OfTerms(tuple(TermEntry(word) for word in words))


def matrix(texts, rows, columns=None, within="sentence", mask=None, words=10):
    known = Nothing()
    first = rows.resolve(known, texts)
    second = None if columns is None else columns.resolve(known, texts)
    mask = np.ones(texts.index.n_texts, bool) if mask is None else mask
    return first, second, count_together(first, second, texts, mask, within, words)


def units(body, within):
    if within == "text":
        return [body.lower()]
    parts = body.lower().split("\n\n")
    return (
        parts if within == "paragraph" else [one for part in parts for one in part.split(".") if one.strip()]
    )


@pytest.mark.parametrize("within", ["sentence", "paragraph", "text"])
def test_units_with_both_are_those_of_reading(news, within):
    _, _, found = matrix(news, terms(*WORDS), within=within)
    read = [unit for body in BODIES for unit in units(body, within)]
    assert found.units == len(read)
    for (a, one), (b, other) in itertools.product(enumerate(WORDS), repeat=2):
        both = sum(one in unit and other in unit for unit in read)
        either = sum(one in unit or other in unit for unit in read)
        assert found.together[a, b] == both and found.jaccard[a, b] == pytest.approx(both / either)
        ones, others = (sum(word in unit for unit in read) for word in (one, other))
        assert found.lift[a, b] == pytest.approx(both * len(read) / ones / others)
        texts = sum(any(one in unit and other in unit for unit in units(body, within)) for body in BODIES)
        assert found.texts[a, b] == texts


def test_only_texts_of_the_scope_count(news):
    mask = np.asarray([True, False, True, False])
    _, _, found = matrix(news, terms(*WORDS), mask=mask)
    read = [unit for body, use in zip(BODIES, mask, strict=True) if use for unit in units(body, "sentence")]
    assert found.units == len(read) and found.n_texts == 2
    assert found.together[0, 1] == sum("lamb" in unit and "wolf" in unit for unit in read)


def test_rows_by_columns_of_another_target(news):
    _, _, found = matrix(news, terms("lamb", "wolf"), terms("deer", "met"), within="text")
    assert found.together.tolist() == [[2, 1], [2, 1]] and not found.kin.any()


def test_a_row_is_kin_to_itself_and_to_what_it_lies_in(coded_news):
    target, _, found = matrix(coded_news, OfCodes(), within="passage")
    assert found.kin.tolist() == [[True, True, False], [True, True, False], [False, False, True]]
    assert not np.isfinite(found.p[found.kin]).any()
    # the first two words of each text are under Livelihood, Lambs and Voice: the same passages
    at = {row.name: number for number, row in enumerate(target.rows)}
    assert found.together[at["Livelihood"], at["Voice"]] == len(TEXTS)
    places = places_together(at["Lambs"], target, at["Voice"], None, coded_news, np.ones(6, bool), "passage")
    assert places.hits == found.together[at["Lambs"], at["Voice"]]


def brute(texts, first, second, words):
    """Places of the first with one of the second in the same text, at most so many words between."""
    mask = np.ones(texts.index.n_texts, bool)
    out = 0
    one, other = (target.places([row], texts, mask) for target, row in (first, second))
    for t, s, n in zip(one.text, one.start, one.length, strict=True):
        out += any(
            t == u
            and ((s < v + m and v < s + n) if not words else (v - (s + n) <= words and s - (v + m) <= words))
            for u, v, m in zip(other.text, other.start, other.length, strict=True)
        )
    return out


@pytest.mark.parametrize(("within", "words"), [("overlap", 0), ("near", 1), ("near", 3), ("near", 100)])
def test_overlap_and_nearness_are_those_of_looking_at_every_pair(coded_news, within, words):
    target, _, found = matrix(coded_news, OfCodes(), within=within, words=words)
    for a, b in itertools.permutations(range(len(target.rows)), 2):
        assert found.together[a, b] == brute(coded_news, (target, a), (target, b), words)
        both = (found.together[a, b] + found.together[b, a]) / 2
        assert found.jaccard[a, b] == pytest.approx(both / (found.of_row[a] + found.of_row[b] - both))
    first, second, across = matrix(coded_news, OfCodes(), terms("deer", "market"), within=within, words=words)
    for a, b in itertools.product(range(3), range(2)):
        assert across.together[a, b] == brute(coded_news, (first, a), (second, b), words)
    assert not np.isfinite(found.lift).any()


@pytest.mark.parametrize("within", ["sentence", "paragraph", "text", "overlap", "near"])
def test_a_cell_opens_the_places_of_both(news, within):
    target, _, found = matrix(news, terms(*WORDS), within=within, words=2)
    mask = np.ones(4, bool)
    for a, b in itertools.combinations(range(3), 2):
        places = places_together(a, target, b, None, news, mask, within, 2)
        if within in ("overlap", "near"):
            assert places.hits == found.together[a, b] + found.together[b, a]
        else:
            assert places.texts == found.texts[a, b]
            assert bool(places.hits) == bool(found.together[a, b])


@settings(max_examples=25, deadline=None)
@given(
    st.lists(st.lists(st.sampled_from([*WORDS, "and", "."]), min_size=1, max_size=14), min_size=2, max_size=8)
)
def test_numbers_fit_each_other(tmp_path_factory, bodies):
    texts = Texts(
        *corpus(tmp_path_factory.mktemp("any"), [" ".join(body) for body in bodies], ["A"] * len(bodies))
    )
    _, _, found = matrix(texts, terms(*WORDS))
    assert (found.together == found.together.T).all() and (np.diag(found.together) == found.of_row).all()
    assert (found.together <= np.minimum(found.of_row[:, None], found.of_column[None, :])).all()
    with np.errstate(invalid="ignore"):
        assert not ((found.jaccard < 0) | (found.jaccard > 1)).any()


def held(a, b, text, n_texts):
    """Two rows in units, given as bool per unit."""
    unit = np.concatenate([np.flatnonzero(a), np.flatnonzero(b)])
    label = np.repeat([0, 1], [a.sum(), b.sum()])
    return counting._sorted(label, unit, 2, text, np.bincount(text, minlength=n_texts))


def clumped(rng, tied, n=60):
    """Units of texts; each row is likelier in some texts than in others, on its own or (tied) with the other."""
    per = rng.integers(5, 30, n)
    text = np.repeat(np.arange(n), per)
    first, second = rng.beta(0.6, 3, n), rng.beta(0.6, 3, n)
    if tied:
        second = first
    return rng.random(len(text)) < first[text], rng.random(len(text)) < second[text], text


def measured(rng, tied):
    a, b, text = clumped(rng, tied)
    found = counting.by_units(held(a, b, text, 60), np.zeros((1, 1), bool), False)
    table = np.array([[(a & b).sum(), (a & ~b).sum()], [(~a & b).sum(), (~a & ~b).sum()]])
    return found, stats.chi2_contingency(table, correction=False).pvalue


def test_the_error_is_that_of_linearising_over_texts():
    a, b, text = clumped(np.random.default_rng(2), False)
    found = counting.by_units(held(a, b, text, 60), np.zeros((1, 1), bool), False)
    pa, pb, pab = a.mean(), b.mean(), (a & b).mean()
    e = np.bincount(text, (a & b) - pb * a - pa * b + 2 * pa * pb - pab)
    error = np.sqrt(60 / 59 * (e**2).sum()) / len(text)
    assert found.z[0, 0] == pytest.approx((pab - pa * pb) / error, rel=1e-9)


def test_it_keeps_its_level_where_units_of_a_text_are_alike():
    ours = customary = 0
    for run in range(400):
        found, plain = measured(np.random.default_rng(run), False)
        ours += found.p[0, 0] <= 0.05
        customary += plain <= 0.05
    assert stats.binomtest(ours, 400, 0.05, "greater").pvalue > 0.001
    assert customary / 400 > 0.1


def test_it_finds_what_goes_together():
    assert np.mean([measured(np.random.default_rng(run), True)[0].p[0, 0] <= 0.05 for run in range(60)]) > 0.6


def test_what_holds_of_whole_texts_is_looked_for_in_the_same_text(news):
    with pytest.raises(ComparisonError, match="whole texts"):
        Together(terms("lamb"), OfValues("source"), "sentence")
    with pytest.raises(ComparisonError, match="whole texts"):
        Together(OfSearch("lamb"))
    _, _, found = matrix(news, terms(*WORDS), OfValues("source"), within="text")
    assert found.together.tolist() == [[2, 1], [2, 1], [2, 1]]


def test_too_many_rows_or_pairs_are_told(news, monkeypatch):
    monkeypatch.setattr(counting, "MOST_ROWS", 2)
    with pytest.raises(ComparisonError, match="3 terms; at most 2"):
        matrix(news, terms(*WORDS))
    monkeypatch.setattr(counting, "MOST_ROWS", 300)
    monkeypatch.setattr(counting, "MOST_NEAR", 2)
    with pytest.raises(ComparisonError, match="fewer words"):
        matrix(news, terms(*WORDS), within="near")
    monkeypatch.setattr(pairs, "MOST_PAIRS", 2)
    target, _, found = matrix(news, terms(*WORDS))
    assert not np.isfinite(found.p).any() and (found.texts == -1).all()
    said = together_statements(Together(terms(*WORDS)), target, None, found)
    assert "Too much occurs together" in said[-1].text


def test_what_is_said(news, tmp_path):
    asked = Together(terms(*WORDS))
    target, _, found = matrix(news, asked.rows)
    said = together_statements(asked, target, None, found)
    assert "together most often" in said[0].text and "nothing is tested" in said[-1].text
    assert "in the same sentence" in " ".join(
        part.words for part in together_method(asked, target, None, found)
    )
    nothing, _, none = matrix(news, terms("zebra"))
    assert "Nothing was found" in together_statements(asked, nothing, None, none)[0].text
    rng = np.random.default_rng(0)
    bodies = [
        " ".join(
            "Lamb wolf." if rng.random() < 0.3 else rng.choice(["Lamb.", "Wolf.", "Deer.", "Hill."])
            for _ in range(12)
        )
        for _ in range(40)
    ]
    many = Texts(*corpus(tmp_path, bodies, ["A"] * 40))
    target, _, found = matrix(many, asked.rows)
    said = together_statements(asked, target, None, found)
    assert said[0].text.startswith("Strongest association: lamb and wolf")
    assert "Of 3 pairs, 1 occurs together significantly more often" in said[1].text


def test_texts_as_units_are_tested_as_units_of_one_text_each():
    rng = np.random.default_rng(4)
    a, b = rng.random(200) < 0.3, rng.random(200) < 0.4
    short, long = (
        # a text without a unit more, so that units are not the texts any more
        counting.by_units(held(a, b, np.arange(200), n), np.zeros((1, 1), bool), False)
        for n in (200, 201)
    )
    assert (
        short.z == pytest.approx(long.z, rel=0.01)
        and short.together == long.together
        and short.texts == long.texts
    )


@given(st.integers(0, 10_000), st.integers(1, 40), st.sampled_from([1, 3, 1_000_000]))
def test_sums_over_pairs_are_those_of_going_through_all_of_them(seed, n_texts, at_once):
    """Against a loop over texts and pairs of rows; however many pairs are taken at once."""
    rng = np.random.default_rng(seed)
    in_text = rng.integers(0, 4, n_texts)
    text_of = np.repeat(np.arange(n_texts), in_text)
    has = rng.random((5, len(text_of))) < 0.4
    row, unit = np.nonzero(has)
    one = counting._sorted(row, unit, 5, text_of, in_text)
    entries = pairs.Entries.of(one)
    with patch.object(pairs, "AT_ONCE", at_once):
        found = pairs.pair_sums(one, entries)
    wanted = np.zeros((7, 5, 5))
    for text in range(n_texts):
        units = np.flatnonzero(text_of == text)
        for first in range(5):
            for second in range(first + 1, 5):
                a, b = has[first, units].sum(), has[second, units].sum()
                ab = (has[first, units] & has[second, units]).sum()
                wanted[:, first, second] += (ab, ab > 0, ab**2, ab * a, ab * b, ab * len(units), a * b)
    np.testing.assert_array_equal(np.stack(list(vars(found).values())), wanted)


def test_a_target_with_itself_is_tested_as_with_its_like(news):
    _, _, itself = matrix(news, terms(*WORDS))
    _, _, like = matrix(news, terms(*WORDS), terms(*WORDS))
    off = ~np.eye(3, dtype=bool)
    assert (itself.together[off] == like.together[off]).all() and (itself.texts == like.texts).all()


def test_a_p_too_small_to_be_written_is_told_as_below_the_least():
    assert (p_text(0.0), p_text(1e-300), p_text(0.0004)) == ("p < 0.001",) * 3
    assert (p_text(0.001, 0.001), p_text(0.01, 0.001)) == ("p < 0.001", "p = 0.010")


@pytest.fixture(scope="module")
def coded(tmp_path_factory):
    return Texts(*corpus(tmp_path_factory.mktemp("coded"), TEXTS, SOURCES))


def test_the_places_of_all_codes_at_once_are_those_of_each(coded):
    """With codes below others, several coders, and texts that are not wanted."""
    target = OfCodes().resolve(Nothing(), coded)
    wanted = np.arange(len(TEXTS)) != 2
    places, row = target.places_by_row(coded, wanted)

    def listed(some):
        return sorted(zip(some.text.tolist(), some.start.tolist(), some.length.tolist(), strict=True))

    for at in range(len(target.rows)):
        assert listed(places.some(row == at)) == listed(target.places([at], coded, wanted))
    assert set(row.tolist()) == {0, 1, 2}


@pytest.mark.parametrize("within", ["text", "sentence", "paragraph", "passage"])
def test_one_text_or_none_is_counted_and_not_tested(news, within):
    for some in (0, 1):
        mask = np.arange(4) < some
        _, _, found = matrix(news, terms("lamb", "wolf"), within=within, mask=mask)
        assert found.together[0, 1] == (found.together[1, 0]) and np.isnan(found.p).all()


def test_rows_that_stand_everywhere_are_not_said_to_be_rare(tmp_path):
    bodies = ["Lamb and wolf here."] * 8
    texts = Texts(*corpus(tmp_path, bodies, ["A"] * 8))
    rows, columns, found = matrix(texts, terms("lamb", "wolf"), within="text")
    said = " ".join(
        one.text
        for one in together_statements(Together(terms("lamb", "wolf"), within="text"), rows, columns, found)
    )
    assert "are in every text, or always together" in said and "No pair has" not in said


def test_rare_pairs_that_do_not_meet_are_not_said_to_avoid_each_other():
    """One to five would be expected together; with none there is no spread between texts, and the error would be nought."""
    fewer = 0
    for run in range(200):
        rng = np.random.default_rng(run)
        text = np.repeat(np.arange(60), rng.integers(5, 30, 60))
        a, b = (rng.random(len(text)) < rng.beta(0.6, 12, 60)[text] for _ in range(2))
        found = counting.by_units(held(a, b, text, 60), np.zeros((1, 1), bool), False)
        fewer += found.z[0, 0] < 0 and found.p[0, 0] <= 0.05
    assert fewer <= 200 * 0.025 + 3 * np.sqrt(200 * 0.025 * 0.975)
