"""What was computed is kept within a budget, by its whole request, and outlives changes it does not depend on."""

import threading
import time

import numpy as np
import polars as pl
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.scope import HasValue, Scope, Split
from winnower.store import memory as memory_module
from winnower.store.corpus import CorpusCache
from winnower.store.history import Recorder
from winnower.store.memory import Memory, size_of
from winnower.store.models import Project
from winnower.store.process_memory import anonymous_bytes, give_back
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


class Process:
    """A process as the system sees it: what the memory holds and what it does not know of."""

    def __init__(self, budget):
        self.now, self.unknown = 0.0, 0
        self.memory = Memory(budget, held=self.held, clock=lambda: self.now)

    def held(self):
        return memory_module.PROGRAM_BYTES + self.unknown + self.memory.bytes_kept

    def keep(self, *keys, size=1_000):
        for key in keys:
            self.memory.kept(("k", key), lambda: np.zeros(size, np.uint8))

    def has(self, key):
        return self.memory.peek(("k", key)) is not None


def test_what_the_system_counts_decides():
    process = Process(10_000)
    process.keep(1, 2, 3, 4)
    process.now += 60
    process.keep(5)
    process.memory.tend()
    assert all(map(process.has, (1, 2, 3, 4, 5)))
    process.unknown = 8_000  # held by what the weights do not know of
    process.memory.tend()
    assert not process.has(1) and not process.has(4)
    assert process.has(5), "used a moment ago: it would be computed again at once"


def test_what_nobody_used_for_long_goes_and_free_memory_is_handed_back_once(monkeypatch):
    process, given_back = Process(10_000), []
    monkeypatch.setattr(memory_module, "give_back", lambda: given_back.append(process.now))
    process.keep(1)
    process.now += memory_module.IDLE_S + 1
    process.memory.tend()
    process.memory.tend()
    assert process.has(1) and len(given_back) == 1
    process.now += memory_module.FORGOTTEN_S
    process.keep(2)
    process.memory.tend()
    assert not process.has(1) and process.has(2) and len(given_back) == 2


def test_free_memory_really_goes_back():
    pieces = [np.ones(20_000, np.uint8) for _ in range(10_000)]  # 200 MB in pieces that lie on the heap
    high = anonymous_bytes()
    keep = pieces[::1_000]
    del pieces
    give_back()
    assert anonymous_bytes() < high - 100e6
    assert len(keep) == 10


def test_corpora_nobody_asked_for_are_closed(database, settings, deliver, news, project):
    deliver(news)
    cache = CorpusCache(settings.index)
    with database.session() as session:
        cache.open(session, session.get_one(Project, project.id))
    assert cache.close_unused(time.monotonic() - 60) == 0
    assert cache.close_unused(time.monotonic() + 1) == 1
    with database.session() as session:
        assert cache.open(session, session.get_one(Project, project.id)).columns.n_texts == 5


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
