"""What a category catches, the words that stand for it, and where its suggestions come from."""

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import slow
from tests.core.test_suggest import counted
from tests.core.test_words import made
from winnower.core.pattern import parse_term
from winnower.core.places import find_hits
from winnower.core.suggest import (
    LEAST_JUDGED,
    Sources,
    by_hits,
    caught_folds,
    compounds,
    suggest_for,
    synonyms,
    words_of,
)
from winnower.core.words.pick import found_names

TERMS = ["lamb", "lamb*", "ew?", "the price", "*ice", "Ewe | ewes", "lamb near:3 price", "exact-case: Lamb"]
WORDS = ["lamb", "Lamb", "lambs", "ewe", "ewes", "price", "the", "ice"]
texts = st.lists(
    st.lists(st.sampled_from(WORDS), min_size=1, max_size=6).map(" ".join), min_size=1, max_size=5
)


@given(many=texts, some=st.lists(st.sampled_from(TERMS), max_size=4))
@settings(max_examples=80)
def test_caught_folds_are_those_of_single_word_terms(tmp_path_factory, many, some):
    index, _, lexicon = made(tmp_path_factory.mktemp("caught"), many)
    terms = [parse_term(term) for term in some]
    found = set(lexicon.folds.filter(pl.Series(caught_folds(terms, index, lexicon))).to_list())
    plain = {
        "lamb": {"lamb"}, "lamb*": {"lamb", "lambs"}, "ew?": {"ewe"}, "*ice": {"price", "ice"},
        "Ewe | ewes": {"ewe", "ewes"}, "exact-case: Lamb": {"lamb"},
    }  # fmt: skip
    there = {slow.fold(word) for text in many for word in text.split()}
    if "lamb" not in {word for text in many for word in text.split()} and "lamb" in there:
        expected = set().union(*(plain.get(term, set()) for term in some)) & there
    else:
        capital = any("Lamb" in text.split() for text in many)
        expected = set().union(
            *(plain.get(term, set()) for term in some if term != "exact-case: Lamb" or capital)
        ) & there  # fmt: skip
    assert found == expected


def test_words_that_stand_for_a_category(tmp_path):
    index, _, lexicon, hits, _ = counted(tmp_path, ["lambs lambs lamb ewe", "the price of the ewe ewe"])
    terms = [parse_term(t) for t in ("lamb*", "ewe", "Unicorn", "the price", "grif*")]
    # those with hits, the most frequent first, then plain words the corpus does not have
    assert words_of(terms, index, lexicon, hits) == ["ewe", "lambs", "lamb", "unicorn"]


def names(lexicon, found):
    return {(one.text, one.reason, one.like) for one in found}


def test_each_source_gives_its_suggestions(tmp_path):
    many = ["the flock was lost", "flocks and herds", "a herd was lost", "flok of sheep"]
    index, columns, lexicon, hits, nothing = counted(tmp_path, many)
    lemmas = pl.Series(
        [{"flocks": "flock", "herds": "herd"}.get(fold, fold) for fold in lexicon.folds.to_list()]
    )
    right = find_hits([parse_term("lost")], index, columns, np.ones(len(many), bool), "text")

    def told(language="none", **sources):
        return names(
            lexicon, suggest_for(["flock"], index, lexicon, hits, nothing, Sources(language, **sources), 8)
        )

    spelling = {("flok", "spelling", "flock"), ("flocks", "spelling", "flock")}
    assert told() == spelling
    assert ("flocks", "form", "flock") in told("en", lemmas=lemmas)
    assert ("herd", "synonym", "flock") in told(synonyms_of=lambda word: ["herd", "drove"])
    # two hits are fewer than it takes
    assert right.hits < LEAST_JUDGED and told(right=right) == spelling
    assert suggest_for([], index, lexicon, hits, nothing, Sources("en", lemmas=lemmas), 8) == []


def test_what_is_left_out_is_not_suggested(tmp_path):
    index, _, lexicon, hits, nothing = counted(tmp_path, ["flock flok flocks"])
    left_out = lexicon.folds.is_in(["flok"]).to_numpy()
    found = suggest_for(["flock"], index, lexicon, hits, left_out, Sources("none"), 8)
    assert {one.text for one in found} == {"flocks"}
    assert len(suggest_for(["flock"], index, lexicon, hits, nothing, Sources("none"), 1)) == 1


def test_synonyms_name_the_first_word_they_belong_to(tmp_path):
    _, _, lexicon, hits, _ = counted(tmp_path, ["herd drove herd flock"])
    close = {"flock": ["herd", "Drove", "legion"], "sheep": ["herd"]}
    found = synonyms(["flock", "sheep"], lambda word: close.get(word, []), lexicon)
    assert {lexicon.folds[n]: like for n, like in found.items()} == {"herd": "flock", "drove": "flock"}
    assert [lexicon.folds[n] for n in by_hits(found, hits)] == ["herd", "drove"]


@pytest.mark.parametrize(
    ("find", "expected"),
    [
        ("am", ["lamb", "lambs", "exam"]),
        ("LAMB", ["lamb", "lambs"]),
        ("*ing", ["lambing"]),
        ("l?mb", ["lamb"]),
        ("a.b", ["a.b"]),
        ("a.*", ["a.b"]),
        ("[", ["[x]"]),
        ("*", ["lamb", "lambs", "lambing", "exam", "a.b", "axb", "[x]"]),
        ("unicorn", []),
    ],
)
def test_names_are_found_as_typed(find, expected):
    all_names = pl.Series(["lamb", "lambs", "lambing", "exam", "a.b", "axb", "[x]"])
    found = all_names.filter(pl.Series(found_names(all_names, find))).to_list()
    if find in ("am", "LAMB"):
        expected = [name for name in all_names if find.lower() in name]
    assert found == expected


@pytest.mark.parametrize(
    ("language", "text", "word", "found"),
    [
        (
            "de",
            "Wolfsrudel Grauwolf Wolfes wolfen Werwolf Wolfgang Rudel Rudelführer Schafherde Herdenschutzhund",
            "wolf",
            {"wolfsrudel", "grauwolf", "werwolf", "wolfgang"},
        ),
        (
            "de",
            "Herdenschutz Schafherde Herdentier Herden Verherder",
            "herde",
            {"schafherde", "herdenschutz", "herdentier"},
        ),
        ("nl", "schapenhouder houder schaapje schapenvlees wolvenroedel", "houder", {"schapenhouder"}),
        ("fi", "susi susilauma lauma susia susijahti", "susi", {"susilauma", "susijahti"}),
        ("en", "wolfhound wolfpack wolf", "wolf", set()),
    ],
)
def test_compounds_of_a_word(tmp_path, language, text, word, found):
    index, _, lexicon, hits, _ = counted(tmp_path, [text])
    nothing = np.zeros(len(lexicon), bool)
    numbers = compounds([word], lexicon, hits, nothing, language)
    assert set(lexicon.folds.gather(list(numbers)).to_list()) == found
    assert set(numbers.values()) <= {word}
    assert not compounds([word], lexicon, hits, ~nothing, language)
