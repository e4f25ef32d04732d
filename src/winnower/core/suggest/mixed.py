"""Terms whose hits stand in two kinds of company: possibly one word with two meanings."""

from __future__ import annotations

from collections.abc import MutableMapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy import sparse

from winnower.core.dictionary.hits import count_each
from winnower.core.index import Lexicon, TokenIndex
from winnower.core.pattern import Term
from winnower.core.places import Places, hits_in_texts
from winnower.core.suggest.company import Company
from winnower.core.words.collocates import beside

LEAST_HITS = 24
MOST_HITS = 400
MOST_TERMS = 400
REACH = 6
ROUNDS = 12
#: Share of the spread between hits that splitting them in two must explain.
MIXED = 0.30
SMALLER_PART = 0.08
#: Cosine of the two kinds of company above which they are taken for one subject.
RELATED = 0.2
TELLING_WORDS = 4


@dataclass(frozen=True)
class MixedCompany:
    """``share``: of the spread that two kinds of company explain; ``between``: the cosine of their means;
    ``words``: what is typical of each; ``of_hit``: int8 per hit, 0 or 1, -1 for hits that were not drawn
    or have no company."""

    share: float
    between: float
    sizes: tuple[int, int]
    words: tuple[tuple[str, ...], tuple[str, ...]]
    of_hit: np.ndarray

    @property
    def likely(self) -> bool:
        """A pointer, not a test: unrelated kinds of company that tell most hits apart."""
        smaller = SMALLER_PART * sum(self.sizes)
        return self.share >= MIXED and self.between <= RELATED and min(self.sizes) >= smaller


def mixed_company(
    hits: Places, index: TokenIndex, lexicon: Lexicon, company: Company, seed: int = 1
) -> MixedCompany | None:
    """Split the hits in two by the words around them; None where there are too few to say.

    A hit is the mean of the vectors of the words within six tokens in its sentence. Two-means from a
    seeded sample of at most 400 hits; ``share`` is the part of the squared distances to the common
    mean that the two means take away.
    """
    chosen = np.arange(hits.hits)
    if hits.hits > MOST_HITS:
        chosen = np.sort(np.random.default_rng(seed).choice(hits.hits, MOST_HITS, replace=False))
    rows, of_hit = _around(hits, chosen, index, lexicon, company)
    shape = len(chosen), len(company.vectors)
    sums = sparse.csr_matrix((np.ones(len(rows)), (of_hit, rows)), shape=shape) @ company.vectors
    size = np.linalg.norm(sums, axis=1)
    used = np.flatnonzero(size > 1e-9)
    if len(used) < LEAST_HITS:
        return None
    points = sums[used] / size[used, None]
    side = _two_means(points)
    share = 1 - sum(_spread(points[side == k]) for k in (0, 1)) / max(_spread(points), 1e-12)
    of_side = np.full(len(chosen), -1, np.int8)
    of_side[used] = side
    telling = tuple(_telling(rows, of_side[of_hit], k, company, lexicon) for k in (0, 1))
    means = [points[side == k].mean(0) if (side == k).any() else points.mean(0) for k in (0, 1)]
    between = float(means[0] @ means[1] / (np.linalg.norm(means[0]) * np.linalg.norm(means[1]) + 1e-12))
    of_hit_all = np.full(hits.hits, -1, np.int8)
    of_hit_all[chosen] = of_side
    sizes = int((side == 0).sum()), int((side == 1).sum())
    return MixedCompany(float(share), between, sizes, telling, of_hit_all)  # type: ignore[arg-type]


def mixed_terms(
    terms: Sequence[Term],
    index: TokenIndex,
    lexicon: Lexicon,
    company: Company,
    mask: np.ndarray,
    known: MutableMapping[Term, MixedCompany | None] | None = None,
) -> dict[int, MixedCompany]:
    """Of the most frequent terms (by place, at most MOST_TERMS) those with a likely double meaning, among
    the texts of ``mask``. ``known`` keeps what was found for the same texts and company; without
    ``of_hit``."""
    known = {} if known is None else known
    hits = count_each(terms, index, None if mask.all() else mask)
    often = np.argsort(-hits, kind="stable")[:MOST_TERMS]
    out = {}
    for at in np.sort(often[hits[often] >= LEAST_HITS]).tolist():
        term = terms[at]
        if term not in known:
            mixed = mixed_company(hits_in_texts([term], index, mask), index, lexicon, company)
            likely = mixed is not None and mixed.likely
            known[term] = replace(mixed, of_hit=np.empty(0, np.int8)) if mixed and likely else None
        if (mixed := known[term]) is not None:
            out[at] = mixed
    return out


def hits_of_kind(
    term: Term,
    kind: int,
    ordered: Places,
    index: TokenIndex,
    lexicon: Lexicon,
    company: Company,
    mask: np.ndarray,
) -> Places:
    """Of the term's hits in the texts of ``mask``, as ``ordered``, those in its first or second kind of
    company (0, 1): the hits that ``mixed_terms`` counted."""
    hits = hits_in_texts([term], index, mask)
    mixed = mixed_company(hits, index, lexicon, company)
    wanted = np.zeros(0, int) if mixed is None else np.flatnonzero(mixed.of_hit == kind)
    # a hit is told by its text and its first token; positions count within segments
    own = hits.text[wanted] << 32 | hits.start[wanted]
    keep = np.isin(ordered.text << 32 | ordered.start, own)
    return Places(ordered.text[keep], ordered.start[keep], ordered.length[keep])


def _around(
    hits: Places, chosen: np.ndarray, index: TokenIndex, lexicon: Lexicon, company: Company
) -> tuple[np.ndarray, np.ndarray]:
    """Rows of ``company`` beside the chosen hits, each once a hit, and which hit each belongs to."""
    rows, of_hit = [], []
    of_segment = np.searchsorted(index.base, hits.text[chosen], side="right") - 1
    for at, segment in enumerate(index.segments):
        here = np.flatnonzero(of_segment == at)
        if not len(here):
            continue
        picked = chosen[here]
        fold, _, _, hit = beside(segment, hits.start[picked], hits.length[picked], REACH)
        row = company.rows_of(lexicon.places[at][fold])
        pairs = np.unique(np.stack([here[hit][row >= 0], row[row >= 0]]), axis=1)
        of_hit.append(pairs[0])
        rows.append(pairs[1])
    return np.concatenate(rows or [np.empty(0, int)]), np.concatenate(of_hit or [np.empty(0, int)])


def _two_means(points: np.ndarray) -> np.ndarray:
    """0 or 1 per point; begins with the point furthest from the mean and the one furthest from that."""
    first = points[np.argmin(points @ points.mean(0))]
    means = np.stack([first, points[np.argmin(points @ first)]])
    side = np.zeros(len(points), int)
    for _ in range(ROUNDS):
        away = ((points[:, None] - means[None]) ** 2).sum(2)
        side = away.argmin(1)
        if len(np.unique(side)) < 2:
            break
        means = np.stack([points[side == k].mean(0) for k in (0, 1)])
    return side


def _spread(points: np.ndarray) -> float:
    return float(((points - points.mean(0)) ** 2).sum()) if len(points) else 0.0


def _telling(
    rows: np.ndarray, side: np.ndarray, k: int, company: Company, lexicon: Lexicon
) -> tuple[str, ...]:
    """Words more frequent on this side than on the other."""
    n = len(company.folds)
    here, there = (np.bincount(rows[side == s], minlength=n) for s in (k, 1 - k))
    score = here * np.log((here + 0.5) / (there + 0.5) * (max(there.sum(), 1) / max(here.sum(), 1)))
    best = np.argsort(-score, kind="stable")[:TELLING_WORDS]
    return tuple(lexicon.folds.gather(company.folds[best[score[best] > 0]]).to_list())
