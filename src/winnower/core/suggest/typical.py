"""Words that stand more often in some passages than in the rest."""

from __future__ import annotations

import numpy as np

from winnower.core.index import Lexicon, TokenIndex
from winnower.core.measure import log_likelihood
from winnower.core.places import Places

LEAST = 3
#: G2 beyond this is taken as telling: p below 0.001 for one degree of freedom.
TELLING = 10.83


def typical_words(
    passages: Places, index: TokenIndex, lexicon: Lexicon, total: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Folds typical of the sentences in which the passages stand, and their G2, falling.

    ``total``: hits per fold of the lexicon in the texts that are compared with. Source of G2:
    Dunning (1993), Computational Linguistics 19.
    """
    inside = np.zeros(len(lexicon), np.int64)
    of_segment = np.searchsorted(index.base, passages.text, side="right") - 1
    for at, segment in enumerate(index.segments):
        starts = passages.start[of_segment == at]
        if not len(starts):
            continue
        sentence = np.unique(np.searchsorted(segment.sentence_start, starts, side="right") - 1)
        low = segment.sentence_start[sentence].astype(np.int64)
        size = np.append(segment.sentence_start, segment.n_tokens)[sentence + 1] - low
        position = np.arange(int(size.sum())) + np.repeat(low - (np.cumsum(size) - size), size)
        inside += np.bincount(lexicon.of_tokens(segment, at, position), minlength=len(lexicon))
    kept = np.flatnonzero((inside >= LEAST) & (total >= inside))
    if not len(kept):
        return kept, np.empty(0)
    g2 = log_likelihood(inside[kept], int(inside.sum()), total[kept], int(total.sum()))
    order = np.lexsort((kept, -g2))
    order = order[g2[order] > TELLING]
    return kept[order], g2[order]
