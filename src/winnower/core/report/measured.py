"""What is measured of the texts and of the instruments, as sentences and tables."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

from winnower.core.report.blocks import Block, Grid, GridColumn, Prose
from winnower.core.report.method import CorpusFact
from winnower.core.review import Quality

MOST_SOURCES = 30
#: The part of all hits nothing is known of is told from here on.
TOLD_UNSEEN = 0.005


@dataclass(frozen=True)
class SourceFact:
    """A source, with the first and the last day of its texts, None without dates."""

    name: str
    texts: int
    words: int
    first: dt.date | None
    last: dt.date | None


@dataclass(frozen=True)
class VerdictsFact:
    """What was judged of an instrument; ``alpha`` is the agreement of its judges, None where it is not known."""

    name: str
    said: Quality
    alpha: float | None


@dataclass(frozen=True)
class Figure95:
    """A value with its interval; None where it could not be measured."""

    value: float | None
    low: float | None
    high: float | None

    def __str__(self) -> str:
        if self.value is None:
            return "–"
        between = self.low is not None and self.high is not None
        return f"{self.value:.2f}" + (f" ({self.low:.2f} to {self.high:.2f})" if between else "")


@dataclass(frozen=True)
class LearnedFact:
    """How well a run that learned by example did on texts it had not learned from."""

    name: str
    precision: Figure95
    recall: Figure95
    f1: Figure95


def overview_of(corpus: CorpusFact, sources: Sequence[SourceFact]) -> list[Block]:
    """A sentence, and a table of texts and words by source in the order given."""
    span = f", dated {corpus.first} to {corpus.last}" if corpus.first else ""
    said: list[Block] = [Prose(f"{corpus.texts:,} texts with {corpus.words:,} words{span}.")]
    if not corpus.sources:
        return said
    rows = tuple(
        (
            one.name,
            f"{one.texts:,}",
            f"{one.words:,}",
            f"{one.words / one.texts:,.0f}",
            f"{one.first} to {one.last}" if one.first and one.last else "–",
        )
        for one in sources[:MOST_SOURCES]
    )
    more = len(sources) - len(rows)
    note = f"{more:,} more {'sources' if more > 1 else 'source'} left out here." if more > 0 else ""
    names = ("source", "texts", "words", "words a text", "dates")
    heads = tuple(GridColumn(name, 0 < at < 4) for at, name in enumerate(names))
    return [*said, Grid("Texts and words by source", heads, rows, note)]


def quality_of(judged: Sequence[VerdictsFact], learned: Sequence[LearnedFact]) -> list[Block]:
    """Tables of precision and agreement; a sentence where nothing was judged."""
    blocks: list[Block] = []
    if judged:
        rows = tuple(
            (
                one.name,
                f"{one.said.judged:,}",
                f"{one.said.right:,}",
                f"{one.said.share:.0%} ({one.said.low:.0%} to {one.said.high:.0%})",
                "–" if one.alpha is None else f"{one.alpha:.2f}",
            )
            for one in judged
        )
        heads = _heads("what was judged", "judged", "right", "precision", "agreement of judges")
        note = [
            "Precision is weighted by source, with a 95% interval (Wilson 1927, JASA 22). Agreement is Krippendorff’s alpha, "
            "where two or more judged the same (Krippendorff 2011, Computing Krippendorff’s Alpha-Reliability)."
        ]
        note += [
            f"Of “{one.name}” nothing is known of {one.said.unseen:.0%} of the hits: they are of sources without a verdict."
            for one in judged
            if one.said.unseen >= TOLD_UNSEEN
        ]
        blocks.append(Grid("Verdicts on what was found", heads, rows, " ".join(note)))
    if learned:
        rows_of = tuple((one.name, str(one.precision), str(one.recall), str(one.f1)) for one in learned)
        note_of = "Over texts that were not learned from, at the threshold of the run, with 95% intervals."
        heads = _heads("run", "precision", "recall", "F1")
        blocks.append(Grid("What was learned by example", heads, rows_of, note_of))
    return blocks or [Prose("Nothing has been judged yet, so it is not known how good the instruments are.")]


def _heads(*names: str) -> tuple[GridColumn, ...]:
    return tuple(GridColumn(name, at > 0) for at, name in enumerate(names))
