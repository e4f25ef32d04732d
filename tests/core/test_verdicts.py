"""Verdicts by several people, brought together and held against the hits there are now."""

from collections import defaultdict

import numpy as np
import polars as pl
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_words import made
from winnower.core.pattern import parse_term
from winnower.core.places import find_hits
from winnower.core.review.verdicts import (
    PLACE,
    SHOWS,
    agreed,
    judged_hits,
    places_in_texts,
    right_hits,
    said_by,
    shown,
    standing,
    standing_texts,
    texts_without,
)

SCHEMA = {"text_id": pl.Int64, "start": pl.Int32, "end": pl.Int32, "verdict": pl.Int8, "made_by": pl.Int64}
MANY = ["the flock and the lambs", "a flock is a flock", "flocks of lambs", "no sheep here"]
verdict_rows = st.lists(
    st.tuples(st.integers(1, 3), st.integers(0, 2), st.integers(0, 1), st.integers(1, 4)), max_size=14
).map(lambda rows: [(text, start, start + 3, said, by) for text, start, said, by in rows])


@given(verdict_rows)
@settings(max_examples=80)
def test_most_people_decide_and_an_even_vote_does_not_fit(rows):
    said = defaultdict(list)
    for text, start, end, verdict, _ in rows:
        said[text, start, end].append(verdict)
    found = agreed(pl.DataFrame(rows, schema=SCHEMA, orient="row"))
    assert {tuple(row[:3]): row[3:] for row in found.rows()} == {
        place: (int(sum(v) * 2 > len(v)), len(v), len(set(v)) > 1) for place, v in said.items()
    }
    assert [row[:3] for row in found.rows()] == list(said)  # in the order of the first verdict on each


def hits_of(tmp_path, source):
    index, columns, _ = made(tmp_path, MANY)
    return index, find_hits([parse_term(source)], index, columns, np.ones(len(MANY), bool), "text")


def test_places_are_those_of_the_text(tmp_path):
    index, hits = hits_of(tmp_path, "flock*")
    by_id = dict(zip(index.text_id.tolist(), MANY, strict=True))
    words = [by_id[text][start:end] for text, start, end in places_in_texts(hits, index).rows()]
    assert words == ["flock", "flock", "flock", "flocks"]


def test_only_the_very_same_words_stand(tmp_path):
    index, hits = hits_of(tmp_path, "flock*")
    places = places_in_texts(hits, index).rows()
    text, start, end = places[0]
    rows = [
        (*places[0], 1, 1),
        (*places[1], 0, 1),
        (text, start, end + 1, 1, 1),  # other words
        (text, 0, 3, 1, 2),  # words that are no hit
        (99, 0, 5, 1, 1),  # a text that is gone
    ]
    frame = pl.DataFrame(rows, schema=SCHEMA, orient="row")
    found = standing(frame, hits, index)
    assert found["stands"].to_list() == [True, True, False, False, False]
    assert judged_hits(hits, index, frame).tolist() == [1, 0, -1, -1]
    assert right_hits(hits, index, frame).hits == 1
    # what stands is what is counted, whichever way it is asked
    counted = judged_hits(hits, index, frame)
    assert found.filter("stands")["verdict"].sum() == int((counted == 1).sum())


def test_texts_judged_as_a_whole_stand_while_they_have_no_hit(tmp_path):
    index, hits = hits_of(tmp_path, "lambs")
    mask = np.array([True, True, True, False])
    without = texts_without(hits, index, mask)
    assert without.tolist() == [False, True, False, False]
    assert texts_without(None, index, mask).tolist() == mask.tolist()
    ids = index.text_id.tolist()
    rows = [(ids[1], -1, -1, 1, 1), (ids[0], -1, -1, 0, 1), (ids[3], -1, -1, 0, 2), (99, -1, -1, 1, 2)]
    found = standing_texts(pl.DataFrame(rows, schema=SCHEMA, orient="row"), without, index)
    assert found["stands"].to_list() == [True, False, False, False]


@given(verdict_rows, st.data())
@settings(max_examples=60)
def test_what_is_shown_and_what_one_person_said(rows, data):
    frame = pl.DataFrame(rows, schema=SCHEMA, orient="row")
    places = agreed(frame)
    stands = data.draw(st.lists(st.booleans(), min_size=len(places), max_size=len(places)))
    places = places.with_columns(stands=pl.Series(stands, dtype=pl.Boolean))
    sizes = {show: len(shown(places, show)) for show in SHOWS}
    assert sizes["all"] == sizes["right"] + sizes["wrong"] == sum(stands)
    assert sizes["all"] + sizes["idle"] == len(places) and sizes["differ"] <= sizes["all"]
    own = said_by(places, frame, 2)
    expected = defaultdict(list)
    for text, start, end, verdict, by in rows:
        if by == 2:
            expected[text, start, end].append(verdict)
    assert {row[:3]: row[3] for row in own.select(*PLACE, "verdict").rows()} == {
        place: int(sum(said) * 2 > len(said)) for place, said in expected.items()
    }


def test_without_verdicts_or_hits_nothing_is_judged(tmp_path):
    index, hits = hits_of(tmp_path, "flock*")
    _, none = hits_of(tmp_path / "other", "unicorn")
    empty = pl.DataFrame(schema=SCHEMA)
    assert judged_hits(hits, index, empty).tolist() == [-1] * 4
    assert len(standing(empty, hits, index)) == 0
    frame = pl.DataFrame([(1, 0, 3, 1, 1)], schema=SCHEMA, orient="row")
    assert standing(frame, none, index)["stands"].to_list() == [False]
    assert judged_hits(none, index, frame).tolist() == []
