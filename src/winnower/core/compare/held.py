"""Fields that are held equal while groups are compared."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.targets import Corpus
from winnower.core.compare.wording import names
from winnower.core.errors import ScopeError
from winnower.core.scope import Groups, Levels, Split, levels_of

#: Groups times combinations of values at most.
MOST_CELLS = 5_000_000


@dataclass(frozen=True)
class Held:
    """fields    each with its levels
    stratum   int (M) of each membership of a text in a group: which texts are alike in all fields, -1 where a text
              has no value in one
    n_strata
    """

    fields: tuple[Levels, ...]
    stratum: np.ndarray
    n_strata: int

    @property
    def names(self) -> str:
        """As they stand in a sentence."""
        return names([f"“{field.name}”" for field in self.fields])


def hold_equal(adjust: tuple[Split, ...], groups: Groups, corpus: Corpus) -> Held | None:
    """None where nothing is held equal. Raises ScopeError."""
    if not adjust:
        return None
    if not groups.disjoint:
        raise ScopeError(
            "Some texts belong to several groups, so no field can be controlled for between these."
        )
    mask = np.zeros(corpus.index.n_texts, bool)
    mask[groups.text] = True
    fields = tuple(levels_of(split, corpus.columns, mask) for split in adjust)
    levels = np.stack([field.of_text[groups.text] for field in fields])
    known = (levels >= 0).all(0)
    stratum = np.full(len(groups.text), -1, np.int64)
    shape = tuple(len(field.labels) for field in fields)
    # one number for each combination: numbers are sorted far quicker than pairs of them
    crossed = np.ravel_multi_index(tuple(levels[:, known]), shape) if known.any() else np.empty(0, int)
    found, stratum[known] = np.unique(crossed, return_inverse=True)
    if len(found) * groups.n_groups > MOST_CELLS:
        raise ScopeError(
            f"These fields have {len(found):,} combinations of values in {groups.n_groups:,} groups, which is too "
            "much to be controlled for. Take fewer fields, or longer periods."
        )
    return Held(fields, stratum, len(found))
