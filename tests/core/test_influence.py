"""The result without each single term: what is said is what comes when the term is taken out by hand."""

from __future__ import annotations

import random

import numpy as np
import pytest

from tests.core.test_compare import category, corpus
from tests.core.texts import Texts, table_of
from winnower.core.compare import influence_of_terms, influence_statements
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.scope import Scope, Split, lay_ground


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    """Source A says "lamb" much oftener than B; all other words are alike in both."""
    rng, texts, sources = random.Random(5), [], []
    for n in range(80):
        source = "AB"[n % 2]
        if source == "A":
            words = rng.choices(["the", "hill", "deer", "birch", "price", "market"], k=rng.randint(12, 40))
        lambs = rng.randint(2, 9) if source == "A" else rng.randint(0, 2)
        texts.append(" ".join(words + ["lamb"] * lambs + ["stone"] * (9 - lambs)))
        sources.append(source)
    index, columns = corpus(tmp_path_factory.mktemp("index"), texts, sources)
    return index, columns, lay_ground(Scope(()), Split("source"), index, columns)


def looked(made, *categories, **more):
    index, columns, ground = made
    table = table_of(Dictionary("Frames", categories), index, columns, **more)
    return table, influence_of_terms(table, Texts(index, columns), ground)


def test_a_term_that_carries_the_difference_is_named_with_its_figures(made):
    table, found = looked(made, category("Livelihood", "lamb*", "deer", "birch"), category("Trade", "price"))
    first = found[0]
    assert (first.term.source, first.row, first.turns) == ("lamb*", 0, True)
    assert first.p <= 0.05 < first.p_without
    assert first.between > first.between_without
    said = influence_statements(table, found)
    assert [one.kind for one in said] == ["warning"]
    assert f"Without “lamb*”, which has {first.share:.0%} of its hits" in said[0].text
    assert "the rate of Livelihood differs no more" in said[0].text


def test_a_term_that_hides_a_difference_is_named_if_chance_among_all_looked_at_would_not_do_it(tmp_path):
    """A says lamb, B says ewe, as often: together they are alike."""
    rng, texts, sources = random.Random(9), [], []
    for n in range(80):
        often, seldom = ("lamb", "ewe") if n % 2 else ("ewe", "lamb")
        texts.append(" ".join([often] * rng.randint(3, 9) + [seldom] * rng.randint(0, 2) + ["hill"] * 30))
        sources.append("AB"[n % 2])
    index, columns = corpus(tmp_path, texts, sources)
    ground = lay_ground(Scope(()), Split("source"), index, columns)
    table, found = looked((index, columns, ground), category("Livelihood", "lamb", "ewe"))
    assert all(one.turns and one.p > 0.05 >= 2 * one.p_without for one in found) and len(found) == 2
    assert "adjusted for 2 terms looked at" in influence_statements(table, found)[0].text


def test_the_p_without_is_that_of_a_dictionary_without_the_term(made):
    """The test by itself on the same states of chance, with the others' p beside it."""
    table, found = looked(made, category("Livelihood", "lamb*", "deer"), category("Trade", "price", "market"))
    for one in found:
        categories = [
            Category(c.path, tuple(t for t in c.terms if (at, t) != (one.row, one.term)))
            for at, c in enumerate(
                (category("Livelihood", "lamb*", "deer"), category("Trade", "price", "market"))
            )
        ]
        by_hand, _ = looked(made, *categories)
        p = by_hand.tests.verdict.rates.p_adjusted[one.row]
        assert one.p == table.tests.verdict.rates.p_adjusted[one.row]
        assert one.p_without == pytest.approx(p, abs=0.06)
        assert (one.p_without <= 0.05) == (p <= 0.05)


def test_shares_are_those_of_the_counted_hits(made):
    table, found = looked(made, category("Livelihood", "lamb*", "deer"))
    alone, _ = looked(made, category("Lambs", "lamb*"))
    share = next(one.share for one in found if one.term.source == "lamb*")
    assert share == pytest.approx(alone.hits[0].sum() / table.hits[0].sum())


def test_nothing_is_said_to_carry_a_category_of_one_term(made):
    table, found = looked(made, category("Livelihood", "lamb*"))
    assert found == ()
    assert "No single term has 20% or more" in influence_statements(table, found)[0].text


def test_where_no_term_turns_anything_this_is_said(made):
    table, found = looked(made, category("Woods", "deer", "birch"))
    assert found and not any(one.turns for one in found)
    assert "the same categories differ" in influence_statements(table, found)[0].text


def test_without_a_test_there_is_no_influence(made):
    index, columns, _ = made
    ground = lay_ground(Scope(()), Split(), index, columns)
    table = table_of(
        Dictionary("Frames", (category("Livelihood", "lamb*", "deer"),)), index, columns, split=Split()
    )
    assert influence_of_terms(table, Texts(index, columns), ground) == ()


def test_what_another_term_catches_too_is_not_missed(made):
    """Two terms that catch the same words: without one the other still counts them."""
    terms = (TermEntry("lamb*"), TermEntry("lamb"), TermEntry("deer"))
    _, found = looked(made, Category(("Livelihood",), terms))
    twice = [one for one in found if one.term.source.startswith("lamb")]
    assert len(twice) == 2
    assert all(not one.turns and np.isclose(one.between, one.between_without) for one in twice)


def test_a_term_with_all_the_hits_is_the_category_itself(made):
    _, found = looked(made, category("Livelihood", "lamb*", "unicorn"))
    assert found == ()
