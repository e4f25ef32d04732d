"""The first pieces of a new report, from what is in the project."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.coding import Passages
from winnower.core.report import MOST_CHAPTERS, AnyPiece, By, Chapter, QuotesPiece, begun
from winnower.store.answering import Room
from winnower.store.codebook import codebook_of
from winnower.store.dictionaries import dictionaries_of
from winnower.store.findings import findings_of, questions_of
from winnower.store.models import NoteRow, QuoteRow, VerdictRow
from winnower.store.report_facts import corpus_fact
from winnower.store.texts import origin_at

LEFT_OVER = "More findings"


def first_pieces(room: Room, passages: Callable[[], Passages], by: By) -> list[AnyPiece]:
    """Overview, a chapter for each question, theme, text or source, method and appendix; nothing for "nothing"."""
    if by == "nothing":
        return []
    session, project_id = room.session, room.project.id
    make = {"question": _questions, "theme": _themes, "text": _texts, "source": _sources}
    chapters = make[by](room, passages)
    judged = select(VerdictRow.id).where(VerdictRow.project_id == project_id).limit(1)
    return begun(
        chapters,
        [row.id for row in dictionaries_of(session, project_id)],
        codebook=bool(codebook_of(session, project_id).codes),
        judged=session.scalar(judged) is not None,
    )


def _questions(room: Room, _: Callable[[], Passages]) -> list[Chapter]:
    findings = findings_of(room.session, room.project.id)
    notes = _notes_by(room.session, room.project.id, "question_id")
    quoted = _with_quotes(room.session, room.project.id)
    chapters = []
    for question in questions_of(room.session, room.project.id):
        mine = notes.get(question.id, [])
        plain = [note for note in mine if note not in quoted]
        shelf = QuotesPiece(question=question.id, most=20) if len(plain) < len(mine) else None
        under = [row.id for row in findings if row.question_id == question.id]
        chapters.append(Chapter(question.words, under, plain, shelf))
    rest = [row.id for row in findings if row.question_id is None]
    return [*chapters, *([Chapter(LEFT_OVER if chapters else "Findings", rest)] if rest else [])]


def _notes_by(session: Session, project_id: int, column: str) -> dict[int, list[int]]:
    """Ids of notes by what they hang on, the oldest first."""
    key = getattr(NoteRow, column)
    asked = select(key, NoteRow.id).where(NoteRow.project_id == project_id, key.is_not(None))
    found: dict[int, list[int]] = {}
    for on, note in session.execute(asked.order_by(NoteRow.id)):
        found.setdefault(on, []).append(note)
    return found


def _with_quotes(session: Session, project_id: int) -> set[int]:
    asked = select(QuoteRow.note_id).join(NoteRow, NoteRow.id == QuoteRow.note_id)
    return set(session.scalars(asked.where(NoteRow.project_id == project_id).distinct()))


def _themes(room: Room, passages: Callable[[], Passages]) -> list[Chapter]:
    """Codes of the highest level with something under them, those for the work itself left out."""
    book, found = codebook_of(room.session, room.project.id), passages()
    notes = _notes_by(room.session, room.project.id, "code_id")
    chapters = []
    for row in book.codes:
        if row.parent_id is not None or row.technical:
            continue
        if len(found.under(book.tree.below(row.id))):
            chapters.append(
                Chapter(row.name, (), notes.get(row.id, [])[:20], QuotesPiece(code=row.id, most=8))
            )
    return chapters


def _texts(room: Room, passages: Callable[[], Passages]) -> list[Chapter]:
    """Texts that people coded or wrote notes on, those with most passages first."""
    found = passages()
    by_hand = found.taken(found.made_by > 0)
    ids, counts = np.unique(by_hand.text_id, return_counts=True)
    notes = _notes_by(room.session, room.project.id, "text_id")
    coded = [int(one) for one in ids[np.argsort(-counts, kind="stable")]]
    chosen = list(dict.fromkeys([*coded, *notes]))
    places = room.corpus.places_of(np.asarray(chosen, np.int64)).tolist()
    chapters: list[Chapter] = []
    for text_id, place in zip(chosen, places, strict=True):
        if place >= 0 and len(chapters) < MOST_CHAPTERS:
            title = origin_at(room.corpus, place)[0] or "Untitled"
            quotes = QuotesPiece(text=text_id, most=8, spread=False) if text_id in coded else None
            chapters.append(Chapter(title, (), notes.get(text_id, [])[:20], quotes))
    return chapters


def _sources(room: Room, _: Callable[[], Passages]) -> Sequence[Chapter]:
    return [Chapter(name, (), (), QuotesPiece(source=name, most=8)) for name in corpus_fact(room).sources]
