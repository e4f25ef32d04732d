"""Passages on a text: coded, changed, taken off."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from fastapi import APIRouter

from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.schemas import coding as c
from winnower.core.errors import WinnowerError
from winnower.store import codebook, passages, run_review
from winnower.store.models import PassageRow
from winnower.store.passages import AnyPassage
from winnower.store.run_places import RunPassage
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
        passages=[
            _public(desk, row, who) for row, who in passages.all_on(desk.session, desk.project.id, text_id)
        ],
        revision=desk.project.coding_revision,
    )


def _changed(desk: Desk, rows: Sequence[PassageRow], gone: Sequence[int] = ()) -> c.PassagesChanged:
    names = passages.rows_of(desk.session, [row.id for row in rows])
    return c.PassagesChanged(
        passages=[_public(desk, row, who) for row, who in names.values()],
        gone=list(gone),
        revision=desk.project.coding_revision,
    )


def _public(desk: Desk, row: AnyPassage, who: str) -> c.CodedPassage:
    return c.CodedPassage(**values_of(desk, row, who))


def values_of(desk: Desk, row: AnyPassage, who: str) -> dict[str, Any]:
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
        "run_id": row.run.id if isinstance(row, RunPassage) else None,
        "reason": _reason(row) if isinstance(row, RunPassage) else "",
    }


def _reason(row: RunPassage) -> str:
    reasons = row.run.reasons
    return reasons[row.place.reason] if row.place.reason < len(reasons) else ""


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
    if passage_id < 0:
        return _taken_over(desk, book, passage_id, given)
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


def _taken_over(
    desk: Desk, book: codebook.Codebook, passage_id: int, given: c.PassageUpdate
) -> c.PassagesChanged:
    """What a run found is not changed itself: it becomes a passage of who changes it, and the run was right, or wrong
    where it comes under another code."""
    one = run_review.passage_in(desk.session, desk.project.id, passage_id)
    code = book.code(given.code_id or one.code_id)
    length = len(bodies(desk.session, [one.text_id])[one.text_id])
    start = one.start if given.start is None else given.start
    end = one.end if given.end is None else given.end
    if not 0 <= start < end <= length:
        raise WinnowerError("A passage has at least one letter and lies within its text.")
    recorder = desk.recorder(f"Take over a passage of {one.run.name} as {code.name}")
    run_review.judge_places(recorder, [one], int(code.id == one.code_id))
    (row,) = passages.code_stretch(recorder, one.text_id, (start, end), [code])
    said = {"comment": given.comment, "strength": given.strength or None}
    changed = {name: value for name, value in said.items() if value is not None}
    if changed:
        recorder.update(row, changed)
    recorder.save()
    return _changed(desk, [row], [passage_id])


@router.delete("/passages/{passage_id}")
def take_off(desk: Writing, passage_id: int, revision: Seen) -> c.PassagesChanged:
    """Take a code off its words."""
    book = codebook.hold_codebook(desk.session, desk.project)
    if passage_id < 0:
        one = run_review.passage_in(desk.session, desk.project.id, passage_id)
        recorder = desk.recorder(f"Take {book.code(one.code_id).name} off a passage of {one.run.name}")
        run_review.judge_places(recorder, [one], 0)
        recorder.save()
        return _changed(desk, [], [passage_id])
    row = passages.passage_of(desk.session, desk.project.id, passage_id)
    recorder = desk.recorder(f"Take {book.code(row.code_id).name} off a passage")
    run_review.give_up(recorder, [row])
    recorder.delete(row, revision)
    recorder.save()
    return _changed(desk, [], [passage_id])
