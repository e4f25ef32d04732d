"""Recipes that score what they find: by example, and by tone."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from sqlalchemy.orm import Session

from winnower.core.learn import strongest
from winnower.core.places.units import Units, units_of
from winnower.core.runs import ByExample, ByTone, Found
from winnower.core.runs.signs import OPENING
from winnower.core.tone import BANDS, Scorer, ToneWords, band_of
from winnower.store.learning import Learnt
from winnower.store.opened import OpenCorpus
from winnower.store.texts import bodies

T = TypeVar("T")
#: Goes through batches and tells how far it is.
Batches = Callable[[Sequence[T]], Iterable[T]]
TEXTS_AT_ONCE = 2_000
#: So many sentences are read for what is shown before a run; the run reads all.
MOST_TRIED = 60_000


@dataclass(frozen=True)
class Scored:
    """What was found, in so many of the texts of the scope."""

    found: Found
    looked: int
    texts: int

    @property
    def nbytes(self) -> int:
        return self.found.nbytes


def find_learned(found: Learnt, finder: ByExample, corpus: OpenCorpus, reasons: Sequence[str]) -> Scored:
    """Units that reach the threshold, each with the word that speaks most for it."""
    units, learned = found.examples.units, found.learned
    enough = found.probability >= finder.threshold - 1e-12
    at, probability = found.at[enough], found.probability[enough]
    column, mark, after = strongest(learned, units, at, corpus.index, corpus.lexicon)
    number = {words: place for place, words in enumerate(reasons)}
    names = learned.words.names(corpus.lexicon)
    of_column = np.array([number.get(name, 0) for name in names] + [0], np.int64)
    places = units.places(at, corpus.index)
    base = units.base[np.searchsorted(corpus.index.base, places.text, side="right") - 1]
    has = column >= 0
    mark = np.where(has, mark - base, places.start)
    after = np.where(has, after - base, places.start)
    n = len(at)
    columns = Found(
        places.text, places.start, places.start + places.length, np.zeros(n, np.int64), of_column[column],
        mark, after, np.ones(n, np.int64), np.round(probability * 1_000).astype(np.int16),
    )  # fmt: skip
    looked = len(np.unique(units.text[found.at]))
    texts = looked if found.of_units == len(found.at) else -1
    return Scored(columns, looked, texts)


def tone_reasons(corpus: OpenCorpus, words: ToneWords) -> list[str]:
    """The words of a list the corpus has; the first stands for all others, such as signs."""
    there = corpus.lexicon.folds.filter(corpus.lexicon.folds.is_in(sorted(words.weights)))
    return ["", *there.to_list()]


def find_tone(
    session: Session,
    corpus: OpenCorpus,
    finder: ByTone,
    scope_mask: np.ndarray,
    words: ToneWords,
    reasons: Sequence[str],
    most: int | None,
    batches: Batches[np.ndarray] = iter,
) -> Scored:
    """Sentences of the wanted bands in the texts of ``scope_mask`` (bool per text); with ``most`` no more sentences are
    read, of texts spread evenly."""
    units: Units = corpus.kept(("units", "sentence"), lambda one: units_of(one.index, "sentence"), ())
    of_text = np.bincount(units.text, minlength=corpus.index.n_texts)
    texts = np.flatnonzero(scope_mask & (of_text > 0))
    sentences = int(of_text[texts].sum())
    step = 1 if most is None else max(1, -(-sentences // most))
    chosen = texts[::step]
    number = {word: place for place, word in enumerate(reasons)}
    target = np.array([finder.bands.index(band) if band in finder.bands else -1 for band in BANDS])
    first = np.searchsorted(units.text, np.arange(corpus.index.n_texts + 1))
    parts, scorer = [], Scorer(words)
    for some in batches([chosen[low : low + TEXTS_AT_ONCE] for low in range(0, len(chosen), TEXTS_AT_ONCE)]):
        at = np.concatenate([np.arange(first[one], first[one + 1]) for one in some.tolist()])
        written = sentences_at(session, corpus, units, at)
        scores, why = scorer.score(written)
        band = target[band_of(scores)]
        keep = band >= 0
        places = units.places(at[keep], corpus.index)
        reason = np.array([number.get(one, 0) for one, ok in zip(why, keep, strict=True) if ok], np.int64)
        n = int(keep.sum())
        parts.append(
            Found(
                places.text, places.start, places.start + places.length, band[keep], reason,
                places.start, places.start, np.ones(n, np.int64),
                np.round(scores[keep] * 1_000).astype(np.int16),
            )
        )  # fmt: skip
    found = Found.joined(parts)
    return Scored(found.some(np.lexsort((found.start, found.target, found.text))), len(chosen), len(texts))


def sentences_at(session: Session, corpus: OpenCorpus, units: Units, at: np.ndarray) -> list[str]:
    """The words of sentences ``at`` (of whole texts) as they stand, to where the next one begins."""
    if not len(at):
        return []
    index = corpus.index
    text = units.text[at]
    ids = index.text_id[text].tolist()
    begin = np.empty(len(at), np.int64)
    segment = np.searchsorted(units.base, units.start[at], side="right") - 1
    for number in np.unique(segment).tolist():
        of = segment == number
        begin[of] = index.segments[number].char_start[units.start[at[of]] - units.base[number]]
    body = bodies(session, sorted(set(ids)))
    # the last sentence of a text reaches to its end
    last = np.append(text[1:] != text[:-1], True)
    end = np.append(begin[1:], 0)
    return [
        _trimmed((words := body.get(one, ""))[_opened(words, low) : None if of_end else high])
        for one, low, high, of_end in zip(ids, begin.tolist(), end.tolist(), last.tolist(), strict=True)
    ]


def _opened(body: str, begin: int) -> int:
    """Where the signs begin that open what begins at a place."""
    while begin and body[begin - 1] in OPENING:
        begin -= 1
    return begin


def _trimmed(sentence: str) -> str:
    """Without the signs that open the next sentence."""
    sentence = sentence.rstrip()
    while sentence and sentence[-1] in OPENING and sentence[-2:-1].isspace():
        sentence = sentence[:-1].rstrip()
    return sentence
