"""A scope and a split worked out for one corpus: what all counting over them starts from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.index import TokenIndex
from winnower.core.scope.columns import Columns
from winnower.core.scope.conditions import Scope, scope_mask
from winnower.core.scope.crossing import groups_of
from winnower.core.scope.split import Groups, Split


@dataclass(frozen=True)
class Ground:
    """What comparisons over one scope and split share, so that it can be kept between them.

    mask   bool per text: in scope
    sizes  texts, words, squared words and texts with words of each group; float64, (G) each
    """

    mask: np.ndarray
    everything: bool
    groups: Groups
    sizes: tuple[np.ndarray, ...]
    split: Split = Split()

    @property
    def words(self) -> np.ndarray:
        return self.sizes[1]


def lay_ground(
    scope: Scope, split: Split, index: TokenIndex, columns: Columns, mask: np.ndarray | None = None
) -> Ground:
    """Evaluate a scope and a split; ``mask`` (bool per text) is the scope where it is at hand. Raises ScopeError or
    TermError where they do not fit."""
    mask = scope_mask(scope, columns, index) if mask is None else mask
    groups = groups_of(split, columns, mask, index)
    return Ground(mask, bool(mask.all()), groups, group_sizes(groups, index.words), split)


def group_sizes(groups: Groups, words: np.ndarray) -> tuple[np.ndarray, ...]:
    """Texts, words, squared words and texts with words of each group; float64, (G) each."""
    n = groups.n_groups
    of_text = words[groups.text].astype(float)
    return (
        np.bincount(groups.group, minlength=n).astype(float),
        np.bincount(groups.group, weights=of_text, minlength=n),
        np.bincount(groups.group, weights=of_text * of_text, minlength=n),
        np.bincount(groups.group, weights=of_text > 0, minlength=n),
    )
