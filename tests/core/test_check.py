"""Near duplicates against an exact comparison of all pairs; differences, damage, languages, calendar."""

import datetime as dt
from itertools import combinations

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.slow import fold, tokens
from winnower.core.check import calendar, differences, is_tiny, language_of, near_duplicates, repair, settled
from winnower.core.index import TokenIndex, build_segment
from winnower.core.scope import NO_DATE, CategoryColumn, Columns, DateColumn

BANK = [
    "the",
    "valley",
    "board",
    "said",
    "on",
    "monday",
    "that",
    "an",
    "inquiry",
    "into",
    "the",
    "release",
    "will",
    "begin",
    "in",
    "may",
    "and",
    "all",
    "who",
    "live",
    "there",
    "may",
    "speak",
    "while",
    "farmers",
    "count",
    "lambs",
    "and",
    "wardens",
    "count",
    "deer",
]


def exact(texts, threshold):
    """Groups of texts joined by pairs that share enough five-word runs: the rule, outright."""
    sets = []
    for text in texts:
        forms = [fold(t) for t, _ in tokens(text) if any(c.isalnum() for c in t)]
        sets.append(
            {tuple(forms[at : at + 5]) for at in range(len(forms) - 4)} if len(forms) >= 12 else set()
        )
    group = list(range(len(texts)))
    for a, b in combinations(range(len(texts)), 2):
        if sets[a] and sets[b] and len(sets[a] & sets[b]) / len(sets[a] | sets[b]) >= threshold:
            old, new = group[b], group[a]
            group = [new if g == old else g for g in group]
    return {frozenset(at for at, g in enumerate(group) if g == one) for one in group if group.count(one) > 1}


def found(texts, folder, cut, threshold=0.6, **options):
    parts = [texts[:cut], texts[cut:]]
    index = TokenIndex([build_segment(folder / f"p{n}", range(len(p)), p) for n, p in enumerate(parts) if p])
    near = near_duplicates(index, threshold, **options)
    groups = {frozenset(np.flatnonzero(near.group == g).tolist()) for g in range(near.n_groups)}
    return groups, near


@given(st.data())
@settings(max_examples=30, deadline=None)
def test_it_finds_what_comparing_all_pairs_finds(tmp_path_factory, data):
    base = data.draw(
        st.lists(st.lists(st.sampled_from(BANK), min_size=25, max_size=60), min_size=1, max_size=4)
    )
    texts = [" ".join(words) for words in base]
    for _ in range(data.draw(st.integers(0, 4))):
        words = data.draw(st.sampled_from(base))[:]
        words[data.draw(st.integers(0, len(words) - 1))] = "changed"
        texts.append(" ".join(words))
    wanted = exact(texts, 0.6)
    groups, near = found(texts, tmp_path_factory.mktemp("near"), data.draw(st.integers(0, len(texts))))
    assert groups == wanted
    assert ((near.alike == 1.0).sum() >= len(groups)) and (near.alike[near.group < 0] == 0).all()


def test_case_signs_and_segments_do_not_matter_and_short_texts_are_left_out(tmp_path):
    text = " ".join(BANK)
    groups, near = found([text, "Short and short.", text.upper() + "!!!", "Short and short."], tmp_path, 2)
    assert groups == {frozenset({0, 2})}
    assert near.alike.tolist() == [1.0, 0.0, 1.0, 0.0]


def test_the_first_of_a_group_is_the_one_of_lowest_rank(tmp_path):
    words = BANK * 2
    texts = [" ".join(words), " ".join([*words[:40], "else", *words[41:]])]
    _, near = found(texts, tmp_path, 1, rank=np.array([1, 0]))
    assert near.alike[1] == 1.0 and 0.6 <= near.alike[0] < 1.0


def test_it_can_be_ended_while_it_works(tmp_path):
    def tell(share):
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        found([" ".join(BANK)] * 3, tmp_path, 1, tell=tell)


def test_an_empty_corpus_has_no_groups():
    near = near_duplicates(TokenIndex([]))
    assert near.n_groups == 0 and len(near.group) == 0


@given(
    st.lists(st.sampled_from(["lamb", "ewe", "deer", "fell.", "at\n\ndusk"]), max_size=20),
    st.lists(st.sampled_from(["lamb", "ewe", "deer", "fell.", "at\n\ndusk"]), max_size=20),
)
def test_differences_put_both_texts_together_again(first, second):
    a, b = " ".join(first), " ".join(second)
    parts, whole = differences(a, b)
    assert whole
    assert "".join(p.text for p in parts if p.kind != "removed").split() == b.split()
    assert "".join(p.text for p in parts if p.kind != "added").split() == a.split()


@pytest.mark.parametrize(
    ("broken", "whole", "lost"),
    [
        ("The cafÃ© is closed.", "The café is closed.", 0),
        ("They donâ€™t mind.", "They don’t mind.", 0),
        ("Lamb &amp; ewe", "Lamb & ewe", 0),
        ("A caf\ufffd here", "A caf\ufffd here", 1),
    ],
)
def test_damaged_characters_are_mended(broken, whole, lost):
    mended = repair(broken)
    assert (mended.body, mended.lost) == (whole, lost)


@pytest.mark.parametrize(
    "text", ["The café is open.", "“Ewes know,” she said – twice.", "Ängste & Öfen", "🐾 ok", "a < b"]
)
def test_whole_texts_are_left_alone(text):
    assert repair(text) is None


@pytest.mark.parametrize(
    ("text", "language"),
    [
        ("The board met on Monday and heard the farmers of the valley speak.", "English"),
        ("Die Schafe stehen auf der Weide und der Luchs schläft im Wald.", "German"),
        ("Les agneaux sont perdus depuis le printemps et personne ne paie.", "French"),
        ("ok", "not sure"),
        ("", "not sure"),
    ],
)
def test_languages(text, language):
    assert language_of(text) == language


@given(
    st.lists(
        st.tuples(st.integers(-1, 2), st.none() | st.dates(dt.date(2030, 11, 1), dt.date(2031, 3, 31))),
        max_size=30,
    )
)
def test_the_calendar_counts_every_dated_text_once(rows):
    days = [NO_DATE if day is None else (day - dt.date(1970, 1, 1)).days for _, day in rows]
    columns = Columns(
        np.arange(len(rows)),
        {
            "source": CategoryColumn(np.array([s for s, _ in rows], np.int32), ("A", "B", "C")),
            "date": DateColumn(np.array(days, np.int32)),
        },
        {"source": "Source", "date": "Date"},
    )
    table = calendar(columns, np.ones(len(rows), bool))
    frame = pl.DataFrame(
        {"source": [("A", "B", "C", None)[s] for s, _ in rows], "day": [d for _, d in rows]},
        schema={"source": pl.String, "day": pl.Date},
    ).drop_nulls("day")
    by_month = frame.group_by("source", pl.col("day").dt.strftime("%Y-%m").alias("month")).len()
    expected = {(source, month): n for source, month, n in by_month.iter_rows()}
    got = {
        (source, label): int(n)
        for source, row in zip(table.sources, table.counts, strict=True)
        for label, n in zip(table.labels, row, strict=True)
        if n
    }
    assert got == expected


@given(st.lists(st.integers(1, 5), max_size=6))
def test_a_group_that_counts_once_keeps_its_first_text(sizes):
    firsts = np.cumsum([0, *sizes])[:-1]
    groups = [np.arange(first, first + size)[::-1] for first, size in zip(firsts, sizes, strict=True)]
    places, aside = settled(groups, "once")
    assert sorted(places) == list(range(sum(sizes)))
    assert places[~aside].tolist() == [group[0] for group in groups]
    assert settled(groups, "aside")[1].all() and not settled(groups, "all")[1].any()


def test_an_empty_text_is_not_a_tiny_one():
    assert is_tiny(np.array([0, 1, 4, 5])).tolist() == [False, True, True, False]
