import shutil

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from winnower.core.errors import IndexDamaged
from winnower.core.index import Segment, TokenIndex, build_segment, merge_segments
from winnower.core.index.build import invert

TEXTS = ["The lamb and the Lamb.", "", "Deer. Birch grows!", "lamb’s wool, lamb's wool", "日本 #lynx 🐾"]


@given(st.lists(st.integers(0, 6), max_size=40))
def test_inversion_lists_every_position_once_by_form(codes):
    order, start = invert(np.array(codes, np.int32), 7)
    assert sorted(order.tolist()) == list(range(len(codes)))
    for form in range(7):
        places = order[start[form] : start[form + 1]]
        assert [codes[p] for p in places] == [form] * len(places)
        assert (np.diff(places) > 0).all()


def test_words_leave_out_signs_without_letters(tmp_path):
    segment = build_segment(tmp_path / "s", range(5), TEXTS)
    assert segment.words.tolist() == [5, 0, 3, 4, 2]


@given(st.lists(st.sampled_from(TEXTS), min_size=2, max_size=8), st.integers(1, 7))
@settings(max_examples=25, deadline=None)
def test_merged_parts_equal_one_build(tmp_path_factory, texts, at):
    folder = tmp_path_factory.mktemp("merge")
    at = min(at, len(texts) - 1)
    parts = [
        build_segment(folder / "a", range(at), texts[:at]),
        build_segment(folder / "b", range(at, len(texts)), texts[at:]),
    ]
    merged = merge_segments(folder / "m", parts)
    whole = build_segment(folder / "w", range(len(texts)), texts)
    for name in (
        "text_id",
        "text_start",
        "codes",
        "char_start",
        "sentence_start",
        "paragraph_start",
        "order",
        "form_start",
        "words",
    ):
        assert np.array_equal(getattr(merged, name), getattr(whole, name)), name
    assert merged.vocabulary.equals(whole.vocabulary)


def test_texts_are_numbered_through_segments(tmp_path):
    index = TokenIndex(
        [build_segment(tmp_path / "a", [10, 11], TEXTS[:2]), build_segment(tmp_path / "b", [12], TEXTS[2:3])]
    )
    segment, local = index.locate(2)
    assert (segment.folder.name, local) == ("b", 0)
    assert index.text_id.tolist() == [10, 11, 12]
    assert index.words.tolist() == [5, 0, 3]


def test_a_damaged_part_says_so(tmp_path):
    segment = build_segment(tmp_path / "a", [1], ["x"])
    (segment.folder / "codes.npy").write_bytes(b"rubbish")
    with pytest.raises(IndexDamaged, match="cannot be read"):
        Segment(segment.folder)
    (segment.folder / "segment.json").write_text("{")
    with pytest.raises(IndexDamaged):
        Segment(segment.folder)


def test_an_open_segment_outlives_its_folder(tmp_path):
    segment = build_segment(tmp_path / "a", [1], ["lamb and ewe"])
    shutil.rmtree(segment.folder)
    assert [segment.vocabulary["surface"][int(code)] for code in segment.codes] == ["lamb", "and", "ewe"]


def test_an_empty_corpus_can_be_opened(tmp_path):
    assert TokenIndex([]).n_texts == 0
    assert build_segment(tmp_path / "e", [1], [""]).n_tokens == 0
