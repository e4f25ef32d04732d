"""Events in time: marked by people, drawn by charts."""

from __future__ import annotations

from fastapi import APIRouter

from winnower.api import schemas as s
from winnower.api.context import Reading, Seen, Writing
from winnower.api.schemas import answers as a
from winnower.store import events
from winnower.store.models import EventRow

router = APIRouter(prefix="/projects/{project_id}/events-in-time")


def _public(row: EventRow) -> a.EventPublic:
    return a.EventPublic(id=row.id, day=row.day, name=row.name, revision=row.revision)


@router.get("")
def list_events(desk: Reading) -> list[a.EventPublic]:
    """All events of the project, in time."""
    return [_public(row) for row in events.events_of(desk.session, desk.project.id)]


@router.post("", status_code=201)
def make_event(desk: Writing, given: a.EventGiven) -> a.EventPublic:
    recorder = desk.recorder(f"Mark event {given.name}")
    row = events.make_event(recorder, given.day, given.name)
    recorder.save()
    return _public(row)


@router.patch("/{event_id}")
def change_event(desk: Writing, event_id: int, given: a.EventChange) -> a.EventPublic:
    row = events.event_in(desk.session, desk.project.id, event_id)
    recorder = desk.recorder(f"Change event {given.name}")
    events.change_event(recorder, row, given.day, given.name, given.revision)
    recorder.save()
    return _public(row)


@router.delete("/{event_id}")
def delete_event(desk: Writing, event_id: int, revision: Seen) -> s.Done:
    row = events.event_in(desk.session, desk.project.id, event_id)
    recorder = desk.recorder(f"Remove event {row.name}")
    recorder.delete(row, revision)
    recorder.save()
    return s.Done(label=recorder.label)
