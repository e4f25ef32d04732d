"""Who speaks: turns that lines begin, names that are spellings of one another, lines that are fields."""

import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.errors import WinnowerError
from winnower.core.runs.speakers import checked, joined, names_in, turns_in_lines
from winnower.jobs.preview import first_look
from winnower.settings import load_settings

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


def interview(head):
    return f"{head}\n\nInterviewer: When did you hear of it?\n\nAnna: It was in the spring, when the ewes were out.\n\nInterviewer: And then?\n\nAnna: Nothing came of it, and the board was silent for a year.\n"


def looked(tmp_path, heads):
    paths = []
    for number, head in enumerate(heads):
        path = tmp_path / f"{number}.txt"
        path.write_text(interview(head))
        paths.append((path.name, path))
    (one,) = first_look(paths, load_settings()).lots
    return one


def test_a_numbered_heading_is_no_variable_and_stays_in_its_text(tmp_path):
    one = looked(tmp_path, [f"Interview {n}: Anna Kessler" for n in range(1, 7)])
    assert one.samples.values == {}
    assert all(body.startswith("Interview ") for body in one.samples.body)
    assert len(one.cut.head_fields) == 6 and one.choice.head_fields == []


def test_lines_that_come_again_over_texts_are_variables_and_others_stay(tmp_path):
    one = looked(tmp_path, [f"Age: {n}\nTape {n}: clean" for n in range(30, 34)])
    assert list(one.samples.values) == ["Age"]
    assert one.samples.body[0].startswith("Tape 30: clean")
    assert dict(one.cut.head_fields)["Age"] == 4
