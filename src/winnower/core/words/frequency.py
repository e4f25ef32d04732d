"""How often each word stands in the texts of a scope, by group; forms brought together."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl
from scipy import sparse

from winnower.core.index import Lexicon, Segment, TokenIndex
from winnower.core.measure import deviation_of_proportions
from winnower.core.scope import Ground, Groups


@dataclass(frozen=True)
class WordCounts:
    """Counts of R rows, each a fold or several brought together under one name.

    names        R
    kinds        uint8 (R), see lexicon.KINDS
    hits, texts  int64 (R): in the whole scope
    group_hits   float64 (R, G): in each group of the split
    group_words  float64 (G): words of each group
    row_of       int64 per fold of the lexicon: its row, -1 where the scope does not have it
    form_hits    int64 per fold of the lexicon; both empty for phrases
    """

    names: pl.Series
    kinds: np.ndarray
    hits: np.ndarray
    texts: np.ndarray
    group_hits: np.ndarray
    group_words: np.ndarray
    row_of: np.ndarray
    form_hits: np.ndarray

    def evenness(self, rows: np.ndarray | slice = slice(None)) -> np.ndarray:
        """DP of the rows over the groups; NaN where it is not defined."""
        return deviation_of_proportions(self.group_hits[rows], self.group_words)

    def forms(self, lexicon: Lexicon, row: int, most: int = 40) -> list[tuple[str, int]]:
        """The forms under a row with their hits, the most frequent first."""
        members = np.flatnonzero(self.row_of == row)
        order = members[np.argsort(-self.form_hits[members], kind="stable")][:most]
        names = lexicon.folds.gather(order).to_list()
        return list(zip(names, self.form_hits[order].tolist(), strict=True))


def count_words(index: TokenIndex, lexicon: Lexicon, ground: Ground) -> WordCounts:
    """Every fold that stands in the scope, in alphabetical order."""
    n, g = len(lexicon), ground.groups.n_groups
    hits, texts = np.zeros(n, np.int64), np.zeros(n, np.int64)
    group_hits = np.zeros((n, g))
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        if not len(segment.pair_text):
            continue
        found = _count(segment, ground, int(base))
        place = lexicon.places[at]
        hits[place] += found[0]
        texts[place] += found[1]
        group_hits[place] += found[2]
    used = np.flatnonzero(hits)
    row_of = np.full(n, -1, np.int64)
    row_of[used] = np.arange(len(used))
    return WordCounts(
        lexicon.folds.gather(used),
        lexicon.kinds[used],
        hits[used],
        texts[used],
        group_hits[used],
        ground.words,
        row_of,
        hits,
    )


def _count(segment: Segment, ground: Ground, base: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Hits, texts and hits by group of each fold of a segment."""
    stop = base + segment.n_texts
    mask = ground.mask[base:stop]
    begins = segment.pair_start[:-1]
    inside = mask[segment.pair_text]
    texts = np.add.reduceat(inside, begins, dtype=np.int64)
    groups, g = ground.groups, ground.groups.n_groups
    if groups.of_text is not None:
        # one more column for texts in no group, and one for texts out of scope
        column = np.where(mask, groups.of_text[base:stop], -2)
        column = np.where(column >= 0, column, g - 1 - column).astype(np.int64)
        key = np.repeat(np.arange(segment.n_folds) * (g + 2), np.diff(segment.pair_start))
        key += column[segment.pair_text]
        counted = np.bincount(key, weights=segment.pair_hits, minlength=segment.n_folds * (g + 2))
        counted = counted.reshape(segment.n_folds, g + 2)
        return counted[:, : g + 1].sum(1).astype(np.int64), texts, counted[:, :g]
    hits = np.add.reduceat(segment.pair_hits * inside, begins, dtype=np.int64)
    row = np.repeat(np.arange(segment.n_folds), np.diff(segment.pair_start))
    text = segment.pair_text.astype(np.int64) + base
    return hits, texts, hits_by_group(row, text, segment.pair_hits, segment.n_folds, groups)


def hits_by_group(row: np.ndarray, text: np.ndarray, times: np.ndarray, n: int, groups: Groups) -> np.ndarray:
    """float64 (n, G): ``times`` summed by row and the groups its text belongs to."""
    g = groups.n_groups
    if groups.of_text is not None:
        group = groups.of_text[text]
        inside = group >= 0
        key = row[inside] * g + group[inside]
        return np.bincount(key, weights=times[inside], minlength=n * g).reshape(n, g)
    n_texts = int(max(text.max(initial=0), groups.text.max(initial=0))) + 1
    pairs = sparse.csr_matrix((times.astype(float), (row, text)), shape=(n, n_texts))
    ones = np.ones(len(groups.text))
    return (pairs @ sparse.csr_matrix((ones, (groups.text, groups.group)), shape=(n_texts, g))).toarray()


def merge_forms(
    counts: WordCounts,
    index: TokenIndex,
    lexicon: Lexicon,
    ground: Ground,
    language: str,
    way: str,
    left_out: np.ndarray,
) -> WordCounts:
    """The counts with forms of one lemma or stem in one row; ``left_out`` are numbers of folds in no row.

    A text with two forms counts once. Raises WinnowerError where the language has no such list.
    """
    names = np.full(len(lexicon), None, object)
    for at, segment in enumerate(index.segments):
        first = np.flatnonzero(np.diff(segment.fold_of, prepend=-1))
        names[lexicon.places[at]] = segment.brought_together(language, way).gather(first).to_list()
    in_scope = counts.row_of >= 0
    in_scope[left_out] = False
    used = np.flatnonzero(in_scope)
    row_names, row = np.unique(names[used].astype(str), return_inverse=True)
    row_of = np.full(len(lexicon), -1, np.int64)
    row_of[used] = row
    r, old = len(row_names), counts.row_of[used]
    summing = sparse.csr_matrix((np.ones(len(used)), (row, old)), shape=(r, len(counts.names)))
    kinds = np.zeros(r, np.uint8)
    kinds[row] = counts.kinds[old]
    members = np.bincount(row, minlength=r)
    texts = (summing @ counts.texts).astype(np.int64)
    several = np.flatnonzero(members > 1)
    texts[several] = _distinct_texts(index, lexicon, ground, row_of, members > 1)[several]
    return WordCounts(
        pl.Series("fold", row_names.tolist(), dtype=pl.String),
        kinds,
        (summing @ counts.hits).astype(np.int64),
        texts,
        np.asarray(summing @ counts.group_hits),
        counts.group_words,
        row_of,
        counts.form_hits,
    )


def _distinct_texts(
    index: TokenIndex, lexicon: Lexicon, ground: Ground, row_of: np.ndarray, wanted: np.ndarray
) -> np.ndarray:
    """Texts of the scope with any form of a row, for the wanted rows; 0 for the others."""
    texts = np.zeros(len(wanted), np.int64)
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        row = np.repeat(row_of[lexicon.places[at]], np.diff(segment.pair_start))
        keep = ground.mask[base : base + segment.n_texts][segment.pair_text]
        keep &= (row >= 0) & wanted[row]
        keys = np.unique(row[keep] * segment.n_texts + segment.pair_text[keep])
        texts += np.bincount(keys // max(segment.n_texts, 1), minlength=len(wanted))
    return texts
