"""Codes and words: fields of texts, words covered, samples, groups, and the corpus inside of passages."""

from collections import defaultdict

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_passages import made, plain, several
from winnower.core.coding.fields import codes_of_texts, number_in_texts, people_of_texts
from winnower.core.coding.grouping import in_groups, memberships
from winnower.core.coding.sample import draw
from winnower.core.index import TokenIndex, build_segment
from winnower.core.pattern import find_term, parse_term
from winnower.core.places import Places
from winnower.core.places.inside import only_tokens, tokens_inside
from winnower.core.places.stretches import as_places, covered, spans_of, words_covered

ABOVE = {1: [1], 2: [2, 1], 3: [3, 2, 1], 4: [4]}


@given(several)
def test_codes_coders_and_numbers_of_texts(rows):
    passages = made(rows)
    place = {1: 0, 2: 2, 3: -1}  # text 3 is not part of the corpus, the one at place 1 has none
    text_of = np.asarray([place[text] for text in passages.text_id.tolist()], np.int64)
    codes, people = defaultdict(set), defaultdict(set)
    for p in plain(passages):
        codes[place[p["text_id"]]] |= set(ABOVE[p["code_id"]])
        people[place[p["text_id"]]].add(p["made_by"])
    start, found = codes_of_texts(passages, text_of, 3, ABOVE)
    listed = [*ABOVE]
    for text in range(3):
        assert [listed[at] for at in found[start[text] : start[text + 1]]] == sorted(codes[text])
    start, found = people_of_texts(passages, text_of, 3, [1, 2])
    for text in range(3):
        assert [at + 1 for at in found[start[text] : start[text + 1]]] == sorted(people[text])
    counted = number_in_texts(text_of, 3)
    assert counted.tolist() == [(text_of == text).sum() for text in range(3)]


@given(st.lists(st.tuples(st.integers(0, 40), st.integers(0, 12)), max_size=15))
def test_units_that_several_spans_cover_count_once(spans):
    first = np.asarray([low for low, _ in spans], np.int64)
    after = np.asarray([low + size for low, size in spans], np.int64)
    assert covered(first, after) == len({unit for low, size in spans for unit in range(low, low + size)})


@given(
    st.lists(st.tuples(st.integers(0, 9), st.integers(0, 2)), unique=True, max_size=25),
    st.lists(st.integers(0, 30), min_size=10, max_size=10),
    st.integers(1, 4), st.integers(1, 60), st.integers(1, 9),
)  # fmt: skip
def test_samples_hold_so_many_texts_or_words_of_each_group(members, words, texts_each, words_each, seed):
    text = np.asarray([one for one, _ in sorted(members)], np.int64)
    group = np.asarray([one for _, one in sorted(members)], np.int64)
    sizes = np.asarray(words)
    asked = {"texts_each": texts_each}
    drawn = draw(text, group, sizes, 3, **asked, seed=seed)
    again = draw(text, group, sizes, 3, **asked, seed=seed)
    assert drawn.texts.tolist() == again.texts.tolist() and (sizes[drawn.texts] > 0).all()
    by_words = draw(text, group, sizes, 3, words_each=words_each, seed=seed)
    for one in range(3):
        there = {t for t, g in members if g == one and words[t]}
        assert len(there & set(drawn.texts.tolist())) >= min(texts_each, len(there))
        # the smallest number that reaches so many words, or all there are
        reached = by_words.words_of_group[one]
        assert reached >= min(words_each, sum(words[t] for t in there))


@given(st.lists(st.integers(-1, 3), max_size=20))
def test_groups_keep_the_order_within_and_those_in_none_come_last(groups):
    group = np.asarray(groups, np.int64)
    found = in_groups(np.arange(len(group)), group, 4)
    wanted = sorted(range(len(groups)), key=lambda at: (groups[at] if groups[at] >= 0 else 4, at))
    assert found.passage.tolist() == wanted and found.counts.sum() == len(groups)


@given(
    st.lists(st.integers(0, 4), max_size=15),
    st.lists(st.tuples(st.integers(0, 4), st.integers(0, 3)), unique=True, max_size=12),
)
def test_a_passage_stands_in_every_group_of_its_text(of_passage, members):
    text, group = (np.asarray([one[at] for one in members], np.int64) for at in (0, 1))
    passage, found = memberships(np.asarray(of_passage, np.int64), text, group, 5)
    wanted = [
        (at, mine)
        for at, one in enumerate(of_passage)
        for mine in ([g for t, g in members if t == one] or [-1])
    ]
    assert list(zip(passage.tolist(), found.tolist(), strict=True)) == wanted


BODIES = ["Red deer eat birch. Birch grows, deer go.\n\nWolves ate deer.", "Deer! No birch.", "", "Old deer"]


@pytest.fixture(scope="module")
def index(tmp_path_factory):
    folder = tmp_path_factory.mktemp("index")
    return TokenIndex(
        [build_segment(folder / "a", [1, 2], BODIES[:2]), build_segment(folder / "b", [3, 4], BODIES[2:])]
    )


def stretches(*words):
    found = [(text, BODIES[text].index(of), BODIES[text].index(of) + len(of)) for text, of in words]
    return tuple(np.asarray(column, np.int64) for column in zip(*found, strict=True))


def test_words_covered_and_where_stretches_stand(index):
    text, start, end = stretches((0, "deer eat birch. Birch"), (0, "birch. Birch grows"), (3, "deer"))
    texts, words = words_covered(as_places(text, start, end, index), index)
    assert dict(zip(texts.tolist(), words.tolist(), strict=True)) == {0: 5, 3: 1}
    first, after = spans_of(text, start, end, index, "words")
    assert (after - first).tolist() == [4, 3, 1] and first[1] - first[0] == 2
    text, start, end = stretches((0, "Red deer"), (0, "go.\n\nWolves"), (0, "Wolves"))
    first, after = spans_of(text, start, end, index, "paragraphs")
    assert (first - first[0]).tolist() == [0, 0, 1] and (after - first).tolist() == [1, 2, 1]


def hits(index, term):
    found = parse_term(term)
    return sum(len(find_term(found, segment).start) for segment in index.segments)


def test_inside_and_outside_make_up_the_whole(index):
    text, start, end = stretches((0, "eat birch"), (0, "Wolves ate deer"), (1, "No birch"))
    keep = tokens_inside(index, as_places(text, start, end, index))
    inside, outside = only_tokens(index, keep), only_tokens(index, [~mask for mask in keep])
    assert (inside.words + outside.words).tolist() == index.words.tolist()
    assert inside.text_id.tolist() == [1, 2, 3, 4] and inside.words.tolist() == [5, 2, 0, 0]
    for term in ("deer", "birch", "b*", "wolves"):
        assert hits(inside, term) + hits(outside, term) == hits(index, term)
    segment = inside.segments[0]
    spelled = segment.vocabulary["surface"].gather(segment.codes).to_list()
    assert spelled == ["eat", "birch", "Wolves", "ate", "deer", "No", "birch"]
    # the places of what is left are those of the text
    assert [BODIES[0][at : at + 3] for at in segment.char_start[:5]] == ["eat", "bir", "Wol", "ate", "dee"]


def test_what_was_left_out_makes_no_neighbours(index):
    text, start, end = stretches((0, "Red"), (0, "Wolves"), (0, "Birch grows"))
    inside = only_tokens(index, tokens_inside(index, as_places(text, start, end, index)))
    assert hits(inside, "birch grows") == 1
    assert hits(index, "grows near:5 wolves") == 1
    for apart in ("red birch", "grows wolves", "grows near:5 wolves"):
        assert hits(inside, apart) == 0, apart


def test_paragraphs_keep_their_numbers(index):
    text, start, end = stretches((0, "Wolves"), (1, "No"))
    inside = only_tokens(index, tokens_inside(index, as_places(text, start, end, index)))
    segment = inside.segments[0]
    numbers = [
        int(np.searchsorted(segment.paragraph_start, token, side="right"))
        - int(np.searchsorted(segment.paragraph_start, segment.text_start[local], side="left"))
        for local, token in ((0, 0), (1, 1))
    ]
    assert numbers == [2, 1]


def test_nothing_inside_is_an_empty_corpus_of_the_same_texts(index):
    nothing = np.empty(0, np.int64)
    inside = only_tokens(index, tokens_inside(index, Places(nothing, nothing, nothing)))
    assert inside.n_texts == 4 and inside.n_tokens == 0 and hits(inside, "deer") == 0
