"""Texts that are to go, and what others have done on them: it is refused, they stay, or they go with it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal

from sqlalchemy import Select, select, true, tuple_, update
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict
from winnower.store.bulk import chunks
from winnower.store.dependents import references, told_of
from winnower.store.models import Base, Delivery, NoteRow, QuoteRow, TextRow
from winnower.store.soft_references import linked_in_notes

#: What becomes of texts of a delivery that others have worked on, where it is taken out.
Others = Literal["refuse", "keep", "take"]
TEXTS_AT_ONCE = 1_000


class WorkOfOthers(Conflict):
    """Texts would go on which others have worked: whoever takes them out says what becomes of them.

    ``command_id`` is the change of the history that is stuck by it, None where it is none.
    """

    def __init__(self, label: str, work: str, command_id: int | None) -> None:
        super().__init__(
            f"“{label}” was not taken back: {work} would go with it. Keep the texts they worked on, or take "
            "those back, too."
        )
        self.command_id = command_id


def heed_others(
    session: Session, delivery: Delivery, account_id: int, others: Others, label: str, command_id: int | None
) -> None:
    """Before the texts of a delivery go. With "keep", those that others have worked on are moved to a delivery of
    their own, which stays. Raises WorkOfOthers where there are some and it is to be refused."""
    if others == "take":
        return
    work = [
        one
        for model, rows in _rows_of_others(session, account_id, delivery)
        for one in told_of(session, None, model, rows)
    ]
    if not work:
        return
    if others == "refuse":
        raise WorkOfOthers(label, ", ".join(work), command_id)
    beside = Delivery(
        project_id=delivery.project_id,
        name=f"Kept of {delivery.name}"[:300],
        state="done",
        made_by=delivery.made_by,
    )
    session.add(beside)
    session.flush()
    found: set[int] = set()
    for _, rows in _rows_of_others(session, account_id, delivery):
        found |= set(session.scalars(select(rows.subquery().c.text_id).distinct()))
    for part in chunks(sorted(found), TEXTS_AT_ONCE):
        session.execute(update(TextRow).where(TextRow.id.in_(part)).values(delivery_id=beside.id))


def _rows_of_others(
    session: Session, account_id: int, delivery: Delivery
) -> Iterator[tuple[type[Base], Select[Any]]]:
    """Selects, by model, the rows on texts of a delivery that somebody else has made."""
    texts = select(TextRow.id).where(TextRow.delivery_id == delivery.id)
    for model, column in references("text"):
        columns = model.__table__.c
        if "made_by" in columns:
            yield model, select(model.__table__).where(column.in_(texts), columns.made_by != account_id)
    quotes = QuoteRow.__table__
    yield (
        QuoteRow,
        select(quotes, NoteRow.made_by)
        .join(NoteRow, NoteRow.id == quotes.c.note_id)
        .where(quotes.c.text_id.in_(texts), NoteRow.made_by != account_id),
    )
    linked = linked_in_notes(session, delivery.project_id, "text")
    pairs = [(note, text) for note, named in linked.items() for text in named]
    notes: Select[Any] = (
        select(NoteRow.__table__.c.id, TextRow.id.label("text_id"), NoteRow.made_by)
        .select_from(NoteRow)
        .join(TextRow, true())
        .where(
            tuple_(NoteRow.id, TextRow.id).in_(pairs),
            TextRow.delivery_id == delivery.id,
            NoteRow.made_by != account_id,
        )
    )
    yield NoteRow, notes
