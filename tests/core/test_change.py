"""Where a change began: found where it is, seldom where there is none; moving averages."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from tests.core.test_compare import corpus
from tests.core.texts import Texts
from winnower.core.change import change_method, change_statements, changes, changes_of, moving
from winnower.core.change import points as inner
from winnower.core.compare import Comparison, OfTerms, compare
from winnower.core.dictionary import TermEntry
from winnower.core.errors import ComparisonError
from winnower.core.scope import DateColumn, Split


def series(rng, periods=40, per=6, rates=(0.01,), edges=()):
    """Texts with clumped hits; the rate changes at the edges."""
    period = np.repeat(np.arange(periods), per)
    size = rng.integers(60, 300, len(period)).astype(float)
    rate = np.asarray(rates)[np.searchsorted(edges, period, side="right")]
    return rng.poisson(size * rate * rng.gamma(1.5, 1 / 1.5, len(period))).astype(float), size, period


def found(rng, seed=1, **how):
    y, x, period = series(rng, **how)
    return changes(y, x, period, how.get("periods", 40), seed=seed)


def test_a_change_is_found_where_it_is_with_both_rates():
    hit = covered = 0
    for run in range(40):
        one = found(np.random.default_rng(run), rates=(0.01, 0.025), edges=(22,))
        hit += len(one) >= 1
        covered += any(change.low <= 22 <= change.high for change in one)
    assert hit >= 38 and covered >= 35
    change = found(np.random.default_rng(1), rates=(0.01, 0.04), edges=(22,))[0]
    assert abs(change.period - 22) <= 1 and change.p <= 0.01
    assert change.before == pytest.approx(0.01, rel=0.3) and change.after == pytest.approx(0.04, rel=0.3)


def test_without_a_change_one_is_claimed_in_at_most_one_of_twenty():
    claimed = sum(bool(found(np.random.default_rng([9, run]), seed=run)) for run in range(200))
    assert stats.binomtest(claimed, 200, 0.05, "greater").pvalue > 0.001


def test_two_changes_are_two():
    one = found(np.random.default_rng(4), per=12, rates=(0.01, 0.04, 0.012), edges=(12, 28))
    assert [abs(change.period - edge) <= 1 for change, edge in zip(one, (12, 28), strict=True)] == [
        True,
        True,
    ]


def test_many_texts_and_long_times_are_gathered_and_still_found():
    rng = np.random.default_rng(2)
    y, x, period = series(rng, periods=700, per=10, rates=(0.01, 0.016), edges=(430,))
    one = changes(y, x, period, 700, seed=1)
    assert len(one) == 1 and abs(one[0].period - 430) <= 15
    blocks = inner._blocks(y, x, period, 700, 1)
    assert len(blocks.y) <= inner.MOST_BLOCKS + 700
    assert inner._by_period(blocks.y, blocks, 700).tolist() == np.bincount(period, y, 700).tolist()


def test_the_search_places_one_change_where_trying_every_place_does():
    y, x, period = series(np.random.default_rng(6), rates=(0.01, 0.03), edges=(15,))
    ys, xs = np.bincount(period, y), np.bincount(period, x)
    loss = [
        -sum(
            2 * part.sum() * np.log(part.sum() / size.sum())
            for part, size in ((ys[:k], xs[:k]), (ys[k:], xs[k:]))
        )
        for k in range(2, 39)
    ]
    assert inner._parted(ys, xs, 2, 100.0, inner._gain_part) == [2 + int(np.argmin(loss))]


@pytest.mark.parametrize(("y", "periods"), [(np.zeros(30), 10), (np.ones(3), 3), (np.empty(0), 10)])
def test_too_little_to_tell_gives_nothing(y, periods):
    n = len(y)
    assert changes(y, np.full(n, 10.0), np.arange(n) % max(periods, 1), periods, seed=1) == []


def test_empty_periods_at_both_ends_and_between():
    rng = np.random.default_rng(3)
    y, x, period = series(rng, periods=20, rates=(0.01, 0.05), edges=(10,))
    kept = (period % 3 != 0) & (period > 1)
    one = changes(y[kept], x[kept], period[kept], 25, seed=1)
    assert len(one) == 1 and 9 <= one[0].period <= 11


@given(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 50)), min_size=1, max_size=12), st.integers(1, 9))
def test_a_moving_average_is_a_ratio_of_sums(pairs, window):
    hits, sizes = (np.asarray(part, float) for part in zip(*pairs, strict=True))
    smooth = moving(hits[None], sizes, window)[0]
    for at in range(len(sizes)):
        low, high = max(at - window // 2, 0), min(at + window - window // 2, len(sizes))
        size = sizes[low:high].sum()
        assert np.isnan(smooth[at]) if size == 0 else smooth[at] == pytest.approx(hits[low:high].sum() / size)


def test_rows_of_a_table_over_time_in_plain_words(tmp_path, monkeypatch):
    rng = np.random.default_rng(1)
    days = np.repeat(np.arange(0, 360, 3), 3)
    bodies = []
    for day in days:
        words = ["lamb"] * rng.poisson(4 if day >= 200 else 1) + ["deer"] * rng.poisson(2)
        bodies.append(" ".join(words + ["hill"] * (30 - len(words))))
    index, columns = corpus(tmp_path, bodies, ["A"] * len(bodies))
    dates = DateColumn((days + 22_280).astype(np.int32))
    texts = Texts(index, replace(columns, fields={**columns.fields, "date": dates}))
    reference = OfTerms((TermEntry("lamb"), TermEntry("deer")))
    table = compare(Comparison(reference, split=Split("date", "week")), reference.resolve(None, texts), texts)
    result = changes_of(table, None, True)
    said = [one.text for one in change_statements(result)]
    assert (
        len(said) == 1
        and said[0].startswith("lamb rises to about ")
        and " from the week of " in said[0]
        and "per 1,000 words" in said[0]
    )
    assert "shared out over 2 terms" in change_method(result)[0].words
    assert list(changes_of(table, ["deer"], True).of_row) == [1]
    assert "No significant change" in change_statements(changes_of(table, ["deer"], True))[0].text
    with pytest.raises(ComparisonError, match="compare across a date"):
        changes_of(table, None, False)
    # of more rows than chance can be shared out among, those with the most hits
    monkeypatch.setattr("winnower.core.change.rows.MOST_ROWS", 1)
    some = changes_of(table, None, True)
    hits = table.counts.counted.totals.sum(1)
    assert list(some.of_row) == [int(hits.argmax())] and some.of == 2
    assert "with the most hits, of 2" in change_statements(some)[-1].text
