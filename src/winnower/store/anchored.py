"""What hangs on words of a text, in one place: what is listed here moves with its corrections.

A new kind of row with a stretch of a text (text_id, start, end) is an entry in ``ANCHORED``; a test holds
that none is forgotten.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from itertools import groupby
from typing import Any, Literal

from sqlalchemy import ColumnElement, select, true

from winnower.core.coding import Moves
from winnower.store.history import Recorder
from winnower.store.models import (
    LostPassage,
    NoteRow,
    ParaphraseRow,
    PassageRow,
    QuoteRow,
    RunPlace,
    VerdictRow,
)
from winnower.store.models.base import Base


@dataclass(frozen=True)
class Anchored:
    """Rows of ``model`` that ``where`` holds for. Where all their words are gone they are deleted, listed as lost
    with what they held, or hang on the whole text from then on. Rows that agree in ``once`` cannot stand on the
    same words."""

    model: type[Base]
    where: ColumnElement[bool]
    when_gone: Literal["delete", "list", "whole text"]
    once: tuple[str, ...] = ()


ANCHORED = (
    Anchored(NoteRow, NoteRow.start.is_not(None), "whole text"),
    Anchored(VerdictRow, VerdictRow.kind == "hit", "delete", ("subject", "subject_id", "made_by")),
    Anchored(PassageRow, true(), "list", ("code_id", "made_by")),
    Anchored(RunPlace, true(), "delete", ("run_id", "target")),
    Anchored(ParaphraseRow, ParaphraseRow.start.is_not(None), "whole text"),
    Anchored(QuoteRow, QuoteRow.start.is_not(None), "whole text"),
)

#: What a passage whose words are gone still holds.
_KEPT = ("text_id", "code_id", "strength", "comment", "made_by", "made_at")


class OnWords:
    """All that hangs on words of some texts, read at once."""

    def __init__(self, recorder: Recorder, text_ids: Collection[int]) -> None:
        self.recorder = recorder
        self._rows: dict[int, list[tuple[Anchored, list[Any]]]] = {}
        for kind in ANCHORED:
            model: Any = kind.model
            asked = select(model).where(model.text_id.in_(text_ids), kind.where)
            in_order = asked.order_by(model.text_id, model.start, model.end, model.id)
            for text_id, rows in groupby(recorder.session.scalars(in_order).all(), lambda row: row.text_id):
                self._rows.setdefault(text_id, []).append((kind, list(rows)))

    def follow(self, text_id: int, moves: Moves) -> None:
        """Move what hangs on words of a text to where they stand now."""
        for kind, rows in self._rows.get(text_id, []):
            self._follow(kind, rows, moves)

    def _follow(self, kind: Anchored, rows: list[Any], moves: Moves) -> None:
        """Rows in the order of their words: none may come to stand where another still is."""
        taken: set[tuple[Any, ...]] = set()
        moved: list[tuple[Any, tuple[int, int]]] = []
        for row in rows:
            stretch = moves.stretch(row.start, row.end)
            key = (stretch, *(getattr(row, name) for name in kind.once), *([] if kind.once else [row.id]))
            if stretch is None:
                self._gone(kind, row, moves)
            elif key in taken:
                self.recorder.delete(row)  # what told it from another is gone
            else:
                taken.add(key)
                if stretch != (row.start, row.end):
                    moved.append((row, stretch))
        forward = [one for one in moved if one[1] > (one[0].start, one[0].end)]
        back = [one for one in moved if one[1] < (one[0].start, one[0].end)]
        for row, (start, end) in [*back, *reversed(forward)]:
            self.recorder.update(row, {"start": start, "end": end})

    def _gone(self, kind: Anchored, row: Any, moves: Moves) -> None:
        if kind.when_gone == "delete":
            self.recorder.delete(row)
        elif kind.when_gone == "list":
            words = moves.before[row.start : row.end]
            kept = {name: getattr(row, name) for name in _KEPT}
            self.recorder.delete(row)
            self.recorder.insert(LostPassage(was_at=row.start, words=words, **kept))
        else:
            whole: Mapping[str, Any] = {"start": None, "end": None}
            self.recorder.update(row, dict(whole))
