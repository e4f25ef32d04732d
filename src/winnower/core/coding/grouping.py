"""Passages in the order of groups they belong to."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np


class Grouped(NamedTuple):
    """Rows in the order of their groups: ``passage`` (place among those found), ``group`` of each; passages of each
    group in ``counts``."""

    passage: np.ndarray
    group: np.ndarray
    counts: np.ndarray


def in_groups(passage: np.ndarray, group: np.ndarray, n_groups: int) -> Grouped:
    """Sort memberships (a passage, its group or -1 for none) by group; within one the order stays. Those without a
    group come last, under the number ``n_groups``."""
    group = np.where(group < 0, n_groups, group)
    order = np.argsort(group, kind="stable")
    return Grouped(passage[order], group[order], np.bincount(group, minlength=n_groups + 1))


def memberships(
    of_passage: np.ndarray, text: np.ndarray, group: np.ndarray, n_texts: int
) -> tuple[np.ndarray, np.ndarray]:
    """Every passage once for each group its text is in, and once with -1 where it is in none: places of passages, and
    the group of each.

    ``of_passage`` is the text of each passage; ``text`` and ``group`` are the memberships of texts.
    """
    order = np.argsort(text, kind="stable")
    times = np.bincount(text, minlength=n_texts)
    first = np.cumsum(times) - times
    count = times[of_passage]
    rows = np.maximum(count, 1)
    passage = np.repeat(np.arange(len(of_passage)), rows)
    step = np.arange(len(passage)) - np.repeat(np.cumsum(rows) - rows, rows)
    found = np.full(len(passage), -1, np.int64)
    has = np.repeat(count > 0, rows)
    found[has] = group[order[(np.repeat(first[of_passage], rows) + step)[has]]]
    return passage, found
