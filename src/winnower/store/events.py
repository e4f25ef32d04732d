"""Events in time, which people mark and charts draw."""

from __future__ import annotations

import datetime as dt

from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound, WinnowerError
from winnower.store.history import Recorder
from winnower.store.models import EventRow

MOST_NAME = 200


def events_of(session: Session, project_id: int) -> list[EventRow]:
    """All events of a project, in time."""
    asked = select(EventRow).where(EventRow.project_id == project_id)
    return list(session.scalars(asked.order_by(EventRow.day, EventRow.id)))


def event_in(session: Session, project_id: int, event_id: int) -> EventRow:
    """Raises NotFound."""
    row = session.get(EventRow, event_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such event in this project any more.")
    return row


def make_event(recorder: Recorder, day: dt.date, name: str) -> EventRow:
    """Raises WinnowerError without a name."""
    row: EventRow = recorder.insert(
        EventRow(project_id=recorder.project_id, day=day, name=_named(name), made_by=recorder.account_id)
    )
    return row


def change_event(recorder: Recorder, row: EventRow, day: dt.date, name: str, revision: int | None) -> None:
    recorder.update(row, {"day": day, "name": _named(name)}, revision)


def _named(name: str) -> str:
    name = " ".join(name.split())
    if not name or len(name) > MOST_NAME:
        raise WinnowerError(f"Give the event a name of at most {MOST_NAME} letters.")
    return name
