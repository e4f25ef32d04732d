"""Rates corrected for what was judged, against numbers worked out by hand and corpora whose truth is known."""

from __future__ import annotations

import numpy as np
import polars as pl
import pytest

from tests.core.test_compare import category, corpus
from tests.core.texts import Texts
from winnower.core.compare import Comparison, DictionaryTarget, OfGiven, RowVerdicts, compare, statements
from winnower.core.compare.judged import Judged, Shares, corrected_rates, corrected_texts
from winnower.core.dictionary import Dictionary
from winnower.core.errors import ComparisonError, ScopeError
from winnower.core.measure import Counted, rates_of, wilson_interval
from winnower.core.review import precision, quality_of
from winnower.core.scope import Split

FRAMES = Dictionary("Frames", (category("Livelihood", "lamb*"), category("Ecology", "deer")))
NO_VERDICTS = pl.DataFrame(
    schema={"text_id": pl.Int64, "start": pl.Int64, "end": pl.Int64, "verdict": pl.Int8, "made_by": pl.Int64}
)


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    """60 texts of two sources, each with one "lamb" at its beginning but every fifth; verdicts by text number."""
    texts = [("hill " if n % 5 == 0 else "lamb ") + "the hill is green " * 5 for n in range(60)]
    return corpus(tmp_path_factory.mktemp("index"), texts, ["AB"[n % 2] for n in range(60)])


def verdicts(pairs, of_text=False):
    start, end = (-1, -1) if of_text else (0, 4)
    rows = [(n, start, end, v, 1) for n, v in pairs]
    return pl.DataFrame(rows, schema=NO_VERDICTS.schema, orient="row") if rows else NO_VERDICTS


def table(made, hits=(), texts=(), measure="corrected", split=Split("source")):  # noqa: B008
    comparison = Comparison(OfGiven("Frames", FRAMES.categories), split=split, measure=measure)
    given = {"Livelihood": RowVerdicts(verdicts(hits), verdicts(texts, True))}
    return compare(comparison, DictionaryTarget(FRAMES), Texts(*made), verdicts=given)


def with_hit(source, many):
    return [n for n in range(60) if n % 5 and "AB"[n % 2] == source][:many]


def test_a_rate_is_corrected_by_the_precision_of_its_own_cell_or_else_of_its_row(made):
    hits = [(n, int(at < 6)) for at, n in enumerate(with_hit("A", 12))]
    hits += [(n, 1) for n in with_hit("B", 4)]
    found = table(made, hits)
    rate = found.measure("rate").value[0]
    # 24 hits of each source: the row weighs both alike, however many verdicts each has
    of_row = (6 / 12 + 1) / 2
    np.testing.assert_allclose(found.measure("corrected").value[0], [rate[0] * 0.5, rate[1] * of_row])
    assert np.isnan(found.measure("corrected").value[1]).all()
    said = next(one.text for one in statements(found) if "verdicts on hits" in one.text)
    assert "16 verdicts on hits of Livelihood; 1 of 4 cells have 10 or more of their own" in said


def test_precision_and_missed_are_told_for_each_group(made):
    hits = [(n, int(at < 6)) for at, n in enumerate(with_hit("A", 12))]
    texts = [(0, 1), (10, 0), (5, 0)]
    of_hits = table(made, hits, texts, "precision").measure("precision")
    expected = wilson_interval(6, 12)
    np.testing.assert_allclose([part[0, 0] for part in of_hits], expected)
    assert np.isnan(of_hits.value[0, 1])
    missed = table(made, hits, texts, "missed").measure("missed")
    np.testing.assert_allclose(missed.value[0], [0.5, 0])


def test_verdicts_on_words_that_are_no_hits_and_on_texts_with_a_hit_do_not_count(made):
    hits = [(n, 1) for n in range(0, 60, 5)]  # there is no lamb
    texts = [(n, 1) for n in with_hit("A", 12)]
    found = table(made, hits, texts, "precision")
    assert not found.view.judged.precision.judged.any() and not found.view.judged.missed.judged.any()
    assert any("judged yet" in one.text for one in statements(found))


def test_measures_of_verdicts_need_verdicts_and_groups_that_do_not_overlap(made):
    comparison = Comparison(OfGiven("Frames", FRAMES.categories), split=Split("source"), measure="precision")
    bare = compare(comparison, DictionaryTarget(FRAMES), Texts(*made))
    with pytest.raises(ComparisonError, match="have verdicts"):
        bare.measure("precision")
    assert "precision" not in [one.name for one in bare.measures]


def test_texts_in_several_groups_are_refused(made):
    from winnower.core.scope import Columns, SeveralColumn

    index, columns = made
    tags = SeveralColumn(np.arange(61) * 2, np.tile([0, 1], 60).astype(np.int32), ("a", "b"))
    several = Columns(columns.text_id, {**columns.fields, "tags": tags}, {**columns.names, "tags": "Tags"})
    with pytest.raises(ScopeError, match="several groups"):
        table((index, several), [(1, 1)], split=Split("tags"))


def shares(own, row=None):
    row = row or own
    cells = [np.array([[v]], float) for v in (own.share, own.low, own.high, own.judged, own.effective)]
    return Shares(*cells, np.array([[row.share], [row.judged], [row.effective]], float))


def test_corrected_texts_by_hand():
    """30 of 100 texts hit, 16 of 20 judged right; 2 of 40 others missed: 0.3 x 0.8 + 0.7 x 0.05."""
    judged = Judged(shares(precision(16, 20)), shares(precision(2, 40)), shares(precision(16, 20)))
    found = corrected_texts(np.array([[30.0]]), np.array([[100.0]]), judged, 0.95)
    assert found.value[0, 0] == pytest.approx(0.275)
    assert 0.15 < found.low[0, 0] < 0.275 < found.high[0, 0] < 0.42


def test_intervals_of_corrected_rates_cover():
    """True precision 0.7, 40 verdicts, 100 texts of unequal length with words in clumps."""
    inside = tried = plain = 0
    for run in range(400):
        rng = np.random.default_rng(run)
        words = np.maximum(np.rint(np.exp(rng.normal(np.log(300), 1, 100))), 1)
        expected = rng.gamma(0.5, 2, 100) * words * 0.01
        right, wrong = rng.poisson(expected * 0.7), rng.poisson(expected * 0.3)
        unit = np.flatnonzero(right + wrong)
        counted = Counted(
            np.zeros(100, int), words, unit, np.zeros(len(unit), int), (right + wrong)[unit] * 1.0, 1, 1
        )
        said = np.repeat([1, 0], [right.sum(), wrong.sum()]).astype(np.int8)
        judged = np.full(len(said), -1, np.int8)
        drawn = rng.permutation(len(said))[:40]
        judged[drawn] = said[drawn]
        quality = shares(quality_of(judged))
        rates = rates_of(counted)
        found = corrected_rates(rates, Judged(quality, quality, quality), 0.95)
        tried += 1
        inside += found.low[0, 0] <= 0.007 <= found.high[0, 0]
        plain += rates.value[0, 0] * 0.75 <= 0.007
    assert inside / tried > 0.92
    assert plain / tried < 0.6  # the rate as it is lies too high
