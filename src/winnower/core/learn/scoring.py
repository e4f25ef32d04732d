"""What a learned code says of any number of units."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import numpy as np
from scipy.sparse import csr_matrix

from winnower.core.index import Lexicon, TokenIndex
from winnower.core.learn.learner import Learned
from winnower.core.learn.words import tokens_of, weighted
from winnower.core.places.units import Units

AT_ONCE = 100_000
#: Goes through batches and tells how far it is.
Going = Callable[[list[np.ndarray]], Iterable[np.ndarray]]


def probabilities(
    learned: Learned,
    units: Units,
    at: np.ndarray,
    index: TokenIndex,
    lexicon: Lexicon,
    going: Going = iter,
) -> np.ndarray:
    """float64 per unit ``at`` (int, ascending), from 0 to 1: how likely it comes under the code."""
    parts = [np.empty(0)]
    for some in going([at[first : first + AT_ONCE] for first in range(0, len(at), AT_ONCE)]):
        counts = learned.words.counts(tokens_of(units, some, index, lexicon), len(some))
        parts.append(learned.probability(decisions(learned, counts)))
    return np.concatenate(parts)


def decisions(learned: Learned, counts: csr_matrix) -> np.ndarray:
    """float64 per row: the sum of weights of its words, as ``LogisticRegression.decision_function`` gives it."""
    found: np.ndarray = weighted(counts, learned.idf) @ learned.weights + learned.bias
    return found


def strongest(
    learned: Learned, units: Units, at: np.ndarray, index: TokenIndex, lexicon: Lexicon
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """For each unit the column that speaks most for it, -1 where none does; and its first token and the one after its
    last, counted over all segments (0 and 0 where there is none)."""
    column, mark, after = (np.full(len(at), fill, np.int64) for fill in (-1, 0, 0))
    gain = learned.idf * learned.weights
    for first in range(0, len(at), AT_ONCE):
        some = at[first : first + AT_ONCE]
        tokens = tokens_of(units, some, index, lexicon)
        entry, of = learned.words.found(tokens)
        entry, of = entry[gain[of] > 0], of[gain[of] > 0]
        row = tokens.row[entry]
        order = np.lexsort((tokens.token[entry], -gain[of], row))
        best = order[np.flatnonzero(np.diff(row[order], prepend=-1))]
        place = first + row[best]
        column[place], mark[place] = of[best], tokens.token[entry[best]]
        after[place] = mark[place] + np.where(of[best] < len(learned.words.folds), 1, 2)
    return column, mark, after
