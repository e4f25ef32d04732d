import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core import slow
from winnower.core.tokens import bare, clean, fold, split_texts, tokens_of

PARTS = [
    "lamb",
    "Lamb's",
    "don’t",
    "co-op",
    "#night-ferry",
    "@office",
    "1,000.5",
    "3.5km",
    "é",
    "日本",
    "👩‍🌾",
    "👍🏽",
    "🇩🇪",
    "https://a.example/x?y=1",
    "a.b@c.example",
    " ",
    "  ",
    "\n",
    "\n\n",
    ". ",
    "! ",
    "? ",
    "… ",
    ",",
    "“",
    "”",
    "*",
    "#",
    "@",
    "-",
    "'",
    "Mr. ",
    "J. ",
    "+",
    "1️⃣",
]
texts = st.lists(st.sampled_from(PARTS), max_size=25).map(lambda parts: clean("".join(parts))[0])


def cut(text: str) -> list[str]:
    batch = split_texts([text])
    return batch.vocabulary.gather(batch.codes).to_list()


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Don’t go, co-op's here", ["Don’t", "go", "co-op's", "here"]),
        ("#nightferry @office_2 https://a.example/x.", ["#nightferry", "@office_2", "https://a.example/x"]),
        ("1,000 sheep, 3.5 acres", ["1,000", "sheep", "3.5", "acres"]),
        ("日本 and ไทย", ["日本", "and", "ไทย"]),
        ("👩‍🌾👍🏽 🇩🇪", ["👩‍🌾", "👍🏽", "🇩🇪"]),
        ("rock/paper c++ #", ["rock", "paper", "c"]),
        ("at -a.b@c.example, .x@y.example", ["at", "a.b@c.example", "x@y.example"]),
        ("", []),
    ],
)
def test_what_is_one_token(text, expected):
    assert cut(text) == expected


@given(st.lists(texts, min_size=1, max_size=6))
def test_tokens_and_places_agree_with_the_slow_rules(many):
    batch = split_texts(many)
    for at, text in enumerate(many):
        low, high = batch.text_start[at], batch.text_start[at + 1]
        found = list(
            zip(
                batch.vocabulary.gather(batch.codes[low:high]).to_list(),
                batch.char_start[low:high].tolist(),
                strict=True,
            )
        )
        assert found == slow.tokens(text)


@given(st.text(max_size=60))
def test_any_text_is_cut_at_true_places(text):
    text = clean(text)[0]
    batch = split_texts([text])
    for code, start in zip(batch.codes, batch.char_start, strict=True):
        form = batch.vocabulary[int(code)]
        assert text[start : start + len(form)] == form


def sentences(text: str) -> list[str]:
    batch = split_texts([text])
    return [batch.vocabulary[int(batch.codes[at])] for at in batch.sentence_start]


def test_sentences_end_at_stops_before_a_capital():
    assert sentences("Lambs are gone. We counted! Did you? He left… Then rain.") == [
        "Lambs",
        "We",
        "Did",
        "He",
        "Then",
    ]
    assert sentences("“It is late.” She left. (Nobody knew.) So be it.") == ["It", "She", "Nobody", "So"]


def test_abbreviations_initials_and_lower_case_do_not_end_a_sentence():
    assert sentences("Mr. Pell and J. Carrow spoke, e.g. about approx. nine ewes.") == ["Mr"]
    assert sentences("Version 2. of it") == ["Version"]


def test_a_blank_line_parts_paragraphs_else_every_line_does():
    batch = split_texts(["One\ntwo\n\nthree", "one\ntwo"])
    assert batch.paragraph_start.tolist() == [0, 2, 3, 4]
    assert set(batch.paragraph_start) <= set(batch.sentence_start)


@given(st.lists(texts, min_size=1, max_size=5))
def test_every_text_begins_a_paragraph(many):
    batch = split_texts(many)
    begins = batch.text_start[:-1][np.diff(batch.text_start) > 0]
    assert set(begins) <= set(batch.paragraph_start.tolist())


def test_normal_forms():
    assert fold("DON’T") == "don't"
    assert bare("Café") == "cafe"
    assert fold("Straße") == "strasse"


def test_clean_joins_letters_and_reports_what_it_took_away():
    assert clean("e\u0301\r\nx\x00") == (
        "é\nx",
        ["1 NUL characters removed", "letters and accents joined (NFC)"],
    )
    assert clean("plain") == ("plain", [])


@given(st.text(max_size=40))
def test_clean_is_done_once_and_for_all(text):
    once = clean(text)[0]
    assert clean(once) == (once, [])


@given(st.lists(st.sampled_from(PARTS) | st.text(max_size=4), max_size=12).map("".join))
def test_tokens_of_one_text_are_those_of_many(text):
    batch = split_texts([text])
    forms = batch.vocabulary.gather(batch.codes).to_list()
    assert tokens_of(text) == list(zip(forms, batch.char_start.tolist(), strict=True))
