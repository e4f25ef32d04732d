"""What a term catches: hits, texts, the word forms behind them, and where it falls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.dictionary import category_hits
from winnower.core.index import Lexicon, Segment, TokenIndex
from winnower.core.measure import deviation_of_proportions, per_words
from winnower.core.pattern import Hits, Term, forms_of_single
from winnower.core.places import distinct_texts
from winnower.core.scope import Ground

#: A term that catches a larger share of all words than this is pointed out.
COMMON_SHARE = 0.02


@dataclass(frozen=True)
class TermProfile:
    """A term in a scope.

    hits, texts     in the whole scope
    forms           (form, hits), the most frequent first; ``forms_total`` counts all of them
    group_hits      int64 per group; ``group_rates`` float (NaN without words)
    evenness        DP over the groups, NaN where it is not defined
    share_of_words  hits over the words of the scope
    """

    hits: int
    texts: int
    forms: tuple[tuple[str, int], ...]
    forms_total: int
    group_hits: np.ndarray
    group_rates: np.ndarray
    evenness: float
    share_of_words: float


def profile_term(
    term: Term,
    index: TokenIndex,
    lexicon: Lexicon,
    ground: Ground,
    *,
    most_forms: int = 40,
) -> TermProfile:
    """Profile of one term in a scope. Raises TermError where it has too many readings."""
    forms = _Forms(lexicon)
    parts = []
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        mask = None if ground.everything else ground.mask[base : base + segment.n_texts]
        count = _count_single if term.single else _count_spans
        texts = count(term, segment, at, mask, forms)
        parts.append(texts + base if base else texts)
    texts = np.concatenate(parts) if parts else np.empty(0, np.int64)
    found, times = distinct_texts(texts, index.n_texts)
    groups = ground.groups
    member, group = groups.expand(found)
    group_hits = np.bincount(group, weights=times[member], minlength=groups.n_groups)
    words = float(index.words.sum() if ground.everything else index.words[ground.mask].sum())
    named, total = forms.named(most_forms)
    return TermProfile(
        hits=len(texts),
        texts=len(found),
        forms=named,
        forms_total=total,
        group_hits=group_hits.astype(np.int64),
        group_rates=per_words(group_hits, ground.words),
        evenness=float(deviation_of_proportions(group_hits, ground.words)),
        share_of_words=len(texts) / words if words else 0.0,
    )


class _Forms:
    """Collects which words, or words in a row, are behind the hits: numbers of folds, and how often."""

    def __init__(self, lexicon: Lexicon) -> None:
        self.lexicon = lexicon
        self.parts: dict[int, list[pl.DataFrame]] = {}

    def add(self, columns: list[np.ndarray], hits: np.ndarray | None = None) -> None:
        """``columns``: the folds of the first, second... words of some hits."""
        frame = pl.DataFrame({f"w{at}": column for at, column in enumerate(columns)})
        counted = pl.lit(1).alias("hits") if hits is None else pl.Series("hits", hits)
        self.parts.setdefault(len(columns), []).append(frame.with_columns(counted.cast(pl.Int64)))

    def named(self, most: int) -> tuple[tuple[tuple[str, int], ...], int]:
        """The most frequent forms, ties by alphabet, and how many there are."""
        total = 0
        best: list[tuple[str, int]] = []
        for n, parts in self.parts.items():
            words = [f"w{at}" for at in range(n)]
            counted = pl.concat(parts).group_by(words).agg(pl.col("hits").sum())
            total += len(counted)
            top = counted.sort(["hits", *words], descending=[True, *[False] * n]).head(most)
            folds = [self.lexicon.folds.gather(top[word]).to_list() for word in words]
            named = [" ".join(row) for row in zip(*folds, strict=True)]
            best += zip(named, top["hits"].to_list(), strict=True)
        return tuple(sorted(best, key=lambda item: (-item[1], item[0]))[:most]), total


def _count_single(
    term: Term, segment: Segment, at: int, mask: np.ndarray | None, forms: _Forms
) -> np.ndarray:
    """Texts of the hits in scope; the forms behind them are added to ``forms``."""
    rows = forms_of_single(term, segment)
    if not len(rows):
        return np.empty(0, np.int64)
    texts = segment.texts_of(rows)
    sizes = (segment.form_start[rows + 1] - segment.form_start[rows]).astype(np.int64)
    if mask is not None:
        inside = mask[texts]
        seen = np.concatenate([[0], np.cumsum(inside)])
        ends = np.cumsum(sizes)
        sizes = seen[ends] - seen[ends - sizes]
        texts = texts[inside]
    used = np.flatnonzero(sizes)
    if len(used):
        forms.add([forms.lexicon.places[at][segment.fold_of[rows[used]]]], sizes[used])
    return texts.astype(np.int64)


def _count_spans(term: Term, segment: Segment, at: int, mask: np.ndarray | None, forms: _Forms) -> np.ndarray:
    hits = category_hits([term], segment)
    texts = segment.text_of[hits.start]
    if mask is not None:
        inside = mask[texts]
        hits, texts = Hits(hits.start[inside], hits.length[inside]), texts[inside]
    for n in np.unique(hits.length).tolist():
        start = hits.start[hits.length == n]
        forms.add([forms.lexicon.of_tokens(segment, at, start + k) for k in range(n)])
    found: np.ndarray = texts.astype(np.int64)
    return found
