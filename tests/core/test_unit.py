"""The sampling unit: texts, values of a field, stories."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_compare import category, corpus
from tests.core.texts import Texts
from winnower.core.compare import Comparison, DictionaryTarget, OfGiven, compare, unit_of
from winnower.core.dictionary import Dictionary
from winnower.core.errors import ScopeError
from winnower.core.scope import Split

LAMBS = Dictionary("Lambs", (category("Livelihood", "lamb*"),))


@pytest.fixture
def copied(tmp_path):
    """40 texts in two sources, each there three times: a story has three copies in one source."""
    rng = np.random.default_rng(2)
    texts, sources, stories = [], [], []
    for story in range(40):
        body = " ".join(rng.choice(["lamb", "hill", "deer", "the"], rng.integers(20, 60)))
        texts += [body] * 3
        sources += ["AB"[story % 2]] * 3
        stories += [story] * 3
    index, columns = corpus(tmp_path, texts, sources)
    return index, columns, np.array(stories, np.int32)


def table(texts, unit=None):
    comparison = Comparison(OfGiven("Lambs", LAMBS.categories), split=Split("source"), unit=unit)
    return compare(comparison, DictionaryTarget(LAMBS), texts)


def test_copies_of_a_story_are_one_unit(copied):
    """Three copies tell no more than one: as texts the interval is narrower by the root of three."""
    index, columns, stories = copied
    by_text = table(Texts(index, columns, stories)).measure("rate")
    by_story = table(Texts(index, columns, stories), "story").measure("rate")
    np.testing.assert_array_equal(by_text.value, by_story.value)
    narrow, wide = (np.log(one.high / one.low) for one in (by_text, by_story))
    np.testing.assert_allclose(wide / narrow, np.sqrt(3), rtol=0.1)


def test_the_unit_of_a_story_is_called_so(copied):
    index, columns, stories = copied
    found = table(Texts(index, columns, stories), "story")
    assert (found.unit.name, found.unit.noun, found.unit.nouns) == ("the story", "story", "stories")
    assert found.texts_alone == 0 and found.tests.verdict is not None


def test_stories_that_nobody_looked_for_are_refused(copied):
    index, columns, _ = copied
    with pytest.raises(ScopeError, match="Check the corpus first"):
        table(Texts(index, columns), "story")


@given(st.lists(st.integers(-1, 4), min_size=1, max_size=30))
def test_texts_without_a_story_are_units_of_their_own(groups):
    stories = np.array(groups, np.int32)
    found = unit_of("story", Texts(None, None, stories)).of_text
    assert found is not None
    for one in range(len(stories)):
        for other in range(one):
            same = stories[one] == stories[other] and stories[one] >= 0
            assert (found[one] == found[other]) == same


def test_units_by_date_number_and_text(copied):
    index, columns, _ = copied
    texts = Texts(index, columns)
    for key, units in (("date", 120), ("title", 120), ("words", len(np.unique(index.words))), ("source", 2)):
        found = unit_of(key, texts)
        assert len(np.unique(found.of_text)) == units
        assert not found.alone.any()
    with pytest.raises(ScopeError, match="no field"):
        unit_of("gone", texts)
