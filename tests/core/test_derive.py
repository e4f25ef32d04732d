"""Fields that follow from rules, against plain loops."""

import datetime as dt
from dataclasses import replace

import numpy as np
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.slow import fold, tokens
from winnower.core.errors import ScopeError
from winnower.core.index import TokenIndex, build_segment
from winnower.core.pattern import parse_term
from winnower.core.scope import (
    NO_DATE,
    Bands,
    CategoryColumn,
    Columns,
    DateColumn,
    Finds,
    Fits,
    HasTerm,
    HasValue,
    NumberColumn,
    OfTerms,
    Period,
    Scope,
    SeveralColumn,
    TextColumn,
    derive,
    scope_mask,
    value_at,
    with_rules,
)
from winnower.core.scope.derive import band_labels

TEXTS = [
    "The lamb slept near the lamb",
    "Deer and lambs",
    "Nothing here",
    "",
    "market price fell",
    "the Market place",
]
TITLES = ["Lamb news", "Deer", None, "STEW of lamb", "price", "x"]


@pytest.fixture(scope="module")
def index(tmp_path_factory):
    return TokenIndex([build_segment(tmp_path_factory.mktemp("d") / "s", range(6), TEXTS)])


@pytest.fixture(scope="module")
def columns(index):
    days = [dt.date(2031, 1, 5), dt.date(2031, 4, 1), None, dt.date(2031, 4, 30), dt.date(2032, 1, 1), None]
    fields = {
        "source": CategoryColumn(np.array([0, 1, -1, 0, 1, 1], np.int32), ("Courier", "Wire")),
        "date": DateColumn(
            np.array([NO_DATE if d is None else (d - dt.date(1970, 1, 1)).days for d in days], np.int32)
        ),
        "title": TextColumn(pl.Series(TITLES)),
        "words": NumberColumn(index.words),
        "v1": NumberColumn(np.array([17, 18, 35, np.nan, 64.5, 90])),
        "v2": CategoryColumn(np.array([-1, 0, -1, -1, 0, -1], np.int32), ("set aside",)),
    }
    names = {
        "source": "Source",
        "date": "Date",
        "title": "Title",
        "words": "Words",
        "v1": "Age",
        "v2": "Set aside",
    }
    return Columns(index.text_id, fields, names)


def values(column):
    return [value_at(column, at) for at in range(6)]


def test_numbers_are_cut_into_bands(columns, index):
    column = derive(Bands("v1", (18, 35, 65)), columns, index)
    assert values(column) == [
        "under 18",
        "18 to under 35",
        "35 to under 65",
        None,
        "35 to under 65",
        "65 and over",
    ]


@given(
    st.lists(st.integers(-50, 50), min_size=1, max_size=6, unique=True).map(sorted),
    st.lists(st.integers(-60, 60), max_size=20),
)
def test_each_number_is_in_the_band_that_says_so(cuts, numbers):
    columns = Columns(np.arange(len(numbers)), {"v1": NumberColumn(np.array(numbers, float))}, {"v1": "N"})
    column = derive(Bands("v1", tuple(cuts)), columns, TokenIndex([]))
    for number, code in zip(numbers, column.codes, strict=True):
        low = cuts[code - 1] if code else None
        high = cuts[code] if code < len(cuts) else None
        assert (low is None or number >= low) and (high is None or number < high)
    assert len(set(column.labels)) == len(cuts) + 1


@pytest.mark.parametrize("cuts", [(), (5, 5), (9, 1), tuple(range(60))])
def test_cuts_that_make_no_bands_are_told(cuts):
    with pytest.raises(ScopeError, match="in rising order"):
        band_labels(cuts, True)


def test_whole_bands_name_both_ends():
    assert band_labels((1, 2, 10), True) == ("under 1", "1", "2 to 9", "10 and over")


def test_dates_become_periods(columns, index):
    assert values(derive(Period("date", "quarter"), columns, index)) == [
        "2031-Q1",
        "2031-Q2",
        None,
        "2031-Q2",
        "2032-Q1",
        None,
    ]
    assert derive(Period("date", "year"), columns, index).labels == ("2031", "2032")


def test_rules_that_do_not_fit_are_told(columns, index):
    with pytest.raises(ScopeError, match="is not a number"):
        derive(Bands("source", (1,)), columns, index)
    with pytest.raises(ScopeError, match="is not a date"):
        derive(Period("v1", "year"), columns, index)
    with pytest.raises(ScopeError, match="is no period"):
        derive(Period("date", "fortnight"), columns, index)
    with pytest.raises(ScopeError, match="no field"):
        derive(Bands("v9", (1,)), columns, index)


def test_terms_give_yes_or_no_or_a_count(columns, index):
    terms = (parse_term("lamb*"), parse_term("market price"))
    assert values(derive(OfTerms(terms, False), columns, index)) == ["yes", "yes", "no", "no", "yes", "no"]
    assert values(derive(OfTerms(terms, True), columns, index)) == [2, 1, 0, 0, 1, 0]


def test_fitting_a_scope_is_yes_or_no(columns, index):
    rule = Fits(Scope((HasValue("source", ("Wire",)), HasTerm(("lamb*",)))))
    assert values(derive(rule, columns, index)) == ["no", "yes", "no", "no", "no", "no"]


def test_texts_set_aside_are_in_no_scope_unless_asked_for(columns, index):
    aside = replace(columns, aside="v2")
    assert scope_mask(Scope(), aside, index).tolist() == [True, False, True, True, False, True]
    asked = Scope((HasValue("v2", ("set aside",)),))
    assert scope_mask(asked, aside, index).tolist() == [False, True, False, False, True, False]
    assert scope_mask(Scope((HasTerm(("lamb*",)),)), aside, index).tolist() == [
        True,
        False,
        False,
        False,
        False,
        False,
    ]
    assert scope_mask(Scope(), aside, index, aside=True).all()


@given(
    st.lists(
        st.sampled_from(["lamb", "market", "price", "the", "Market pl", "de", "e", "near the", "!", ""]),
        min_size=1,
        max_size=2,
    ).map(" ".join)
)
def test_words_are_found_in_titles_and_in_a_row_in_texts(words):
    folder = pytest.importorskip("tempfile").mkdtemp()
    from pathlib import Path

    index = TokenIndex([build_segment(Path(folder) / "s", range(6), TEXTS)])
    columns = Columns(index.text_id, {"title": TextColumn(pl.Series(TITLES))}, {"title": "Title"})
    found = scope_mask(Scope((Finds(words),)), columns, index).tolist()
    wanted = [fold(t) for t, _ in tokens(words)]
    for at, (text, title) in enumerate(zip(TEXTS, TITLES, strict=True)):
        inside = title is not None and words.strip().lower() in title.lower()
        forms = [fold(t) for t, _ in tokens(text)]
        for start in range(len(forms) - len(wanted) + 1):
            run = forms[start : start + len(wanted)]
            open_end = words[-1:].isalnum() and len(wanted[-1]) > 1 if wanted else False
            if (
                wanted
                and run[:-1] == wanted[:-1]
                and (run[-1].startswith(wanted[-1]) if open_end else run[-1] == wanted[-1])
            ):
                inside = True
        assert found[at] == inside, (words, text)


@given(
    st.lists(st.sets(st.integers(0, 2)), min_size=1, max_size=8),
    st.lists(
        st.tuples(st.sampled_from(["new", "b", "other"]), st.integers(0, 255)),
        max_size=3,
        unique_by=lambda r: r[0],
    ),
)
def test_sets_by_rule_join_those_by_hand(rows, rules):
    n = len(rows)
    start = np.concatenate([[0], np.cumsum([len(row) for row in rows])])
    codes = np.array([code for row in rows for code in sorted(row)], np.int32)
    column = SeveralColumn(start, codes, ("a", "b", "c"))
    rules = [(name, bits) for name, bits in rules if name != "b"]
    masks = {name: np.array([(bits >> at) & 1 for at in range(n)], bool) for name, bits in rules}
    joined, broken = with_rules(column, [(name, lambda m=mask: m) for name, mask in masks.items()])
    assert not broken
    for at, row in enumerate(rows):
        hand = {"abc"[code] for code in row}
        assert set(value_at(joined, at)) == hand | {name for name, mask in masks.items() if mask[at]}


def test_a_rule_that_no_longer_fits_leaves_its_set_empty_and_says_why():
    def broken():
        raise ScopeError("“Tags” has no value “x”.")

    column = SeveralColumn(np.array([0, 1]), np.array([0], np.int32), ("a",))
    joined, reasons = with_rules(column, [("gone", broken)])
    assert joined.labels == ("a", "gone") and value_at(joined, 0) == ["a"]
    assert reasons == {"gone": "“Tags” has no value “x”."}
