"""Taking some texts of a segment gives what building those texts alone gives."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from winnower.core.index import TokenIndex, build_segment, merge_segments, take_texts
from winnower.core.index.segment import ARRAYS
from winnower.core.pattern import find_term, parse_term

TEXTS = [
    "The lamb and the Lamb.",
    "",
    "Deer. Birch grows!\n\nA wood.",
    "lamb’s wool, lamb's wool",
    "日本 #lynx 🐾",
    "Ewes.",
]


def same(one, other):
    for name in ARRAYS:
        assert np.array_equal(getattr(one, name), getattr(other, name)), name
    assert one.vocabulary.equals(other.vocabulary)


@given(st.lists(st.sampled_from(TEXTS), min_size=1, max_size=9), st.data())
@settings(max_examples=40, deadline=None)
def test_taking_equals_building_those_alone(tmp_path_factory, texts, data):
    folder = tmp_path_factory.mktemp("take")
    keep = sorted(data.draw(st.sets(st.integers(0, len(texts) - 1))))
    whole = build_segment(folder / "whole", range(100, 100 + len(texts)), texts)
    taken = take_texts(folder / "taken", whole, np.asarray(keep, np.int64))
    same(taken, build_segment(folder / "alone", [100 + at for at in keep], [texts[at] for at in keep]))


@given(st.lists(st.sampled_from(TEXTS), min_size=1, max_size=6), st.integers(0, 5), st.sampled_from(TEXTS))
@settings(max_examples=25, deadline=None)
def test_a_replaced_text_is_found_by_its_new_words_only(tmp_path_factory, texts, at, new):
    folder = tmp_path_factory.mktemp("replace")
    at = min(at, len(texts) - 1)
    whole = build_segment(folder / "whole", range(len(texts)), texts)
    others = [place for place in range(len(texts)) if place != at]
    parts = [build_segment(folder / "new", [at], [new])]
    if others:
        parts.insert(0, take_texts(folder / "kept", whole, np.asarray(others)))
    made = merge_segments(folder / "made", parts) if len(parts) > 1 else parts[0]
    order = [*others, at]
    bodies = [new if place == at else texts[place] for place in order]
    same(made, build_segment(folder / "again", order, bodies))


@pytest.mark.parametrize("word", ["lamb", "birch", "#lynx", "wool"])
def test_nothing_taken_finds_nothing(tmp_path, word):
    whole = build_segment(tmp_path / "w", range(len(TEXTS)), TEXTS)
    none = take_texts(tmp_path / "n", whole, np.empty(0, np.int64))
    assert none.n_texts == none.n_tokens == none.n_forms == 0
    assert not len(find_term(parse_term(word), none).start)
    assert TokenIndex([none, whole]).n_texts == len(TEXTS)
