"""What stands beside a text: pages and sections, corrections."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.store.models import Account, TextEdit, TextPlace


def places_in(session: Session, text_id: int) -> list[TextPlace]:
    """Where its pages and sections begin, in order."""
    return list(
        session.scalars(select(TextPlace).where(TextPlace.text_id == text_id).order_by(TextPlace.start))
    )


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
