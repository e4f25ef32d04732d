"""The order of found passages: each way against sorting them one by one, and what is alike keeps its place."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.coding import Passages
from winnower.core.coding.ordering import in_order

ROW = st.tuples(
    st.integers(1, 5), st.integers(0, 40), st.integers(1, 12), st.sampled_from([-3, 1, 2, 4]), st.integers(0, 5)
)  # fmt: skip
DAYS = {1: 19_000, 2: np.nan, 3: 18_000, 4: 19_000, 5: -400}
CODERS = [4, 1, 2]


def passages(rows):
    columns = [np.array(column, np.int64) for column in zip(*rows, strict=True)] or [
        np.empty(0, np.int64)
    ] * 5
    text, start, length, who, strength = columns
    ids = np.arange(1, len(rows) + 1)
    return Passages.of(
        {"id": ids, "text_id": text, "code_id": np.ones_like(ids), "start": start, "end": start + length, "made_by": who, "strength": strength}
    )  # fmt: skip


def sorted_as(found, sort):
    return in_order(
        found, sort, lambda of: np.array([DAYS[one] for one in of.text_id.tolist()]), lambda: CODERS
    )


@given(st.lists(ROW, max_size=30), st.sampled_from(["date", "length", "strength", "coder"]))
def test_passages_are_sorted_and_those_alike_stay_in_the_order_of_the_texts(rows, sort):
    found = passages(rows)
    keys = {
        "date": lambda at: (found.text_id[at] == 2, DAYS[int(found.text_id[at])]),
        "length": lambda at: -int(found.end[at] - found.start[at]),
        "strength": lambda at: -int(found.strength[at]),
        "coder": lambda at: CODERS.index(found.made_by[at]) if found.made_by[at] > 0 else -1,
    }
    expected = found.id[sorted(range(len(found)), key=keys[sort])] if len(found) else found.id
    assert sorted_as(found, sort).id.tolist() == expected.tolist()


def test_the_order_of_the_texts_asks_for_neither_days_nor_coders():
    found = passages([(2, 3, 4, 1, 0), (1, 9, 2, 1, 0)])
    assert in_order(found, "text", None, None) is found
