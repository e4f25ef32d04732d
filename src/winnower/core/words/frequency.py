"""How often each word stands in the texts of a scope, by group; forms brought together."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import polars as pl
from scipy import sparse

from winnower.core.index import Lexicon, Segment, TokenIndex, brought_together
from winnower.core.measure import deviation_of_proportions
from winnower.core.scope import Ground, Groups

MOST_FORMS = 40


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

    def forms(self, lexicon: Lexicon, row: int, most: int = MOST_FORMS) -> list[tuple[str, int]]:
        """The forms under a row with their hits, the most frequent first."""
        members = np.flatnonzero(self.row_of == row)
        order = members[np.argsort(-self.form_hits[members], kind="stable")][:most]
        names = lexicon.folds.gather(order).to_list()
        return list(zip(names, self.form_hits[order].tolist(), strict=True))


def count_words(index: TokenIndex, lexicon: Lexicon, ground: Ground) -> WordCounts:
    """Every fold that stands in the scope, in alphabetical order."""
    n = len(lexicon)
    hits, texts = np.zeros(n, np.int64), np.zeros(n, np.int64)
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        if len(segment.pair_text):
            inside = ground.mask[base : base + segment.n_texts][segment.pair_text]
            begins, place = segment.pair_start[:-1], lexicon.places[at]
            texts[place] += np.add.reduceat(inside, begins, dtype=np.int64)
            hits[place] += np.add.reduceat(segment.pair_hits * inside, begins, dtype=np.int64)
    used = np.flatnonzero(hits)
    row_of = np.full(n, -1, np.int64)
    row_of[used] = np.arange(len(used))
    return WordCounts(
        lexicon.folds.gather(used),
        lexicon.kinds[used],
        hits[used],
        texts[used],
        _by_group(index, lexicon, ground, row_of, len(used)),
        ground.words,
        row_of,
        hits,
    )


def _by_group(
    index: TokenIndex, lexicon: Lexicon, ground: Ground, row_of: np.ndarray, n_rows: int
) -> np.ndarray:
    """float64 (R, G): hits of each row in each group; one sum over all segments."""
    groups, g = ground.groups, ground.groups.n_groups
    if groups.of_text is None:
        parts = [_pairs(segment, int(base), row_of[place]) for segment, base, place in _parts(index, lexicon)]
        return sum((hits_by_group(*part, n_rows, groups) for part in parts), np.zeros((n_rows, g)))
    keys, weights = [], []
    for segment, base, place in _parts(index, lexicon):
        group = groups.of_text[base : base + segment.n_texts]
        # a word that is nowhere in scope (row -1) has no text in a group either
        key = np.repeat(row_of[place] * g, np.diff(segment.pair_start)) + group[segment.pair_text]
        if (group < 0).any():
            inside = group[segment.pair_text] >= 0
            key, hits = key[inside], segment.pair_hits[inside]
        else:
            hits = segment.pair_hits
        keys.append(key)
        weights.append(hits)
    if not keys:
        return np.zeros((n_rows, g))
    summed = np.bincount(np.concatenate(keys), weights=np.concatenate(weights), minlength=n_rows * g)
    return summed.reshape(n_rows, g)


def _parts(index: TokenIndex, lexicon: Lexicon) -> Iterator[tuple[Segment, int, np.ndarray]]:
    for segment, base, place in zip(index.segments, index.base, lexicon.places, strict=False):
        yield segment, int(base), place


def _pairs(segment: Segment, base: int, row: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Rows, texts and hits of the pairs of a segment whose fold has a row."""
    of_pair = np.repeat(row, np.diff(segment.pair_start))
    known = of_pair >= 0
    return of_pair[known], segment.pair_text[known].astype(np.int64) + base, segment.pair_hits[known]


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
    names = brought_together(index, lexicon, language, way).to_numpy()
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
