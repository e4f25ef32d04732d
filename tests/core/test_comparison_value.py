"""A comparison is a value: its plain form, its targets, and from cells back to places."""

import datetime as dt
import json
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_compare import FRAMES, corpus
from tests.core.texts import Texts, table_of
from winnower.core.coding import Passages
from winnower.core.compare import (
    MEASURES,
    Cell,
    Comparison,
    DictionaryTarget,
    OfDictionary,
    OfGiven,
    OfSearch,
    OfTerms,
    OfWords,
    compare,
    count_search,
    evidence,
    from_plain,
    measure_named,
    to_plain,
)
from winnower.core.compare.bases import OF_HITS_ALONE
from winnower.core.compare.comparison import Joined
from winnower.core.compare.targets import (
    CodeNode,
    FieldNumber,
    OfCodes,
    OfLength,
    OfNumbers,
    OfRun,
    OfValues,
    RunFound,
    ToneNumber,
)
from winnower.core.dictionary import TermEntry
from winnower.core.errors import ComparisonError, Conflict, NotFound, ScopeError
from winnower.core.places import places_in_texts
from winnower.core.places.stretches import as_places
from winnower.core.scope import (
    Between,
    Crossed,
    During,
    Finds,
    HasTerm,
    HasValue,
    Inside,
    InTitle,
    Matches,
    Merged,
    Part,
    Scope,
    Split,
    fields_of,
    lay_ground,
    scope_from_plain,
    scope_to_plain,
)

text = st.text(min_size=1, max_size=20)
days = st.none() | st.dates()
numbers = st.none() | st.floats(-1e9, 1e9)
conditions = st.one_of(
    st.builds(HasValue, text, st.lists(st.none() | text, min_size=1, max_size=4).map(tuple), st.booleans()),
    st.builds(Between, text, numbers, numbers, st.booleans()),
    st.builds(During, text, days, days, st.booleans()),
    st.builds(HasTerm, st.lists(text, min_size=1, max_size=3).map(tuple), st.booleans()),
    st.builds(InTitle, text, text, st.booleans()),
    st.builds(Finds, text, st.booleans()),
    st.builds(Matches, text, st.booleans()),
    st.builds(Inside, st.lists(text, min_size=1, max_size=3).map(tuple), exclude=st.booleans()),
)
entries = st.builds(
    TermEntry, text, st.booleans(), st.booleans(), st.text(max_size=5), st.sampled_from(["", "en"])
)
targets = st.one_of(
    st.builds(OfDictionary, st.integers(1, 2**60), st.none() | st.integers(1, 999), st.none() | text),
    st.builds(OfTerms, st.lists(entries, min_size=1, max_size=4).map(tuple)),
    st.builds(OfSearch, text),
    st.builds(
        OfWords, st.lists(text, min_size=1).map(tuple), merge=st.sampled_from(["none", "lemma", "stem"])
    ),
    st.just(OfGiven("Frames", FRAMES.categories)),
    st.builds(
        OfCodes,
        st.lists(st.integers(1, 99), max_size=3).map(tuple),
        st.sampled_from(["passages", "words"]),
        st.none() | st.integers(0, 99),
    ),
    st.builds(OfValues, text, st.sampled_from([None, "month"])),
    st.builds(OfRun, st.integers(1, 2**31), st.sampled_from(["passages", "words"])),
    st.builds(
        OfNumbers,
        st.lists(
            st.builds(FieldNumber, text) | st.builds(ToneNumber, st.integers(1, 9)), min_size=1, max_size=3
        ).map(tuple),
        st.none() | st.integers(0, 99),
    ),
    st.builds(OfLength, st.lists(st.integers(1, 9_999), min_size=1, unique=True).map(sorted).map(tuple)),
)
periods = st.sampled_from([None, "day", "month", "year"])
#: Splits by unlike fields: the first is compared across, the others are held equal.
fields = st.lists(st.builds(Split, text, periods), min_size=1, max_size=4, unique_by=lambda one: one.field)


names = st.lists(text, min_size=1, max_size=3, unique=True).map(tuple)
some_conditions = st.lists(conditions, max_size=2).map(tuple)
#: What a split is beside a field: parts, codes, groups that are merged or left out, a second field.
larger = st.one_of(
    st.builds(
        Split,
        parts=st.lists(
            st.builds(Part, text, some_conditions), min_size=1, max_size=3, unique_by=lambda one: one.name
        ).map(tuple),
        merged=st.lists(st.builds(Merged, text, names), max_size=2).map(tuple),
        without=names,
    ),
    st.builds(Split, codes=names, rest=st.booleans(), crossed=st.none() | st.builds(Crossed, text, periods)),
)


@st.composite
def comparisons(draw):
    across, *held = draw(fields)
    target = draw(targets)
    of_numbers = target.kind == "numbers"
    counting = "hits" if of_numbers else draw(st.sampled_from(["hits", "sentences", "paragraphs", "words"]))
    held = [] if of_numbers else held
    gone = OF_HITS_ALONE if counting != "hits" else ()
    usable = [
        name
        for name, one in MEASURES.items()
        if (name != "adjusted" or held) and name not in gone and (one.needs == "numbers") == of_numbers
    ]
    return Comparison(
        target,
        draw(st.lists(conditions, max_size=4).map(tuple)),
        draw(st.sampled_from([across, Split()]) | larger),
        draw(st.sampled_from(usable)),
        draw(st.floats(0.51, 0.99)),
        draw(st.integers(0, 2**31 - 1)),
        draw(st.none() | st.just("story") | text),
        tuple(held),
        counting=counting,
        per=draw(st.sampled_from([1_000, 10_000, 1_000_000])),
        reference=draw(st.none() | text),
        joined=() if of_numbers else tuple(draw(st.lists(st.builds(Joined, text, names), max_size=2))),
        leave=draw(st.just(()) | names),
    )


@given(comparisons())
def test_a_comparison_survives_its_plain_form_and_json(comparison):
    plain = json.loads(json.dumps(to_plain(comparison)))
    assert from_plain(plain) == comparison
    assert to_plain(from_plain(plain)) == plain
    assert hash(from_plain(plain)) == hash(comparison)


@given(st.lists(conditions, max_size=5).map(tuple))
def test_a_scope_survives_its_plain_form(these):
    plain = json.loads(json.dumps(scope_to_plain(Scope(these))))
    assert scope_from_plain(plain) == Scope(these)


@pytest.mark.parametrize(
    ("plain", "said"),
    [
        ({"target": {"kind": "weather"}}, "target: .*weather"),
        ({"target": {"kind": "terms", "terms": []}, "colour": 1}, "terms.*at least 1.*colour: unexpected"),
        ({"form": 2, "target": {"kind": "search", "query": "a"}}, "written in form 2"),
        ({"target": {"kind": "search", "query": "a"}, "level": 3}, "level: .*less than 1"),
        ({"target": {"kind": "search", "query": "a"}, "measure": "heat"}, "“heat” is no measure"),
        ({"target": {"kind": "search", "query": "a"}, "scope": [{"kind": "moon"}]}, "scope.0.*moon"),
        ([], "the whole"),
    ],
)
def test_everything_that_does_not_fit_is_named_by_its_place(plain, said):
    with pytest.raises(ComparisonError, match=said):
        from_plain(plain)


def test_numbers_that_cannot_be_compared_are_refused():
    for low in (float("nan"), float("inf")):
        with pytest.raises(ScopeError, match=r"0.numbers.low"):
            scope_from_plain([{"kind": "numbers", "field": "v1", "low": low}])


def test_the_fields_a_scope_depends_on():
    scope = Scope(
        (HasValue("v1", ("a",)), HasTerm(("deer",)), Finds("lamb"), During("date", dt.date(2031, 1, 1)))
    )
    assert fields_of(scope) == {"v1", "title", "date"}


TEXTS = [
    "lamb lambs deer",
    "deer deer market price",
    "the market",
    "lambs and birch",
    "price price lamb",
    "wary deer and lamb",
]
SOURCES = ["A", "B", "A", "B", "C", "C"]


@pytest.fixture(scope="module")
def news(tmp_path_factory):
    return Texts(*corpus(tmp_path_factory.mktemp("value"), TEXTS, SOURCES))


CODES = (CodeNode(1, ("Livelihood",), 0), CodeNode(2, ("Livelihood", "Lambs"), 0), CodeNode(3, ("Voice",), 1))


def coded():
    """Each word "lamb" or "lambs" under Lambs, by two people; the first two words of each text under Voice
    and under Livelihood; one text that is not in the corpus."""
    rows = []
    for number, body in enumerate(TEXTS):
        for found in re.finditer(r"\blambs?\b", body):
            rows += [(number, 2, found.start(), found.end(), who) for who in (1, 2)]
        end = len(" ".join(body.split()[:2]))
        rows += [(number, 3, 0, end, 2), (number, 1, 0, end, 2), (number, 2, 0, end, 2)]
    rows.append((999, 2, 0, 4, 2))
    names = ("text_id", "code_id", "start", "end", "made_by")
    columns = {name: np.asarray([row[at] for row in rows]) for at, name in enumerate(names)}
    more = {"id": np.arange(len(rows)), "strength": np.zeros(len(rows), np.int8)}
    return Passages.of(columns | more)


class Nothing:
    """No dictionary is known; some words are coded."""

    def codes(self):
        return CODES, coded(), 7

    def coders(self):
        return {"One": 1, "Two": 2}

    def run(self, run_id):
        return RunFound("Lambs found", (CodeNode(2, ("Lambs",), 0),), coded(), 3, "Nothing was judged.")

    def dictionary(self, dictionary_id, version):
        raise NotFound("There is no such dictionary in this project.")


def asked(reference, news, **more):
    target = reference.resolve(Nothing(), news)
    comparison = Comparison(reference, split=Split("source"), **more)
    return target, compare(comparison, target, news)


def test_terms_words_and_searches_are_counted_like_categories(news):
    _, terms = asked(OfTerms((TermEntry("lamb*"), TermEntry("deer"), TermEntry("lamb*"))), news)
    assert [row.label for row in terms.target.rows] == ["lamb*", "deer"]
    assert terms.hits.tolist() == [[2, 1, 2], [1, 2, 1]]
    _, words = asked(OfWords(("lamb", "price")), news)
    assert words.hits.tolist() == [[1, 0, 2], [0, 1, 2]]
    _, lemmas = asked(OfWords(("lamb",), merge="lemma", language="en"), news)
    assert lemmas.hits.tolist() == [[2, 1, 2]]
    _, search = asked(OfSearch("lamb* AND NOT deer"), news)
    assert search.hits.tolist() == [[0, 1, 1]] and search.target.rows[0].key == "lamb* AND NOT deer"


def test_what_a_search_finds_by_group(news):
    target = OfSearch("market OR NOT deer").resolve(Nothing(), news)
    found = count_search(target, news, lay_ground(Scope(), Split("source"), news.index, news.columns))
    finds = ["market" in one.split() or "deer" not in one.split() for one in TEXTS]
    assert found.texts == sum(finds)
    assert found.group_texts.tolist() == [
        sum(f for f, s in zip(finds, SOURCES, strict=True) if s == group) for group in "ABC"
    ]
    assert (found.hits, found.group_hits.tolist()) == (2, [1, 1, 0])


@pytest.mark.parametrize(
    "reference",
    [
        OfGiven("Frames", FRAMES.categories),
        OfTerms((TermEntry("lamb*"), TermEntry("market price"))),
        OfSearch("(lamb* OR deer) AND NOT birch"),
        OfWords(("deer", "price")),
        OfLength((3, 4)),
        OfCodes(),
        OfCodes(coders=(2,)),
        OfValues("source"),
        OfValues("date", "month"),
        OfRun(4),
    ],
)
def test_every_cell_opens_as_many_places_as_it_says(news, reference):
    target, table = asked(reference, news)
    ground = lay_ground(Scope(), Split("source"), news.index, news.columns)
    for row, named in enumerate(target.rows):
        for group, label in enumerate(table.groups.labels):
            found = evidence(Cell(named.key, label), target, news, ground)
            assert (found.hits, found.texts) == (table.hits[row, group], table.texts_with_hit[row, group])
        assert evidence(Cell(named.key), target, news, ground).hits == table.hits[row].sum()
    together = evidence(Cell(), target, news, ground)
    separately = [evidence(Cell(named.key), target, news, ground) for named in target.rows]
    assert set(together.text) == {text for one in separately for text in one.text}


def test_rows_and_groups_that_are_gone_are_named(news):
    target = DictionaryTarget(FRAMES)
    ground = lay_ground(Scope(), Split("source"), news.index, news.columns)
    with pytest.raises(NotFound, match="no category “Wonder”"):
        evidence(Cell("Wonder"), target, news, ground)
    with pytest.raises(NotFound, match="no group “Z”"):
        evidence(Cell(None, "Z"), target, news, ground)


class Shelf:
    """One dictionary, kept as version 3 or not at all."""

    def __init__(self, version):
        self.version = version

    def dictionary(self, dictionary_id, version):
        return FRAMES, self.version


def test_a_reference_is_pinned_to_the_state_that_was_counted(news):
    now = OfDictionary(7)
    assert now.pinned(now.resolve(Shelf(3), news)) == OfDictionary(7, 3)
    pinned = now.pinned(now.resolve(Shelf(None), news))
    assert pinned == OfDictionary(7, None, FRAMES.fingerprint())
    assert pinned.resolve(Shelf(None), news).value == FRAMES
    with pytest.raises(Conflict, match="changed since"):
        OfDictionary(7, None, "another").resolve(Shelf(None), news)


def test_each_measure_knows_its_unit_and_how_it_is_written(tmp_path):
    texts = ["lamb deer the", "lamb lamb the the", "deer birch the"] * 8
    index, columns = corpus(tmp_path, texts, ["A", "B", "B", "A"] * 6)
    table = table_of(FRAMES, index, columns)
    adjusted = table_of(FRAMES, index, columns, measure="adjusted", adjust=(Split("date"),))
    for name, measure in MEASURES.items():
        if measure.needs in ("judged", "numbers"):
            continue  # tests/core/test_corrected.py, tests/core/test_mean_tables.py
        found = measure.compute((adjusted if name == "adjusted" else table).view)
        assert found.value.shape == table.hits.shape
        assert measure.has_interval == bool(np.isfinite(found.low).any()), name
        assert measure.written(float("nan")) == "–"
    assert MEASURES["rate"].written(9.4123) == "9.41" and MEASURES["share"].written(0.25) == "25.0%"
    assert measure_named("hits").written(1234.0) == "1,234"


def test_cells_that_stand_out_are_told_by_the_table(tmp_path):
    index, columns = corpus(
        tmp_path, ["lamb lamb lamb"] * 20 + ["deer deer deer"] * 20, ["A"] * 20 + ["B"] * 20
    )
    table = table_of(FRAMES, index, columns)
    assert table.stands_out[:2].tolist() == [[1, -1], [-1, 1]]
    assert table.stands_out[2].tolist() == [0, 0]
    assert (table.tests.verdict.rates.z_p[:2] < 0.01).all()


def test_about_one_corpus_in_twenty_has_a_cell_that_stands_out_by_chance(tmp_path):
    coloured = 0
    for run in range(40):
        rng = np.random.default_rng(run)
        texts = [
            " ".join(rng.choice(["lamb", "deer", "the"], int(rng.lognormal(3, 1)) + 1)) for _ in range(60)
        ]
        index, columns = corpus(tmp_path / str(run), texts, list("ABCDEF") * 10)
        coloured += bool(table_of(FRAMES, index, columns).stands_out.any())
    assert coloured <= 6


def test_texts_are_counted_by_their_length(news):
    _, table = asked(OfLength((3, 4)), news)
    assert [row.label for row in table.target.rows] == ["under 3 words", "3 words", "from 4 words"]
    lengths = [len(one.split()) for one in TEXTS]
    for row, fits in enumerate((lambda n: n < 3, lambda n: n == 3, lambda n: n > 3)):
        expected = [sum(fits(n) for n, s in zip(lengths, SOURCES, strict=True) if s == g) for g in "ABC"]
        assert table.hits[row].tolist() == expected
    assert table.hits.sum() == len(TEXTS)


def test_codes_are_counted_with_what_lies_below_and_for_chosen_coders(news):
    _, table = asked(OfCodes(), news)
    lambs = [len(re.findall(r"\blambs?\b", body)) for body in TEXTS]
    by_source = [sum(n for n, s in zip(lambs, SOURCES, strict=True) if s == group) for group in "ABC"]
    texts = [SOURCES.count(group) for group in "ABC"]
    assert [row.label for row in table.target.rows] == ["Livelihood", "Livelihood > Lambs", "Voice"]
    # the first two words are one passage of Livelihood although they are under two of its codes
    inside = [2 * n + t for n, t in zip(by_source, texts, strict=True)]
    assert table.hits.tolist() == [inside, inside, texts]
    _, hers = asked(OfCodes(coders=(2,)), news)
    assert hers.hits[1].tolist() == [n + t for n, t in zip(by_source, texts, strict=True)]
    assert table.comparison.target.revision is None and table.target.tested_rows == (0, 2)


def test_stretches_are_the_tokens_they_touch(news):
    body = TEXTS[0]
    start = body.index(body.split()[1]) + 1  # from within the second word
    found = as_places(np.asarray([0]), np.asarray([start]), np.asarray([len(body)]), news.index)
    frame = places_in_texts(found, news.index)
    assert body[frame["start"][0] : frame["end"][0]] == body[body.index(body.split()[1]) :].rstrip(".")
    every = as_places(np.zeros(len(body), int), np.arange(len(body)), np.arange(len(body)) + 1, news.index)
    assert every.hits == len(body) and (every.length == 1).all()
