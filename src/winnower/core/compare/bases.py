"""In which unit hits are counted, and over what: hits over words, sentences with a hit over sentences, and so on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from winnower.core.compare.targets import Corpus
from winnower.core.errors import ComparisonError
from winnower.core.measure import PER_WORDS, RATE_UNIT
from winnower.core.places import Places, distinct_texts
from winnower.core.places.stretches import words_covered
from winnower.core.places.units import Units, units_of

Counting = Literal["hits", "sentences", "paragraphs", "words"]
Per = Literal[1_000, 10_000, 1_000_000]


@dataclass(frozen=True)
class Base:
    """How a unit of counting is spoken of.

    noun       of what is counted, many: "sentences with a hit"
    over       of what it is counted over, many: "sentences"
    words      what is counted, in a sentence
    """

    noun: str
    over: str
    words: str


BASES: dict[Counting, Base] = {
    "hits": Base("hits", "words", ""),
    "sentences": Base(
        "sentences with a hit",
        "sentences",
        "A sentence counts once for a row, however many hits of the row it holds.",
    ),
    "paragraphs": Base(
        "paragraphs with a hit",
        "paragraphs",
        "A paragraph counts once for a row, however many hits of the row it holds.",
    ),
    "words": Base(
        "words covered",
        "words",
        "A word counts once for a row that covers it, however many hits of the row do.",
    ),
}
#: Measures that are only there for hits: verdicts are given on hits and texts.
OF_HITS_ALONE = ("corrected", "corrected_texts", "precision", "missed")


@dataclass(frozen=True)
class Counter:
    """Counts places of texts in a unit. ``units`` are those of the corpus, None for hits and words."""

    counting: Counting
    corpus: Corpus
    units: Units | None

    @classmethod
    def of(cls, counting: Counting, corpus: Corpus) -> Counter:
        parted = counting in ("sentences", "paragraphs")
        return cls(counting, corpus, units_of(corpus.index, counting[:-1]) if parted else None)

    def sizes(self) -> np.ndarray:
        """float64 per text: what is counted over."""
        index = self.corpus.index
        if self.units is None:
            return index.words.astype(float)
        return np.bincount(self.units.text, minlength=index.n_texts).astype(float)

    def of_places(self, places: Places) -> tuple[np.ndarray, np.ndarray]:
        """Texts with something, sorted, and how much each has."""
        index = self.corpus.index
        if self.counting == "hits":
            return distinct_texts(places.text, index.n_texts)
        if self.units is None:
            texts, covered = words_covered(places, index)
            order = np.argsort(texts, kind="stable")
            return texts[order], covered[order]
        touched = self.units.touched(places, index)
        return distinct_texts(self.units.text[touched], index.n_texts)


def check_counting(counting: Counting, measure: str) -> None:
    """Raises ComparisonError where a measure is only there for hits."""
    if counting != "hits" and measure in OF_HITS_ALONE:
        raise ComparisonError("Verdicts are given on hits and on texts; count hits to see what they say.")


def factor_of(counting: Counting, per: int) -> float:
    """What a rate is multiplied by: so many words for hits; shares of units are left as they are."""
    return float(per) if counting == "hits" else 1.0


def rate_unit(per: int) -> str:
    return RATE_UNIT if per == PER_WORDS else f"per {per:,} words"


def spoken(text: str, per: int) -> str:
    """A text that speaks of rates with so many words instead of the usual ones."""
    if per == PER_WORDS:
        return text
    return text.replace(RATE_UNIT, rate_unit(per)).replace(f"times {PER_WORDS:,}", f"times {per:,}")
