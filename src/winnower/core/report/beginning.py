"""How a report begins: its first pieces, by question, theme, text or source."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from winnower.core.report.pieces import (
    AnyPiece,
    CodebookPiece,
    DictionaryPiece,
    FindingPiece,
    HeadingPiece,
    MethodPiece,
    NotePiece,
    OverviewPiece,
    QualityPiece,
    QuotesPiece,
)

By = Literal["question", "theme", "text", "source", "nothing"]
MOST_CHAPTERS = 60


@dataclass(frozen=True)
class Chapter:
    """What stands under one heading: findings and notes by their ids, and quotes."""

    words: str
    findings: Sequence[int] = ()
    notes: Sequence[int] = ()
    quotes: QuotesPiece | None = None


def begun(
    chapters: Sequence[Chapter], dictionaries: Sequence[int], *, codebook: bool, judged: bool
) -> list[AnyPiece]:
    """Overview, chapters, method and appendix. At most ``MOST_CHAPTERS`` chapters."""
    pieces: list[AnyPiece] = [HeadingPiece("The texts"), OverviewPiece()]
    for chapter in chapters[:MOST_CHAPTERS]:
        pieces.append(HeadingPiece(chapter.words[:300]))
        pieces += [NotePiece(note) for note in chapter.notes]
        pieces += [FindingPiece(finding) for finding in chapter.findings]
        if chapter.quotes is not None:
            pieces.append(chapter.quotes)
    if judged:
        pieces += [HeadingPiece("How good the instruments are"), QualityPiece()]
    pieces += [HeadingPiece("Method"), MethodPiece()]
    if dictionaries or codebook:
        pieces.append(HeadingPiece("Appendix"))
        pieces += [DictionaryPiece(one) for one in dictionaries]
        pieces += [CodebookPiece()] if codebook else []
    return pieces
