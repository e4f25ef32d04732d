"""What the findings of a report show: what they said when they are frozen, else what they say now."""

from __future__ import annotations

from dataclasses import dataclass
from hashlib import blake2b

import orjson

from winnower.core.errors import WinnowerError
from winnower.core.finding import Answer, AnyView, sheets_to_plain, view_to_plain
from winnower.core.report import Drawing
from winnower.store.answering import Room
from winnower.store.findings import finding_in, said_by, says_now
from winnower.store.models import FindingRow


@dataclass(frozen=True)
class Told:
    """A finding with its view and the answer that is shown; ``failed`` says why that is not the answer of today."""

    row: FindingRow
    view: AnyView
    answer: Answer
    failed: str = ""

    def drawing(self) -> tuple[str, Drawing]:
        """What its picture is drawn from, and a name that is another one where that is otherwise."""
        found = Drawing(self.row.title, view_to_plain(self.view), sheets_to_plain(self.answer.sheets))
        plain = [found.title, found.view, found.sheets]
        return blake2b(orjson.dumps(plain), digest_size=10).hexdigest(), found


def told(room: Room, finding_id: int) -> Told:
    """Raises NotFound where it is gone, WinnowerError where what it said cannot be read."""
    row = finding_in(room.session, room.project.id, finding_id)
    if not row.frozen:
        try:
            view, answer = says_now(room, row)
            return Told(row, view, answer)
        except WinnowerError as error:
            said = said_by(room.session, row)
            return Told(row, said.view, said.answer, error.message)
    said = said_by(room.session, row)
    return Told(row, said.view, said.answer)
