"""What stands beside a text: pages and sections, notes, corrections."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound
from winnower.store.models import Account, TextEdit, TextNote, TextPlace
from winnower.store.texts import text_of


def places_in(session: Session, text_id: int) -> list[TextPlace]:
    """Where its pages and sections begin, in order."""
    return list(
        session.scalars(select(TextPlace).where(TextPlace.text_id == text_id).order_by(TextPlace.start))
    )


def notes_on(session: Session, text_id: int) -> list[tuple[TextNote, str | None]]:
    """Notes on a text with who wrote each, those on the whole text first."""
    rows = session.execute(
        select(TextNote, Account.full_name)
        .outerjoin(Account, Account.id == TextNote.made_by)
        .where(TextNote.text_id == text_id)
        .order_by(TextNote.start.is_(None).desc(), TextNote.start, TextNote.id)
    )
    return [(row[0], row[1]) for row in rows]


def edits_of(session: Session, text_id: int, most: int = 50) -> list[tuple[TextEdit, str]]:
    """Corrections of a text with who made each, the newest first."""
    rows = session.execute(
        select(TextEdit, Account.full_name)
        .join(Account, Account.id == TextEdit.made_by)
        .where(TextEdit.text_id == text_id)
        .order_by(TextEdit.id.desc())
        .limit(most)
    )
    return [(row[0], row[1]) for row in rows]


def note_of(session: Session, project_id: int, note_id: int) -> TextNote:
    """Raises NotFound where there is no such note in the project."""
    note = session.get(TextNote, note_id)
    if note is None:
        raise NotFound("There is no such note.")
    text_of(session, project_id, note.text_id)
    return note
