"""What was computed is kept within a budget, by its whole request, and outlives changes it does not depend on."""

import threading

import numpy as np
import polars as pl
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.scope import HasValue, Scope, Split
from winnower.store.corpus import CorpusCache
from winnower.store.history import Recorder
from winnower.store.memory import Memory, size_of
from winnower.store.models import Project
from winnower.store.variables import set_values


@given(st.lists(st.tuples(st.integers(0, 9), st.integers(1, 4_000)), max_size=60))
def test_the_budget_is_kept_and_what_was_used_last_stays(steps):
    memory = Memory(20_000)
    last = None
    for key, size in steps:
        made = memory.kept(("k", key), lambda size=size: np.zeros(size, np.uint8))
        assert memory.bytes_kept <= 20_000
        last = (key, made)
    if last:
        assert memory.kept(("k", last[0]), lambda: None) is last[1]


def test_what_is_larger_than_the_budget_is_given_and_not_kept():
    memory = Memory(100)
    assert len(memory.kept("large", lambda: np.zeros(1_000))) == 1_000
    assert (len(memory), memory.bytes_kept) == (0, 0)


def test_nothing_is_computed_twice_at_the_same_time():
    memory, made, begin = Memory(), [], threading.Event()

    def make():
        begin.wait(5)
        made.append(1)
        return 7

    threads = [threading.Thread(target=memory.kept, args=("slow", make)) for _ in range(6)]
    for thread in threads:
        thread.start()
    begin.set()
    for thread in threads:
        thread.join()
    assert made == [1]


def test_sizes_are_about_right_and_forgotten_together():
    assert size_of(np.zeros(1_000)) == 8_000
    assert size_of(pl.Series(["a" * 100] * 50)) >= 5_000
    assert size_of([np.zeros(100)] * 3) >= 2_400
    memory = Memory()
    memory.kept((1, "a"), lambda: 1)
    memory.kept((2, "a"), lambda: 1)
    memory.forget(1)
    assert len(memory) == 1


def test_a_change_of_values_leaves_what_does_not_depend_on_it(
    database, settings, project, account, deliver, news
):
    deliver(news)
    cache = CorpusCache(settings.index)

    def opened():
        with database.session() as session:
            return cache.open(session, session.get_one(Project, project.id))

    before = opened()
    age = next(key for key, name in before.columns.names.items() if name == "Age")
    tags = next(key for key, name in before.columns.names.items() if name == "Tags")
    by_source = before.ground(Scope(), Split("source"))
    by_age = before.ground(Scope(), Split(age))
    tagged = before.ground(Scope((HasValue(tags, ("coast",)),)), Split())
    lexicon, listed = before.lexicon, before.kept("all", lambda _: object())
    with database.session() as session:
        recorder = Recorder(session, project.id, account.id, "age")
        row = session.get_one(Project, project.id)
        set_values(recorder, cache.open(session, row), age, np.array([0]), [77.0])
        recorder.save()
    after = opened()
    assert after is not before and after.state.values > before.state.values
    assert after.ground(Scope(), Split("source")) is by_source
    assert after.ground(Scope((HasValue(tags, ("coast",)),)), Split()) is tagged
    assert after.lexicon is lexicon
    assert after.ground(Scope(), Split(age)) is not by_age
    assert "77" in after.ground(Scope(), Split(age)).groups.labels
    assert after.kept("all", lambda _: object()) is not listed
