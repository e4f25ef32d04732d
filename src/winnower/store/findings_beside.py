"""A finding over other texts, or over those that came since it was kept."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from sqlalchemy import select

from winnower.core.compare import Comparison, Table, Target, compare
from winnower.core.errors import ComparisonError
from winnower.core.finding import Apart, ComparisonView, cells_apart
from winnower.core.scope import Conditions, Split, lay_ground
from winnower.store.answering import Room
from winnower.store.comparing import look_up, table_of
from winnower.store.findings import Said
from winnower.store.models import Delivery, TextRow


def beside(room: Room, view: ComparisonView, scope: Conditions, since: Said | None) -> Apart:
    """The comparison over its own texts and over those of ``scope``; with ``since`` over the texts it was kept of and
    those that came after that. Raises ComparisonError where one of both has no texts."""
    first = view.comparison
    if since is None:
        second = replace(first, scope=scope)
        return _apart(room, first, second)
    came = _came_since(room, since)
    if not came.any():
        raise ComparisonError("No texts have come since this finding was kept.")
    return _apart(room, first, first, came)


def _apart(room: Room, first: Comparison, second: Comparison, came: np.ndarray | None = None) -> Apart:
    tables: list[Table] = []
    masks: list[np.ndarray] = []
    for at, comparison in enumerate((first, second)):
        looking = room.looking(ComparisonView(comparison))
        asked = look_up(room.session, room.project.id, looking.corpus, comparison)
        mask = looking.corpus.ground(comparison.texts, Split()).mask
        if came is None:
            table = table_of(looking.corpus, asked)
        else:
            mask = mask & (came if at else ~came)
            table = _within(looking, asked.target, comparison, mask)
        if not mask.any():
            raise ComparisonError("One of the two has no texts, so there is nothing to set side by side.")
        tables.append(table)
        masks.append(mask)
    shared = int((masks[0] & masks[1]).sum()) if len(masks[0]) == len(masks[1]) else 0
    return cells_apart(tables[0], tables[1], shared)


def _within(room: Room, target: Target, comparison: Comparison, mask: np.ndarray) -> Table:
    corpus = room.corpus
    ground = lay_ground(comparison.texts, comparison.split, corpus.index, corpus.columns, mask)
    return compare(comparison, target, corpus, ground)


def _came_since(room: Room, since: Said) -> np.ndarray:
    """bool per text: of a delivery that was done after the finding was kept."""
    late = (
        select(TextRow.id)
        .join(Delivery, Delivery.id == TextRow.delivery_id)
        .where(Delivery.project_id == room.project.id, Delivery.made_at > since.row.made_at)
    )
    ids = np.fromiter(room.session.scalars(late), np.int64)
    found: np.ndarray = np.isin(room.corpus.columns.text_id, ids)
    return found
