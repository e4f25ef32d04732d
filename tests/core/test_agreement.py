"""Agreement: against published values, and properties."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import beta

from winnower.core.measure.agreement import beside, cohens_kappa, nominal_alpha

N = np.nan
#: Krippendorff (2011): four observers, twelve units; nominal alpha 0.743.
PUBLISHED = np.array(
    [
        [1, 2, 3, 3, 2, 1, 4, 1, 2, N, N, N],
        [1, 2, 3, 3, 2, 2, 4, 1, 2, 5, N, 3],
        [N, 3, 3, 3, 2, 3, 4, 2, 2, 5, 1, N],
        [1, 2, 3, 3, 2, 4, 4, 1, 2, 5, 1, N],
    ]
)


def test_alpha_agrees_with_the_published_example():
    assert nominal_alpha(PUBLISHED) == pytest.approx(0.743, abs=0.0005)


def test_alpha_of_two_observers_agrees_with_the_published_example():
    # Krippendorff (2011), two observers, ten units, binary: alpha 0.095
    first = [0, 1, 0, 0, 0, 0, 0, 0, 1, 0]
    second = [1, 1, 1, 0, 0, 1, 0, 0, 0, 0]
    assert nominal_alpha(np.array([first, second], float)) == pytest.approx(0.095, abs=0.0005)


def test_kappa_agrees_with_a_worked_example():
    # 20 yes-yes, 5 yes-no, 10 no-yes, 15 no-no: observed 0.7, expected 0.5
    assert cohens_kappa(20, 5, 10, 15) == pytest.approx(0.4)
    assert np.isnan(cohens_kappa(10, 0, 0, 0))


def test_a_run_beside_hand_coding():
    run = np.array([1, 1, 1, 0, 0, 0, 1, 0], bool)
    hand = np.array([1, 1, 0, 1, 0, 0, 1, 0], bool)
    found = beside(run, hand, np.array([1, 1, 2, 2, 3, 3, 4, 4]))
    assert (found.both, found.only_run, found.only_hand, found.neither) == (3, 1, 1, 3)
    assert found.precision[0] == found.recall[0] == found.f1[0] == 0.75
    assert np.isnan(found.precision[1]), "units that count are in four texts"
    more = beside(np.tile(run, 3), np.tile(hand, 3), np.repeat(np.arange(12), 2))
    assert more.precision[1] <= more.precision[0] == 0.75 <= more.precision[2]
    assert more == beside(np.tile(run, 3), np.tile(hand, 3), np.repeat(np.arange(12), 2))
    alone = beside(run[:2], hand[:2], np.zeros(2, int))
    assert alone.precision[0] == 1 and np.isnan(alone.precision[1])


def test_few_units_have_no_interval_and_agreement_throughout_is_not_certainty():
    # one sentence under the code in thirty texts, and the run finds it
    one = np.zeros(30, bool)
    one[7] = True
    found = beside(one, one, np.arange(30))
    assert found.recall[0] == 1 and np.isnan(found.recall[1]) and np.isnan(found.f1[1])
    # thirty of thirty: the exact limit of a proportion, not 100% to 100%
    every = np.ones(30, bool)
    found = beside(every, every, np.arange(30))
    for value, low, high in (found.precision, found.recall, found.f1):
        assert (value, high) == (1, 1) and low == pytest.approx(beta.ppf(0.025, 30, 1))
    none = beside(every, ~every, np.arange(30))
    assert none.precision[0] == 0 and none.precision[2] == pytest.approx(beta.ppf(0.975, 1, 30))
    # three sentences a text are no more texts
    same = beside(np.repeat(every, 3), np.repeat(every, 3), np.repeat(np.arange(30), 3))
    assert same.precision == found.precision


def test_intervals_hold_when_texts_are_drawn_anew():
    rng = np.random.default_rng(4)
    held = 0
    for _ in range(200):
        of_text = rng.beta(4, 2, 60)
        text = np.repeat(np.arange(60), 5)
        hand = rng.random(300) < of_text[text]
        found = beside(np.ones(300, bool), hand, text)
        held += found.precision[1] <= 2 / 3 <= found.precision[2]
    assert held >= 178  # 95% of 200 is 190; fewer than 178 comes about once in 10,000


@given(st.lists(st.tuples(st.booleans(), st.booleans(), st.integers(0, 4)), min_size=1, max_size=60))
def test_counts_add_up_and_measures_stay_in_their_bounds(units):
    run, hand, text = (np.array(one) for one in zip(*units, strict=True))
    found = beside(run, hand, text)
    assert found.both + found.only_run + found.only_hand + found.neither == len(units)
    for value, low, high in (found.precision, found.recall, found.f1):
        assert np.isnan(value) or 0 <= value <= 1
        assert np.isnan(low) or low <= high
    assert np.isnan(found.kappa) or -1 <= found.kappa <= 1
    assert np.isnan(found.alpha) or found.alpha <= 1
