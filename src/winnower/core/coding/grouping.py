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
