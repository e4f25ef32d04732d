"""Tone: the same scores as the reference implementation gives sentence by sentence; bands; a list that is changed."""

import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from vaderSentiment.vaderSentiment import SentimentIntensityAnalyzer

from winnower.core.errors import WinnowerError
from winnower.core.tone import BANDS, ToneWords, band_of, score, shipped, weighed
from winnower.core.tone.words import checked

RULES = [
    "the",
    "a",
    "farm",
    "lamb",
    "lynx",
    "we",
    "no",
    "No",
    "NO",
    "not",
    "never",
    "so",
    "this",
    "without",
    "doubt",
    "least",
    "at",
    "very",
    "but",
    "But",
    "BUT",
    "kind",
    "sort",
    "of",
    "or",
    "nor",
    "bad",
    "ass",
    "yeah",
    "right",
    "bus",
    "stop",
    "bomb",
    "kiss",
    "death",
    "die",
    "for",
    "to",
    "beating",
    "heart",
    "just",
    "enough",
    "isn't",
    "don't",
    "really",
    "VERY",
    "extremely!",
    "good",
    "GOOD",
    "great,",
    '"good',
    "(bad)",
    ":)",
    ":(",
    "??",
    "!!!",
    "hardly",
    "barely",
    "despite",
    "😀",
    "💔",
    "x😀y",
    "❤",
    "ÄRGER",
    "é",
    "—",
]


@pytest.fixture(scope="module")
def reference():
    return SentimentIntensityAnalyzer()


def made(seed, n):
    """Sentences of words the rules speak of among words of the list, in all orders."""
    rng = random.Random(seed)
    listed = sorted(shipped("english").weights)
    out = []
    for _ in range(n):
        some = [rng.choice(listed if rng.random() < 0.25 else RULES) for _ in range(rng.randint(0, 18))]
        out.append(" ".join(some) + rng.choice(["", "", "", "!", "!!", "?", "??", "????", "!!!!!!"]))
    return out


def test_ten_thousand_sentences_score_as_by_the_reference(reference):
    sentences = made(7, 10_000)
    scores, _ = score(sentences, shipped("english"))
    wanted = [reference.polarity_scores(one)["compound"] for one in sentences]
    assert scores.tolist() == wanted
    assert len(set(wanted)) > 3_000 and min(wanted) < -0.9 and max(wanted) > 0.9


@given(st.lists(st.text(max_size=60), max_size=5))
@settings(max_examples=150, deadline=None)
def test_any_text_scores_as_by_the_reference(reference, sentences):
    scores, strongest = score(sentences, shipped("english"))
    assert scores.tolist() == [reference.polarity_scores(one)["compound"] for one in sentences]
    assert len(strongest) == len(sentences)


def test_words_of_a_score_are_told_where_they_stand():
    sentence = "It was NOT a good day, but the kittens are lovely!"
    found = weighed(sentence, shipped("english"))
    assert [(sentence[one.start : one.end], one.value > 0) for one in found] == [
        ("good", False),
        ("lovely", True),
    ]
    _, strongest = score([sentence, "Nothing at all happened."], shipped("english"))
    assert strongest == ["lovely", ""]


def test_a_changed_list_counts():
    words = shipped("english")
    own = words.changed({"weight": {"lovely": None, "hefted": 2.5}, "negation": {"scarcelyever": 1.0}})
    scores, _ = score(["hefted flock", "scarcelyever hefted", "a lovely day"], own)
    assert scores[0] > 0.5 and scores[1] < 0 and scores[2] == 0
    assert words.value_of("weight", "lovely") and own.value_of("weight", "lovely") is None
    assert own.fingerprint() != words.fingerprint()
    assert ToneWords.from_content(own.content()).fingerprint() == own.fingerprint()
    assert (
        own.changed(
            {
                "weight": {"lovely": words.weights["lovely"], "hefted": None},
                "negation": {"scarcelyever": None},
            }
        ).fingerprint()
        == words.fingerprint()
    )


def test_an_empty_list_finds_nothing():
    scores, strongest = score(["good and bad", ""], shipped("none"))
    assert scores.tolist() == [0.0, 0.0] and strongest == ["", ""]


def test_bands_begin_where_they_are_said_to():
    scores = np.array([-1, -0.5, -0.4999, -0.05, -0.0499, 0, 0.0499, 0.05, 0.4999, 0.5, 1])
    assert [BANDS[one] for one in band_of(scores)] == [
        "strongly negative", "strongly negative", "negative", "negative", "neutral", "neutral", "neutral",
        "positive", "positive", "strongly positive", "strongly positive",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("role", "word", "value", "said"),
    [
        ("weight", "  ", 1, "Give a word"),
        ("weight", "two words", 1, "more than one word"),
        ("weight", "far", 5, "between -4 and 4"),
        ("weight", "nan", float("nan"), "between -4 and 4"),
        ("intensifier", "very", 1.5, "between -1 and 1"),
        ("other", "x", 1, "not one of"),
        ("weight", "x" * 61, 1, "longer than 60"),
    ],
)
def test_what_has_no_place_in_a_list_is_refused_with_the_reason(role, word, value, said):
    with pytest.raises(WinnowerError, match=said):
        checked(role, word, value)


def test_a_word_is_kept_in_lower_case():
    assert checked("weight", " Hefted ", 2) == ("hefted", 2.0)
    assert checked("negation", "Hardly", 7) == ("hardly", 1.0)
