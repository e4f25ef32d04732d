"""Stretches keep to their words when a text is corrected."""

import re

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from winnower.core.coding import Moves, anchor

words = st.sampled_from(["lamb", "ewe", "deer", "🐾", "café", "the", "a"])
texts = st.lists(words, min_size=1, max_size=14).map(" ".join)


@pytest.mark.parametrize(
    ("before", "after", "stretch", "words"),
    [
        ("The lamb fell.", "At last the lamb fell.", "lamb fell", "lamb fell"),
        ("The lamb fell.", "The old lamb fell down.", "lamb", "lamb"),
        ("The lamb fell here.", "The ewe fell here.", "lamb fell", "fell"),
        ("The lamb fell.", "The deer ran.", "lamb", None),
        ("one two three", "one two three", "two", "two"),
        ("lamb lamb lamb", "lamb", "lamb lamb lamb", "lamb"),
        ("The lambs fell.", "The lamb fell.", "lambs", None),
        ("😀 The lamb.", "😀😀 The lamb.", "lamb", "lamb"),
    ],
)
def test_stretches_move_with_their_words(before, after, stretch, words):
    start = before.index(stretch)
    moved = Moves(before, after).stretch(start, start + len(stretch))
    assert (moved and after[moved[0] : moved[1]]) == words


@given(texts, texts, texts, texts)
def test_words_on_both_sides_of_a_change_are_kept(head, old, new, tail):
    before, after = f"{head} | {old} | {tail}", f"{head} | {new} | {tail}"
    moves = Moves(before, after)
    low, high = moves.stretch(0, len(head))
    assert after[low:high] == head
    start = len(before) - len(tail)
    low, high = moves.stretch(start, len(before))
    assert after[low:high] == tail


@given(texts, texts, st.data())
def test_a_moved_stretch_lies_in_the_text_and_shares_words(before, after, data):
    start = data.draw(st.integers(0, len(before) - 1))
    end = data.draw(st.integers(start + 1, len(before)))
    moved = Moves(before, after).stretch(start, end)
    if moved is not None:
        low, high = moved
        assert 0 <= low < high <= len(after)
        # a stretch may begin and end within words: those it touches are looked at whole
        while low and not after[low - 1].isspace():
            low -= 1
        while high < len(after) and not after[high].isspace():
            high += 1
        touched, were = (set(re.findall(r"\w+", part)) for part in (after[low:high], before))
        assert touched & were or after[low:high] in before


@given(texts, st.integers(0, 60))
def test_nothing_moves_where_nothing_changed(text, at):
    assume(at <= len(text))
    moves = Moves(text, text)
    assert moves.point(at) == at
    assert moves.first_change() == (len(text), len(text), len(text))


@given(texts, texts)
def test_points_stay_in_order_and_inside(before, after):
    moves = Moves(before, after)
    points = [moves.point(at) for at in range(len(before) + 1)]
    assert points == sorted(points)
    assert points[0] >= 0 and points[-1] <= len(after)


def test_a_very_long_change_is_taken_as_a_whole(monkeypatch):
    monkeypatch.setattr(anchor, "MOST_PIECES", 3)
    before, after = "head one two three tail", "head four five six tail"
    moves = Moves(before, after)
    assert moves.stretch(5, 18) is None
    assert moves.stretch(19, 23) == (19, 23)


def test_the_first_change_names_what_went_and_what_came():
    before, after = "The lamb fell at dusk.", "The ewe fell at dawn."
    low, high_before, high_after = Moves(before, after).first_change()
    assert (before[low:high_before], after[low:high_after]) == ("lamb", "ewe")
