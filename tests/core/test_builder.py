"""The builder of comparisons: parts, crossed and merged groups, units of counting, references, rows joined."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from tests.core.test_compare import FRAMES, corpus
from tests.core.test_comparison_value import SOURCES, TEXTS, Nothing, coded
from tests.core.texts import Texts
from winnower.core.compare import Cell, Comparison, OfGiven, compare, evidence, how_counted, statements
from winnower.core.compare.bases import Counter
from winnower.core.compare.comparison import Joined
from winnower.core.compare.targets import OfCodes, OfTerms, OfValues, arranged_rows
from winnower.core.dictionary import TermEntry
from winnower.core.errors import ComparisonError, ScopeError
from winnower.core.measure import difference_from, ratio_to, reference_rates
from winnower.core.measure.counted import Counted
from winnower.core.scope import (
    Crossed,
    Finds,
    HasTerm,
    HasValue,
    Inside,
    Merged,
    Part,
    Scope,
    Split,
    lay_ground,
)

GIVEN = OfGiven("Frames", FRAMES.categories)
LONG = [
    "Lamb and lamb. Deer are wary.\n\nThe lamb sleeps. Nothing here.",
    "Deer deer deer.\n\nMarket price for a lamb.",
    "Nothing at all.",
    "The market. The price. Birch.",
]


@pytest.fixture(scope="module")
def news(tmp_path_factory):
    return Texts(*corpus(tmp_path_factory.mktemp("builder"), TEXTS, SOURCES))


@pytest.fixture(scope="module")
def long(tmp_path_factory):
    return Texts(*corpus(tmp_path_factory.mktemp("long"), LONG, ["A", "A", "B", "B"]))


def table(corpus, target=GIVEN, **more):
    comparison = Comparison(target, **{"split": Split("source"), **more})
    resolved = target.resolve(Nothing(), corpus)
    joined = {one.name: one.rows for one in comparison.joined}
    return compare(comparison, arranged_rows(resolved, joined, comparison.leave), corpus)


def hits(corpus, **more):
    found = table(corpus, OfTerms((TermEntry("lamb*"), TermEntry("deer"))), **more)
    return dict(zip(found.groups.labels, found.hits.T.tolist(), strict=True))


def test_parts_of_the_corpus_are_groups_and_may_share_texts(news):
    parts = (
        Part("of A", (HasValue("source", ("A",)),)),
        Part("with deer", (HasTerm(("deer",)),)),
        Part("all"),
    )
    found = table(news, OfTerms((TermEntry("lamb*"),)), split=Split(parts=parts))
    assert found.groups.labels == ("of A", "with deer", "all")
    assert found.texts.tolist() == [2, 3, 6] and found.hits[0].tolist() == [2, 3, 5]
    assert "several groups" in found.tests.reason
    assert not lay_ground(Scope(), Split(parts=parts), news.index, news.columns).groups.disjoint


def test_a_part_that_holds_no_text_is_a_group_of_none(news):
    found = table(news, split=Split(parts=(Part("none", (Finds("zebra"),)), Part("all"))))
    assert found.texts.tolist() == [0, 6] and np.isnan(found.measure("rate").value[:, 0]).all()


def test_two_fields_are_crossed_with_only_the_groups_that_have_texts(news):
    found = hits(news, split=Split("source", crossed=Crossed("date", "year")))
    plain = hits(news)
    assert {label.split(" · ")[0] for label in found} == set(plain)
    for source, counts in plain.items():
        own = [one for label, one in found.items() if label.startswith(source)]
        assert np.sum(own, 0).tolist() == counts
    ground = lay_ground(Scope(), Split("source", crossed=Crossed("date", "year")), news.index, news.columns)
    assert [" · ".join(pair) for pair in ground.groups.pairs] == list(ground.groups.labels)


def test_groups_are_merged_and_left_out(news):
    plain = hits(news)
    found = hits(news, split=Split("source", merged=(Merged("A or C", ("A", "C")),)))
    assert list(found) == ["A or C", "B"]
    assert found["A or C"] == [a + c for a, c in zip(plain["A"], plain["C"], strict=True)]
    assert list(hits(news, split=Split("source", without=("B",)))) == ["A", "C"]
    assert hits(news, split=Split("source", without=("gone",))) == plain
    with pytest.raises(ScopeError, match="a group “B” already"):
        hits(news, split=Split("source", merged=(Merged("B", ("A", "C")),)))


@settings(max_examples=30)
@given(st.data())
def test_merging_keeps_every_text_once(news, data):
    labels = data.draw(st.lists(st.sampled_from("ABC"), min_size=1, max_size=3, unique=True))
    parts = tuple(Part(label, (HasValue("source", (label,)),)) for label in "ABC") + (Part("all"),)
    both = Split(parts=parts, merged=(Merged("some", (*labels, "all")),))
    found = table(news, OfTerms((TermEntry("lamb*"),)), split=both)
    at = found.groups.labels.index("some")
    assert found.texts[at] == 6 and found.hits[0, at] == 5


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"field": "source", "codes": ("Voice",)}, "by one of them"),
        ({"parts": (Part("a"), Part("a"))}, "same name"),
        ({"crossed": Crossed("source")}, "needs a first one"),
        ({"field": "source", "crossed": Crossed("source")}, "not crossed with itself"),
    ],
)
def test_splits_that_say_two_things_are_refused(more, said):
    with pytest.raises(ScopeError, match=said):
        Split(**more)


def test_parts_do_not_cut_texts_and_codes_need_a_corpus_laid_out(news):
    with pytest.raises(ScopeError, match="compare across codes"):
        hits(news, split=Split(parts=(Part("voice", (Inside(("Voice",)),)),)))
    with pytest.raises(ScopeError, match="cannot be told apart here"):
        hits(news, split=Split(codes=("Voice",)))


# lamb* in LONG: sentence 1 twice, sentence 3 of text 1; sentence 2 of text 2
@pytest.mark.parametrize(
    ("counting", "counted", "sizes"),
    [
        ("hits", [4, 0], [19, 8]),
        ("sentences", [3, 0], [6, 4]),
        ("paragraphs", [3, 0], [4, 2]),
        ("words", [4, 0], [19, 8]),
    ],
)
def test_hits_are_counted_in_sentences_paragraphs_and_words(long, counting, counted, sizes):
    found = table(long, OfTerms((TermEntry("lamb*"),)), counting=counting)
    assert found.counted[0].tolist() == counted and found.hits[0].tolist() == [4, 0]
    assert found.words.tolist() == [19, 8]
    assert found.sizes.tolist() == sizes
    factor = 1_000 if counting == "hits" else 1
    assert found.measure("rate").value[0] == pytest.approx(np.divide(counted, sizes) * factor)


def test_words_covered_are_those_of_a_phrase(long):
    found = table(long, OfTerms((TermEntry("market price"), TermEntry("price"))), counting="words")
    assert found.counted[:, 0].tolist() == [2, 1]


def test_what_is_counted_is_called_by_its_name(long):
    shown = table(long, counting="sentences").shown
    assert (shown.label, shown.axis, shown.form) == ("Share of sentences", "% of sentences", "percent")
    assert "words" not in table(long, counting="sentences", measure="hits").shown.label
    assert table(long, per=1_000_000).shown.label == "Rate per 1,000,000 words"
    said = " ".join(part.words for part in how_counted(table(long, counting="paragraphs")))
    assert "A paragraph counts once" in said and "over all its paragraphs" in said
    with pytest.raises(ComparisonError, match="count hits"):
        Comparison(GIVEN, counting="words", measure="precision")


def test_a_rate_for_more_words_is_the_same_rate(long):
    usual, more = (table(long, per=per).measure("rate") for per in (1_000, 10_000))
    for one, other in zip(usual, more, strict=True):
        assert other == pytest.approx(one * 10, nan_ok=True)


def test_each_unit_of_counting_agrees_with_reading_the_texts(long):
    target = OfTerms((TermEntry("deer"),)).resolve(Nothing(), long)
    places = target.places([0], long, np.ones(4, bool))
    texts, times = Counter.of("paragraphs", long).of_places(places)
    expected = [sum("deer" in part.lower() for part in body.split("\n\n")) for body in LONG]
    assert dict(zip(texts.tolist(), times.tolist(), strict=True)) == {
        at: n for at, n in enumerate(expected) if n
    }


def clumped(rng, groups=3, units=60):
    """One row, words and hits of texts, with rates that differ from text to text."""
    n = groups * units
    size = rng.integers(50, 400, n).astype(float)
    y = rng.poisson(size * rng.gamma(1.5, 0.01, n)).astype(float)
    unit = np.flatnonzero(y)
    group = np.repeat(np.arange(groups), units)
    return Counted(group, size, unit, np.zeros(len(unit), int), y[unit], groups, 1)


def test_the_reference_of_all_others_has_the_error_of_a_ratio_over_texts():
    counted = clumped(np.random.default_rng(4))
    found = reference_rates(counted, None)
    y = np.zeros(len(counted.size))
    y[counted.unit] = counted.hits
    for group in range(3):
        out = counted.group != group
        x, n = counted.size[out], out.sum()
        rate = y[out].sum() / x.sum()
        error = np.sqrt(n / (n - 1) * ((y[out] - rate * x) ** 2).sum()) / y[out].sum()
        assert found.value[0, group] == pytest.approx(rate, rel=1e-12)
        assert found.error[0, group] == pytest.approx(error, rel=1e-9)


def test_a_group_set_against_itself_is_once_itself_without_an_interval():
    counted = clumped(np.random.default_rng(5))
    from winnower.core.measure import rates_of

    ratio = ratio_to(rates_of(counted), reference_rates(counted, 1), 0.95)
    gap = difference_from(rates_of(counted), reference_rates(counted, 1), 0.95)
    assert ratio.value[0, 1] == 1 and np.isnan(ratio.low[0, 1]) and gap.value[0, 1] == 0
    assert (ratio.low[0, [0, 2]] < ratio.value[0, [0, 2]]).all()


def test_intervals_of_ratios_and_differences_hold_the_truth_about_as_often_as_they_say():
    from winnower.core.measure import rates_of

    inside = np.zeros(2)
    for run in range(400):
        counted = clumped(np.random.default_rng(run))
        rates, reference = rates_of(counted), reference_rates(counted, None if run % 2 else 0)
        at = 1
        ratio, gap = ratio_to(rates, reference, 0.95), difference_from(rates, reference, 0.95)
        inside += [ratio.low[0, at] <= 1 <= ratio.high[0, at], gap.low[0, at] <= 0 <= gap.high[0, at]]
    for held in inside:
        assert stats.binomtest(int(held), 400, 0.95).pvalue > 0.001


def test_rows_are_joined_and_left_out(news):
    plain = table(news)
    keys = [row.key for row in plain.target.rows]
    found = table(news, joined=(Joined("Both", tuple(keys[:2])),), leave=(keys[2],))
    assert [row.label for row in found.target.rows] == ["Both", *keys[3:]]
    assert found.hits[0].tolist() == (plain.hits[0] + plain.hits[1]).tolist()
    said = [part for part in found.target.method(6) if part.heading == "Rows"][0].words
    assert "“Both” (2 rows)" in said and "1 category left out" in said
    cell = evidence(
        Cell("Both", "A"), found.target, news, lay_ground(Scope(), Split("source"), news.index, news.columns)
    )
    assert cell.hits == found.hits[0, 0]
    with pytest.raises(ComparisonError, match="All categories are left out"):
        table(news, leave=tuple(keys))
    with pytest.raises(ComparisonError, match="already"):
        table(news, joined=(Joined(keys[3] if len(keys) > 3 else keys[2], tuple(keys[:2])),))


def test_what_two_rows_both_hit_counts_once_where_they_are_joined(news):
    terms = OfTerms((TermEntry("lamb*"), TermEntry("lambs")))
    found = table(news, terms, joined=(Joined("Lambs", ("lamb*", "lambs")),))
    assert found.hits[0].tolist() == table(news, terms).hits[0].tolist()


def test_the_values_of_a_field_across_another_are_a_table_of_texts(news):
    found = table(news, OfValues("source"), split=Split("source"), measure="share_of_texts")
    assert found.hits.tolist() == np.diag([2, 2, 2]).tolist()
    assert found.measure("share_of_texts").value.tolist() == np.eye(3).tolist()
    assert found.measure("share_of_row").value.tolist() == np.eye(3).tolist()
    assert found.measure("share_of_all").value.sum() == pytest.approx(1)


def test_people_who_code_are_compared_by_what_each_of_them_coded(news):
    from winnower.core.scope.columns import SeveralColumn

    passages = coded()
    by_text = [sorted(set(passages.made_by[passages.text_id == at].tolist())) for at in range(len(TEXTS))]
    start = np.concatenate([[0], np.cumsum([len(one) for one in by_text])])
    people = SeveralColumn(start, np.concatenate(by_text).astype(np.int32) - 1, ("One", "Two"))
    columns = replace(
        news.columns,
        fields={**news.columns.fields, "coders": people},
        names={**news.columns.names, "coders": "Coders"},
    )
    seen = Texts(news.index, columns)
    found = table(seen, OfCodes(), split=Split("coders"))
    for at, who in enumerate((1, 2)):
        alone = table(news, OfCodes(coders=(who,)), split=Split())
        assert found.hits[:, at].tolist() == alone.hits[:, 0].tolist()
    ground = lay_ground(Scope(), Split("coders"), seen.index, columns)
    target = OfCodes().resolve(Nothing(), seen)
    for row, named in enumerate(target.rows):
        assert evidence(Cell(named.key, "One"), target, seen, ground).hits == found.hits[row, 0]
    sentences = table(seen, OfCodes(), split=Split("coders"), counting="sentences")
    assert (sentences.counted <= found.hits).all() and sentences.hits.tolist() == found.hits.tolist()


def test_sentences_name_what_is_set_against(news):
    found = table(news, measure="ratio", reference="B")
    assert found.shown.axis == "times the rate of B"
    assert table(news, measure="ratio").shown.axis == "times the rate of all other groups"
    assert statements(found)
    with pytest.raises(ComparisonError, match="no group “Z”"):
        table(news, measure="ratio", reference="Z")


def beware_of(texts, sources, tmp_path, **more):
    index, columns = corpus(tmp_path, texts, sources)
    stories, kind = more.pop("stories", None), more.pop("kind", "warning")
    found = table(Texts(index, columns, stories), OfTerms((TermEntry("lamb"),)), **more)
    return [one.text for one in statements(found) if one.kind == kind]


def test_what_to_beware_of_is_told_with_its_figure(tmp_path):
    carried = ["lamb " * 30] + ["lamb deer the hill"] * 9 + ["lamb deer the hill"] * 10
    said = " ".join(beware_of(carried, ["A"] * 10 + ["B"] * 10, tmp_path / "one"))
    assert "Most hits come from a single text: lamb in A (77%)" in said
    long = ["lamb " + "hill " * 400] * 8 + ["lamb hill hill"] * 8
    said = " ".join(beware_of(long, ["A"] * 8 + ["B"] * 8, tmp_path / "two", kind="note"))
    assert "B has 24 words, A 3,208" in said
    assert "In 1 of 2 cells fewer than 5 hits would be expected" in said
    alike = ["lamb deer the hill"] * 20
    stories = np.asarray([0, 0, 0, -1] + [-1] * 16, np.int32)
    said = " ".join(beware_of(alike, ["A", "B"] * 10, tmp_path / "three", stories=stories))
    assert "2 texts (10%) nearly repeat another one" in said
    assert not beware_of(alike, ["A", "B"] * 10, tmp_path / "four")
