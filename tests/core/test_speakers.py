"""Who speaks: turns that lines begin, names that are spellings of one another, lines that are fields."""

import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.errors import WinnowerError
from winnower.core.runs.speakers import checked, joined, names_in, turns_in_lines

TALK = (
    "Age: 34\n\nInterviewer: How did it begin?\nUna: With a ewe.\nIt was in April. 🐾\n\n"
    "Interveiwer: And then?\nUna (00:12:30): Then nothing: we waited.\n@bram: I was there.\nInterviewer: Thank you."
)


def turns(body, pattern="", text_id=1):
    return turns_in_lines(pl.DataFrame({"text_id": [text_id], "body": [body]}), checked(pattern))


def said(body, pattern=""):
    return [
        (label, body[start:end])
        for label, start, end in turns(body, pattern).select("label", "start", "end").iter_rows()
    ]


def test_turns_reach_from_behind_the_name_to_the_next():
    assert said(TALK) == [
        ("Age", "34"),
        ("Interviewer", "How did it begin?"),
        ("Una", "With a ewe.\nIt was in April. 🐾"),
        ("Interveiwer", "And then?"),
        ("Una", "Then nothing: we waited."),
        ("bram", "I was there."),
        ("Interviewer", "Thank you."),
    ]


def test_an_own_expression_says_where_the_name_stands():
    assert said("Ann> I think so\nBo> No", r"^(\w+)> ") == [("Ann", "I think so"), ("Bo", "No")]
    assert said("Ann> I think so", r"(\w+)> ") == [("Ann", "I think so")]


@pytest.mark.parametrize(
    "pattern, words",
    [
        ("(", "cannot be read"),
        (r"^\w+:", "round brackets"),
        (r"^(\w+)(:)", "round brackets"),
        (r"^(\w*)", "without anything"),
        (r"^(?=a)(b)", "cannot be read"),
        ("^(a)" * 100, "at most 300"),
    ],
)
def test_expressions_that_cannot_be_used_say_why(pattern, words):
    with pytest.raises(WinnowerError, match=words):
        checked(pattern)


def test_an_expression_that_would_go_back_and_forth_without_end_is_matched_at_once():
    assert said("a" * 50_000 + "!", r"^((?:a+)+)b") == []


def test_names_are_counted_and_fields_and_spellings_told_apart():
    found = {one.name: one for one in names_in(turns(TALK))}
    assert (found["Una"].turns, found["Una"].texts, found["Una"].field) == (2, 1, False)
    assert found["Age"].field
    assert (found["Interviewer"].like, found["Interveiwer"].like) == (None, "Interviewer")
    numbered = names_in(turns("B1: yes, of course it was so\nB2: no\nB1: well\nB2: I do not know about that"))
    assert {one.like for one in numbered} == {None}


def test_names_are_joined_and_others_left_out():
    found = joined(turns(TALK), [("Interviewer", "Moderator"), ("Interveiwer", "Moderator")])
    assert found["label"].to_list() == ["Moderator"] * 3


@given(
    st.lists(
        st.tuples(
            st.sampled_from(["Una", "Bram", "@lynx"]), st.text(st.sampled_from("ab é🐾.\n"), max_size=30)
        ),
        max_size=8,
    )
)
def test_turns_never_overlap_and_lie_in_the_text(parts):
    body = "\n".join(f"{name}: {words}" for name, words in parts)
    found = turns(body)
    assert len(found) == len(parts)
    ends = 0
    for label, start, end in found.select("label", "start", "end").iter_rows():
        assert ends <= start <= end <= len(body)
        assert body[:start].rstrip().endswith(f"{label}:")
        ends = end
