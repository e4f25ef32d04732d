"""Where the batches of a run are computed: a pool of processes on this machine.

This is the one place that makes an executor. What is handed to it are plain functions with plain arguments,
so that the executor of a cluster can take the place of the pool.
"""

from __future__ import annotations

import multiprocessing
import os
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Executor, Future, ProcessPoolExecutor
from contextlib import contextmanager
from typing import TypeVar

A = TypeVar("A")
B = TypeVar("B")
AHEAD = 2


def workers() -> int:
    """Processes a run may use at a time."""
    return max(1, min(os.cpu_count() or 1, 8))


@contextmanager
def executor() -> Iterator[Executor]:
    """An executor for the time of a run; what was not begun when it is left is dropped."""
    pool = ProcessPoolExecutor(workers(), mp_context=multiprocessing.get_context("spawn"))
    try:
        yield pool
    finally:
        pool.shutdown(wait=True, cancel_futures=True)


def in_order(pool: Executor, work: Callable[[A], B], items: Iterable[A]) -> Iterator[B]:
    """Results in the order of the items; only a few are under way at a time, so that memory stays flat."""
    waiting: deque[Future[B]] = deque()
    for item in items:
        waiting.append(pool.submit(work, item))
        if len(waiting) >= workers() + AHEAD:
            yield waiting.popleft().result()
    while waiting:
        yield waiting.popleft().result()
