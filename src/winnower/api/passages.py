"""Passages on a text: coded, changed, taken off."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from fastapi import APIRouter

from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.schemas import coding as c
from winnower.core.errors import WinnowerError
from winnower.store import codebook, passages
from winnower.store.models import PassageRow
from winnower.store.texts import bodies, text_of

router = APIRouter(prefix="/projects/{project_id}")
AROUND = 120
LABEL_WORDS = 60
MOST_EXPORTED = 50_000


@router.get("/texts/{text_id}/passages")
def on_text(desk: Reading, text_id: int) -> c.TextPassages:
    """What is coded in a text."""
    text_of(desk.session, desk.project.id, text_id)
    return c.TextPassages(
        passages=[_public(desk, row, who) for row, who in passages.passages_on(desk.session, text_id)],
        revision=desk.project.coding_revision,
    )


def _changed(desk: Desk, rows: Sequence[PassageRow], gone: Sequence[int] = ()) -> c.PassagesChanged:
    names = passages.rows_of(desk.session, [row.id for row in rows])
    return c.PassagesChanged(
        passages=[_public(desk, row, who) for row, who in names.values()],
        gone=list(gone),
        revision=desk.project.coding_revision,
    )


def _public(desk: Desk, row: PassageRow, who: str) -> c.CodedPassage:
    return c.CodedPassage(**values_of(desk, row, who))


def values_of(desk: Desk, row: PassageRow, who: str) -> dict[str, Any]:
    """A passage as the interface has it."""
    return {
        "id": row.id,
        "code_id": row.code_id,
        "start": row.start,
        "end": row.end,
        "strength": row.strength,
        "comment": row.comment,
        "coder": who,
        "mine": row.made_by == desk.account.id,
        "made_at": row.made_at,
        "revision": row.revision,
    }


@router.post("/texts/{text_id}/passages", status_code=201)
def code(desk: Writing, text_id: int, given: c.PassageCreate) -> c.PassagesChanged:
    """Put a stretch of a text under codes, one of them new if wanted."""
    book = codebook.hold_codebook(desk.session, desk.project)
    row, body, _ = text_of(desk.session, desk.project.id, text_id)
    start, end = passages.stretch_now(desk.session, row, body, given.start, given.end, given.words)
    chosen = [book.code(one) for one in given.codes]
    recorder = desk.recorder("")
    if given.new is not None:
        chosen.append(codebook.make_code(recorder, book, **given.new.model_dump()))
    if not chosen:
        raise WinnowerError("Choose a code for these words.")
    rows = passages.code_stretch(recorder, text_id, (start, end), chosen)
    words = " ".join(body[start : start + LABEL_WORDS].split())
    recorder.label = f"Code “{words}” as {', '.join(one.name for one in chosen)}"[:300]
    recorder.save()
    return _changed(desk, rows)


@router.patch("/passages/{passage_id}")
def change(desk: Writing, passage_id: int, given: c.PassageUpdate) -> c.PassagesChanged:
    """Lengthen, shorten, move to another code, comment, weigh."""
    book = codebook.hold_codebook(desk.session, desk.project)
    row = passages.passage_of(desk.session, desk.project.id, passage_id)
    values = given.model_dump(exclude={"revision"}, exclude_unset=True)
    values = {name: value for name, value in values.items() if value is not None or name == "strength"}
    if "strength" in values:
        values["strength"] = values["strength"] or None
    body = bodies(desk.session, [row.text_id])[row.text_id]
    recorder = desk.recorder(f"Change a passage of {book.code(row.code_id).name}")
    left = passages.change_passage(recorder, book, row, values, len(body), given.revision)
    recorder.save()
    return _changed(desk, [left], [] if left.id == passage_id else [passage_id])


@router.delete("/passages/{passage_id}")
def take_off(desk: Writing, passage_id: int, revision: Seen = None) -> c.PassagesChanged:
    """Take a code off its words."""
    book = codebook.hold_codebook(desk.session, desk.project)
    row = passages.passage_of(desk.session, desk.project.id, passage_id)
    recorder = desk.recorder(f"Take {book.code(row.code_id).name} off a passage")
    recorder.delete(row, revision)
    recorder.save()
    return _changed(desk, [], [passage_id])
