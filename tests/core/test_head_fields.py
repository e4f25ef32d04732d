"""Lines at the top of a text that say what it is."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.jobs.documents import cut_all
from winnower.jobs.preview import first_look
from winnower.readers.cutting import Cut
from winnower.readers.document import Document, Place
from winnower.readers.head_fields import head_lines, with_head_fields
from winnower.settings import load_settings

HEAD = "Source: Orrin Courier\nDate: 3 March 2031\nSection: Farming\nWord count: 20"
BODY = "The council met on Tuesday to speak of the lynx.\n\nNobody had seen it."
TALK = "Interviewer: When did you hear?\n\nAnna: In the spring.\n\nInterviewer: And then?\n\nAnna: Nothing came of it."


def test_a_block_at_the_top_says_source_date_section_and_variables():
    read = with_head_fields(Document(f"{HEAD}\n\n{BODY}"), None)
    assert (read.body, read.date) == (BODY, "3 March 2031")
    assert dict(read.fields) == {"Source": "Orrin Courier", "Section": "Farming", "Word count": "20"}


@pytest.mark.parametrize(
    "text", [f"A letter on fences\n{HEAD}\n\n{BODY}", f"{HEAD}\n\nA letter on fences\n\n{BODY}"]
)
def test_the_headline_above_or_under_the_block_is_the_title(text):
    read = with_head_fields(Document(text), None)
    assert (read.title, read.body) == ("A letter on fences", BODY)


@pytest.mark.parametrize(
    "text",
    [
        "Serves: 4\nTime: 20 minutes\n\nMelt the butter and add the flour.",
        "Date: 3 March 2031\n\nOne line says too little.",
        "Source: it is said that the council of the valley never met, not once in all of these long years\nDate: today\n\nNo.",
        "Date: 3 March 2031\nSource: Orrin Courier",
        "Note: first\nDate: soon\n\nA date that is none.",
    ],
)
def test_lines_that_say_too_little_stay_words(text):
    document = Document(text)
    assert head_lines(document, False) == []
    assert with_head_fields(document, None) is document


def test_what_a_reader_has_found_by_itself_is_not_overwritten():
    assert head_lines(Document(f"{HEAD}\n\n{BODY}", date="1 May 2031"), False) == []


def test_the_date_at_the_top_of_a_transcript_is_the_date_of_the_text():
    (read,) = cut_all([Document(f"Talk in the hall\n{HEAD}\nAge: 34\n\n{TALK}")], Cut(), True)
    assert read.date == "3 March 2031" and dict(read.fields)["Source"] == "Orrin Courier"
    assert dict(read.fields)["Age"] == "34"
    assert read.body.startswith("Talk in the hall\n")
    turns = [place for place in read.places if place.kind == "turn"]
    assert [turn.label for turn in turns] == ["Interviewer", "Anna"] * 2
    assert read.body[turns[0].start :].startswith("When did you hear?")


def test_lines_that_were_not_chosen_stay_words():
    read = with_head_fields(Document(f"{HEAD}\n\n{BODY}"), ["Source", "Date"])
    assert read.body == f"Section: Farming\nWord count: 20\n\n{BODY}"
    assert dict(read.fields) == {"Source": "Orrin Courier"} and read.date == "3 March 2031"


@given(
    st.lists(st.sampled_from(HEAD.split("\n")), unique=True),
    st.lists(st.text("ab :\n", max_size=12), max_size=4),
    st.booleans(),
)
def test_nothing_is_lost_and_places_stay_at_their_words(head, rest, transcript):
    body = "\n".join([*head, "", *rest, BODY, TALK if transcript else ""]).strip()
    at = body.index("Nobody")
    lines = head_lines(Document(body), transcript)
    read = with_head_fields(Document(body, places=(Place("page", at, "2"),)), None, transcript)
    taken = sum(line.end - line.start for line in lines)
    assert len(read.body) <= len(body) - taken or not lines
    assert read.body.replace("\n", "").replace(" ", "") == "".join(
        "" if any(line.start <= place < line.end for line in lines) else sign
        for place, sign in enumerate(body)
    ).replace("\n", "").replace(" ", "")
    (page,) = read.places
    assert read.body[page.start :].startswith("Nobody")
    said = [read.title, read.date, *dict(read.fields).values()]
    assert all(line.value in said for line in lines)


def test_files_are_looked_at_with_a_switch_for_each_line(tmp_path):
    paths = []
    for number, section in enumerate(["Farming", "Letters", "Town"]):
        path = tmp_path / f"{number}.txt"
        path.write_text(
            f"Source: Hill Farmer\nDate: {number + 3} March 2031\nSection: {section}\n\nOf fences\n\n{BODY}"
        )
        paths.append((path.name, path))
    (one,) = first_look(paths, load_settings()).lots
    assert dict(one.cut.head_fields) == {"Source": 3, "Date": 3, "Section": 3}
    assert one.samples.source == ["Hill Farmer"] * 3 and [d.day for d in one.samples.date] == [3, 4, 5]
    assert one.samples.title == ["Of fences"] * 3 and one.samples.body == [BODY] * 3
