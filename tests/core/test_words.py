"""Word lists, phrases, lemmas, concordances and collocates, held against counting in plain Python."""

from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import slow
from tests.core.test_compare import corpus
from winnower.core.dictionary import category_hits
from winnower.core.errors import WinnowerError
from winnower.core.index import KINDS, TokenIndex, build_lexicon, build_segment
from winnower.core.measure import log_dice, log_likelihood, mutual_information
from winnower.core.pattern import parse_term
from winnower.core.places import find_hits
from winnower.core.scope import HasTerm, Scope, Split, lay_ground
from winnower.core.tokens import fold
from winnower.core.words import (
    Pick,
    count_phrases,
    count_words,
    counted_neighbours,
    find_collocates,
    merge_forms,
    neighbours,
    pick_rows,
    sort_hits,
)

WORDS = ["lamb", "Lamb", "lambs", "ewe", "the", "price", "#lynx", "🐾", "12", "don’t", "café"]
texts = st.lists(st.lists(st.sampled_from(WORDS), max_size=9).map(" ".join), min_size=1, max_size=6)
NONE = np.empty(0, np.int64)


def made(tmp_path, many, sources=None):
    sources = sources or ["A" if at % 2 else "B" for at in range(len(many))]
    index, columns = corpus(tmp_path, many, sources)
    return index, columns, build_lexicon(index)


def folded(text):
    return [slow.fold(token) for token, _ in slow.tokens(text)]


@given(many=texts)
@settings(max_examples=120, deadline=None)
def test_words_count_as_in_plain_python(tmp_path_factory, many):
    index, columns, lexicon = made(tmp_path_factory.mktemp("w"), many)
    found = count_words(index, lexicon, lay_ground(Scope(), Split("source"), index, columns))
    hits = Counter(word for text in many for word in folded(text))
    in_texts = Counter(word for text in many for word in set(folded(text)))
    assert dict(zip(found.names.to_list(), found.hits.tolist(), strict=True)) == dict(hits)
    assert dict(zip(found.names.to_list(), found.texts.tolist(), strict=True)) == dict(in_texts)
    assert found.group_hits.sum(1).tolist() == found.hits.tolist()
    assert found.names.is_sorted()


@given(many=texts, n=st.integers(2, 4), least=st.integers(1, 3))
@settings(max_examples=120, deadline=None)
def test_phrases_count_as_in_plain_python(tmp_path_factory, many, n, least):
    index, columns, lexicon = made(tmp_path_factory.mktemp("p"), many)
    ground = lay_ground(Scope(), Split("source"), index, columns)
    stop = lexicon.numbers_of(["the"])
    found = count_phrases(index, lexicon, ground, n, stop, least)
    expected, in_texts = Counter(), Counter()
    for text in many:
        words = folded(text)
        rows, last = [], {}
        for at in range(len(words) - n + 1):
            row = " ".join(words[at : at + n])
            if at >= last.get(row, -n) + n:  # no phrase overlaps itself
                rows.append(row)
                last[row] = at
        rows = [row for row in rows if not row.startswith("the ") and not row.endswith(" the")]
        expected.update(rows)
        in_texts.update(set(rows))
    expected = {row: hits for row, hits in expected.items() if hits >= least}
    assert dict(zip(found.names.to_list(), found.hits.tolist(), strict=True)) == expected
    assert all(in_texts[row] == t for row, t in zip(found.names.to_list(), found.texts.tolist(), strict=True))
    assert found.group_hits.sum(1).tolist() == found.hits.tolist()


def test_phrases_stay_in_their_sentence(tmp_path):
    index, columns, lexicon = made(tmp_path, ["One lamb. Price fell. One lamb. Price fell."])
    found = count_phrases(index, lexicon, lay_ground(Scope(), Split(), index, columns), 2, NONE, 1)
    assert found.names.to_list() == ["one lamb", "price fell"]


@given(
    many=st.lists(st.lists(st.sampled_from(["no", "no.", "lamb", "Price!", "the"]), max_size=12), max_size=4)
)
@settings(max_examples=60, deadline=None)
def test_a_phrase_opens_as_many_hits_as_its_row_shows(tmp_path_factory, many):
    index, columns, lexicon = made(tmp_path_factory.mktemp("o"), [" ".join(words) for words in many] or ["x"])
    ground = lay_ground(Scope(), Split(), index, columns)
    for n in (2, 3):
        found = count_phrases(index, lexicon, ground, n, NONE, 1)
        for name, hits in zip(found.names.to_list(), found.hits.tolist(), strict=True):
            term = parse_term(name)
            opened = sum(len(category_hits([term], segment).start) for segment in index.segments)
            assert opened == hits, name


def test_a_scope_and_groups_that_overlap(tmp_path):
    many = ["lamb ewe", "lamb", "ewe ewe price"]
    index, columns, lexicon = made(tmp_path, many, ["A", "B", "B"])
    part = count_words(
        index, lexicon, lay_ground(Scope((HasTerm(("ewe",)),)), Split("source"), index, columns)
    )
    counts = dict(zip(part.names.to_list(), part.hits.tolist(), strict=True))
    assert counts == {"ewe": 3, "lamb": 1, "price": 1}
    from winnower.core.scope import SeveralColumn

    several = SeveralColumn(np.array([0, 2, 3, 4]), np.array([0, 1, 1, 0], np.int32), ("s", "t"))
    columns.fields["v1"], columns.names["v1"] = several, "Sets"
    found = count_words(index, lexicon, lay_ground(Scope(), Split("v1"), index, columns))
    by_name = dict(zip(found.names.to_list(), found.group_hits.tolist(), strict=True))
    assert by_name == {"ewe": [3, 1], "lamb": [1, 2], "price": [1, 0]}
    phrases = count_phrases(index, lexicon, lay_ground(Scope(), Split("v1"), index, columns), 2, NONE, 1)
    assert dict(zip(phrases.names.to_list(), phrases.group_hits.tolist(), strict=True))["lamb ewe"] == [1, 1]


def test_several_segments_are_one_list(tmp_path):
    parts = [["lamb ewe", "the lamb"], ["ewe price", "Lamb"]]
    segments = [
        build_segment(tmp_path / f"s{at}", range(at * 2, at * 2 + 2), part) for at, part in enumerate(parts)
    ]
    many = TokenIndex(segments)
    _, columns, _ = made(tmp_path / "one", [text for part in parts for text in part])
    lexicon = build_lexicon(many)
    found = count_words(many, lexicon, lay_ground(Scope(), Split(), many, columns))
    assert dict(zip(found.names.to_list(), found.hits.tolist(), strict=True)) == {
        "ewe": 2,
        "lamb": 3,
        "price": 1,
        "the": 1,
    }
    assert lexicon.number_of("price") >= 0 and lexicon.number_of("wool") == -1


def test_forms_of_a_lemma_are_one_row_and_a_text_counts_once(tmp_path):
    index, columns, lexicon = made(tmp_path, ["lamb lambs Lambs", "sold sells", "lambs"])
    ground = lay_ground(Scope(), Split(), index, columns)
    counts = count_words(index, lexicon, ground)
    merged = merge_forms(counts, index, lexicon, ground, "en", "lemma", NONE)
    rows = dict(zip(merged.names.to_list(), zip(merged.hits, merged.texts, strict=True), strict=True))
    assert rows == {"lamb": (4, 2), "sell": (2, 1)}
    assert merged.forms(lexicon, 0) == [("lambs", 3), ("lamb", 1)]
    without = merge_forms(counts, index, lexicon, ground, "en", "lemma", lexicon.numbers_of(["lambs"]))
    assert dict(zip(without.names.to_list(), without.hits.tolist(), strict=True))["lamb"] == 1
    stems = merge_forms(counts, index, lexicon, ground, "en", "stem", NONE)
    assert "lamb" in stems.names.to_list()
    with pytest.raises(WinnowerError, match="no list of word forms"):
        merge_forms(counts, index, lexicon, ground, "xx", "lemma", NONE)


def test_kinds_of_tokens(tmp_path):
    _, _, lexicon = made(
        tmp_path, ["lamb 12 3,000.5 #lynx @office 🐾 https://a.example/x post@a.example 1️⃣ co-op"]
    )
    kinds = {fold: KINDS[kind] for fold, kind in zip(lexicon.folds.to_list(), lexicon.kinds, strict=True)}
    assert kinds["lamb"] == kinds["co-op"] == "word"
    assert kinds["12"] == kinds["3,000.5"] == "number"
    assert (kinds["#lynx"], kinds["@office"], kinds["🐾"]) == ("hashtag", "mention", "emoji")
    assert kinds["https://a.example/x"] == kinds["post@a.example"] == "address"
    assert kinds[fold("1️⃣")] == "emoji"


@pytest.mark.parametrize(
    ("pick", "names"),
    [
        (Pick(), ["lamb", "ewe", "price", "the"]),
        (Pick(least_hits=2), ["lamb", "ewe"]),
        (Pick(least_texts=2), ["lamb", "ewe"]),
        (Pick(least_chars=5), ["price"]),
        (Pick(find="e"), ["ewe", "price", "the"]),
        (Pick(find="*e"), ["ewe", "price", "the"]),
        (Pick(find="?we"), ["ewe"]),
        (Pick(find="(["), []),
        (Pick(sort="name", descending=False), ["ewe", "lamb", "price", "the"]),
        (Pick(sort="hits", descending=False), ["price", "the", "ewe", "lamb"]),
        (Pick(sort="group", group=0), ["ewe", "price", "lamb", "the"]),
        (Pick(kinds=(KINDS.index("emoji"),)), []),
    ],
)
def test_which_rows_are_shown(tmp_path, pick, names):
    index, columns, lexicon = made(tmp_path, ["lamb ewe", "lamb the lamb", "ewe price"], ["B", "B", "A"])
    counts = count_words(index, lexicon, lay_ground(Scope(), Split("source"), index, columns))
    assert counts.names.gather(pick_rows(counts, pick, NONE)).to_list() == names
    left_out = counts.row_of[lexicon.numbers_of(["lamb"])]
    assert "lamb" not in counts.names.gather(pick_rows(counts, pick, left_out)).to_list()


LINES = ["a stock of wool", "the stock fell today", "Stock of hay", "no such thing", "his stock"]


def test_lines_are_sorted_by_what_stands_beside_them(tmp_path):
    index, columns, lexicon = made(tmp_path, LINES)
    hits = find_hits([parse_term("stock")], index, columns, np.ones(5, bool), "text")
    found = neighbours(hits, index, lexicon)

    def names(offset):
        return [lexicon.folds[int(n)] if n >= 0 else None for n in found.at(offset)]

    assert names(1) == ["of", "fell", "of", None]
    assert names(-1) == ["a", "the", None, "his"]
    assert names(2) == ["wool", "today", "hay", None]
    assert hits.text[sort_hits(found, "right1")].tolist() == [1, 2, 0, 4]  # fell, of hay, of wool, none
    assert hits.text[sort_hits(found, "left1")].tolist() == [0, 4, 1, 2]
    assert hits.text[sort_hits(found, "date")].tolist() == [0, 1, 2, 4]
    folds, times = counted_neighbours(found, 1)
    assert [(lexicon.folds[int(f)], int(t)) for f, t in zip(folds, times, strict=True)] == [
        ("of", 2),
        ("fell", 1),
    ]
    with pytest.raises(ValueError, match="is no order"):
        sort_hits(found, "up1")


@given(many=texts, window=st.integers(1, 3))
@settings(max_examples=80, deadline=None)
def test_collocates_count_each_token_once(tmp_path_factory, many, window):
    index, columns, lexicon = made(tmp_path_factory.mktemp("k"), many)
    hits = find_hits([parse_term("lamb")], index, columns, np.ones(len(many), bool), "text")
    ground = lay_ground(Scope(), Split(), index, columns)
    words = count_words(index, lexicon, ground)
    found = find_collocates(hits, index, lexicon, words, window=window, least=1)
    together: Counter = Counter()
    for text in many:
        row = folded(text)
        places = {
            at + step
            for at, word in enumerate(row)
            if word == "lamb"
            for step in (*range(-window, 0), *range(1, window + 1))
        }
        together.update(row[at] for at in places if 0 <= at < len(row))
    names = lexicon.folds.gather(found.folds).to_list()
    assert dict(zip(names, found.together.tolist(), strict=True)) == dict(together)
    assert found.tokens == sum(together.values())
    assert (found.by_position.sum(1) >= found.together).all()
    assert (np.diff(found.g2) <= 1e-9).all()


def test_association_measures_by_hand():
    # 30 of 50 against 20 of 950: worked out with natural logarithms by hand
    expected = 2 * (
        30 * np.log(30 / 2.5) + 20 * np.log(20 / 47.5) + 20 * np.log(20 / 47.5) + 930 * np.log(930 / 902.5)
    )
    assert log_likelihood(30, 50, 50, 1000) == pytest.approx(expected)
    assert log_dice(30, 50, 50) == pytest.approx(14 + np.log2(0.6))
    assert mutual_information(30, 50, 50, 1000) == pytest.approx(np.log2(12))
    assert log_likelihood(1, 50, 500, 1000) < 0
    assert np.isnan(log_dice(0, 5, 5)) and np.isnan(mutual_information(0, 5, 5, 100))
    assert log_likelihood(0, 0, 5, 100) == 0
    with pytest.raises(ValueError, match="cannot be larger"):
        log_likelihood(10, 5, 20, 100)


@given(st.integers(0, 30), st.integers(0, 40), st.integers(0, 40), st.integers(0, 200))
def test_log_likelihood_agrees_with_scipy(both, only_first, only_second, neither):
    from scipy.stats import chi2_contingency

    table = np.array([[both, only_first], [only_second, neither]])
    if (table.sum(0) == 0).any() or (table.sum(1) == 0).any():
        return
    expected = chi2_contingency(table, correction=False, lambda_="log-likelihood").statistic
    found = log_likelihood(both, both + only_first, both + only_second, table.sum())
    assert abs(found) == pytest.approx(expected, abs=1e-6)
