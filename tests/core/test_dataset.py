"""Rows and columns of tables for statistics, against counting one by one."""

import numpy as np
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from winnower.core.coding import Passages
from winnower.core.dataset import (
    DataRequest,
    Names,
    decision_rows,
    field_column,
    mean_touching,
    passage_rows,
    request_to_plain,
    sentence_rows,
    text_rows,
)
from winnower.core.dataset.columns import Located, values_at
from winnower.core.index import TokenIndex
from winnower.core.index.build import build_segment
from winnower.core.places import Places
from winnower.core.places.stretches import covered_words
from winnower.core.scope import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
    describe_fields,
)

BODIES = [["One two. Three.\n\nFour."], ["Five. Six seven.", "", "Eight"]]


@pytest.fixture
def index(tmp_path):
    first = iter(range(1, 100))
    return TokenIndex(
        [
            build_segment(tmp_path / str(at), [next(first) for _ in part], part)
            for at, part in enumerate(BODIES)
        ]
    )


def test_rows_of_texts_and_sentences(index):
    mask = np.array([True, True, False, True])
    rows = text_rows(index, mask)
    assert rows.text.tolist() == [0, 1, 3]
    assert (rows.high - rows.low)[[0, 2]].tolist() == [int(index.segments[0].n_tokens), 1]
    rows = sentence_rows(index, mask)
    assert rows.text.tolist() == [0, 0, 0, 1, 1, 3]
    assert rows.own["sentence"].tolist() == [1, 2, 3, 1, 2, 1]
    assert rows.own["paragraph"].tolist() == [1, 1, 2, 1, 1, 1]
    assert len(text_rows(index, np.zeros(4, bool))) == len(sentence_rows(index, np.zeros(4, bool))) == 0


def passages_of(rows):
    """(text, code, coder, start, end) each."""
    text, code, coder, start, end = (np.array(values, np.int64) for values in zip(*rows, strict=True))
    return Passages.of(
        {
            "id": np.arange(1, len(rows) + 1), "text_id": text, "code_id": code, "start": start, "end": end,
            "made_by": coder, "strength": np.zeros(len(rows), np.int8),
        }
    )  # fmt: skip


def test_rows_of_passages_stand_where_their_words_do(index):
    passages = passages_of([(4, 7, 1, 0, 5), (1, 7, 1, 4, 14), (2, 8, -3, 6, 15)])
    rows = passage_rows(index, passages, np.array([0, 1, 3]))  # sorted by text
    tokens = [segment.n_tokens for segment in index.segments]
    assert rows.text.tolist() == [0, 1, 3] and rows.own["code"].tolist() == [7, 8, 7]
    assert rows.low[0] == 1 and rows.high[0] <= tokens[0] and rows.low[1] >= tokens[0]
    assert len(passage_rows(index, passages, np.array([-1, 1, -1]))) == 1


@given(
    coded=st.lists(
        st.tuples(st.integers(0, 3), st.sampled_from([1, 2, 3]), st.sampled_from([-5, 10, 20])), max_size=20
    ),
    done=st.lists(st.tuples(st.integers(0, 3), st.sampled_from([10, 20, 30])), max_size=4),
)
def test_decisions_are_counted_for_everybody_who_worked_on_a_text(tmp_path_factory, coded, done):
    below = {1: [1, 2], 2: [2], 3: [3]}
    rows = [(text + 1, code, coder, at, at + 1) for at, (text, code, coder) in enumerate(coded)]
    passages = passages_of(rows) if rows else Passages.of(
        {name: np.empty(0, np.int64) for name in ("id", "text_id", "code_id", "start", "end", "made_by", "strength")}
    )  # fmt: skip
    index = TokenIndex(
        [build_segment(tmp_path_factory.mktemp("i") / "a", [1, 2, 3, 4], ["a", "b", "c", "d"])]
    )
    worked = tuple(np.array([one[at] for one in done], np.int64) for at in (0, 1))
    found = decision_rows(index, passages, passages.text_id - 1, worked, below)
    expected = {}
    people = {(text, coder) for text, _, coder in coded if coder > 0} | set(done)
    for text, coder in people:
        for code, under in below.items():
            expected[text, coder, code] = sum(
                one[0] == text and one[2] == coder and one[1] in under for one in coded
            )
    keys = zip(found.text.tolist(), found.own["coder"].tolist(), found.own["code"].tolist(), strict=True)
    assert dict(zip(keys, found.own["passages"].tolist(), strict=True)) == expected
    assert found.own["coded"].tolist() == [int(one > 0) for one in found.own["passages"].tolist()]


@given(
    places=st.lists(st.tuples(st.integers(0, 12), st.integers(1, 4)), max_size=10),
    stretch=st.tuples(st.integers(0, 16), st.integers(0, 6)),
)
def test_hits_that_touch_a_stretch(places, stretch, tmp_path_factory):
    index = TokenIndex(
        [build_segment(tmp_path_factory.mktemp("i") / "a", [1], [" ".join("abcdefghijklmnopqrst")])]
    )
    start, length = (np.array([one[at] for one in places], np.int64) for at in (0, 1))
    located = Located.of(Places(np.zeros(len(places), np.int64), start, length), index)
    low, high = stretch[0], stretch[0] + stretch[1]
    expected = sum(one < high and one + many > low for one, many in places) if high > low else 0
    assert located.within(np.array([low]), np.array([high])).tolist() == [expected]


@given(
    places=st.lists(st.tuples(st.integers(0, 3), st.integers(0, 5), st.integers(0, 5)), max_size=8),
    stretch=st.tuples(st.integers(0, 9), st.integers(0, 9)),
)
def test_words_that_lie_in_a_place_are_counted_once(places, stretch, tmp_path_factory):
    texts = [["One - two 🐾. Three."], ["Five. Six seven.", "", "Eight"]]
    folder = tmp_path_factory.mktemp("covered")
    index = TokenIndex(
        [build_segment(folder / str(at), range(len(part)), part) for at, part in enumerate(texts)]
    )
    tokens = [
        (at, token, segment.vocabulary["is_word"][int(segment.codes[token])])
        for at, segment in enumerate(index.segments)
        for token in range(segment.n_tokens)
    ]
    kept = []
    for text, low, size in places:
        at = 0 if text == 0 else 1
        segment = index.segments[at]
        local = text - int(index.base[at])
        begin, end = int(segment.text_start[local]), int(segment.text_start[local + 1])
        start = min(begin + low, end)
        kept.append((text, start, min(size, end - start)))
    found = covered_words(
        Places(*(np.array(side, np.int64) for side in zip(*kept, strict=True)))
        if kept
        else Places.joined([]),
        index,
    )
    inside = {
        (0 if text == 0 else 1, token) for text, start, size in kept for token in range(start, start + size)
    }
    expected = [
        place for place, (at, token, is_word) in enumerate(tokens) if is_word and (at, token) in inside
    ]
    assert found.tolist() == expected
    low, high = min(stretch), max(stretch)
    within = Located(found, found + 1).within(np.array([low]), np.array([high]))
    assert within.tolist() == [sum(low <= place < high for place in expected)]


def test_values_of_every_kind_with_what_is_missing():
    text = np.array([2, 0, 1])
    source = CategoryColumn(np.array([1, -1, 0], np.int32), ("Hill Farmer", "Valley Wire"))
    assert values_at(source, text).to_list() == ["Hill Farmer", "Valley Wire", None]
    tags = SeveralColumn(np.array([0, 2, 2, 3]), np.array([1, 0, 1], np.int32), ("coast", "north"))
    assert values_at(tags, text).to_list() == ["north", "north; coast", None]
    assert values_at(NumberColumn(np.array([1.0, np.nan, 3.0])), text).to_list() == [3, 1, None]
    assert values_at(NumberColumn(np.array([1.5, np.nan, 3.0])), text).dtype == pl.Float64
    days = DateColumn(np.array([NO_DATE, 0, 31], np.int32))
    assert [str(day) for day in values_at(days, text)] == ["1970-02-01", "None", "1970-01-01"]


def test_a_column_says_what_it_is(index):
    column = CategoryColumn(np.array([0, 0, 1, -1], np.int32), ("a", "b"))
    columns = Columns(np.arange(1, 5), {"v1": column}, {"v1": "Région"})
    made = field_column(
        Names().of("Région"), describe_fields(columns)[0], column, text_rows(index, np.ones(4, bool))
    )
    assert (made.about.name, made.about.label, made.about.kind, made.about.values) == (
        "region",
        "Région",
        "category",
        "a, b",
    )
    assert made.make(slice(1, 4)).to_list() == ["a", "b", None]


@given(st.lists(st.text(max_size=70), max_size=12))
def test_names_are_ones_any_program_takes_and_no_two_are_alike(labels):
    names = Names()
    found = [names.of(label) for label in labels]
    assert len(set(found)) == len(found)
    assert all(
        name.isascii() and name.replace("_", "a").isalnum() and not name[0].isdigit() for name in found
    )


def test_requests_have_one_plain_form():
    plain = request_to_plain(DataRequest("sentence", ("source",), tone=0))
    read = TypeAdapter(DataRequest).validate_python
    assert read(plain) == DataRequest("sentence", ("source",), tone=0)
    with pytest.raises(ValidationError, match="rows"):
        read(plain | {"rows": "word"})


@given(
    sizes=st.lists(st.integers(1, 4), min_size=1, max_size=6),
    values=st.lists(st.floats(-1, 1), min_size=6, max_size=6),
    stretch=st.tuples(st.integers(0, 20), st.integers(0, 8)),
)
def test_the_mean_of_what_a_stretch_touches(sizes, values, stretch):
    start, end = np.cumsum([0, *sizes[:-1]]), np.cumsum(sizes)
    low = min(stretch[0], int(end[-1]) - 1)
    high = min(low + stretch[1], int(end[-1]))
    touched = [v for v, a, b in zip(values, start, end, strict=False) if a < high and b > low]
    (found,) = mean_touching(np.array(values[: len(sizes)]), start, np.array([low]), np.array([high]))
    assert np.isnan(found) if high == low else found == pytest.approx(np.mean(touched), abs=1e-12)
