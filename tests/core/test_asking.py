"""Questions read by rule, and the numbers of a sentence that answer them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.assist.amounts import amounts
from winnower.core.assist.asking import answers_kind, read_question
from winnower.core.assist.wordlists import FUNCTIONS


@pytest.mark.parametrize(
    ("question", "kind", "measure", "words", "counted"),
    [
        ("How many dead lambs lay there?", "number", "", ("dead", "lambs", "lay"), "lambs"),
        ("How many people took part?", "number", "", ("people", "took", "part"), "people"),
        ("How much does a fence cost?", "number", "money", ("fence", "cost"), ""),
        ("How much meat is eaten?", "number", "any", ("meat", "eaten"), ""),
        ("How long is the detour?", "number", "duration", ("detour",), ""),
        ("How old is Agnes?", "number", "age", ("agnes",), ""),
        ("On what day was the vote?", "time", "", ("vote",), ""),
        ("What share of the claims was paid?", "number", "share", ("claims", "paid"), ""),
        ("Why was the path closed?", "reason", "", ("path", "closed"), ""),
        ("Who found the vet's dog?", "person", "", ("found", "vet", "dog"), ""),
        ("Where do they meet?", "place", "", ("meet",), ""),
        ("What does Noor think of deer?", "view", "", ("noor", "deer"), ""),
        ("How is the licence reported?", "anything", "", ("licence",), ""),
        ("What was released in May?", "anything", "", ("released", "may"), ""),
        ("Wie viele Lämmer starben?", "number", "", ("lämmer", "starben"), "lämmer"),
    ],
)
def test_a_question_says_what_it_asks_for(question, kind, measure, words, counted):
    stop = FUNCTIONS | {"wie"}
    asked = read_question(question, stop)
    assert (asked.kind, asked.measure, asked.words, asked.counted) == (kind, measure, words, counted)


@given(st.text(max_size=200))
def test_any_question_can_be_read(question):
    asked = read_question(question, FUNCTIONS)
    assert not set(asked.words) & set(asked.beside) and asked.names <= set(asked.words)
    assert asked.counted == "" or asked.counted in asked.words


@pytest.mark.parametrize(
    ("words", "measure", "counted", "others", "said"),
    [
        ("Nine lambs were killed on 9 April.", "", "lambs", "killed", ["9"]),
        ("They lost more than forty-one fat lambs.", "", "lambs", "lost", ["more than 41"]),
        ("No lambs were lost.", "", "lambs", "lost", ["none"]),
        ("The number of claims has risen to 62, and nineteen have been paid.", "", "claims", "paid", ["62", "19"]),
        ("In 1970 there were 61 flocks.", "", "flocks", "", ["61"]),
        ("A hundred and four sheep and 1,400 people came.", "", "sheep", "", ["104"]),
        ("Two hundred thousand people watched.", "", "people", "", ["200,000"]),
        ("The fence costs about £4,200 or 5,000 pounds.", "money", "", "", ["about £4,200", "5,000 pounds"]),
        ("It is eighteen miles long and takes forty minutes.", "duration", "", "", ["18 miles", "40 minutes"]),
        ("Agnes Tolland, who is 84, led 300 farmers.", "age", "", "agnes tolland", ["84"]),
        ("Noor thinks they are ten weeks old.", "age", "", "noor", []),
        ("They fell by a third, by 38 per cent and for nine in ten.", "share", "", "", ["38 per cent", "9 in ten", "a third"]),
        ("He came on 4 December 2031.", "", "lambs", "came", []),
        ("Zwölf Luchse wurden ausgesetzt.", "", "luchse", "", ["12"]),
    ],
)  # fmt: skip
def test_numbers_of_a_sentence_are_those_of_what_is_asked_about(words, measure, counted, others, said):
    found = amounts(words, measure, set(counted.split()), set(others.split()))
    assert [one.said for one in found] == said


@given(st.integers(2, 10**9), st.sampled_from(["lambs", "ewes"]))
def test_any_number_before_what_is_counted_is_read_with_its_value(value, thing):
    for written in (str(value), f"{value:,}"):
        (one,) = amounts(f"They counted {written} {thing} there.", "", {thing}, set())
        assert one.value == value and one.said == f"{value:,}"


@given(st.text(max_size=300), st.sampled_from(["", "money", "length", "duration", "age", "share", "any"]))
def test_no_sentence_brings_the_reading_of_numbers_down(words, measure):
    assert all(one.said for one in amounts(words, measure, {"a"}, {"b"}))


def test_what_is_asked_for_must_be_said():
    when = read_question("When was the vote?", FUNCTIONS)
    assert answers_kind(when, "They voted on Monday.", "", None)
    assert not answers_kind(when, "They voted in the hall.", "", None)
    assert not answers_kind(when, "Did they vote on Monday?", "", None)
    why = read_question("Why was it closed?", FUNCTIONS)
    assert answers_kind(why, "It was closed.", "It was closed. That was because of ice.", None)
    assert not answers_kind(why, "It was closed.", "It was closed. It rained.", None)
