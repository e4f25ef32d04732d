"""The index after texts were corrected, filled, taken away or brought back.

Only the parts that hold such texts are written anew; corrected texts move to the end of their part.
Columns that were changed since go into the parts on the way (see store/fields.py).
"""

from __future__ import annotations

import logging
import os
import shutil
import uuid
from collections.abc import Collection, Mapping
from pathlib import Path

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.coding import Moves
from winnower.core.errors import IndexDamaged
from winnower.core.index import Segment, build_segment, merge_segments, take_texts
from winnower.store.fields import (
    column_from_database,
    field_revisions,
    lock_project,
    overlay_path,
    read_overlay,
    settle,
)
from winnower.store.models import Project, TextPlace, TextRow, Variable
from winnower.store.parts import (
    BASE_SCHEMA,
    COLUMNS_FILE,
    KIND_TYPES,
    join_parts,
    read_manifest,
    tidy,
    write_columns,
    write_manifest,
)
from winnower.store.rebuild import parts_at_work, parts_of_delivery, rebuild

log = logging.getLogger("winnower")


def present_parts(session: Session, project: Project, folder: Path) -> list[str]:
    """Names of the parts of the present state, with all changed columns folded in."""
    names = read_manifest(folder, project.corpus_revision)
    if names is None:
        return rebuild(session, project, folder, ())
    try:
        for name in names:
            Segment(folder / name)
        _fold(session, project, folder, names)
    except (IndexDamaged, OSError, pl.exceptions.PolarsError) as error:
        log.warning("project %s: %s; building its index again", project.id, error)
        return rebuild(session, project, folder, names)
    return names


def _fold(session: Session, project: Project, folder: Path, names: list[str]) -> None:
    """Write changed columns into the parts. The same values, so that readers at any state agree."""
    revisions = field_revisions(session, project.id)
    if not revisions:
        return
    frames = [pl.read_ipc(folder / name / COLUMNS_FILE) for name in names]
    sizes = [len(frame) for frame in frames]
    text_id = (
        np.concatenate([frame["text_id"].to_numpy() for frame in frames]) if frames else np.empty(0, np.int64)
    )
    kinds = {
        f"v{v.id}": v.kind for v in session.scalars(select(Variable).where(Variable.project_id == project.id))
    }
    for field, revision in revisions.items():
        kind = kinds.get(field)
        if kind is None and field not in BASE_SCHEMA:
            continue  # a variable that was deleted
        dtype = BASE_SCHEMA[field] if kind is None else KIND_TYPES[kind]
        path = overlay_path(folder, field, project.corpus_revision, revision)
        values = read_overlay(path, dtype, len(text_id))
        if values is None:
            values = column_from_database(session, project.id, field, kind, text_id)
        at = 0
        for number, size in enumerate(sizes):
            frames[number] = frames[number].with_columns(values.slice(at, size).alias(field))
            at += size
    for name, frame in zip(names, frames, strict=True):
        draft = folder / name / f"{COLUMNS_FILE}.part"
        frame.write_ipc(draft, compression="uncompressed")
        os.replace(draft, folder / name / COLUMNS_FILE)


def publish(session: Session, project: Project, folder: Path, names: list[str]) -> None:
    """Make these parts the project's next state; the caller commits, then calls ``clear_up``."""
    revision = project.corpus_revision + 1
    joined = join_parts(folder, f"r{revision}-{_token()}", names)
    write_manifest(folder, revision, joined)
    project.corpus_revision = revision
    session.flush()
    settle(session, project)


def clear_up(session: Session, project: Project, folder: Path) -> list[str]:
    """Remove what only older states needed; parts of imports that are at work stay. The parts there are.

    The project's row must be locked: nobody else is making its next state.
    """
    revision = project.corpus_revision
    names = read_manifest(folder, revision)
    if names is not None:
        tidy(folder, revision, names, parts_at_work(session, project.id))
    return names or []


def clear_after(session: Session, project: Project, folder: Path) -> None:
    """After a change was committed: remove what only older states needed. Whoever reads an older state has
    its files open, and keeps them."""
    lock_project(session, project)
    clear_up(session, project, folder)


def rewrite(
    session: Session,
    project: Project,
    folder: Path,
    *,
    bodies: Mapping[int, str] | None = None,
    removed: Collection[int] = (),
    added_deliveries: Collection[int] = (),
) -> dict[int, int]:
    """Put new bodies, leave out removed texts, add those of deliveries; words of each new body by text.

    The database must hold the new state already; the project's row must be locked.
    """
    bodies = bodies or {}
    touched = np.asarray(sorted({*bodies, *removed}), np.int64)
    gone = set(removed)
    names: list[str] = []
    words: dict[int, int] = {}
    for name in present_parts(session, project, folder):
        segment = Segment(folder / name)
        if not np.isin(segment.text_id, touched).any():
            names.append(name)
            continue
        replaced = [int(i) for i in segment.text_id if int(i) in bodies and int(i) not in gone]
        made = _rewritten(folder, segment, touched, {i: bodies[i] for i in replaced})
        if made is not None:
            names.append(made.folder.name)
            counts = dict(zip(made.text_id.tolist(), made.words.tolist(), strict=True))
            words |= {i: counts[i] for i in replaced}
    for delivery_id in added_deliveries:
        names += parts_of_delivery(session, project, folder, delivery_id, f"back-{_token()}")
    publish(session, project, folder, names)
    return words


def follow(
    session: Session,
    project: Project,
    folder: Path,
    bodies: Mapping[int, tuple[str, str]],
    deliveries: Mapping[int, bool],
) -> None:
    """Bring the index after what undo or redo did to bodies and deliveries (see store/history.py)."""
    if not bodies and not deliveries:
        return
    removed: list[int] = []
    for delivery_id in deliveries:
        # of one that comes back, texts may be there that were another delivery's meanwhile
        removed += session.scalars(select(TextRow.id).where(TextRow.delivery_id == delivery_id)).all()
    back = [delivery_id for delivery_id, present in deliveries.items() if present]
    for text_id, (before, after) in bodies.items():
        move_places(session, text_id, Moves(before, after))
    new = {text_id: after for text_id, (_, after) in bodies.items()}
    rewrite(session, project, folder, bodies=new, removed=removed, added_deliveries=back)


def move_places(session: Session, text_id: int, moves: Moves) -> None:
    """Pages and headings keep their words; none is lost, two on one spot become one."""
    rows = session.scalars(
        select(TextPlace).where(TextPlace.text_id == text_id).order_by(TextPlace.seq)
    ).all()
    for row in rows:
        row.start = moves.point(row.start)


def _rewritten(folder: Path, segment: Segment, touched: np.ndarray, bodies: dict[int, str]) -> Segment | None:
    """A part without the touched texts and with the new bodies at its end; None where nothing is left."""
    token = _token()
    keep = np.flatnonzero(~np.isin(segment.text_id, touched))
    columns = pl.read_ipc(segment.folder / COLUMNS_FILE)
    pieces: list[Segment] = []
    order = keep
    if len(keep):
        pieces.append(take_texts(folder / f"edit-{token}-kept", segment, keep))
    if bodies:
        ids = list(bodies)
        place = {int(i): at for at, i in enumerate(segment.text_id)}
        pieces.append(build_segment(folder / f"edit-{token}-new", ids, list(bodies.values())))
        order = np.concatenate([keep, np.asarray([place[i] for i in ids], np.int64)])
    if not pieces:
        return None
    made = merge_segments(folder / f"edit-{token}", pieces) if len(pieces) > 1 else pieces[0]
    write_columns(made.folder, columns[order])
    if len(pieces) > 1:
        for piece in pieces:
            shutil.rmtree(piece.folder, ignore_errors=True)
    return made


def _token() -> str:
    return uuid.uuid4().hex[:10]
