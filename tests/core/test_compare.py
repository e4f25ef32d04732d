import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import slow
from tests.core.texts import Texts, table_of
from winnower.core.compare import (
    Comparison,
    OfDictionary,
    OfSearch,
    dictionary_overview,
    how_counted,
    statements,
)
from winnower.core.compare.profile import profile_term
from winnower.core.compare.sentences import largest_gap
from winnower.core.dictionary import Category, Dictionary, TermEntry, dictionary_from_rows, dictionary_to_rows
from winnower.core.errors import ComparisonError, DictionaryError
from winnower.core.index import TokenIndex, build_lexicon, build_segment
from winnower.core.measure import rate_interval
from winnower.core.pattern import parse_term
from winnower.core.places import find_hits, passages, whole_sentence
from winnower.core.scope import (
    CategoryColumn,
    Columns,
    DateColumn,
    HasTerm,
    NumberColumn,
    Scope,
    Split,
    TextColumn,
    lay_ground,
)

WORDS = ["lamb", "lambs", "deer", "birch", "market", "price", "the", "and", "wary"]


def category(name, *terms):
    return Category(tuple(name.split(" > ")), tuple(TermEntry(t) for t in terms))


FRAMES = Dictionary(
    "Frames",
    (
        category("Livelihood", "lamb*", "market price", "price"),
        category("Ecology", "deer"),
        category("Ecology > Trees", "birch", "deer birch"),
    ),
)


def corpus(folder, texts, sources, parts=2):
    cuts = np.array_split(np.arange(len(texts)), parts)
    index = TokenIndex(
        [
            build_segment(folder / f"s{k}", cut, [texts[i] for i in cut])
            for k, cut in enumerate(cuts)
            if len(cut)
        ]
    )
    labels = tuple(sorted(set(sources)))
    fields = {
        "source": CategoryColumn(np.array([labels.index(s) for s in sources], np.int32), labels),
        "date": DateColumn(np.arange(len(texts), dtype=np.int32)),
        "title": TextColumn(pl.Series([f"T{i}" for i in range(len(texts))])),
        "words": NumberColumn(index.words),
    }
    return index, Columns(index.text_id, fields, {key: key.capitalize() for key in fields})


def slow_counts(dictionary, row, text):
    terms = [
        t.source.split() for at in dictionary.with_children(row) for t in dictionary.categories[at].terms
    ]
    return len(slow.category_hits(terms, [w for w, _ in slow.tokens(text)]))


@given(
    texts=st.lists(st.lists(st.sampled_from(WORDS), max_size=12).map(" ".join), min_size=1, max_size=9),
    data=st.data(),
)
@settings(max_examples=80, deadline=None)
def test_every_cell_agrees_with_the_slow_rules_and_with_its_evidence(tmp_path_factory, texts, data):
    sources = data.draw(st.lists(st.sampled_from("ABC"), min_size=len(texts), max_size=len(texts)))
    index, columns = corpus(tmp_path_factory.mktemp("c"), texts, sources)
    table = table_of(FRAMES, index, columns)
    for g, label in enumerate(table.groups.labels):
        inside = [t for t, s in zip(texts, sources, strict=True) if s == label]
        assert table.texts[g] == len(inside)
        assert table.words[g] == sum(len(t.split()) for t in inside)
        for row in range(3):
            per_text = [slow_counts(FRAMES, row, t) for t in inside]
            assert table.hits[row, g] == sum(per_text)
            assert table.texts_with_hit[row, g] == sum(n > 0 for n in per_text)
            terms = [t.parse() for at in FRAMES.with_children(row) for t in FRAMES.categories[at].terms]
            wanted = table.groups.of_text == g
            evidence = find_hits(terms, index, columns, wanted)
            assert (evidence.hits, evidence.texts) == (table.hits[row, g], table.texts_with_hit[row, g])


@pytest.fixture(scope="module")
def newsroom(tmp_path_factory):
    rng = np.random.default_rng(5)
    texts, sources = [], []
    for source, share in (("Farmer", (6, 1, 1)), ("Courier", (1, 5, 3)), ("Wire", (2, 2, 2))):
        for _ in range(60):
            own = rng.choice(["lamb", "deer", "birch"], rng.integers(1, 9), p=np.array(share) / sum(share))
            texts.append(" ".join([*own, *["the"] * int(rng.integers(20, 90))]))
            sources.append(source)
    index, columns = corpus(tmp_path_factory.mktemp("n"), texts, sources)
    return texts, sources, index, columns


def test_intervals_are_those_of_the_texts(newsroom):
    texts, sources, index, columns = newsroom
    table = table_of(FRAMES, index, columns)
    at = table.groups.labels.index("Farmer")
    inside = [t for t, s in zip(texts, sources, strict=True) if s == "Farmer"]
    x = np.array([len(t.split()) for t in inside], float)
    y = np.array([t.split().count("lamb") for t in inside], float)
    expected = rate_interval(len(x), x.sum(), (x * x).sum(), y.sum(), (y * y).sum(), (x * y).sum())
    found = table.measure("rate")
    assert found.value[0, at] == pytest.approx(1000 * expected.value)
    assert (found.low[0, at], found.high[0, at]) == (
        pytest.approx(1000 * expected.low),
        pytest.approx(1000 * expected.high),
    )
    mean = table.measure("mean_rate").value[0, at]
    assert mean == pytest.approx(1000 * (y / x).mean())


def test_shares_add_up_over_the_tested_rows(newsroom):
    *_, index, columns = newsroom
    table = table_of(FRAMES, index, columns, measure="share")
    assert table.tested_rows == (0, 1)
    share = table.measure("share")
    assert share.value[[0, 1]].sum(0) == pytest.approx(1)
    assert np.isnan(share.value[2]).all()
    assert (share.low[0] < share.value[0]).all() and (share.value[0] < share.high[0]).all()
    texts = table.measure("share_of_texts")
    assert texts.value == pytest.approx(table.texts_with_hit / table.texts)


def test_the_sentence_names_the_largest_gap_and_the_test_that_respects_texts(newsroom):
    *_, index, columns = newsroom
    table = table_of(FRAMES, index, columns, version=3)
    (row, high, low), ratio = largest_gap(table)
    assert (FRAMES.categories[row].name, table.groups.labels[high], table.groups.labels[low]) == (
        "Livelihood",
        "Farmer",
        "Courier",
    )
    said = statements(table)
    assert said[0].text.startswith("Largest gap. Farmer uses Livelihood terms")
    assert f"{ratio.value:.2f} times" in said[0].text
    assert "by more than chance, with the text as the unit: adjusted χ²" in said[1].text
    assert table.test.adjusted.p < 0.001 < table.test.adjusted.design_effect
    assert any("version 3" in words for _, words, _ in how_counted(table))


def test_no_gap_is_claimed_where_there_is_none(tmp_path):
    texts = ["lamb deer the the"] * 30 + ["lamb deer the the"] * 30
    index, columns = corpus(tmp_path, texts, ["A", "B"] * 30)
    table = table_of(FRAMES, index, columns)
    assert statements(table)[0].text == "No gap between two groups is larger than chance would give."


def test_texts_without_any_spread_are_said_to_have_none(tmp_path):
    index, columns = corpus(tmp_path, ["lamb", "deer"] * 20, ["A", "B"] * 20)
    table = table_of(FRAMES, index, columns)
    assert any("do not differ in their mix" in s.text for s in statements(table))


def test_an_overview_counts_and_names_terms_to_look_after(tmp_path):
    index, columns = corpus(tmp_path, ["lamb lamb", "deer", "the"], ["A", "A", "B"])
    target = Dictionary("D", (category("One", "lamb", "unicorn", "Deer"), category("Two", "deer")))
    found = dictionary_overview(target, Texts(index, columns), lay_ground(Scope(), Split(), index, columns))
    assert (found.hits.tolist(), found.texts.tolist(), found.texts_matched) == ([3, 1], [2, 1], 2)
    assert (found.empty_terms, found.double_terms) == ((1,), (2, 3))
    nothing = dictionary_overview(
        Dictionary("E", ()), Texts(index, columns), lay_ground(Scope(), Split(), index, columns)
    )
    assert (len(nothing.hits), nothing.texts_matched) == (0, 0)


def test_small_counts_are_pointed_out(tmp_path):
    index, columns = corpus(tmp_path, ["lamb", "deer", "lamb deer", "deer"], ["A", "A", "B", "B"])
    table = table_of(FRAMES, index, columns)
    warning = next(s for s in statements(table) if s.kind == "warning")
    assert "below 5" in warning.text and "Fisher" in warning.text


def test_one_group_and_overlapping_groups_have_no_test(newsroom):
    *_, index, columns = newsroom
    table = table_of(FRAMES, index, columns, Split())
    assert table.groups.labels == ("All texts",)
    assert "only one group" in table.test.reason


def test_a_scope_is_counted_alone(newsroom):
    texts, sources, index, columns = newsroom
    table = table_of(FRAMES, index, columns, scope=Scope((HasTerm(("deer",)),)))
    assert table.texts.sum() == sum("deer" in t.split() for t in texts) == table.texts_in_scope


class Empty:
    def dictionary(self, dictionary_id, version):
        return Dictionary("Empty", ()), version


def test_unknown_measures_and_empty_dictionaries_are_refused():
    with pytest.raises(ComparisonError, match="no measure"):
        Comparison(OfSearch("deer"), measure="median")
    with pytest.raises(ComparisonError, match="no categories yet"):
        OfDictionary(1).resolve(Empty(), None)


def test_passages_are_sentences_with_their_quotes(tmp_path):
    body = "First. “We lost lambs,” she said. (The lamb, too.) Deer?\n\n“Lambs!” he cried."
    index, columns = corpus(tmp_path, [body], ["A"], parts=1)
    evidence = find_hits([parse_term("lamb*")], index, columns, np.ones(1, bool))
    found, after = passages(evidence, index, 0, 10)
    cut = [body[slice(*whole_sentence(body, p))] for p in found]
    assert cut == ["“We lost lambs,” she said.", "(The lamb, too.)", "“Lambs!” he cried."]
    assert [p.paragraph for p in found] == [1, 1, 2]
    assert [body[a:b] for p in found for a, b in p.marks] == ["lambs", "lamb", "Lambs"]
    assert after == 3


def test_passages_are_paged_without_loss(newsroom):
    *_, index, columns = newsroom
    evidence = find_hits([parse_term("lamb")], index, columns, np.ones(index.n_texts, bool))
    at, marks = 0, 0
    while at < evidence.hits:
        page, at = passages(evidence, index, at, 7)
        marks += sum(len(p.marks) for p in page)
    assert marks == evidence.hits
    lines, _ = passages(evidence, index, 0, 50, each_hit=True)
    assert all(len(p.marks) == 1 for p in lines)


def test_a_term_is_profiled_by_form_and_group(tmp_path):
    texts = ["Lamb lambs lambing", "lambs deer", "deer market price Market Price"]
    index, columns = corpus(tmp_path, texts, ["A", "B", "B"])
    lexicon, ground = build_lexicon(index), lay_ground(Scope(), Split("source"), index, columns)
    found = profile_term(parse_term("lamb*"), index, lexicon, ground)
    assert (found.hits, found.texts, found.forms) == (4, 2, (("lambs", 2), ("lamb", 1), ("lambing", 1)))
    assert found.group_hits.tolist() == [3, 1]
    assert found.group_rates == pytest.approx([1000, 1000 / 7])
    part = lay_ground(Scope((HasTerm(("deer",)),)), Split("source"), index, columns)
    phrase = profile_term(parse_term("market p*"), index, lexicon, part)
    assert phrase.forms == (("market price", 2),)


def test_dictionary_rows_go_round():
    rows = dictionary_to_rows(FRAMES)
    read = dictionary_from_rows("Frames", rows[0].keys(), enumerate(rows, 2))
    assert read.dictionary.fingerprint() == FRAMES.fingerprint()
    assert not read.refused


def test_bad_dictionary_rows_are_listed_and_the_others_taken():
    rows = [
        {"category": "A", "term": "lamb", "shade": "red"},
        {"category": "", "term": "x"},
        {"category": "A", "term": "c++"},
        {"category": "A", "term": "lamb"},
        {"category": "B > C", "term": "deer"},
        {"category": "", "term": ""},
    ]
    read = dictionary_from_rows("D", ["Category", "Term", "shade"], enumerate(rows, 2))
    assert [(row, reason[:12]) for row, reason in read.refused] == [(3, "The category"), (4, "“+” is never")]
    assert [c.label for c in read.dictionary.categories] == ["A", "B", "B > C"]
    assert (read.doubles, read.unknown_columns) == (1, ("shade",))
    with pytest.raises(DictionaryError, match="no column “term”"):
        dictionary_from_rows("D", ["category", "word"], [])


def test_the_fingerprint_sees_what_counts_and_nothing_else():
    noted = Dictionary(
        "Other name",
        tuple(
            Category(c.path, tuple(TermEntry(t.source, note="n") for t in reversed(c.terms)), "d", 4)
            for c in FRAMES.categories
        ),
    )
    assert noted.fingerprint() == FRAMES.fingerprint()
    changed = Dictionary("Frames", (*FRAMES.categories[:2], category("Ecology > Trees", "birch")))
    assert changed.fingerprint() != FRAMES.fingerprint()
