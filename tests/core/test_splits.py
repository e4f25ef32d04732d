"""Groups of a split held against plain Python: categories, several values, numbers, periods."""

import datetime as dt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.errors import ScopeError
from winnower.core.scope.columns import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
)
from winnower.core.scope.split import PERIODS, Split, period_label, period_number, split_groups

EPOCH = dt.date(1970, 1, 1)
days = st.dates(dt.date(1900, 1, 1), dt.date(2150, 12, 31))


def columns_of(n, **fields):
    return Columns(np.arange(n), fields, {name: name.title() for name in fields}, 1, None)


def as_sets(groups):
    out = {label: set() for label in groups.labels}
    for text, group in zip(groups.text.tolist(), groups.group.tolist(), strict=True):
        out[groups.labels[group]].add(text)
    return out


def written(day, period):
    year, week, _ = day.isocalendar()
    return {
        "day": day.isoformat(),
        "week": f"{year}-W{week:02d}",
        "month": f"{day.year}-{day.month:02d}",
        "quarter": f"{day.year}-Q{(day.month + 2) // 3}",
        "year": str(day.year),
    }[period]


@given(days, st.sampled_from(PERIODS))
def test_periods_are_written_as_the_calendar_has_them(day, period):
    number = int(period_number(np.array([(day - EPOCH).days]), period)[0])
    assert period_label(number, period) == written(day, period)
    # the day before lies in the same period or the one before
    before = int(period_number(np.array([(day - EPOCH).days - 1]), period)[0])
    assert number - before in (0, 1)


@given(st.lists(st.dates(dt.date(2030, 1, 1), dt.date(2032, 12, 31)) | st.none(), max_size=12), st.data())
def test_dates_split_into_periods_with_the_gaps_between(many, data):
    period = data.draw(st.sampled_from(PERIODS))
    mask = np.array(data.draw(st.lists(st.booleans(), min_size=len(many), max_size=len(many))), bool)
    column = DateColumn(np.array([NO_DATE if d is None else (d - EPOCH).days for d in many], np.int32))
    found = as_sets(split_groups(Split("date", period), columns_of(len(many), date=column), mask))
    expected: dict[str, set[int]] = {}
    for at, day in enumerate(many):
        if day is not None and mask[at]:
            expected.setdefault(written(day, period), set()).add(at)
    assert {label: texts for label, texts in found.items() if texts} == expected
    if expected:  # periods without texts lie only between those with
        assert found[list(found)[0]] and found[list(found)[-1]]
        assert list(found) == sorted(found)


@given(st.lists(st.integers(-1, 3), max_size=12), st.data())
def test_categories_without_texts_are_left_out(codes, data):
    mask = np.array(data.draw(st.lists(st.booleans(), min_size=len(codes), max_size=len(codes))), bool)
    column = CategoryColumn(np.array(codes, np.int32), ("A", "B", "C", "D"))
    found = split_groups(Split("source"), columns_of(len(codes), source=column), mask)
    kept = {"ABCD"[code] for at, code in enumerate(codes) if mask[at] and code >= 0}
    assert list(found.labels) == sorted(kept)
    assert as_sets(found) == {
        label: {at for at, code in enumerate(codes) if mask[at] and code == "ABCD".index(label)}
        for label in kept
    }


@given(st.lists(st.sets(st.integers(0, 3), max_size=3), max_size=10), st.data())
def test_texts_with_several_values_are_in_several_groups(values, data):
    mask = np.array(data.draw(st.lists(st.booleans(), min_size=len(values), max_size=len(values))), bool)
    start = np.concatenate([[0], np.cumsum([len(one) for one in values])]).astype(np.int64)
    codes = np.array([code for one in values for code in sorted(one)], np.int32)
    column = SeveralColumn(start, codes, ("A", "B", "C", "D"))
    found = split_groups(Split("tags"), columns_of(len(values), tags=column), mask)
    expected = {
        label: {at for at, one in enumerate(values) if mask[at] and number in one}
        for number, label in enumerate("ABCD")
    }
    assert as_sets(found) == {label: texts for label, texts in expected.items() if texts}
    overlap = any(len(one) > 1 for at, one in enumerate(values) if mask[at])
    assert (found.of_text is None) == overlap
    texts = np.arange(len(values))
    at, group = found.expand(texts)
    assert sorted(zip(at.tolist(), group.tolist(), strict=True)) == sorted(
        zip(found.text.tolist(), found.group.tolist(), strict=True)
    )


def test_numbers_are_groups_while_they_are_few():
    values = np.array([30, 2, np.nan, 2.5, 30])
    columns = columns_of(5, age=NumberColumn(values))
    found = split_groups(Split("age"), columns, np.array([1, 1, 1, 1, 0], bool))
    assert as_sets(found) == {"2": {1}, "2.5": {3}, "30": {0}}
    many = columns_of(5_000, age=NumberColumn(np.arange(5_000.0)))
    with pytest.raises(ScopeError, match="5,000 different numbers"):
        split_groups(Split("age"), many, np.ones(5_000, bool))


def test_too_many_groups_are_refused_in_words():
    codes = np.arange(20_000, dtype=np.int32)
    sources = columns_of(20_000, source=CategoryColumn(codes, tuple(map(str, codes))))
    with pytest.raises(ScopeError, match="20,000 groups"):
        split_groups(Split("source"), sources, np.ones(20_000, bool))
    far = DateColumn(np.array([-700_000, 60_000], np.int32))
    with pytest.raises(ScopeError, match="Choose a longer period"):
        split_groups(Split("date", "day"), columns_of(2, date=far), np.ones(2, bool))
    with pytest.raises(ScopeError, match="no period"):
        period_number(np.array([0]), "fortnight")
