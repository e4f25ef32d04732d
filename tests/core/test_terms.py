import gc
import os
import weakref

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import slow
from winnower.core.dictionary import category_hits
from winnower.core.errors import TermError
from winnower.core.index import TokenIndex, build_segment
from winnower.core.pattern import find_term, parse_term, write_term

WORDS = [
    "lamb",
    "Lambs",
    "lambing",
    "LAMB",
    "market",
    "price",
    "prices",
    "don’t",
    "café",
    "cafe",
    "#lynx",
    "#lynxwatch",
    "🐾",
    "the",
]
PIECES = [
    "lamb",
    "lamb*",
    "*ing",
    "l?mb",
    "*am*",
    "market",
    "price*",
    "don't",
    "café",
    "caf?",
    "#lynx*",
    "🐾",
    "p*s",
    "??mb",
]
texts = st.lists(st.lists(st.sampled_from(WORDS), max_size=14).map(" ".join), min_size=1, max_size=5)
terms = st.lists(st.sampled_from(PIECES), min_size=1, max_size=3)


def built(tmp_path, many):
    return build_segment(tmp_path / "s", range(len(many)), many)


@given(many=texts, term=terms)
@settings(max_examples=150, deadline=None)
def test_hits_agree_with_the_slow_rules(tmp_path_factory, many, term):
    segment = built(tmp_path_factory.mktemp("t"), many)
    expected = []
    for at, text in enumerate(many):
        words = [w for w, _ in slow.tokens(text)]
        expected += [int(segment.text_start[at]) + hit for hit in slow.hits(term, words)]
    assert find_term(parse_term(" ".join(term)), segment).start.tolist() == expected


@given(many=texts, category=st.lists(terms, min_size=1, max_size=5))
@settings(max_examples=150, deadline=None)
def test_a_position_counts_once_in_a_category(tmp_path_factory, many, category):
    segment = built(tmp_path_factory.mktemp("c"), many)
    found = category_hits([parse_term(" ".join(term)) for term in category], segment)
    expected = []
    for at, text in enumerate(many):
        words = [w for w, _ in slow.tokens(text)]
        expected += [
            (int(segment.text_start[at]) + place, n) for place, n in slow.category_hits(category, words)
        ]
    assert list(zip(found.start.tolist(), found.length.tolist(), strict=True)) == expected


def open_files():
    return len(os.listdir("/proc/self/fd"))


def test_a_replaced_part_is_let_go_with_its_files(tmp_path):
    first = weakref.ref(build_segment(tmp_path / "first", range(2), ["lamb and lambs", "ewe"]))
    gc.collect()  # what other tests left is not counted
    before, many = open_files(), []
    for number in range(5):
        segment = build_segment(tmp_path / f"s{number}", range(2), ["lamb and lambs", "the price of an ewe"])
        terms = [parse_term(t) for t in ("lamb*", "*e", "the price", "all-forms:en lamb", "lamb | ewe")]
        assert len(category_hits(terms, segment).start) == 4
        many.append(weakref.ref(segment))
        assert open_files() > before
        del segment
    gc.collect()
    assert first() is None and [one() for one in many] == [None] * 5
    assert open_files() <= before


def count(tmp_path, term, text, **options):
    index = TokenIndex([built(tmp_path, [text])])
    return len(find_term(parse_term(term, **options), index.segments[0]).start)


@pytest.mark.parametrize(
    ("term", "text", "hits"),
    [
        ("/straße/", "Die Straße, STRASSE, straße.", 3),
        ("/don’t/", "don't DON’T", 2),
        ("/don't/", "don't DON’T", 2),
        ("/İznik/", "İznik iznik", 2),
        ("istanbul", "İstanbul ISTANBUL", 2),
        ("Stra?e", "Straße straße Strasse Stra", 2),
        ("all-forms:de Wölfe", "Wolf Wölfe Mäuse", 2),
        ("#夜船", "#夜船 夜船", 1),
        ("#夜*", "#夜船 #夜市 夜", 2),
        ("ラーメン", "ラーメンとラーメン", 2),
        ("winnower", "Winnower® winnower™", 2),
        ("cooperate", "co\u00adoperate cooperate", 2),
        ("❤", "❤️ ❤", 2),
        (
            "🏴\U000e0067\U000e0062\U000e0065\U000e006e\U000e0067\U000e007f",
            "🏴\U000e0067\U000e0062\U000e0065\U000e006e\U000e0067\U000e007f 🏴",
            1,
        ),
        ("1.5*", "1.5 1.55 1.6 15", 2),
        ("経済*", "経済学と経済", 2),
        ("*経済", "国経済", 1),
        ("market price", "The market. Price it at the market price.", 1),
        ("market [0-3] price", "The market fell. A price rose. The market has a price.", 1),
    ],
)
def test_words_are_found_in_any_script_and_as_they_are_written(tmp_path, term, text, hits):
    assert count(tmp_path, term, text) == hits


def test_case_and_accents(tmp_path):
    text = "Trust the trust. TRUST Café cafe CAFÉ"
    assert count(tmp_path, "trust", text) == 3
    assert count(tmp_path / "b", "Trust", text, match_case=True) == 1
    assert count(tmp_path / "c", "cafe", text) == 1
    assert count(tmp_path / "d", "cafe", text, ignore_accents=True) == 3
    assert count(tmp_path / "e", "Caf*", text, ignore_accents=True, match_case=True) == 1


def test_apostrophes_are_the_same(tmp_path):
    assert count(tmp_path, "don’t", "don't don’t Don't") == 3


def test_a_phrase_stays_within_a_text(tmp_path):
    segment = built(tmp_path, ["market", "price market price"])
    assert find_term(parse_term("market price"), segment).start.tolist() == [2]


def test_quotes_take_words_as_they_are():
    assert [p.form for p in parse_term('"market price"').pieces] == ["market", "price"]
    assert not any(p.open for p in parse_term('"who?"').pieces)


@pytest.mark.parametrize(
    ("term", "position", "words"),
    [
        ("", 0, "at least one word"),
        ("*", 0, "every word"),
        ("lamb * price", 5, "every word"),
        ("?", 0, "every word"),
        ("c++", 1, "never part of a word"),
        ("R&D", 1, "never part of a word"),
        ('the "market price', 4, "no partner"),
        ("“open", 0, "no partner"),
        ("two\nlines", 3, "one line"),
        ("x" * 701, 700, "at most 700 characters"),
        (" ".join("abcdefghijklmnopqrstu"), 0, "at most 20 words"),
        ("...", 0, "no word"),
    ],
)
def test_terms_that_cannot_be_searched_say_where_and_why(term, position, words):
    with pytest.raises(TermError, match=words) as caught:
        parse_term(term)
    assert caught.value.position == position


def test_a_very_open_term_is_allowed(tmp_path):
    assert count(tmp_path, "a*", "a an and band") == 3


@given(st.text(max_size=30))
@settings(deadline=None)
def test_whatever_is_typed_is_read_or_refused_in_words(typed):
    try:
        term = parse_term(typed)
    except TermError as error:
        assert error.message
    else:
        assert 1 <= len(term.pieces) <= 60
        assert parse_term(write_term(term)).head == term.head
