"""Reports and their pieces: made, ordered, changed, frozen."""

from __future__ import annotations

import gzip
from collections.abc import Sequence

import orjson
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound, WinnowerError
from winnower.core.report import (
    MOST_PIECES,
    AnyPiece,
    Report,
    piece_from_plain,
    piece_to_plain,
    report_from_plain,
    report_to_plain,
)
from winnower.store.history import Recorder, refuse_other_order
from winnower.store.models import Account, ReportPiece, ReportRow, ReportSaid

MOST_TITLE = 300


def reports_of(session: Session, project_id: int) -> list[tuple[ReportRow, str, int]]:
    """Reports of a project with who began each and how many pieces it has, the newest last."""
    pieces = select(ReportPiece.report_id, func.count().label("n")).group_by(ReportPiece.report_id).subquery()
    asked = (
        select(ReportRow, Account.full_name, func.coalesce(pieces.c.n, 0))
        .join(Account, Account.id == ReportRow.made_by)
        .outerjoin(pieces, pieces.c.report_id == ReportRow.id)
        .where(ReportRow.project_id == project_id)
        .order_by(ReportRow.id)
    )
    return [(row, author, n) for row, author, n in session.execute(asked)]


def report_in(session: Session, project_id: int, report_id: int) -> ReportRow:
    """Raises NotFound."""
    row = session.get(ReportRow, report_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such report in this project any more.")
    return row


def pieces_of(session: Session, report_id: int, *, hold: bool = False) -> list[ReportPiece]:
    """The pieces of a report in their order; held until the end of the transaction, if wanted."""
    asked = select(ReportPiece).where(ReportPiece.report_id == report_id)
    if hold:
        asked = asked.with_for_update().execution_options(populate_existing=True)
    return list(session.scalars(asked.order_by(ReportPiece.place, ReportPiece.id)))


def piece_in(session: Session, report: ReportRow, piece_id: int) -> ReportPiece:
    """Raises NotFound."""
    row = session.get(ReportPiece, piece_id)
    if row is None or row.report_id != report.id:
        raise NotFound("There is no such part in this report any more.")
    return row


def make_report(recorder: Recorder, title: str, pieces: Sequence[AnyPiece]) -> ReportRow:
    row: ReportRow = recorder.insert(
        ReportRow(project_id=recorder.project_id, title=_titled(title), made_by=recorder.account_id)
    )
    add_pieces(recorder, row, pieces)
    return row


def change_report(recorder: Recorder, row: ReportRow, title: str) -> None:
    """Another title. Raises WinnowerError."""
    recorder.update(row, {"title": _titled(title)})


def delete_report(recorder: Recorder, row: ReportRow, revision: int | None = None) -> None:
    for piece in pieces_of(recorder.session, row.id):
        recorder.delete(piece)
    recorder.delete(row, revision)


def add_pieces(
    recorder: Recorder, row: ReportRow, pieces: Sequence[AnyPiece], after: int | None = None
) -> list[ReportPiece]:
    """Pieces behind another one (0: before all; None or one that is gone: at the end). Raises WinnowerError."""
    _live(row)
    there = pieces_of(recorder.session, row.id)
    if len(there) + len(pieces) > MOST_PIECES:
        raise WinnowerError(f"A report can have {MOST_PIECES:,} parts; begin another one for the rest.")
    ids = [one.id for one in there]
    at = 0 if after == 0 else ids.index(after) + 1 if after in ids else len(ids)
    for place, one in enumerate(there[at:], start=at + len(pieces) + 1):
        if one.place != place:
            recorder.place(one, {"place": place})
    return [
        recorder.insert(ReportPiece(report_id=row.id, place=at + number, piece=piece_to_plain(piece)))
        for number, piece in enumerate(pieces, start=1)
    ]


def change_piece(
    recorder: Recorder, row: ReportRow, piece: ReportPiece, now: AnyPiece, revision: int | None
) -> None:
    """Raises Conflict, WinnowerError."""
    _live(row)
    recorder.update(piece, {"piece": piece_to_plain(now)}, revision)


def delete_piece(recorder: Recorder, row: ReportRow, piece: ReportPiece, revision: int | None) -> None:
    """Raises Conflict, WinnowerError."""
    _live(row)
    recorder.delete(piece, revision)


def put_in_order(recorder: Recorder, row: ReportRow, ids: Sequence[int], seen: Sequence[int]) -> int:
    """Pieces in an order; those not named follow as they were. How many changed. ``seen`` is the order it was
    decided on. Raises WinnowerError, Conflict where somebody else changed the order since."""
    _live(row)
    rows = {one.id: one for one in pieces_of(recorder.session, row.id, hold=True)}
    refuse_other_order(list(rows), seen)
    named = dict.fromkeys(one for one in ids if one in rows)
    changed = 0
    for place, one in enumerate([*named, *(one for one in rows if one not in named)], start=1):
        if rows[one].place != place:
            recorder.place(rows[one], {"place": place})
            changed += 1
    return changed


def value_of(piece: ReportPiece) -> AnyPiece:
    """Raises WinnowerError where it cannot be read."""
    return piece_from_plain(piece.piece)


def freeze(recorder: Recorder, row: ReportRow, report: Report) -> None:
    """From now on the report shows this."""
    said = ReportSaid(
        project_id=row.project_id,
        packed=gzip.compress(orjson.dumps(report_to_plain(report)), mtime=0),
        made_by=recorder.account_id,
    )
    recorder.session.add(said)
    recorder.session.flush()
    recorder.update(row, {"said_id": said.id})


def thaw(recorder: Recorder, row: ReportRow) -> None:
    """It shows what its pieces say now, again."""
    recorder.update(row, {"said_id": None})


def said_by(session: Session, row: ReportRow) -> tuple[ReportSaid, Report]:
    """What a frozen report says. Raises NotFound for one that is live, WinnowerError where it cannot be read."""
    if row.said_id is None:
        raise NotFound("This report is not frozen.")
    said = session.get_one(ReportSaid, row.said_id)
    return said, report_from_plain(orjson.loads(gzip.decompress(said.packed)))


def _live(row: ReportRow) -> None:
    if row.said_id is not None:
        raise WinnowerError("This report is frozen. Let it follow the project again before you change it.")


def _titled(title: str) -> str:
    title = " ".join(title.split())
    if not title or len(title) > MOST_TITLE:
        raise WinnowerError(f"Give the report a title of at most {MOST_TITLE} letters.")
    return title
