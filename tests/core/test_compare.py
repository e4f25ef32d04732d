import tempfile
from pathlib import Path

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import slow
from tests.core.texts import Texts, table_of
from winnower.core.compare import (
    MEASURES,
    Comparison,
    OfDictionary,
    OfSearch,
    dictionary_overview,
    how_counted,
    statements,
)
from winnower.core.compare.bases import BASES
from winnower.core.compare.profile import profile_term
from winnower.core.compare.spoken import measure_in
from winnower.core.dictionary import Category, Dictionary, TermEntry, dictionary_from_rows, dictionary_to_rows
from winnower.core.errors import ComparisonError, DictionaryError
from winnower.core.index import TokenIndex, build_lexicon, build_segment
from winnower.core.measure import Counted, rate_interval, rates_of
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
from winnower.writers.tables import comparison_csv, comparison_xlsx

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
    unit = np.flatnonzero(y)
    expected = rate_interval(rates_of(Counted(np.zeros(len(x), int), x, unit, unit * 0, y[unit], 1, 1)))
    found = table.measure("rate")
    assert found.value[0, at] == pytest.approx(1000 * expected.value[0, 0])
    assert (found.low[0, at], found.high[0, at]) == (
        pytest.approx(1000 * expected.low[0, 0]),
        pytest.approx(1000 * expected.high[0, 0]),
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
    verdict = table.tests.verdict
    gap = verdict.rates.gap
    assert (
        FRAMES.categories[gap.row].name,
        table.groups.labels[gap.first],
        table.groups.labels[gap.second],
    ) == (
        "Livelihood",
        "Farmer",
        "Courier",
    )
    said = statements(table)
    assert said[0].headline.startswith(
        f"Livelihood terms are about {gap.ratio:.1f} times as frequent in Farmer as in Courier ("
    )
    assert f"95% interval of the ratio {gap.low:.2f} to {gap.high:.2f})" in said[0].headline
    assert f"Ratio {gap.ratio:.2f} after shrinkage, {gap.found:.2f} observed" in said[0].details
    assert "the largest of 6" in said[0].details
    assert said[1].headline == "Both categories differ significantly between the groups."
    assert "the text as the unit" in said[1].details and "by Holm" in said[1].details
    assert said[2].headline.startswith(
        "The mix of categories, their shares of all hits, differs significantly between the groups"
    )
    assert verdict.mix.p < 0.01
    assert any("version 3" in words for _, words, _ in how_counted(table))


def test_no_gap_is_claimed_where_there_is_none(tmp_path):
    texts = ["lamb deer the the"] * 30 + ["lamb deer the the"] * 30
    index, columns = corpus(tmp_path, texts, ["A", "B"] * 30)
    said = [s.text for s in statements(table_of(FRAMES, index, columns))]
    assert said[0].startswith("No category differs significantly between the groups.")
    assert said[1].startswith("This corpus ") and not any("pair of groups" in one for one in said)


def test_small_groups_are_left_out_by_name_and_do_not_take_the_test_away(newsroom):
    texts, sources, *_ = newsroom
    more = [*texts, "lamb " * 40]
    index, columns = corpus(Path(tempfile.mkdtemp()), more, [*sources, "Once"])
    table = table_of(FRAMES, index, columns)
    assert table.tests.verdict.mix.p < 0.01
    assert "Once has fewer than 5 texts and is not tested." in [s.text for s in statements(table)]
    assert np.isnan(table.residuals[:, table.groups.labels.index("Once")]).all()


def test_a_mix_of_very_many_rows_is_said_not_to_be_tested(newsroom, monkeypatch):
    *_, index, columns = newsroom
    monkeypatch.setattr("winnower.core.measure.mix.MOST_MIXED", 1)
    monkeypatch.setattr("winnower.core.compare.sentences.MOST_MIXED", 1)
    said = [s.text for s in statements(table_of(FRAMES, index, columns))]
    assert "The mix of 2 categories is not tested; at most 1 are." in said
    assert not any(text.startswith("The mix of categories") for text in said)


def test_rows_too_rare_to_be_tested_among_very_many_are_not_said_to_be_alike(newsroom, monkeypatch):
    *_, index, columns = newsroom
    monkeypatch.setattr("winnower.core.measure.differences.MOST_CELLS", 1)
    said = [s.text for s in statements(table_of(FRAMES, index, columns))]
    assert said[0].startswith("None of the 2 categories has enough hits in every group to be tested")
    assert not any("No category differs" in text or "stands out" in text for text in said)


def test_one_category_alone_is_tested_for_its_rate(newsroom):
    *_, index, columns = newsroom
    table = table_of(Dictionary("One", (category("Livelihood", "lamb"),)), index, columns)
    test = next(s.text for s in statements(table) if s.kind == "test")
    assert test.startswith("The rate of Livelihood differs significantly between the groups")
    assert np.isnan(table.tests.verdict.mix.p)


def test_the_unit_can_be_something_texts_belong_to(newsroom):
    texts, sources, index, columns = newsroom
    authors = CategoryColumn(np.arange(len(texts), dtype=np.int32) // 10, tuple(f"A{k}" for k in range(18)))
    fields = {**columns.fields, "author": authors}
    with_authors = Columns(columns.text_id, fields, {**columns.names, "author": "Author"})
    plain = table_of(FRAMES, index, with_authors)
    by_author = table_of(FRAMES, index, with_authors, unit="author")
    assert by_author.measure("rate").value == pytest.approx(plain.measure("rate").value)
    assert by_author.tests.verdict is not None and by_author.texts_alone == 0
    assert any("“Author” as the unit" in s.text for s in statements(by_author))
    assert by_author.measure("share_of_texts").low != pytest.approx(plain.measure("share_of_texts").low)
    crossing = table_of(FRAMES, index, with_authors, unit="source", split=Split("date", "month"))
    assert "3 values of “Source” have texts in several groups" in crossing.tests.reason


def test_long_texts_that_hide_a_difference_are_named(tmp_path):
    rng = np.random.default_rng(2)
    texts, sources = [], []
    for source, share in (("A", 0.02), ("B", 0.06)):
        for _ in range(60):
            n = int(rng.integers(60, 120))
            texts.append(" ".join(rng.choice(["lamb", "the"], n, p=[share, 1 - share])))
            sources.append(source)
    for source, share in (("A", 0.3), ("A", 0.0), ("B", 0.3), ("B", 0.0)):
        texts.append(" ".join(rng.choice(["lamb", "the"], 6000, p=[share, 1 - share])))
        sources.append(source)
    index, columns = corpus(tmp_path, texts, sources)
    table = table_of(Dictionary("One", (category("Livelihood", "lamb"),)), index, columns)
    said = [s.text for s in statements(table) if s.kind == "warning" and "texts of" in s.text]
    assert said == [
        "4 texts of 6,000 words or more hold 69% of all words. Without them, the rate differs for 1 instead of 0 "
        "categories."
    ]


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


def test_one_group_and_overlapping_groups_have_no_test(newsroom):
    *_, index, columns = newsroom
    table = table_of(FRAMES, index, columns, Split())
    assert table.groups.labels == ("All texts",)
    assert "only one group" in table.tests.reason


def test_a_field_without_any_value_gives_an_empty_table_that_says_so(newsroom):
    *_, index, columns = newsroom
    empty = CategoryColumn(np.full(columns.n_texts, -1, np.int32), ())
    with_empty = Columns(
        columns.text_id, {**columns.fields, "desk": empty}, {**columns.names, "desk": "Desk"}
    )
    for measure in (name for name, one in MEASURES.items() if one.needs != "numbers"):
        held = (Split("source"),) if measure == "adjusted" else ()
        table = table_of(FRAMES, index, with_empty, Split("desk"), measure=measure, adjust=held)
        assert table.measure(measure).value.shape == (3, 0)
        said = [s.text for s in statements(table)]
        assert said[0] == "No text has a value here, so there are no groups to compare."
        assert said[-1] == "180 texts have no value here and are left out."
        assert len(comparison_csv(table).splitlines()) == 1 and comparison_xlsx(table)
        assert how_counted(table)


def test_a_scope_is_counted_alone(newsroom):
    texts, sources, index, columns = newsroom
    table = table_of(FRAMES, index, columns, scope=Scope((HasTerm(("deer",)),)))
    assert table.texts.sum() == sum("deer" in t.split() for t in texts) == table.texts_in_scope


class Empty:
    def dictionary(self, dictionary_id, version):
        return Dictionary("Empty", ()), version


def test_unknown_measures_and_empty_dictionaries_are_refused():
    with pytest.raises(ComparisonError, match="no measure"):
        Comparison(OfSearch("deer"), measure="middle")
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


@pytest.mark.parametrize("counting", list(BASES))
@pytest.mark.parametrize("name", list(MEASURES))
def test_no_measure_says_its_unit_twice(name, counting):
    """Values bring their percent sign with them; the unit that follows them has none."""
    measure = measure_in(name, counting, 1_000, "all other groups")
    said = f"{measure.written(0.235)} {measure.after_values}"
    assert said.count("%") <= 1 and "{" not in said and "  " not in said
