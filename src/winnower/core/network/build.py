"""From tokens to a network of words."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl
from scipy import sparse

from winnower.core.arrays import distinct
from winnower.core.compare.targets import Corpus
from winnower.core.errors import ComparisonError
from winnower.core.index import KINDS, brought_together
from winnower.core.network.graph import Gap, Topic, drawn, gaps
from winnower.core.network.request import Network
from winnower.core.network.stability import stability
from winnower.core.places import Places
from winnower.core.places.units import Units, units_of

#: Words shorter than this tell little of what a text is about.
LEAST_CHARS = 3


@dataclass(frozen=True)
class WordNetwork:
    """Words N, ties E, topics T.

    names      N, with ``forms``: for each the folds that are its hits
    hits, texts   int64 (N): units with the word, texts with it
    topic      int64 (N): its topic, -1 for none
    betweenness, x, y   float (N)
    first, second, together   int64 (E): both words of a tie, and units with both
    weight     float (E): normalised PMI
    holds      bool (E): significantly more often together than shuffled words would be
    topics, gaps
    units_of_topic, texts_of_topic   int64 (T): units with two words of it or more, and texts with such a unit
    stays      float (T): the share of its pairs of words that stay in one topic when texts are drawn again
    units, texts_in_scope
    alone      words without a tie, left out
    """

    names: tuple[str, ...]
    forms: tuple[tuple[str, ...], ...]
    hits: np.ndarray
    texts: np.ndarray
    topic: np.ndarray
    betweenness: np.ndarray
    x: np.ndarray
    y: np.ndarray
    first: np.ndarray
    second: np.ndarray
    together: np.ndarray
    weight: np.ndarray
    holds: np.ndarray
    topics: tuple[Topic, ...]
    gaps: tuple[Gap, ...]
    units_of_topic: np.ndarray
    texts_of_topic: np.ndarray
    stays: np.ndarray
    units: int
    texts_in_scope: int
    alone: int


@dataclass(frozen=True)
class _Chosen:
    """The words: their names, the row of every fold of the lexicon (-1 for none), texts of each."""

    names: list[str]
    row_of: np.ndarray
    texts: np.ndarray


def build_network(
    asked: Network, corpus: Corpus, mask: np.ndarray, stop: np.ndarray, language: str
) -> WordNetwork:
    """Of the texts in ``mask`` (bool per text); ``stop`` are numbers of folds of the stop list.

    Ties are weighed by normalised PMI, log(p_ab / (p_a p_b)) / -log p_ab (Bouma 2009, Proceedings of GSCL). Raises
    ComparisonError where no words are tied, WinnowerError where the language has no lemmas or stems.
    """
    chosen = _choose(asked, corpus, mask, stop, language)
    units = units_of(corpus.index, asked.within)
    held, n_units = _held(chosen, units, corpus, mask)
    both = np.asarray((held @ held.T).toarray()).astype(np.int64)
    near = _near(both, n_units)
    first, second = _ties(asked, both, near)
    used = np.zeros(len(chosen.names), bool)
    used[first] = used[second] = True
    if not used.any():
        raise ComparisonError(
            "No two words stand together often enough here. Take more texts, ask for fewer units together, or lower the "
            "least strength of a tie."
        )
    kept = np.flatnonzero(used)
    place = np.cumsum(used) - 1
    a, b = place[first], place[second]
    weight, together = near[first, second], both[first, second]
    shown = drawn(len(kept), a, b, weight, asked.resolution, asked.seed)
    near = near[np.ix_(kept, kept)]
    text_of = _texts_of_units(units, mask)
    of_topic, texts_of = _of_topics(held[kept], shown.topic, len(shown.topics), text_of)

    def ties_of(both: np.ndarray, n: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        near = _near(both, n)
        first, second = _ties(asked, both, near)
        return first, second, near[first, second]

    firm = stability(held[kept], text_of, ties_of, shown.topics, asked.least, asked.resolution, asked.seed)
    folds = corpus.lexicon.folds
    forms = tuple(tuple(folds.gather(np.flatnonzero(chosen.row_of == at)).to_list()) for at in kept)
    return WordNetwork(
        tuple(chosen.names[at] for at in kept), forms, np.diag(both)[kept], chosen.texts[kept], shown.topic,
        shown.betweenness, shown.x, shown.y, a, b, together, weight, firm.stronger[a, b], shown.topics,
        gaps(shown.topics, shown.topic, a, b, weight, near), of_topic, texts_of, firm.stays, n_units, int(mask.sum()),
        len(chosen.names) - len(kept),
    )  # fmt: skip


def _choose(asked: Network, corpus: Corpus, mask: np.ndarray, stop: np.ndarray, language: str) -> _Chosen:
    lexicon, index = corpus.lexicon, corpus.index
    fits = np.isin(lexicon.kinds, [KINDS.index(kind) for kind in asked.kinds])
    fits &= (lexicon.folds.str.len_chars().to_numpy() >= LEAST_CHARS) | (lexicon.kinds != KINDS.index("word"))
    fits[stop] = False
    names = lexicon.folds
    row_of = np.arange(len(lexicon))
    if asked.merge != "none":
        merged, row_of = np.unique(
            brought_together(index, lexicon, language, asked.merge).to_numpy().astype(str),
            return_inverse=True,
        )
        names = pl.Series("fold", merged.tolist(), dtype=pl.String)
    row_of = np.where(fits, row_of, -1).astype(np.int64)
    texts = np.zeros(len(names), np.int64)
    for at, (segment, base) in enumerate(zip(index.segments, index.base, strict=False)):
        row = np.repeat(row_of[lexicon.places[at]], np.diff(segment.pair_start))
        inside = (row >= 0) & mask[base : base + segment.n_texts][segment.pair_text]
        # several forms of a row in one text count twice here; it only decides which words are taken
        texts += np.bincount(row[inside], minlength=len(names))
    texts[names.is_in(list(asked.leave)).to_numpy()] = 0
    best = np.argsort(-texts, kind="stable")[: asked.most]
    best = np.sort(best[texts[best] > 0])
    if len(best) < 2:
        raise ComparisonError("There are no two words in these texts that are not on the stop list.")
    new = np.full(len(names) + 1, -1, np.int64)
    new[best] = np.arange(len(best))
    return _Chosen(names.gather(best).to_list(), new[row_of], np.minimum(texts[best], int(mask.sum())))


def _held(chosen: _Chosen, units: Units, corpus: Corpus, mask: np.ndarray) -> tuple[sparse.csr_matrix, int]:
    """Words by units of the texts in ``mask``: 1 where a unit has the word; and how many units there are."""
    index, lexicon = corpus.index, corpus.lexicon
    inside = mask[units.text]
    number = np.cumsum(inside) - 1
    rows, places = [np.empty(0, np.int64)], [np.empty(0, np.int64)]
    for at, (segment, first) in enumerate(zip(index.segments, units.base, strict=False)):
        of_form = chosen.row_of[lexicon.places[at][segment.fold_of]]
        row = of_form[segment.codes]
        here = np.flatnonzero(row >= 0)
        unit = np.searchsorted(units.start, here + first, "right") - 1
        kept = inside[unit]
        rows.append(row[here][kept])
        places.append(number[unit[kept]])
    n = int(inside.sum())
    key = distinct(np.concatenate(rows) * np.int64(max(n, 1)) + np.concatenate(places))
    row, unit = np.divmod(key, max(n, 1))
    return sparse.csr_matrix((np.ones(len(key), np.float32), (row, unit)), shape=(len(chosen.names), n)), n


def _texts_of_units(units: Units, mask: np.ndarray) -> np.ndarray:
    found: np.ndarray = units.text[mask[units.text]]
    return found


def _near(both: np.ndarray, n: float) -> np.ndarray:
    """Normalised PMI of every pair, 0 where they never stand together or less than by chance."""
    alone = np.diag(both).astype(float)
    with np.errstate(divide="ignore", invalid="ignore"):
        pmi = np.log(both * n / (alone[:, None] * alone[None, :]))
        found = pmi / -np.log(both / n)
    found = np.where(both > 0, np.nan_to_num(found, nan=0.0, posinf=1.0, neginf=0.0), 0.0)
    np.fill_diagonal(found, 0.0)
    return np.clip(found, 0.0, 1.0)


def _ties(asked: Network, both: np.ndarray, near: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Pairs of words that are tied: strong enough, and among the strongest of one of them."""
    fit = np.where((both >= asked.least) & (near >= asked.floor) & (near > 0), near, 0.0)
    rank = np.argsort(np.argsort(-fit, axis=1, kind="stable"), axis=1, kind="stable")
    keep = (fit > 0) & ((rank < asked.ties) | (asked.ties > rank.T))
    first, second = np.nonzero(np.triu(keep, 1))
    return first, second


def _of_topics(
    held: sparse.csr_matrix, topic: np.ndarray, n: int, text_of: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Units with two words of each topic or more, and texts with such a unit."""
    units, texts = np.zeros(n, np.int64), np.zeros(n, np.int64)
    for at in range(n):
        words = np.asarray(held[topic == at].sum(0)).ravel()
        found = np.flatnonzero(words >= 2)
        units[at], texts[at] = len(found), len(distinct(text_of[found]))
    return units, texts


def topic_places(
    forms: list[tuple[str, ...]], corpus: Corpus, mask: np.ndarray, within: str, least: int = 2
) -> Places:
    """The words of a topic (each by its forms) where so many different ones stand in one unit, by text."""
    index, lexicon = corpus.index, corpus.lexicon
    row_of = np.full(len(lexicon), -1, np.int64)
    for at, some in enumerate(forms):
        row_of[lexicon.numbers_of(list(some))] = at
    units = units_of(index, within)
    parts = []
    for at, (segment, first) in enumerate(zip(index.segments, units.base, strict=False)):
        row = row_of[lexicon.places[at][segment.fold_of]][segment.codes]
        here = np.flatnonzero(row >= 0)
        here = here[mask[segment.text_of[here].astype(np.int64) + int(index.base[at])]]
        unit = np.searchsorted(units.start, here + first, "right") - 1
        pairs = distinct(unit * np.int64(max(len(forms), 1)) + row[here]) // max(len(forms), 1)
        rich, times = np.unique(pairs, return_counts=True)
        kept = here[np.isin(unit, rich[times >= least])]
        text = segment.text_of[kept].astype(np.int64) + int(index.base[at])
        parts.append(Places(text, kept.astype(np.int64), np.ones(len(kept), np.int64)))
    return Places.joined(parts)
