"""Reports: put together, read, frozen, taken along as files."""

from __future__ import annotations

import re
from typing import Literal

from fastapi import APIRouter, Response

from winnower.api import schemas as s
from winnower.api.codebook import passages_of
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.files import WORD, download
from winnower.api.schemas import reports as r
from winnower.core.coding import Passages
from winnower.core.errors import NotFound, WinnowerError
from winnower.core.report import (
    Block,
    Drawing,
    FindingPiece,
    Part,
    Picture,
    PictureForm,
    Prose,
    Report,
    labels_of,
    report_to_plain,
)
from winnower.jobs.apart import BroughtDown
from winnower.store import reports as store
from winnower.store.answering import Room
from winnower.store.models import ReportRow
from winnower.store.report_answers import told
from winnower.store.report_assembled import assembled
from winnower.store.report_begun import first_pieces
from winnower.writers.prose import prose_html
from winnower.writers.report_files import PICTURES

router = APIRouter(prefix="/projects/{project_id}/reports")
#: So many blocks of a piece, and rows of a table, are shown on the page.
MOST_SHOWN, MOST_ROWS = 40, 60
Form = Literal["docx", "html", "pdf", "md"]
_FILES = {
    "docx": (WORD, "docx"),
    "html": ("text/html; charset=utf-8", "html"),
    "pdf": ("application/pdf", "pdf"),
    "md": ("application/zip", "zip"),
}


def _room(desk: Desk) -> Room:
    return Room(desk.session, desk.project, desk.corpus)


def _passages(desk: Desk) -> Passages:
    return passages_of(desk)


def _now(desk: Desk, row: ReportRow) -> Report:
    if row.said_id is not None:
        return store.said_by(desk.session, row)[1]
    return assembled(_room(desk), lambda: _passages(desk), row)


@router.get("")
def list_reports(desk: Reading) -> list[r.ReportLine]:
    """Reports of the project, the oldest first."""
    return [
        _line(row, author, pieces) for row, author, pieces in store.reports_of(desk.session, desk.project.id)
    ]


def _line(row: ReportRow, author: str, pieces: int) -> r.ReportLine:
    return r.ReportLine(
        id=row.id,
        title=row.title,
        author=author,
        made_at=row.made_at,
        pieces=pieces,
        frozen=row.said_id is not None,
        revision=row.revision,
    )


@router.post("", status_code=201)
def make(desk: Writing, given: r.ReportGiven) -> r.ReportLine:
    """Begin a report: by question, theme, text or source, or with nothing in it."""
    pieces = first_pieces(_room(desk), lambda: _passages(desk), given.by)
    recorder = desk.recorder(f"Begin report {given.title}")
    row = store.make_report(recorder, given.title, pieces)
    recorder.save()
    desk.session.flush()
    desk.session.refresh(row)
    return _line(row, desk.account.full_name, len(pieces))


@router.get("/{report_id}")
def read(desk: Reading, report_id: int) -> r.ReportPublic:
    """A report with what each of its pieces comes to."""
    row = store.report_in(desk.session, desk.project.id, report_id)
    pieces = {one.id: one for one in store.pieces_of(desk.session, row.id)}
    report = _now(desk, row)
    frozen_at = None if row.said_id is None else store.said_by(desk.session, row)[0].made_at
    label_at, at, parts = labels_of(report), 0, []
    for part in report.parts:
        labels = [label_at.get(at + place, "") for place in range(len(part.blocks))]
        at += len(part.blocks)
        piece = pieces.get(part.piece_id)
        try:
            value = None if piece is None else store.value_of(piece)
        except WinnowerError:
            value = None  # what its part says tells that it cannot be read
        parts.append(
            r.PartPublic(
                id=part.piece_id,
                revision=piece.revision if piece else 0,
                piece=value,
                blocks=[_shown(block) for block in part.blocks[:MOST_SHOWN]],
                labels=labels[:MOST_SHOWN],
                more=max(len(part.blocks) - MOST_SHOWN, 0),
            )
        )
    return r.ReportPublic(
        id=row.id,
        title=report.title if row.said_id is not None else row.title,
        lines=list(report.lines),
        frozen_at=frozen_at,
        parts=parts,
        revision=row.revision,
    )


def _shown(block: Block) -> r.BlockShown:
    if isinstance(block, Prose):
        return r.ProseShown(html=prose_html(block.body))
    return block


@router.patch("/{report_id}")
def change(desk: Writing, report_id: int, given: r.ReportChange) -> s.Done:
    """Another title; frozen as it reads now, or following the project again."""
    row = store.report_in(desk.session, desk.project.id, report_id)
    recorder = desk.recorder(f"Change report {row.title}")
    recorder.hold(row, given.revision)
    if given.title is not None and given.title != row.title:
        store.change_report(recorder, row, given.title)
    if given.frozen and row.said_id is None:
        recorder.label = f"Freeze report {row.title}"
        store.freeze(recorder, row, _now(desk, row))
    elif given.frozen is False and row.said_id is not None:
        recorder.label = f"Let report {row.title} follow the project"
        store.thaw(recorder, row)
    recorder.save()
    return s.Done(label=recorder.label)


@router.delete("/{report_id}")
def delete(desk: Writing, report_id: int, revision: Seen) -> s.Done:
    row = store.report_in(desk.session, desk.project.id, report_id)
    recorder = desk.recorder(f"Delete report {row.title}")
    store.delete_report(recorder, row, revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/{report_id}/pieces", status_code=201)
def add(desk: Writing, report_id: int, given: r.PiecesGiven) -> r.PiecesMade:
    row = store.report_in(desk.session, desk.project.id, report_id)
    recorder = desk.recorder(f"Add to report {row.title}")
    made = store.add_pieces(recorder, row, given.pieces, given.after)
    recorder.save()
    return r.PiecesMade(pieces=[one.id for one in made])


@router.patch("/{report_id}/pieces/{piece_id}")
def change_piece(desk: Writing, report_id: int, piece_id: int, given: r.PieceChange) -> s.Done:
    row = store.report_in(desk.session, desk.project.id, report_id)
    piece = store.piece_in(desk.session, row, piece_id)
    recorder = desk.recorder(f"Change a part of report {row.title}")
    store.change_piece(recorder, row, piece, given.piece, given.revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.delete("/{report_id}/pieces/{piece_id}")
def delete_piece(desk: Writing, report_id: int, piece_id: int, revision: Seen) -> s.Done:
    row = store.report_in(desk.session, desk.project.id, report_id)
    piece = store.piece_in(desk.session, row, piece_id)
    recorder = desk.recorder(f"Take a part out of report {row.title}")
    store.delete_piece(recorder, row, piece, revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.put("/{report_id}/order")
def put_in_order(desk: Writing, report_id: int, given: r.PieceOrder) -> s.Done:
    row = store.report_in(desk.session, desk.project.id, report_id)
    recorder = desk.recorder(f"Order report {row.title}")
    if store.put_in_order(recorder, row, given.pieces, given.seen):
        recorder.save()
    return s.Done(label=recorder.label)


@router.get("/{report_id}/pictures/{piece_id}")
def picture(desk: Reading, report_id: int, piece_id: int) -> Response:
    """The picture of a piece that shows a finding, as it is in the report."""
    row = store.report_in(desk.session, desk.project.id, report_id)
    name, drawing = _drawing(desk, row, piece_id)
    found = _pictures(desk, {name: drawing}, "svg")[name]
    if isinstance(found, str):
        raise NotFound(found)
    return Response(found, media_type="image/svg+xml")


def _pictures(desk: Desk, drawings: dict[str, Drawing], form: PictureForm) -> dict[str, Picture]:
    """Pictures by the names of their drawings; those that were drawn already are in the memory."""
    memory, owner = desk.house.corpora.memory, desk.corpus.owner
    found = {name: memory.peek((owner, "report picture", name, form)) for name in drawings}
    wanted = {name: drawings[name] for name, there in found.items() if there is None}
    made = desk.house.apart.call("draw", wanted, form) if wanted else {}
    for name, picture in made.items():
        memory.put((owner, "report picture", name, form), picture)
    return found | made


def _drawing(desk: Desk, row: ReportRow, piece_id: int) -> tuple[str, Drawing]:
    if row.said_id is not None:
        report = store.said_by(desk.session, row)[1]
        part = next((one for one in report.parts if one.piece_id == piece_id), Part(piece_id, ()))
        for block in part.blocks:
            if block.kind == "figure" and block.drawing in report.drawings:
                return block.drawing, report.drawings[block.drawing]
        raise NotFound("There is no picture in this part of the report.")
    piece = store.value_of(store.piece_in(desk.session, row, piece_id))
    if not isinstance(piece, FindingPiece):
        raise NotFound("There is no picture in this part of the report.")
    return told(_room(desk), piece.finding).drawing()


@router.get("/{report_id}/export")
def export(desk: Reading, report_id: int, form: Form = "docx") -> Response:
    """The report as Word, HTML, PDF, or Markdown with its pictures beside it."""
    row = store.report_in(desk.session, desk.project.id, report_id)
    report = _now(desk, row)
    try:
        pictures = _pictures(desk, report.drawings, PICTURES[form])
        content = desk.house.apart.call("write report", report_to_plain(report), pictures, form)
    except BroughtDown as error:
        raise WinnowerError(
            "This report takes too long or too much memory to write. Leave some pictures out, or part it in two."
        ) from error
    kind, ending = _FILES[form]
    return download(content, f"{_file_name(report.title)}.{ending}", kind)


def _file_name(title: str) -> str:
    """A title as the name of a file, without what no file may be called."""
    return " ".join(re.sub(r'[\x00-\x1f<>:"/\\|?*]+', " ", title).split())[:100].strip(" .") or "report"
