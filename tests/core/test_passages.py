"""Passages as columns: how they lie to one another, what is counted, what a question finds."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.coding import RELATIONS, Beside, Passages, Question, answer, count_codes
from winnower.core.coding.passages import KINDS, count_in_groups, empty
from winnower.core.coding.relations import related

one = st.tuples(
    st.integers(1, 3), st.integers(1, 4), st.integers(0, 12), st.integers(1, 8), st.integers(1, 2)
)
# one person has the same words once under a code
several = st.lists(one, max_size=25, unique=True)


def made(rows):
    columns = {
        "id": range(1, len(rows) + 1),
        "text_id": [r[0] for r in rows],
        "code_id": [r[1] for r in rows],
        "start": [r[2] for r in rows],
        "end": [r[2] + r[3] for r in rows],
        "made_by": [r[4] for r in rows],
        "strength": [r[3] % 6 for r in rows],
    }
    return Passages.of({name: np.asarray(list(v), KINDS[name]) for name, v in columns.items()})


def plain(passages):
    columns = passages.columns()
    return [dict(zip(columns, map(int, row), strict=True)) for row in zip(*columns.values(), strict=True)]


HOLDS = {
    "overlapping": lambda a, b: a["start"] < b["end"] and b["start"] < a["end"],
    "inside": lambda a, b: b["start"] <= a["start"] and a["end"] <= b["end"],
    "around": lambda a, b: a["start"] <= b["start"] and b["end"] <= a["end"],
    "followed by": lambda a, b: b["start"] >= a["end"],
    "after": lambda a, b: b["end"] <= a["start"],
    "in one text": lambda a, b: True,
}


def test_every_relation_has_a_slow_rule():
    assert tuple(HOLDS) == RELATIONS


@pytest.mark.parametrize("relation", RELATIONS)
@given(of=several, others=several)
def test_relations_hold_as_the_slow_rules_say(relation, of, others):
    of, others = made(of), made(others)
    found = related(relation, of, others)
    wanted = [
        any(a["text_id"] == b["text_id"] and HOLDS[relation](a, b) for b in plain(others)) for a in plain(of)
    ]
    assert found.tolist() == wanted


BELOW = {1: {1, 2, 3}, 2: {2}, 3: {3}, 4: {4}}


@given(several)
def test_a_parent_counts_the_same_words_of_one_coder_once(rows):
    passages = made(rows)
    found = count_codes(passages, BELOW)
    for code, under in BELOW.items():
        here = [p for p in plain(passages) if p["code_id"] in under]
        if len(under) > 1:
            here_once = {(p["text_id"], p["start"], p["end"], p["made_by"]) for p in here}
            assert found[code].passages == len(here_once)
        else:
            assert found[code].passages == len(here)
        assert found[code].texts == len({p["text_id"] for p in here})
        assert found[code].own == sum(p["code_id"] == code for p in here)


def below(codes):
    return set().union(*(BELOW[c] for c in codes))


def no_spans(*_):
    raise AssertionError("only nearness needs to know where words stand")


@given(several, st.integers(0, 4), st.sampled_from(["words", "paragraphs"]))
def test_near_counts_what_lies_between(rows, within, unit):
    """A word is a letter here, a paragraph five of them."""
    passages, size = made(rows), 1 if unit == "words" else 5

    def spans(of, asked):
        assert asked == unit
        return of.start // size, (of.end - 1) // size + 1

    question = Question((2,), beside=(Beside("near", (4,), within=within, unit=unit),))
    found = answer(question, passages, np.arange(1, 4), below, spans)
    others = [p for p in plain(passages) if p["code_id"] == 4]

    def between(a, b):
        first, last = sorted((a, b), key=lambda p: p["start"])
        gap = last["start"] // size - ((first["end"] - 1) // size)
        return gap - 1 if unit == "words" else gap

    wanted = [
        p["id"]
        for p in plain(passages)
        if p["code_id"] == 2
        and any(p["text_id"] == o["text_id"] and max(between(p, o), 0) <= within for o in others)
    ]
    assert found.id.tolist() == wanted


@given(several, st.sampled_from(RELATIONS), st.booleans())
def test_a_question_finds_what_is_asked_in_the_order_of_the_texts(rows, relation, without):
    passages = made(rows)
    question = Question((1,), (1,), 2, (Beside(relation, (4,), without),))
    texts = np.asarray([1, 3])
    found = answer(question, passages, texts, below, no_spans)
    rows = [p for p in plain(passages) if p["text_id"] in (1, 3)]
    others = [p for p in rows if p["code_id"] == 4]
    wanted = [
        p["id"]
        for p in rows
        if p["code_id"] in BELOW[1]
        and p["made_by"] == 1
        and p["strength"] >= 2
        and without != any(p["text_id"] == o["text_id"] and HOLDS[relation](p, o) for o in others)
    ]
    assert found.id.tolist() == wanted


@given(several, several)
def test_replacing_the_passages_of_some_texts_is_reading_all_again(before, after):
    """Texts 1 and 2 have other passages now, text 3 has the same."""
    same = [row for row in before if row[0] == 3]
    now = [row for row in after if row[0] != 3] + same
    old, fresh = made(before), made([row for row in after if row[0] != 3])
    found = old.with_texts({1, 2}, fresh)

    def words(passages):
        return sorted(
            (p["text_id"], p["code_id"], p["start"], p["end"], p["made_by"]) for p in plain(passages)
        )

    assert words(found) == words(made(now))
    assert (np.diff(found.text_id) >= 0).all()


def test_nothing_is_coded_yet():
    assert len(empty()) == 0 and count_codes(empty(), BELOW)[1] == (0, 0, 0)
    for relation in RELATIONS:
        assert related(relation, made([(1, 1, 0, 3, 1)]), empty()).tolist() == [False]


@given(several, st.lists(st.integers(-1, 2), min_size=3, max_size=3))
def test_counts_by_group_are_the_counts_of_each_group(rows, group_of_text):
    passages = made(rows)
    group = np.asarray([group_of_text[text - 1] for text in passages.text_id], np.int64)
    counted, texts = count_in_groups(passages, group, 3, BELOW)
    for at in range(3):
        alone = count_codes(passages.taken(group == at), BELOW)
        assert counted[:, at].tolist() == [one.passages for one in alone.values()]
        assert texts[:, at].tolist() == [one.texts for one in alone.values()]


@given(several)
def test_codes_far_apart_in_number_are_told_apart(rows):
    near, far = made(rows), made([(r[0], r[1] * 100_000, *r[2:]) for r in rows])
    assert {code * 100_000: at.tolist() for code, at in near.by_code.items()} == {
        code: at.tolist() for code, at in far.by_code.items()
    }


@given(several, st.sampled_from(["", "hand", "run"]))
def test_passages_of_runs_are_told_apart_by_their_coder(rows, by):
    # whoever has an even number here is a run
    passages = made(
        [
            (text, code, start, end, who if who % 2 else -who, *more)
            for text, code, start, end, who, *more in rows
        ]
    )
    found = answer(Question(by=by), passages, np.arange(1, 4), below, no_spans)
    wanted = {"": (True, False), "hand": (True,), "run": (False,)}[by]
    assert found.id.tolist() == [p["id"] for p in plain(passages) if (p["made_by"] > 0) in wanted]
