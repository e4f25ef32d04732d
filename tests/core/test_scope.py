import datetime as dt

import numpy as np
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.errors import ScopeError
from winnower.core.index import TokenIndex, build_segment
from winnower.core.scope import (
    NO_DATE,
    Between,
    CategoryColumn,
    Columns,
    DateColumn,
    During,
    HasTerm,
    HasValue,
    InTitle,
    NumberColumn,
    Scope,
    SeveralColumn,
    Split,
    TextColumn,
    describe_fields,
    scope_mask,
    split_groups,
)
from winnower.core.scope.split import period_label, period_number

DAYS = [dt.date(2031, 1, 30), dt.date(2031, 2, 1), None, dt.date(2031, 4, 15)]
TEXTS = ["The lamb slept", "Deer and lambs", "Nothing here", "lamb stew"]


@pytest.fixture(scope="module")
def index(tmp_path_factory):
    return TokenIndex([build_segment(tmp_path_factory.mktemp("i") / "s", range(4), TEXTS)])


@pytest.fixture(scope="module")
def columns(index):
    days = [NO_DATE if d is None else (d - dt.date(1970, 1, 1)).days for d in DAYS]
    fields = {
        "source": CategoryColumn(np.array([0, 1, -1, 0], np.int32), ("Courier", "Wire")),
        "date": DateColumn(np.array(days, np.int32)),
        "title": TextColumn(pl.Series(["Lamb news", "Deer", None, "STEW"])),
        "words": NumberColumn(index.words),
        "v1": SeveralColumn(np.array([0, 2, 2, 3, 4]), np.array([0, 1, 1, 0], np.int32), ("north", "coast")),
        "v2": NumberColumn(np.array([1.0, 2.0, np.nan, 2.0])),
    }
    names = {
        "source": "Source",
        "date": "Date",
        "title": "Title",
        "words": "Words",
        "v1": "Tags",
        "v2": "Age",
    }
    return Columns(index.text_id, fields, names)


@pytest.mark.parametrize(
    ("condition", "expected"),
    [
        (HasValue("source", ("Courier",)), [0, 3]),
        (HasValue("source", ("Courier",), exclude=True), [1, 2]),
        (HasValue("source", (None,)), [2]),
        (HasValue("v1", ("coast",)), [0, 2]),
        (HasValue("v1", (None, "north")), [0, 1, 3]),
        (HasValue("v2", (None,)), [2]),
        (HasValue("date", (None,)), [2]),
        (During("date", dt.date(2031, 2, 1), dt.date(2031, 4, 15)), [1, 3]),
        (During("date", None, dt.date(2031, 2, 1)), [0, 1]),
        (Between("v2", 2, None), [1, 3]),
        (HasTerm(("lamb*",)), [0, 1, 3]),
        (HasTerm(("lamb", "deer")), [0, 1, 3]),
        (HasTerm(("lamb*",), exclude=True), [2]),
        (InTitle("st"), [3]),
    ],
)
def test_conditions(condition, expected, columns, index):
    assert np.flatnonzero(scope_mask(Scope((condition,)), columns, index)).tolist() == expected


def test_all_conditions_hold_together(columns, index):
    scope = Scope((HasValue("source", ("Courier",)), HasTerm(("stew",))))
    assert np.flatnonzero(scope_mask(scope, columns, index)).tolist() == [3]


@pytest.mark.parametrize(
    ("condition", "words"),
    [
        (HasValue("source", ("Lantern",)), "no value “Lantern”"),
        (HasValue("nowhere", ("x",)), "no field “nowhere”"),
        (HasValue("date", ("x",)), "not a category"),
        (Between("source", 1, 2), "neither a number nor a date"),
        (Between("date", 1.0, None), "give its range as dates"),
        (Between("v2", 3, 1), "begins after its end"),
        (InTitle("x", field="source"), "no free text"),
    ],
)
def test_conditions_that_do_not_fit_say_so(condition, words, columns, index):
    with pytest.raises(ScopeError, match=words):
        scope_mask(Scope((condition,)), columns, index)


def members(groups):
    return {label: sorted(groups.text[groups.group == at].tolist()) for at, label in enumerate(groups.labels)}


def test_split_by_category_leaves_out_texts_without_value_and_empty_groups(columns):
    everything = np.ones(4, bool)
    assert members(split_groups(Split("source"), columns, everything)) == {"Courier": [0, 3], "Wire": [1]}
    only_first = np.array([True, False, False, False])
    assert members(split_groups(Split("source"), columns, only_first)) == {"Courier": [0]}


def test_split_by_several_values_puts_a_text_into_each_group(columns):
    groups = split_groups(Split("v1"), columns, np.ones(4, bool))
    assert members(groups) == {"north": [0, 3], "coast": [0, 2]}
    assert not groups.disjoint
    at, group = groups.expand(np.array([0, 2, 3]))
    assert list(zip(at.tolist(), group.tolist(), strict=True)) == [(0, 0), (0, 1), (1, 1), (2, 0)]


def test_periods_without_texts_stay_as_gaps(columns):
    groups = split_groups(Split("date", "month"), columns, np.ones(4, bool))
    assert members(groups) == {"2031-01": [0], "2031-02": [1], "2031-03": [], "2031-04": [3]}


def test_no_split_is_one_group(columns):
    assert members(split_groups(Split(), columns, np.ones(4, bool))) == {"All texts": [0, 1, 2, 3]}


def test_each_text_can_be_a_group_called_by_its_title(columns):
    groups = split_groups(Split("title"), columns, np.ones(4, bool))
    assert groups.n_groups == 4 and [len(texts) for texts in members(groups).values()] == [1, 1, 1, 1]
    assert len(set(groups.labels)) == 4


def test_too_many_texts_are_not_compared_one_by_one():
    n = 201
    titles = TextColumn(pl.Series(["Same"] * n, dtype=pl.String))
    many = Columns(np.arange(n), {"title": titles}, {"title": "Title"})
    with pytest.raises(ScopeError, match="201 texts; at most 200"):
        split_groups(Split("title"), many, np.ones(n, bool))


@given(st.dates(dt.date(1900, 1, 1), dt.date(2100, 12, 31)))
def test_periods_are_those_of_the_calendar(day):
    days = np.array([(day - dt.date(1970, 1, 1)).days], np.int32)

    def label(period):
        return period_label(int(period_number(days, period)[0]), period)

    year, week, _ = day.isocalendar()
    assert label("day") == day.isoformat()
    assert label("week") == f"{year}-W{week:02d}"
    assert label("month") == day.isoformat()[:7]
    assert label("quarter") == f"{day.year}-Q{(day.month + 2) // 3}"
    assert label("year") == str(day.year)


def test_fields_are_described(columns):
    found = {f.key: f for f in describe_fields(columns)}
    assert found["source"].values == (("Courier", 2), ("Wire", 1))
    assert (found["date"].low, found["date"].high, found["date"].missing) == ("2031-01-30", "2031-04-15", 1)
    assert found["v1"].kind == "several"
    assert not found["title"].can_split
    assert (found["v2"].low, found["v2"].high) == ("1", "2")
