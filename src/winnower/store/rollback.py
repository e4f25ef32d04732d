"""Take an unfinished import away again, with everything it made."""

from __future__ import annotations

import shutil
from collections.abc import Sequence
from pathlib import Path

from sqlalchemy import ColumnElement, delete, exists, select
from sqlalchemy.orm import Session

from winnower.store.models import (
    Delivery,
    Job,
    Source,
    TextRow,
    TextValue,
    Variable,
    VariableCategory,
)

ROWS_AT_ONCE = 20_000
#: Position of categories that an import on its way has made.
DRAFT = -1


def remove_delivery(session: Session, job_id: int, made_variables: Sequence[int] = ()) -> None:
    """Remove the texts of a job's delivery, and the labels only they used."""
    job = session.get_one(Job, job_id)
    made = set(made_variables) | set((job.checkpoint or {}).get("made_variables", []))
    for delivery in session.scalars(select(Delivery).where(Delivery.job_id == job_id)).all():
        if delivery.state != "running":
            continue
        remove_texts(session, delivery)
        session.delete(delivery)
    session.flush()
    if made:
        unused = ~exists().where(TextValue.variable_id == Variable.id)
        session.execute(delete(Variable).where(Variable.id.in_(made), unused))
    _remove_unused_labels(session, job.project_id)


def remove_parts(folder: Path, job_id: int, names: Sequence[str]) -> None:
    """Remove the index parts a job made, but for those in ``names``."""
    for part in folder.glob(f"job{job_id}-*"):
        if part.name not in names:
            shutil.rmtree(part, ignore_errors=True)


def remove_abandoned(session: Session) -> list[tuple[int, int]]:
    """Remove the texts of deliveries on their way whose job has ended: nobody brings them in any more. Their
    projects and jobs."""
    ended = (
        select(Delivery)
        .outerjoin(Job, Job.id == Delivery.job_id)
        .where(Delivery.state == "running", (Job.id.is_(None)) | Job.state.not_in(("queued", "running")))
    )
    found = session.scalars(ended).all()
    for delivery in found:
        remove_texts(session, delivery)
        session.delete(delivery)
    session.flush()
    return [(delivery.project_id, delivery.job_id or 0) for delivery in found]


def remove_texts(session: Session, delivery: Delivery) -> None:
    """All texts of a delivery, with all that hangs on them."""
    of_delivery = select(TextRow.id).where(TextRow.delivery_id == delivery.id).limit(ROWS_AT_ONCE)
    while ids := session.scalars(of_delivery).all():
        session.execute(delete(TextRow).where(TextRow.id.in_(ids)))


def remove_left_behind(session: Session, project_id: int) -> None:
    """Variables and categories that went with an undone delivery whose texts are gone for good by now."""
    unused = ~exists().where(TextValue.variable_id == Variable.id)
    session.execute(delete(Variable).where(Variable.project_id == project_id, Variable.away == 1, unused))
    _remove_categories(session, project_id, VariableCategory.away == 1)


def _remove_unused_labels(session: Session, project_id: int) -> None:
    """Sources without a text, and categories that the import made and nothing uses."""
    session.execute(
        delete(Source).where(Source.project_id == project_id, ~exists().where(TextRow.source_id == Source.id))
    )
    _remove_categories(session, project_id, VariableCategory.position == DRAFT)


def _remove_categories(session: Session, project_id: int, which: ColumnElement[bool]) -> None:
    variables = select(Variable.id).where(Variable.project_id == project_id)
    session.execute(
        delete(VariableCategory).where(
            VariableCategory.variable_id.in_(variables),
            which,
            ~exists().where(TextValue.category_id == VariableCategory.id),
        )
    )
