"""Suggestions, double meanings, the thesaurus, searches, judging, differences of dictionaries."""

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_words import NONE, made
from tests.core.texts import Texts
from winnower.core.compare import look_over, side_by_side
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.dictionary.differences import differences, plan_merge
from winnower.core.errors import TermError
from winnower.core.pattern import (
    matching_texts,
    only_or,
    parse_query,
    parse_term,
    terms_of,
    with_alternatives,
)
from winnower.core.pattern.exclude import exclude_form
from winnower.core.pattern.query import Leaf
from winnower.core.places import Places, find_hits
from winnower.core.review.quality import (
    balanced_sample,
    missed_texts,
    precision,
    quality_of,
    text_quality_of,
)
from winnower.core.review.verdicts import judged_hits, places_in_texts, right_hits
from winnower.core.scope import Matches, Scope, Split, lay_ground
from winnower.core.suggest import (
    build_company,
    hits_of_kind,
    in_the_same_company,
    mixed_company,
    other_forms,
    suggest,
    typical_words,
    variants,
)
from winnower.core.words import count_words
from winnower.readers.thesaurus import Thesaurus


def counted(tmp_path, many):
    index, columns, lexicon = made(tmp_path, many)
    words = count_words(index, lexicon, lay_ground(Scope(), Split(), index, columns))
    return index, columns, lexicon, words.form_hits, np.zeros(len(lexicon), bool)


def test_misspellings_and_other_forms(tmp_path):
    many = [
        "compensation compensation compenstation",
        "livelihood livlihood livelihoods",
        "pride price price prise",
    ]
    _, _, lexicon, hits, nothing = counted(tmp_path, many)
    found = variants(["compensation", "livelihood", "price"], lexicon, hits, nothing, "en")
    names = {lexicon.folds[n]: like for n, like in found.items()}
    assert names == {"compenstation": "compensation", "livlihood": "livelihood"}
    unlisted = {lexicon.folds[n] for n in variants(["price"], lexicon, hits, nothing)}
    assert unlisted == {"pride", "prise"}
    lemmas = pl.Series([{"livelihoods": "livelihood"}.get(f, f) for f in lexicon.folds.to_list()])
    forms = other_forms(["livelihood"], lexicon, lemmas, hits, nothing, "en")
    assert [lexicon.folds[n] for n in forms] == ["livelihoods"]
    assert variants(["ewe"], lexicon, hits, nothing) == {}


def test_words_in_the_same_company(tmp_path):
    rng = np.random.default_rng(3)
    hill, shop = ["grazed", "flock", "dyke", "fell", "tup"], ["till", "shelf", "counter", "queue", "bag"]
    many = []
    for _ in range(300):
        animal, thing = rng.choice(["ewe", "hogg"]), rng.choice(["bread", "cheese"])
        many.append(" ".join([*rng.permutation(hill)[:3], animal, *rng.permutation(hill)[:3]]))
        many.append(" ".join([*rng.permutation(shop)[:3], thing, *rng.permutation(shop)[:3]]))
    index, _, lexicon, hits, nothing = counted(tmp_path, many)
    company = build_company(index, lexicon, hits, NONE)
    again = build_company(index, lexicon, hits, NONE)
    assert np.array_equal(company.vectors, again.vectors)
    found = in_the_same_company(["ewe"], lexicon, company, hits, nothing)
    assert lexicon.folds[next(iter(found))] == "hogg"
    assert set(found.values()) == {"ewe"}
    assert "cheese" not in {lexicon.folds[n] for n in found}
    assert in_the_same_company(["unknown"], lexicon, company, hits, nothing) == {}


def test_a_word_with_two_meanings_is_told_from_one_with_one(tmp_path):
    rng = np.random.default_rng(4)
    hill, trade = ["grazed", "flock", "dyke", "fell", "tup"], ["shares", "traders", "index", "bonds", "rose"]
    many = []
    for _ in range(120):
        many.append(" ".join([*rng.permutation(hill)[:3], "stock", *rng.permutation(hill)[:3]]))
        many.append(" ".join([*rng.permutation(trade)[:3], "stock", *rng.permutation(trade)[:3]]))
        many.append(" ".join([*rng.permutation(hill)[:3], "ewe", *rng.permutation(hill)[:3]]))
    index, columns, lexicon, hits, _ = counted(tmp_path, many)
    company = build_company(index, lexicon, hits, NONE)

    def look(term):
        found = find_hits([parse_term(term)], index, columns, np.ones(len(many), bool), "text")
        return mixed_company(found, index, lexicon, company)

    stock = look("stock")
    assert stock.likely and {frozenset(words) <= set(hill) for words in stock.words} == {True, False}
    assert not look("ewe").likely
    assert look("tup near:1 nothing") is None
    # the hits of each kind are those that were counted, in whatever order they are read
    term, mask = parse_term("stock"), np.ones(len(many), bool)
    trades = 0 if set(stock.words[0]) <= set(trade) else 1
    for order in ("date", "text"):
        ordered = find_hits([term], index, columns, mask, order)
        found = [hits_of_kind(term, kind, ordered, index, lexicon, company, mask) for kind in (0, 1)]
        assert [one.hits for one in found] == list(stock.sizes)
        assert not set(found[0].text.tolist()) & set(found[1].text.tolist())
        about = [set(many[at].split()) & set(trade) for at in found[trades].text.tolist()]
        assert sum(map(bool, about)) > 0.9 * len(about)


def test_typical_words_of_passages(tmp_path):
    many = ["the heft is lost", "the heft is old", "the heft is theirs", *["the road is wet"] * 30]
    index, columns, lexicon, hits, _ = counted(tmp_path, many)
    passages = find_hits([parse_term("heft")], index, columns, np.ones(len(many), bool), "text")
    found, g2 = typical_words(passages, index, lexicon, hits)
    assert [lexicon.folds[int(n)] for n in found] == ["heft"]
    assert g2[0] > 10.83


def test_suggestions_are_offered_once_and_only_with_hits(tmp_path):
    _, _, lexicon, hits, left_out = counted(tmp_path, ["ewe ewe hogg tup wool"])
    number = lexicon.number_of
    left_out[number("wool")] = True
    found = {
        "form": {number("hogg"): "ewe"},
        "synonym": {number("hogg"): "tup", number("wool"): "x", number("tup"): "ram"},
    }
    offered = suggest(lexicon, hits, found, left_out)
    assert [(s.text, s.reason, s.like) for s in offered] == [
        ("hogg", "form", "ewe"),
        ("tup", "synonym", "ram"),
    ]


@pytest.mark.skipif(not Thesaurus().available, reason="the thesaurus is not installed")
def test_the_thesaurus_knows_synonyms_but_no_names():
    found = Thesaurus().synonyms("farmer")
    assert "husbandman" in found and all(word.islower() for word in found)
    assert "mouse" in Thesaurus().base_forms("mice")
    assert Thesaurus().synonyms("zzzz") == [] and Thesaurus().synonyms("") == []


def test_without_a_thesaurus_there_are_no_synonyms(tmp_path):
    assert not Thesaurus(tmp_path).available and Thesaurus(tmp_path).synonyms("farmer") == []


TEXTS = ["lamb and price", "lamb only", "price of wool", "neither"]


@pytest.mark.parametrize(
    ("query", "found"),
    [
        ("lamb", [0, 1]),
        ("lamb AND price", [0]),
        ("lamb OR price", [0, 1, 2]),
        ("price AND NOT lamb", [2]),
        ("NOT (lamb OR price)", [3]),
        ("lamb OR price AND wool", [0, 1, 2]),
        ("(lamb OR price) AND wool", [2]),
        ("(lamb | price) near:2 (wool | only)", [1, 2]),
        ('"AND"', [0]),
        ("NOT NOT lamb", [0, 1]),
    ],
)
def test_searches_over_whole_texts(tmp_path, query, found):
    index, columns, _ = made(tmp_path, TEXTS)
    assert np.flatnonzero(matching_texts(parse_query(query), index)).tolist() == found
    mask = lay_ground(Scope((Matches(query),)), Split(), index, columns).mask
    assert np.flatnonzero(mask).tolist() == found


LEAVES = [
    "lamb",
    "price",
    "wool near:2 price",
    "(lamb | wool)",
    "any-accents: only",
    "(lamb | wool) unless-near:1 and",
]
leaves = st.sampled_from(LEAVES).map(lambda leaf: ("leaf", leaf))
searches = st.recursive(
    leaves,
    lambda inner: st.tuples(st.just("not"), inner) | st.tuples(st.sampled_from(["and", "or"]), inner, inner),
    max_leaves=6,
)


@given(searches)
@settings(max_examples=120)
def test_brackets_may_stand_around_every_part_of_a_search(tmp_path_factory, search):
    index, _, _ = made(tmp_path_factory.mktemp("searches"), TEXTS)

    def written(part):
        if part[0] == "leaf":
            return f"({part[1]})"
        if part[0] == "not":
            return f"NOT {written(part[1])}"
        return f"({written(part[1])} {part[0].upper()} {written(part[2])})"

    def texts(part):
        if part[0] == "leaf":
            return matching_texts(Leaf(parse_term(part[1])), index)
        if part[0] == "not":
            return ~texts(part[1])
        return texts(part[1]) & texts(part[2]) if part[0] == "and" else texts(part[1]) | texts(part[2])

    assert matching_texts(parse_query(written(search)), index).tolist() == texts(search).tolist()


@pytest.mark.parametrize(
    ("query", "position", "words"),
    [
        ("", 0, "at least one word"),
        ("lamb AND", 7, "word is missing"),
        ("AND lamb", 0, "word is missing"),
        ("(lamb AND price", 0, "not closed"),
        ("lamb AND price)", 14, "closes nothing"),
        ("(lamb OR ewe) price", 14, "stands AND or OR"),
        ("wool (lamb AND price)", 11, "cannot stand inside"),
        ("wool OR lamb near:0 x", 18, "number of words"),
    ],
)
def test_searches_that_cannot_be_read(query, position, words):
    with pytest.raises(TermError, match=words) as caught:
        parse_query(query)
    assert caught.value.position == position


def test_terms_and_alternatives_of_a_search():
    query = parse_query("lamb AND NOT price OR (ewe | hogg)")
    assert [t.source for t in terms_of(query)] == ["lamb", "(ewe | hogg)"]
    assert not only_or(query) and only_or(parse_query("lamb OR ewe"))
    assert (
        with_alternatives("lamb AND lamb* OR price", {"lamb": ["ewe", "hogg"]})
        == "(lamb | ewe | hogg) AND lamb* OR price"
    )


def test_a_form_is_left_out_of_a_term():
    once = exclude_form(parse_term("compensat*"), "compensatory")
    twice = exclude_form(once, "compensated loss")
    assert twice.source == "compensat* unless-part-of: compensatory | compensated loss"
    assert exclude_form(twice, "compensatory").source == twice.source


@given(st.lists(st.integers(0, 4), min_size=1, max_size=60), st.integers(1, 70), st.integers(1, 9))
def test_a_sample_is_balanced_and_repeatable(groups, size, seed):
    group = np.array(groups)
    chosen = balanced_sample(group, size, seed)
    assert len(set(chosen.tolist())) == len(chosen) == min(size, len(groups))
    assert chosen.tolist() == balanced_sample(group, size, seed).tolist()
    of_group = np.bincount(group[chosen], minlength=5)
    room = np.bincount(group, minlength=5)
    open_groups = of_group < room
    if open_groups.any():
        assert of_group.max() - of_group[open_groups].min() <= 1


def test_precision_and_what_is_missed():
    found = precision(8, 12)
    assert (found.share, round(found.low, 2), round(found.high, 2)) == (8 / 12, 0.39, 0.86)  # Wilson by hand
    assert np.isnan(precision(0, 0).share)
    missed = missed_texts(5, 50, 1000, 200, precision(18, 20))
    assert missed.texts[0] == pytest.approx(100)
    assert missed.recall[0] == pytest.approx(180 / 280)
    assert missed.recall[1] < missed.recall[0] < missed.recall[2]
    assert missed == missed_texts(5, 50, 1000, 200, precision(18, 20))
    assert np.isnan(missed_texts(0, 0, 10, 10, precision(1, 1)).recall[0])


def test_precision_is_weighted_by_the_hits_each_verdict_stands_for():
    """A source with many wrong hits and one with few right ones, sampled in equal numbers: averaged plainly the
    precision would be overstated, and its interval would never cover."""
    source = np.repeat([0, 1], [9_000, 1_000])
    truth = np.concatenate([np.arange(9_000) % 2, np.ones(1_000, int)])  # 0.5 and 1: 0.55 in all
    covered, plainly, shares = [], [], []
    for seed in range(200):
        judged = np.full(10_000, -1, np.int8)
        chosen = balanced_sample(source, 100, seed)
        judged[chosen] = truth[chosen]
        found = quality_of(judged, source)
        covered.append(found.low <= 0.55 <= found.high)
        shares.append(found.share)
        plain = quality_of(judged)
        plainly.append(plain.low <= 0.55 <= plain.high)
    assert np.mean(shares) == pytest.approx(0.55, abs=0.01)
    assert np.mean(covered) > 0.92 and np.mean(plainly) < 0.1
    judged[source == 1] = -1
    assert quality_of(judged, source).unseen == pytest.approx(0.1)


@given(st.lists(st.sampled_from([-1, 0, 1]), min_size=1, max_size=50), st.integers(1, 4))
def test_where_every_hit_is_judged_strata_do_not_matter(said, strata):
    judged = np.array(said, np.int8)
    whole = np.abs(judged)
    stratum = np.arange(len(said)) % strata
    assert quality_of(whole, stratum).share == pytest.approx(quality_of(whole).share)
    found = quality_of(judged, stratum)
    assert found.judged == (judged >= 0).sum() and (
        found.judged == 0 or 0 <= found.low <= found.share <= found.high <= 1
    )


def test_texts_are_right_where_a_judged_hit_is_and_weigh_one_over_their_hits():
    text = np.array([0, 0, 0, 0, 1, 2])
    judged = np.array([1, 0, -1, -1, 0, 1], np.int8)
    found = text_quality_of(judged, text, np.zeros(6, int))
    assert (found.judged, found.right) == (3, 2)
    assert found.share == pytest.approx((0.25 + 1) / 2.25)
    assert text_quality_of(np.full(6, -1, np.int8), text, np.zeros(6, int)).judged == 0


def test_verdicts_stay_with_the_very_same_words(tmp_path):
    index, columns, _ = made(tmp_path, ["Stock fell. The stock cube.", "stock again"])
    everything = np.ones(2, bool)

    def hits(term):
        return find_hits([parse_term(term)], index, columns, everything, "text")

    places = places_in_texts(hits("stock"), index)
    assert places.rows() == [(index.text_id[0], 0, 5), (index.text_id[0], 16, 21), (index.text_id[1], 0, 5)]
    given = places.head(2).with_columns(verdict=pl.Series([1, 0], dtype=pl.Int8))
    assert judged_hits(hits("stock"), index, given).tolist() == [1, 0, -1]
    assert judged_hits(hits("stock*"), index, given).tolist() == [1, 0, -1]
    assert judged_hits(hits("stock unless-part-of: stock cube"), index, given).tolist() == [1, -1]
    assert judged_hits(hits("stock cube"), index, given).tolist() == [-1]
    assert right_hits(hits("stock"), index, given).start.tolist() == [0]
    split = pl.concat([given, given.with_columns(verdict=pl.Series([0, 0], dtype=pl.Int8))])
    assert judged_hits(hits("stock"), index, split).tolist() == [0, 0, -1]  # one against one is not right


def dictionary(**categories):
    return Dictionary(
        "D",
        tuple(
            Category((name,), tuple(t if isinstance(t, TermEntry) else TermEntry(t) for t in terms))
            for name, terms in categories.items()
        ),
    )


def test_differences_between_two_states():
    before = dictionary(A=["lamb", "wool", "Hill"], B=["deer"])
    after = dictionary(A=["lamb", TermEntry("Hill", match_case=True), "ewe"], C=["oak"])
    found = differences(before, after)
    assert [
        (c.kind, c.path, c.before and c.before.source, c.after and c.after.source) for c in found.terms
    ] == [
        ("changed", ("A",), "Hill", "Hill"),
        ("added", ("A",), None, "ewe"),
        ("removed", ("A",), "wool", None),
        ("added", ("C",), None, "oak"),
        ("removed", ("B",), "deer", None),
    ]
    assert (found.categories_added, found.categories_removed) == ((("C",),), (("B",),))
    assert not differences(before, before).any


def test_a_merge_adds_what_is_new_and_shows_what_differs():
    mine = dictionary(A=["lamb", TermEntry("wool", note="fleece")], B=["deer"])
    theirs = dictionary(
        A=["lamb", TermEntry("wool", note="and yarn"), TermEntry("lamb*"), "deer"],
        B=[TermEntry("deer", match_case=True)],
        C=["oak"],
    )
    plan = plan_merge(mine, theirs)
    assert [(path, entry.source) for path, entry in plan.terms] == [(("A",), "lamb*"), (("C",), "oak")]
    assert [c.path for c in plan.categories] == [("C",)] and plan.same == 2
    assert [(c.kind, c.source, c.mine, c.theirs) for c in plan.conflicts] == [
        ("note", "wool", "fleece", "and yarn"),
        ("category", "deer", "B", "A"),
        ("options", "deer", "no options", "exact case"),
    ]
    assert len({c.key for c in plan.conflicts}) == 3


def test_content_keeps_all_and_old_contents_are_read():
    full = Dictionary(
        "D",
        (
            Category(
                ("A", "B"), (TermEntry("x", True, False, "why"), TermEntry("go", forms_of="en")), "what", 3
            ),
        ),
    )
    assert Dictionary.from_content("D", full.content()) == full
    old = [{"path": ["A"], "terms": [["lamb", False, True]]}]
    assert Dictionary.from_content("D", old).categories[0].terms == (TermEntry("lamb", False, True),)


def test_what_to_look_after(tmp_path):
    index, columns, _ = made(tmp_path, ["lamb lamb lambs deer"] * 10 + ["wool hill"])
    target = dictionary(A=["lamb", "lamb*", "wool", "unknown"], B=["deer", "lambs"])
    found = look_over(target, index, lay_ground(Scope(), Split(), index, columns))
    assert [(o.first, o.second, o.words) for o in found.overlaps] == [(0, 1, 10)]
    assert found.idle == (0,)  # lamb: all of it is in lamb*
    assert [at for at, _ in found.carrying] == [1]
    none = look_over(Dictionary("E", ()), index, lay_ground(Scope(), Split(), index, columns))
    assert (none.overlaps, none.idle, none.carrying) == ((), (), ())


def test_two_dictionaries_on_the_same_texts(tmp_path):
    index, columns, _ = made(tmp_path, ["lamb lambs wool", "lamb deer"], ["A", "B"])
    ground = lay_ground(Scope(), Split("source"), index, columns)
    found = side_by_side(
        dictionary(X=["lamb*"], Y=["wool"]), dictionary(X=["lamb"], Z=["deer"]), Texts(index, columns), ground
    )
    assert found.paths == (("X",), ("Y",), ("Z",))
    assert found.hits[:, 0].tolist() == [[2, 1], [1, 1]]
    assert found.both.tolist() == [2, 0, 0]
    assert found.has.tolist() == [[True, True, False], [True, False, True]]
    assert isinstance(find_hits([parse_term("lamb")], index, columns, np.ones(2, bool)), Places)
