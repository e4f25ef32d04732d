"""Correspondence analysis against published values, and what the map warns of."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from tests.core.test_compare import corpus
from tests.core.texts import Texts
from winnower.core.compare import Comparison, OfTerms, compare
from winnower.core.compare.map import map_method, map_of, map_statements
from winnower.core.dictionary import TermEntry
from winnower.core.errors import ComparisonError
from winnower.core.measure import correspondence
from winnower.core.scope import Split

#: Staff groups by how much they smoke: Greenacre (1984), Theory and Applications of Correspondence Analysis.
SMOKING = np.array([[4, 2, 3, 2], [4, 3, 7, 4], [25, 10, 12, 4], [18, 24, 33, 13], [10, 6, 7, 2]], float)


def test_published_values():
    found = correspondence(SMOKING)
    assert found.total == pytest.approx(0.08519, abs=5e-6)
    assert found.inertia == pytest.approx([0.07476, 0.01002, 0.00041], abs=5e-6)
    assert found.shares == pytest.approx([0.8776, 0.1176, 0.0049], abs=5e-5)
    first = np.abs(found.rows.at[:, 0])
    assert first == pytest.approx([0.0658, 0.2590, 0.3806, 0.2330, 0.2011], abs=5e-5)
    assert found.rows.quality[:, 0] == pytest.approx([0.0922, 0.5264, 0.9990, 0.9419, 0.8653], abs=5e-5)
    assert np.abs(found.columns.at[:, 0]) == pytest.approx([0.3933, 0.0995, 0.1963, 0.2938], abs=5e-5)


@settings(max_examples=60, deadline=None)
@given(st.integers(2, 6), st.integers(2, 6), st.integers(0, 2**31))
def test_inertia_is_chi_squared_over_the_count_and_parts_add_up(k, g, seed):
    counts = np.random.default_rng(seed).integers(1, 40, (k, g)).astype(float)
    found = correspondence(counts)
    chi2 = stats.chi2_contingency(counts, correction=False).statistic
    assert found.total == pytest.approx(chi2 / counts.sum(), rel=1e-9, abs=1e-12)
    for points in (found.rows, found.columns):
        assert points.mass.sum() == pytest.approx(1)
        # the middle of all points is the origin
        assert points.mass @ points.at == pytest.approx(np.zeros(points.at.shape[1]), abs=1e-9)
        assert points.mass @ points.at**2 == pytest.approx(found.inertia, abs=1e-12)
    profiles = counts / counts.sum(1, keepdims=True)
    for a in range(k):
        for b in range(k):
            apart = ((profiles[a] - profiles[b]) ** 2 / (counts.sum(0) / counts.sum())).sum()
            assert ((found.rows.at[a] - found.rows.at[b]) ** 2).sum() == pytest.approx(apart, abs=1e-9)


def test_a_table_that_is_none_is_refused():
    for counts in (np.ones((1, 3)), np.array([[1.0, 0], [2, 0]]), np.zeros((2, 2))):
        with pytest.raises(ValueError, match="none of them empty"):
            correspondence(counts)


def table(tmp_path, bodies, sources, words=("lamb", "deer", "wolf", "market")):
    texts = Texts(*corpus(tmp_path, bodies, sources))
    reference = OfTerms(tuple(TermEntry(word) for word in words))
    return compare(Comparison(reference, split=Split("source")), reference.resolve(None, texts), texts)


def test_rows_and_groups_with_hits_are_points(tmp_path):
    bodies = ["lamb lamb deer", "deer deer wolf", "wolf wolf lamb"] * 10 + ["nothing"]
    found = map_of(table(tmp_path, bodies, ["A", "B", "C"] * 10 + ["D"]))
    assert len(found.rows) == 3 and len(found.groups) == 3  # no market anywhere, nothing in D
    assert found.found.rows.at.shape == (3, 2)
    said = [one.text for one in map_statements(found)]
    assert said[0].startswith("The map shows 100%")
    assert "Correspondence analysis" in map_method(found)[0].words


def test_where_the_map_misleads_it_says_so(tmp_path):
    two = map_of(table(tmp_path / "two", ["lamb deer deer", "deer lamb lamb"] * 10, ["A", "B"] * 10))
    assert any("everything lies on one line" in one.text for one in map_statements(two))
    rng = np.random.default_rng(3)
    words = ("lamb", "deer", "wolf", "market")
    noise = [" ".join(rng.choice(words, 12)) for _ in range(60)]
    said = " ".join(
        one.text for one in map_statements(map_of(table(tmp_path / "noise", noise, list("ABCDEF") * 10)))
    )
    assert "what the map shows may be noise" in said
    with pytest.raises(ComparisonError, match="at least two terms and two groups"):
        map_of(table(tmp_path / "one", ["lamb", "nothing"], ["A", "B"]))
