"""What a term catches: hits, texts, the word forms behind them, and where it falls."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np

from winnower.core.index import Segment, TokenIndex
from winnower.core.measure import deviation_of_proportions
from winnower.core.pattern import Term, find_term, resolve
from winnower.core.scope import Groups
from winnower.core.tokens import fold

#: A term that catches a larger share of all words than this is pointed out.
COMMON_SHARE = 0.02


@dataclass(frozen=True)
class TermProfile:
    """A term in a scope.

    hits, texts     in the whole scope
    forms           (form, hits), the most frequent first; ``forms_total`` counts all of them
    group_hits      int64 per group; ``group_rates`` float, hits per 1,000 words (NaN without words)
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
    mask: np.ndarray,
    groups: Groups,
    group_words: np.ndarray,
    *,
    most_forms: int = 40,
) -> TermProfile:
    """Profile of one term among the texts of ``mask``; ``group_words`` are the groups' words."""
    counts: Counter[str] = Counter()
    parts = []
    for segment, base in zip(index.segments, index.base, strict=False):
        if term.length == 1:
            texts = _count_single(term, segment, mask[base : base + segment.n_texts], counts)
        else:
            texts = _count_phrase(term, segment, mask[base : base + segment.n_texts], counts)
        parts.append(texts + base)
    texts = np.concatenate(parts) if parts else np.empty(0, np.int64)
    found, times = distinct_texts(texts, index.n_texts)
    at, group = groups.expand(found)
    group_hits = np.bincount(group, weights=times[at], minlength=groups.n_groups)
    with np.errstate(divide="ignore", invalid="ignore"):
        rates = np.where(group_words > 0, group_hits / group_words * 1000, np.nan)
    words = float(index.words[mask].sum())
    ordered = sorted(counts.items(), key=lambda item: (-item[1], item[0]))
    return TermProfile(
        hits=len(texts),
        texts=len(found),
        forms=tuple(ordered[:most_forms]),
        forms_total=len(ordered),
        group_hits=group_hits.astype(np.int64),
        group_rates=rates,
        evenness=float(deviation_of_proportions(group_hits, group_words)),
        share_of_words=len(texts) / words if words else 0.0,
    )


def distinct_texts(texts: np.ndarray, n_texts: int) -> tuple[np.ndarray, np.ndarray]:
    """Texts with at least one entry, sorted, and how many each has."""
    if len(texts) * 8 > n_texts:
        counts = np.bincount(texts, minlength=n_texts)
        found = np.flatnonzero(counts)
        return found, counts[found]
    return np.unique(texts, return_counts=True)


def _count_single(term: Term, segment: Segment, mask: np.ndarray, counts: Counter) -> np.ndarray:
    """Texts of the hits in scope; the forms behind them are added to ``counts``."""
    forms = resolve(term, segment)[0]
    if not len(forms):
        return np.empty(0, np.int64)
    texts = segment.texts_of(forms)
    inside = mask[texts]
    sizes = (segment.form_start[forms + 1] - segment.form_start[forms]).astype(np.int64)
    if inside.all():
        per_form = sizes
    else:
        seen = np.concatenate([[0], np.cumsum(inside)])
        ends = np.cumsum(sizes)
        per_form = seen[ends] - seen[ends - sizes]
        texts = texts[inside]
    used = np.flatnonzero(per_form)
    folds = segment.vocabulary["fold"].gather(forms[used]).to_list()
    for form, hits in zip(folds, per_form[used].tolist(), strict=True):
        counts[form] += hits
    return texts.astype(np.int64)


def _count_phrase(term: Term, segment: Segment, mask: np.ndarray, counts: Counter) -> np.ndarray:
    start = find_term(term, segment)
    texts = segment.text_of[start]
    start, texts = start[mask[texts]], texts[mask[texts]]
    if len(start):
        tokens = np.stack([segment.codes[start + at] for at in range(term.length)], axis=1)
        rows, times = np.unique(tokens, axis=0, return_counts=True)
        surface = segment.vocabulary["surface"]
        words = surface.gather(rows.ravel()).to_list()
        for at, hits in enumerate(times.tolist()):
            phrase = " ".join(fold(w) for w in words[at * term.length : (at + 1) * term.length])
            counts[phrase] += hits
    return texts.astype(np.int64)
