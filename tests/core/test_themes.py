"""Noun phrases under their heads: beside a plain way through the words; what is coded and how evenly they are spread."""

import re
from collections import Counter

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_words import made
from winnower.core.scope import Scope, Split, lay_ground
from winnower.core.themes import classes_of, find_themes
from winnower.core.themes.classes import DESCRIBES, NOUN, OTHER
from winnower.readers.word_classes import word_uses

# nouns, verbs, adjectives, adverbs: as often as each was seen
USES = {
    "lamb": (9, 1, 0, 0),
    "loss": (9, 0, 0, 0),
    "sale": (9, 0, 0, 0),
    "young": (1, 0, 9, 0),
    "graze": (0, 9, 0, 0),
    "meeting": (8, 0, 0, 0),
    "meet": (1, 9, 0, 0),
}
KIND = {
    "lamb": "N",
    "lambs": "N",
    "loss": "N",
    "sale": "N",
    "young": "A",
    "graze": "V",
    "the": "F",
    "meeting": "N",
}
NAME = {"lambs": "lamb"}
sentences = st.lists(st.sampled_from(sorted(KIND)), min_size=1, max_size=9)
texts = st.lists(st.lists(sentences, min_size=1, max_size=3), min_size=1, max_size=6)


def themes_of(tmp_path, bodies, coded=None, split=None):
    index, columns, lexicon = made(tmp_path, bodies)
    folds = lexicon.folds.to_list()
    lemmas = [{"lambs": "lamb", "meeting": "meet"}.get(one, one) for one in folds]
    classes = classes_of(folds, lemmas, lexicon.kinds, {"the"}, USES)
    ground = lay_ground(Scope(), Split(split), index, columns)
    masks = coded(index) if coded else [np.zeros(one.n_tokens, bool) for one in index.segments]
    return find_themes(index, lexicon, classes, ground, masks)


@given(many=texts)
@settings(max_examples=80, deadline=None)
def test_phrases_are_counted_as_by_a_pattern_over_kinds(tmp_path_factory, many):
    bodies = [" ".join(" ".join(one).capitalize() + "." for one in text) for text in many]
    found = themes_of(tmp_path_factory.mktemp("t"), bodies)
    wanted, forms = Counter(), Counter()
    for text in many:
        for words in text:
            kinds = "".join(KIND[word] for word in words)
            for end in range(1, len(words) + 1):
                if kinds[end - 1] == "N" and kinds[end : end + 1] != "N":
                    for length in (1, 2, 3):
                        if end >= length and re.fullmatch("[NA]*N", kinds[end - length : end]):
                            row = words[end - length : end]
                            wanted[" ".join(NAME.get(word, word) for word in row)] += 1
                            forms[" ".join(row)] += 1
    listed = [one for head in found for one in (head.whole, *head.phrases)]
    assert {one.words: one.hits for one in listed} == {words: n for words, n in wanted.items() if n >= 3}
    for head in found:
        assert all(one.words.split()[-1] == head.whole.words for one in head.phrases)
    for one in listed:
        assert sum(forms[form] for form in one.forms) == one.hits
        assert one.texts <= min(one.hits, len(bodies)) and one.covered == 0


def test_what_is_coded_and_where_is_told(tmp_path):
    bodies = ["The lamb loss. The lambs.", "The lamb loss.", "The lamb loss. The young lamb."]

    def first_text(index):
        return [(one.text_of + base) == 0 for one, base in zip(index.segments, index.base, strict=False)]

    found = {one.whole.words: one for one in themes_of(tmp_path, bodies, first_text, "source")}
    assert found["loss"].phrases[0].words == "lamb loss"
    loss = found["loss"].whole
    assert (loss.hits, loss.texts, loss.covered) == (3, 3, 1)
    assert sum(loss.groups) == 3 and sorted(loss.groups) == [1, 2]
    assert "lamb" not in found  # twice as a head, which is too rare


def test_without_a_list_words_between_function_words_are_phrases(tmp_path):
    bodies = ["das graue lamm. das graue lamm. das graue lamm. das lamm."]
    index, columns, lexicon = made(tmp_path, bodies)
    folds = lexicon.folds.to_list()
    classes = classes_of(folds, folds, lexicon.kinds, {"das"}, None)
    ground = lay_ground(Scope(), Split(), index, columns)
    found = find_themes(
        index, lexicon, classes, ground, [np.zeros(one.n_tokens, bool) for one in index.segments]
    )
    assert not classes.from_list
    assert [(one.whole.words, one.whole.hits) for one in found] == [("lamm", 4)]
    assert [(one.words, one.hits) for one in found[0].phrases] == [("graue lamm", 3)]


def test_nothing_is_found_in_nothing(tmp_path):
    assert themes_of(tmp_path, [""]) == []


def test_classes_follow_the_list_and_the_shape_of_words():
    folds = ["lamb", "young", "graze", "grazing", "stennet", "the", "ox", "o'clock", "quickly"]
    kinds = np.zeros(len(folds), np.uint8)
    classes = classes_of(
        folds,
        ["lamb", "young", "graze", "graze", "stennet", "the", "ox", "o'clock", "quickly"],
        kinds,
        {"the"},
        USES,
    )
    assert classes.of.tolist() == [NOUN, DESCRIBES, OTHER, OTHER, NOUN, OTHER, OTHER, OTHER, OTHER]


def test_the_word_list_of_debian_tells_nouns_from_verbs():
    uses = word_uses()
    assert uses is not None, "wordnet-base is not installed"
    assert uses["lamb"][0] > uses["lamb"][1]
    assert uses["say"][1] > 10 * uses["say"][0]
    assert uses["young"][2] > uses["young"][0]
    assert all("_" not in word for word in uses)
