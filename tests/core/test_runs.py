"""What runs find: beside a plain way that goes through the words, and how they keep in step."""

import re
import tempfile
from pathlib import Path

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_words import made
from winnower.core.errors import WinnowerError
from winnower.core.index import TokenIndex, build_segment
from winnower.core.pattern import parse_term
from winnower.core.places import Places
from winnower.core.places.units import units_of
from winnower.core.runs import (
    BySearch,
    Recipe,
    Target,
    find_terms,
    in_step,
    recipe_from_plain,
    recipe_to_plain,
)
from winnower.core.runs.review import queue, tally, with_verdicts
from winnower.core.runs.signs import with_signs
from winnower.core.runs.stretches import find_stretches, until_next

WORDS = ["lamb", "ewe", "deer", "the", "price"]
sentences = st.lists(st.lists(st.sampled_from(WORDS), min_size=1, max_size=6), min_size=1, max_size=4)
bodies = st.lists(sentences, min_size=1, max_size=4)
LIVELIHOOD = Target("Livelihood", (parse_term("lamb"), parse_term("the ewe"), parse_term("price")), (0, 1, 2))


def written(text):
    return " ".join(" ".join(words).capitalize() + "." for words in text)


@given(many=bodies)
@settings(max_examples=60)
def test_each_sentence_with_a_hit_is_found_once_with_its_first_reason(tmp_path_factory, many):
    texts = [written(text) for text in many]
    index, _, _ = made(tmp_path_factory.mktemp("runs"), texts)
    found = find_terms([LIVELIHOOD], index, np.ones(len(texts), bool), "sentence").in_texts(index)
    ids = index.text_id.tolist()
    wanted = []
    for number, body in enumerate(texts):
        for sentence in re.finditer(r"[^.]+\.", body):
            words = sentence[0].rstrip(".").lower()
            hits = [one for one in re.finditer(r"\b(?:the ewe|lamb|price)\b", words)]
            if hits:
                start = sentence.start() + len(sentence[0]) - len(sentence[0].lstrip())
                reason = {"lamb": 0, "the ewe": 1, "price": 2}[hits[0][0]]
                wanted.append((ids[number], start, sentence.end() - 1, reason, len(hits)))
    rows = list(found.select("text_id", "start", "end", "reason", "hits").iter_rows())
    assert sorted(rows) == sorted(wanted)
    for text_id, low, high in found.select("text_id", "mark_start", "mark_end").iter_rows():
        assert texts[ids.index(text_id)][low:high].lower() in ("lamb", "the ewe", "price")


@given(many=bodies, around=st.integers(1, 4))
@settings(max_examples=60)
def test_windows_that_overlap_are_one_and_stay_in_their_text(tmp_path_factory, many, around):
    texts = [written(text) for text in many]
    index, _, _ = made(tmp_path_factory.mktemp("runs"), texts)
    found = find_terms([LIVELIHOOD], index, np.ones(len(texts), bool), "words", around)
    covered = {segment: np.zeros(segment.n_tokens, int) for segment in index.segments}
    for start, end, text in zip(found.start, found.end, found.text, strict=True):
        segment, local = index.locate(int(text))
        covered[segment][start:end] += 1
        assert segment.text_start[local] <= start < end <= segment.text_start[local + 1]
    assert all(counts.max(initial=0) <= 1 for counts in covered.values())
    hits = find_terms([LIVELIHOOD], index, np.ones(len(texts), bool), "hit")
    for start, text in zip(hits.start, hits.text, strict=True):
        assert covered[index.locate(int(text))[0]][start]
    assert found.hits.sum() == len(hits)


def test_a_hit_over_a_border_takes_both_sides_and_other_texts_are_left_out(tmp_path):
    index = TokenIndex([build_segment(tmp_path / "a", [1, 2], ["Old ewe\n\nLamb goes. Deer.", "A lamb."])])
    across = Target("across", (parse_term("ewe near:3 lamb"),), (0,))
    mask = np.array([True, False])
    whole = find_terms([across], index, mask, "text").in_texts(index)
    assert whole.select("text_id", "start").rows() in ([], [(1, 0)])
    two = [Target("lamb", (parse_term("lamb"),), (0,)), Target("deer", (parse_term("deer"),), (1,))]
    found = find_terms(two, index, mask, "paragraph")
    assert (found.target.tolist(), found.text.tolist()) == ([0, 1], [0, 0])
    assert found.counts(2, np.array([0, 1]), 2).tolist() == [[1, 0], [1, 0]]
    assert len(find_terms(two, index, ~mask & False, "paragraph")) == 0


def rows(*places, ids=None):
    frame = pl.DataFrame(
        list(places),
        schema={"text_id": pl.Int64, "target": pl.Int32, "start": pl.Int32, "end": pl.Int32},
        orient="row",
    )
    return frame if ids is None else frame.with_columns(id=pl.Series(ids, dtype=pl.Int64))


places = st.sets(
    st.tuples(st.integers(1, 3), st.integers(0, 1), st.integers(0, 3), st.integers(4, 5)), max_size=12
)


@given(before=places, now=places, judged=places)
def test_only_what_differs_and_nobody_judged_is_changed(before, now, judged):
    stored = sorted(before)
    change = in_step(rows(*stored, ids=range(len(stored))), rows(*sorted(now)), rows(*sorted(judged)))
    gone = {stored[one] for one in change.removed.to_list()}
    assert set(change.added.rows()) == now - before
    assert gone == before - now - judged
    assert change.same == len(before & now)
    assert change.held == len((before - now) & judged)


def test_verdicts_stand_at_their_words_and_most_voices_decide():
    there = rows((1, 0, 0, 4), (1, 1, 0, 4), (2, 0, 0, 5), ids=[5, 6, 7]).with_columns(
        hits=pl.Series([1, 3, 2]), score=pl.Series([0, 0, 0])
    )
    said = pl.DataFrame(
        [(0, 1, 0, 4, 1, 1), (0, 1, 0, 4, 1, 2), (0, 1, 0, 4, 0, 3), (0, 2, 0, 5, 0, 1), (0, 2, 0, 5, 1, 2)],
        schema={
            "target": pl.Int32, "text_id": pl.Int64, "start": pl.Int32, "end": pl.Int32,
            "verdict": pl.Int8, "made_by": pl.Int64,
        },
        orient="row",
    )  # fmt: skip
    judged = with_verdicts(there, said)
    assert judged["said"].to_list() == [1, -1, 0]
    assert judged["differ"].to_list() == [True, False, True]
    found = tally(judged, np.array([0, 0, 0]))
    assert (found.places, found.texts, found.right, found.wrong, found.differ) == (3, 2, 1, 1, 2)
    assert queue(judged, "open", "text", 1).tolist() == [1]
    assert queue(judged, "all", "score", 1).tolist() == [1, 2, 0]
    # the order by chance does not depend on what was judged
    fresh = with_verdicts(there, said.clear())
    assert queue(judged, "all", "chance", 4).tolist() == queue(fresh, "open", "chance", 4).tolist()


def test_signs_belong_to_their_words():
    body = "Now: “We lost (all) forty,” she said… Then—nothing."
    low, high = body.index("We"), body.index(",”")
    assert body[slice(*with_signs(body, low, high))] == "“We lost (all) forty,”"
    assert body[slice(*with_signs(body, body.index("Now"), 3))] == "Now:"
    assert body[slice(*with_signs(body, body.index("nothing"), len(body) - 1))] == "nothing."


def test_labelled_stretches_become_what_is_found(tmp_path):
    index = TokenIndex([build_segment(tmp_path / "a", [1, 2], ["One two. Three.", "Four five"])])
    begins = pl.DataFrame(
        {
            "text_id": [1, 1, 2],
            "label": ["A", "B", "A"],
            "start": [0, 9, 5],
            "level": 0,
            "length": [15, 15, 9],
        }
    )
    ends = until_next(begins)
    assert ends["end"].to_list() == [9, 15, 9]
    found = find_stretches(ends, np.array([0, 0, 1]), ["A"], index).in_texts(index)
    assert found.select("text_id", "start", "end").rows() == [(1, 0, 7), (2, 5, 9)]


@given(st.lists(st.tuples(st.integers(1, 2), st.integers(0, 3)), max_size=12), st.integers(1, 3))
def test_what_stands_under_lower_headings_belongs_to_a_level(headings, level):
    """Each paragraph belongs to the last heading of the level that no higher one has ended; looked for one by one."""
    begins = pl.DataFrame(
        [(text, str(at), at, own, len(headings)) for at, (text, own) in enumerate(headings)],
        schema=["text_id", "label", "start", "level", "length"],
        orient="row",
        schema_overrides={"label": pl.String},
    ).cast({"text_id": pl.Int64, "start": pl.Int64, "level": pl.Int64, "length": pl.Int64})
    found = {
        (text, at): label
        for text, label, start, end in until_next(begins, level)
        .select("text_id", "label", "start", "end")
        .rows()
        for at in range(start, end)
    }
    expected = {}
    for text in (1, 2):
        under = None
        for at in range(len(headings)):
            of, own = headings[at]
            if of == text and own:
                under = str(at) if own == level else under if own > level else None
            if under is not None:
                expected[text, at] = under
    assert found == expected


def test_units_touched_over_segments(tmp_path):
    parts = [
        build_segment(tmp_path / "a", [1], ["One two. Three.\n\nFour."]),
        build_segment(tmp_path / "b", [2], ["Five. Six."]),
    ]
    index = TokenIndex(parts)
    units = units_of(index, "sentence")
    assert units.text.tolist() == [0, 0, 0, 1, 1]
    touched = units.touched(Places(np.array([0, 1]), np.array([1, 1]), np.array([2, 1])), index)
    assert touched.tolist() == [True, True, False, False, True]
    assert units.places(np.array([4]), index).start.tolist() == [1]
    assert len(units_of(index, "paragraph")) == 3 and len(units_of(index, "text")) == 2


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.lists(st.integers(1, 6), max_size=7), min_size=1, max_size=6),
    st.randoms(use_true_random=False),
)
def test_the_sentence_of_each_place_is_the_one_its_tokens_are_in(texts, chance):
    """Texts as numbers of words in their sentences, some of them empty."""
    bodies = [" ".join(" ".join(["Word"] * size) + "." for size in text) for text in texts]
    with tempfile.TemporaryDirectory() as folder:
        cut = len(bodies) // 2
        parts = [part for part in (bodies[:cut], bodies[cut:]) if part]
        first = iter(range(1, len(bodies) + 1))
        segments = [
            build_segment(Path(folder) / str(at), [next(first) for _ in part], part)
            for at, part in enumerate(parts)
        ]
        index = TokenIndex(segments)
        units = units_of(index, "sentence")
        # tokens of a place are counted from the first of its segment
        places = [
            (
                number,
                sum(map(sum, texts[0 if number < cut else cut : number])) + at,
                chance.randint(1, size - at),
            )
            for number, size in enumerate(map(sum, texts))
            for at in range(size)
        ]
        chance.shuffle(places)
        text, start, length = np.array(places, np.int64).reshape(-1, 3).T
        low, high = units.spans(Places(text, start, length), index)
    begun = start + np.where(text < cut, 0, sum(map(sum, texts[:cut])))
    assert low.tolist() == (np.searchsorted(units.start, begun, "right") - 1).tolist()
    assert high.tolist() == np.searchsorted(units.start, begun + length - 1, "right").tolist()
    assert units.text[low].tolist() == text.tolist()


def test_recipes_survive_their_plain_form_and_say_what_does_not_fit():
    recipe = Recipe(BySearch("lamb AND price"), "words", 5)
    assert recipe_from_plain(recipe_to_plain(recipe)) == recipe
    with pytest.raises(WinnowerError, match="around"):
        recipe_from_plain({**recipe_to_plain(recipe), "around": 9_999})
    with pytest.raises(WinnowerError, match="finder"):
        recipe_from_plain({"finder": {"kind": "guess"}})
