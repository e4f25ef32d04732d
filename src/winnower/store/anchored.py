"""What hangs on words of a text, in one place: what is listed here moves with its corrections.

A new kind of row with a stretch of a text (text_id, start, end) is an entry in ``ANCHORED``; a test holds
that none is forgotten.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from sqlalchemy import ColumnElement, select

from winnower.core.coding import Moves
from winnower.store.history import Recorder
from winnower.store.models import TextNote, VerdictRow
from winnower.store.models.base import Base


@dataclass(frozen=True)
class Anchored:
    """Rows of ``model`` that ``where`` holds for. Where all their words are gone they are deleted, or hang on
    the whole text from then on."""

    model: type[Base]
    where: ColumnElement[bool]
    when_gone: Literal["delete", "whole text"]


ANCHORED = (
    Anchored(TextNote, TextNote.start.is_not(None), "whole text"),
    Anchored(VerdictRow, VerdictRow.kind == "hit", "delete"),
)


class OnWords:
    """All that hangs on words of some texts, read at once."""

    def __init__(self, recorder: Recorder, text_ids: Collection[int]) -> None:
        self.recorder = recorder
        self._rows: dict[int, list[tuple[Anchored, Any]]] = {}
        for kind in ANCHORED:
            model: Any = kind.model
            asked = select(model).where(model.text_id.in_(text_ids), kind.where).order_by(model.id)
            for row in recorder.session.scalars(asked).all():
                self._rows.setdefault(row.text_id, []).append((kind, row))

    def follow(self, text_id: int, moves: Moves) -> None:
        """Move what hangs on words of a text to where they stand now."""
        for kind, row in self._rows.get(text_id, []):
            stretch = moves.stretch(row.start, row.end)
            if stretch is None:
                self._gone(kind, row)
            elif stretch != (row.start, row.end):
                self.recorder.update(row, {"start": stretch[0], "end": stretch[1]})

    def _gone(self, kind: Anchored, row: Any) -> None:
        if kind.when_gone == "delete":
            self.recorder.delete(row)
        else:
            whole: Mapping[str, Any] = {"start": None, "end": None}
            self.recorder.update(row, dict(whole))
