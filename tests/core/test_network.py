"""The network of words: ties against counting by hand, topics that are there, gaps, the same from the same seed."""

import itertools
import math

import numpy as np
import pytest

from tests.core.test_compare import corpus
from tests.core.texts import Texts
from winnower.core.errors import ComparisonError
from winnower.core.network import Network, build_network, network_method, network_statements, topic_places

FIELD, TOWN = ["wolf", "lamb", "flock", "fence"], ["market", "price", "council", "vote"]
NOTHING = np.empty(0, np.int64)


def sentences(rng, words, n):
    return [" ".join(rng.choice(words, 3, replace=False)).capitalize() + "." for _ in range(n)]


@pytest.fixture(scope="module")
def news(tmp_path_factory):
    rng = np.random.default_rng(5)
    bodies = [" ".join(sentences(rng, words, 4)) for words in [FIELD, TOWN] * 20]
    bodies.append("Wolf market valley. Lamb price valley.")
    return Texts(*corpus(tmp_path_factory.mktemp("net"), bodies, ["A"] * len(bodies)))


def built(news, stop=NOTHING, mask=None, **how):
    asked = Network(**{"most": 20, "least": 2, **how})
    mask = np.ones(news.index.n_texts, bool) if mask is None else mask
    return asked, build_network(asked, news, mask, stop, "en")


def read(news):
    """Every sentence as a set of words, from the tokens."""
    return [
        {segment.vocabulary["fold"][int(code)] for code in segment.codes[low:high]}
        for segment in news.index.segments
        for low, high in itertools.pairwise([*segment.sentence_start.tolist(), segment.n_tokens])
    ]


def test_ties_are_normalised_pmi_over_sentences(news):
    _, found = built(news, floor=0, ties=50)
    units = read(news)
    assert found.units == len(units)
    for a, b, n, weight in zip(found.first, found.second, found.together, found.weight, strict=True):
        one, other = found.names[a], found.names[b]
        both = sum(one in unit and other in unit for unit in units)
        pa, pb = (sum(word in unit for unit in units) / len(units) for word in (one, other))
        pab = both / len(units)
        assert n == both
        assert weight == pytest.approx(math.log(pab / (pa * pb)) / -math.log(pab), rel=1e-9)


def test_what_belongs_together_is_a_topic_and_between_topics_is_a_gap(news):
    asked, found = built(news)
    topics = [{found.names[at] for at in topic.words} for topic in found.topics]
    assert set(FIELD) in topics and set(TOWN) in topics
    assert len(found.gaps) == 1 and found.gaps[0].ratio <= 0.5
    said = " ".join(one.text for one in network_statements(asked, found))
    assert "2 topics among 8 words" in said and "Least connected topics" in said
    assert "Leiden" in " ".join(part.words for part in network_method(asked, found, "en"))


def test_a_topic_opens_the_sentences_with_two_of_its_words(news):
    _, found = built(news)
    units = read(news)
    for at, topic in enumerate(found.topics):
        words = {found.names[word] for word in topic.words}
        rich = [unit & words for unit in units if len(unit & words) >= 2]
        assert found.units_of_topic[at] == len(rich)
        places = topic_places(
            [found.forms[word] for word in topic.words], news, np.ones(41, bool), "sentence"
        )
        assert places.hits == sum(map(len, rich)) and places.texts == found.texts_of_topic[at]


def test_the_same_seed_gives_the_same_and_chance_elsewhere_is_left_alone(news):
    import random

    random.seed(3)
    expected = random.random()
    random.seed(3)
    one, other = built(news, seed=7)[1], built(news, seed=7)[1]
    assert random.random() == expected
    assert (one.x == other.x).all() and (one.y == other.y).all() and one.topics == other.topics
    assert (one.x >= 0).all() and (one.x <= 1).all()


def test_stop_words_words_left_out_and_the_scope(news):
    stop = news.lexicon.numbers_of(["wolf"])
    assert "wolf" not in built(news, stop=stop)[1].names
    assert "market" not in built(news, leave=("market",))[1].names
    first = np.arange(41) < 20
    _, found = built(news, mask=first)
    assert set(found.names) == {*FIELD, *TOWN} and found.texts_in_scope == 20
    assert found.texts.tolist() == [
        sum(name in body for body in _bodies(news, first)) for name in found.names
    ]


def _bodies(news, mask):
    """The words of each text of the scope."""
    every = [
        {segment.vocabulary["fold"][int(code)] for code in segment.codes[low:high]}
        for segment in news.index.segments
        for low, high in itertools.pairwise(segment.text_start.tolist())
    ]
    return [words for words, use in zip(every, mask, strict=True) if use]


def test_forms_of_a_lemma_are_one_word(tmp_path):
    bodies = ["The lambs saw wolves. A lamb saw a wolf. The market. A price."] * 6
    texts = Texts(*corpus(tmp_path, bodies, ["A"] * 6))
    _, found = built(texts, merge="lemma", stop=texts.lexicon.numbers_of(["the", "a"]), floor=0)
    at = dict(zip(found.names, found.forms, strict=True))
    assert set(at["lamb"]) == {"lamb", "lambs"} and set(at["wolf"]) == {"wolf", "wolves"}
    assert found.hits[found.names.index("lamb")] == 12
    with pytest.raises(ComparisonError):
        built(Texts(*corpus(tmp_path / "one", ["lamb"], ["A"])))


def test_where_nothing_is_tied_it_says_what_to_do(news):
    with pytest.raises(ComparisonError, match="No two words stand together often enough"):
        built(news, least=5_000)
    with pytest.raises(ComparisonError, match="no two words"):
        built(news, mask=np.zeros(41, bool))


def shuffled(tmp_path, seed, texts=60):
    """Sentences of words drawn without regard to each other, frequent ones more often."""
    rng = np.random.default_rng(seed)
    words = [f"word{chr(97 + at)}" for at in range(24)]
    often = 1 / np.arange(1, len(words) + 1) ** 0.7
    bodies = [
        " ".join(
            " ".join(rng.choice(words, rng.integers(2, 9), replace=False, p=often / often.sum())).capitalize()
            + "."
            for _ in range(rng.integers(4, 20))
        )
        for _ in range(texts)
    ]
    return Texts(*corpus(tmp_path, bodies, ["A"] * len(bodies)))


def test_links_between_shuffled_words_do_not_hold_and_their_topics_do_not_stay(tmp_path):
    held = links = 0
    for seed in range(6):
        asked, found = built(shuffled(tmp_path / str(seed), seed), least=3, floor=0)
        held, links = held + int(found.holds.sum()), links + len(found.holds)
        assert found.stays.mean() < 0.7
        said = [one.headline for one in network_statements(asked, found) if one.kind == "warning"]
        assert any("not significantly stronger than between shuffled words" in one for one in said)
        assert any("when texts are drawn again" in one for one in said)
    assert links > 200 and held <= 0.05 * links


def test_planted_topics_hold_and_stay_and_nothing_is_warned_of(news):
    asked, found = built(news)
    inside = found.topic[found.first] == found.topic[found.second]
    assert inside.sum() >= 10 and found.holds[inside].mean() > 0.8
    assert (found.stays[[len(topic.words) >= 4 for topic in found.topics]] > 0.8).all()
    assert not any("drawn again" in one.headline for one in network_statements(asked, found))
    again = built(news)[1]
    assert np.array_equal(again.holds, found.holds) and np.array_equal(again.stays, found.stays)
