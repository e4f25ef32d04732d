"""Elided words, wide letters and vowel signs: a word is found however it is written."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.index import build_segment
from winnower.core.pattern import find_term, parse_term
from winnower.core.tokens import bare, fold, split_texts, tokens_of
from winnower.core.tokens.elision import ELIDED, parted


def words_of(text):
    return [form for form, _ in tokens_of(text)]


#: Counted by hand.
FRENCH = "L'école de l’été n'est qu'un début : aujourd'hui, quelqu'un d'autre y va, jusqu'à l'Yonne."
ITALIAN = "L'arte dell'arte c'è, un'altra no; nell'anno dell’uva anch'io, po' alla volta."
CATALAN = "L'home d'aquí s'estima l'illa."
ENGLISH = "Don't: he'll see Dell's o'clock, c'mon, rock'n'roll, d'you, y'all, can't, all's well, ma'am."


def test_french():
    assert words_of(FRENCH) == [
        "L'", "école", "de", "l’", "été", "n'", "est", "qu'", "un", "début", "aujourd'hui", "quelqu'un", "d'", "autre",
        "y", "va", "jusqu'", "à", "l'", "Yonne",
    ]  # fmt: skip


def test_italian():
    assert words_of(ITALIAN) == [
        "L'", "arte", "dell'", "arte", "c'", "è", "un'", "altra", "no", "nell'", "anno", "dell’", "uva", "anch'", "io",
        "po", "alla", "volta",
    ]  # fmt: skip


def test_catalan_and_english():
    assert words_of(CATALAN) == ["L'", "home", "d'", "aquí", "s'", "estima", "l'", "illa"]
    assert words_of(ENGLISH) == [
        "Don't", "he'll", "see", "Dell's", "o'clock", "c'mon", "rock'n'roll", "d'you", "y'all", "can't", "all's", "well",
        "ma'am",
    ]  # fmt: skip


PIECES = st.sampled_from(
    [*(word + sign for words in ELIDED.values() for word in words for sign in "'’"), "arte", "école", "an", "y", " ", ". ", "\n", "s", "don't", "経済", "#l'a"]
)  # fmt: skip


@given(st.lists(st.lists(PIECES, max_size=12).map("".join), max_size=5))
def test_a_batch_is_cut_as_each_text_alone_and_no_sign_is_lost(texts):
    batch = split_texts(texts)
    forms = batch.vocabulary.to_list()
    assert len(set(forms)) == len(forms) and set(batch.codes.tolist()) == set(range(len(forms)))
    for at, text in enumerate(texts):
        here = slice(batch.text_start[at], batch.text_start[at + 1])
        found = [
            (forms[code], int(start))
            for code, start in zip(batch.codes[here], batch.char_start[here], strict=True)
        ]
        assert found == tokens_of(text)
        assert all(text[start : start + len(form)] == form for form, start in found)
    assert np.isin(batch.paragraph_start, batch.sentence_start).all()
    assert all("".join(parted(form)) == form and len(parted(form)) == 1 for form in forms)


@pytest.mark.parametrize(
    ("term", "hits"),
    [
        ("école*", 3),
        ("l'école", 2),
        ("l’école", 2),
        ("arte", 2),
        ("dell'arte", 1),
        ("l'*", 3),
        ("l'", 3),
        ("l’ école", 2),
        ("l' [0-2] arte", 2),
        ("'arte'", 2),
        ("don't", 1),
    ],
)
def test_terms_find_words_behind_elided_ones(tmp_path, term, hits):
    many = ["L'école, l’école et les écoles", "L'arte dell'arte", "I don't"]
    segment = build_segment(tmp_path / "s", range(len(many)), many)
    assert len(find_term(parse_term(term), segment).start) == hits


def test_wide_letters_and_narrow_kana_are_plain_when_case_is_ignored(tmp_path):
    assert fold("ＥＵ２０３１") == "eu2031" and fold("ｶﾞ") == fold("ガ")
    segment = build_segment(tmp_path / "s", [1], ["ＷＯＬＦ wolf Ｗolf"])
    assert len(find_term(parse_term("wolf"), segment).start) == 3


def test_vowel_signs_of_arabic_and_hebrew_go_with_accents(tmp_path):
    assert bare("مُحَمَّد") == bare("محمد") == bare("محـــمد")
    assert bare("שָׁלוֹם") == bare("שלום")
    segment = build_segment(tmp_path / "s", [1], ["ذَهَبَ الذئب ذهب"])
    assert len(find_term(parse_term("ذهب"), segment).start) == 1
    assert len(find_term(parse_term("ذهب", ignore_accents=True), segment).start) == 2
