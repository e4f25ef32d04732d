"""Scripts without spaces: words for lists and rates, characters for terms, wherever words end."""

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from winnower.core.index import build_segment
from winnower.core.pattern import Piece, find_term, parse_term, write_piece, write_term
from winnower.core.tokens import tokens_of

#: Parted by hand, as the dictionaries of these languages list the words.
BY_HAND = [
    "狼 今天 回到 了 山谷 ， 牧羊人 说 他们 失去 了 四十 只 羊 。",
    "政府 没有 回答 。",
    "オオカミ が 谷 に 戻り 、",
    "東京 の 市場",
    "หมาป่า กลับ มา ที่ หุบเขา",
    "ຂ້ອຍ ຮັກ ເຈົ້າ",
    "ខ្ញុំ ស្រលាញ់ អ្នក",
]
NO_WORD = re.compile(r"[，。、]")


@pytest.mark.parametrize("written", BY_HAND)
def test_words_are_those_a_reader_would_part(written):
    expected = [word for word in written.split(" ") if not NO_WORD.match(word)]
    assert [form for form, _ in tokens_of(written.replace(" ", ""))] == expected


def built(tmp_path, many):
    return build_segment(tmp_path / "s", range(len(many)), many)


@pytest.mark.parametrize(
    ("term", "hits"),
    [
        ("山谷", 3),
        ("谷", 4),
        ("谷里没", 1),
        ("了山谷", 1),
        ("回到 了山", 1),
        ("山?", 3),
        ("?谷里", 1),
        ("四十*", 1),
        ('"山谷"', 3),
        ('"谷"', 1),
        ("wolf 山谷", 1),
        ("山谷 [0-3] 狼", 1),
        ("狼 near:3 山谷", 1),
        ("羊 unless-part-of: 牧羊人", 1),
    ],
)
def test_terms_match_wherever_words_end_and_quoted_ones_are_whole_words(tmp_path, term, hits):
    texts = ["狼今天回到了山谷，牧羊人说他们失去了四十只羊。山谷里没有狼。", "wolf 山谷x", "谷 山"]
    found = find_term(parse_term(term), built(tmp_path, texts))
    assert len(found.start) == hits


@given(
    many=st.lists(st.text("山谷狼羊四十只了。 a", max_size=14), min_size=1, max_size=4),
    wanted=st.text("山谷狼羊四十只?", min_size=1, max_size=6).filter(lambda text: text.strip("?")),
)
@settings(max_examples=300, deadline=None)
def test_hits_are_the_words_that_hold_the_characters(tmp_path_factory, many, wanted):
    segment = built(tmp_path_factory.mktemp("u"), many)
    surface = segment.vocabulary["surface"].to_list()
    tokens = [surface[code] for code in segment.codes]
    edges = sorted({*segment.sentence_start.tolist(), len(tokens)})
    expression = re.compile(f"(?={re.escape(wanted).replace(chr(92) + '?', '.')})")
    expected = set()
    for low, high in zip(edges, edges[1:], strict=False):
        runs, run = [], []
        for at in range(low, high):
            if tokens[at].isascii():
                runs.append(run)
                run = []
            else:
                run.append(at)
        for places in [*runs, run]:
            owner = [at for at in places for _ in tokens[at]]
            joined = "".join(tokens[at] for at in places)
            for found in expression.finditer(joined):
                first, last = owner[found.start()], owner[found.start() + len(wanted) - 1]
                expected.add((first, last - first + 1))
    found = find_term(parse_term(wanted), segment)
    assert set(zip(found.start.tolist(), found.length.tolist(), strict=True)) == expected
    assert len(found.start) == len(expected)


WORDS = st.sampled_from(["山谷", "山?", "?谷狼", "*狼", "四十*", "a*", "wolf", '"山谷"', '"谷 狼"'])


@given(st.lists(WORDS, min_size=1, max_size=5).map(" ".join))
def test_what_is_written_reads_back_as_the_same_term(text):
    term = parse_term(text)
    again = parse_term(write_term(term))
    assert again.head == term.head


def test_a_word_of_a_list_is_written_as_a_whole_word():
    assert write_piece(Piece("山谷")) == '"山谷"'
    assert parse_term('"山谷"').head.pieces == (Piece("山谷"),)
