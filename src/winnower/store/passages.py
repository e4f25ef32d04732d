"""Passages: given, changed, taken off; and all of a project as columns in memory, kept up to date."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.coding import Moves
from winnower.core.coding.passages import Passages
from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.store.codebook import Codebook, move_passages
from winnower.store.history import Recorder
from winnower.store.models import Account, CodeRow, CodingRun, PassageRow, TextEdit, TextRow
from winnower.store.reading_passages import read_passages
from winnower.store.run_places import COUNTED, RunPassage, shown_passages

MAX_COMMENT = 2_000


#: A passage coded by hand, or one a run found: with the same names.
AnyPassage = PassageRow | RunPassage


def passages_on(session: Session, text_id: int) -> list[tuple[PassageRow, str]]:
    """Passages coded by hand in a text with who made them, in the order of their words."""
    asked = (
        select(PassageRow, Account.full_name)
        .join(Account, Account.id == PassageRow.made_by)
        .where(PassageRow.text_id == text_id)
        .order_by(PassageRow.start, PassageRow.end, PassageRow.id)
    )
    return [(row, name) for row, name in session.execute(asked)]


def passage_of(session: Session, project_id: int, passage_id: int) -> PassageRow:
    """Raises NotFound."""
    asked = (
        select(PassageRow)
        .join(CodeRow, CodeRow.id == PassageRow.code_id)
        .where(PassageRow.id == passage_id, CodeRow.project_id == project_id)
    )
    row = session.scalar(asked)
    if row is None:
        raise NotFound("This passage is no longer there; somebody may have taken it off.")
    return row


def code_stretch(
    recorder: Recorder, text_id: int, stretch: tuple[int, int], codes: Sequence[CodeRow]
) -> list[PassageRow]:
    """Put a stretch of a text under codes; what this person has there already stays as it is."""
    start, end = stretch
    mine = select(PassageRow).where(
        PassageRow.text_id == text_id,
        PassageRow.start == start,
        PassageRow.end == end,
        PassageRow.made_by == recorder.account_id,
    )
    there = {row.code_id: row for row in recorder.session.scalars(mine)}
    out = []
    for code in {code.id: code for code in codes}.values():
        row = there.get(code.id)
        if row is None:
            row = recorder.insert(
                PassageRow(
                    text_id=text_id, code_id=code.id, start=start, end=end, made_by=recorder.account_id
                )
            )
        out.append(row)
    return out


def stretch_now(
    session: Session, row: TextRow, body: str, start: int, end: int, words: str
) -> tuple[int, int]:
    """Where words chosen in a text stand, should it have been corrected since they were chosen.

    Raises WinnowerError for a stretch outside the text or without words, Conflict where they are gone.
    """
    if body[start:end] == words and words.strip():
        return start, end
    if not words.strip():
        raise WinnowerError("There are no words in what was chosen.")
    edits = select(TextEdit).where(TextEdit.text_id == row.id).order_by(TextEdit.id.desc())
    for edit in session.scalars(edits):
        if edit.before[start:end] == words:
            moved = Moves(edit.before, body).stretch(start, end)
            if moved is not None:
                return moved
            break
    raise Conflict("This text was corrected in the meantime, and these words are no longer in it.")


def change_passage(
    recorder: Recorder,
    book: Codebook,
    row: PassageRow,
    values: dict[str, Any],
    length: int,
    revision: int | None,
) -> PassageRow:
    """Lengthen, shorten, move to another code, comment, weigh. Where that makes it one with another of the
    same person, the other stays. Raises Conflict, NotFound, WinnowerError."""
    if "code_id" in values:
        book.code(values["code_id"])
    now = {name: values.get(name, getattr(row, name)) for name in ("start", "end", "code_id")}
    if not 0 <= now["start"] < now["end"] <= length:
        raise WinnowerError("A passage has at least one letter and lies within its text.")
    double = recorder.session.scalar(
        select(PassageRow).where(
            PassageRow.text_id == row.text_id,
            PassageRow.code_id == now["code_id"],
            PassageRow.start == now["start"],
            PassageRow.end == now["end"],
            PassageRow.made_by == row.made_by,
            PassageRow.id != row.id,
        )
    )
    if double is not None:
        recorder.delete(row, revision)
        return double
    recorder.update(row, values, revision)
    return row


def number_of_passages(passages: Passages, text_ids: np.ndarray) -> int:
    """Passages of texts that are part of the corpus."""
    return int(np.isin(passages.text_id, text_ids).sum())


def all_on(session: Session, project_id: int, text_id: int) -> list[tuple[AnyPassage, str]]:
    """Passages of a text, those that runs found and that count among them, in the order of their words."""
    found: list[tuple[AnyPassage, str]] = [*passages_on(session, text_id)]
    ids = read_passages(session, project_id, [text_id]).id
    of_runs = shown_passages(session, ids[ids < 0].tolist())
    found += [(row, row.run.name) for row in of_runs.values()]
    return sorted(found, key=lambda one: (one[0].start, one[0].end, one[0].id))


def rows_of(session: Session, ids: Sequence[int]) -> dict[int, tuple[AnyPassage, str]]:
    """Passages by id, with who made each; those of runs have ids below zero."""
    found: dict[int, tuple[AnyPassage, str]] = {**_by_hand(session, [one for one in ids if one > 0])}
    of_runs = [one for one in ids if one < 0]
    if of_runs:
        found |= {key: (row, row.run.name) for key, row in shown_passages(session, of_runs).items()}
    return found


def _by_hand(session: Session, ids: Sequence[int]) -> dict[int, tuple[PassageRow, str]]:
    asked = (
        select(PassageRow, Account.full_name)
        .join(Account, Account.id == PassageRow.made_by)
        .where(PassageRow.id.in_(ids))
    )
    return {row.id: (row, name) for row, name in session.execute(asked)}


def coders_of(session: Session, project_id: int) -> list[tuple[int, str]]:
    """(account, name) of whoever has coded in a project, by name; runs that count, below zero, after them."""
    asked = (
        select(Account.id, Account.full_name)
        .join(PassageRow, PassageRow.made_by == Account.id)
        .join(CodeRow, CodeRow.id == PassageRow.code_id)
        .where(CodeRow.project_id == project_id)
        .distinct()
        .order_by(Account.full_name)
    )
    runs = select(CodingRun.id, CodingRun.name).where(
        CodingRun.project_id == project_id, CodingRun.state.in_(COUNTED)
    )
    return [
        *((account_id, name) for account_id, name in session.execute(asked)),
        *((-run, name) for run, name in session.execute(runs.order_by(CodingRun.name))),
    ]


def code_many(recorder: Recorder, found: Passages, code_id: int) -> int:
    """Put the words of passages under a code as well, as this person's own; how many came to be. What this
    person has there already stays as it is."""
    words = ["text_id", "start", "end"]
    wanted = pl.DataFrame({name: getattr(found, name) for name in words}).unique(maintain_order=True)
    there = pl.DataFrame(read_passages(recorder.session, recorder.project_id, codes=[code_id]).columns())
    mine = there.filter(pl.col("made_by") == recorder.account_id)
    fresh = wanted.join(mine, on=words, how="anti").with_columns(
        pl.lit(code_id, pl.Int64).alias("code_id"), pl.lit(recorder.account_id, pl.Int64).alias("made_by")
    )
    if len(fresh):
        recorder.insert_frame(PassageRow, fresh)
    return len(fresh)


def change_many(recorder: Recorder, project_id: int, ids: Sequence[int], code_id: int | None) -> int:
    """Move passages under another code, or take them off where none is given; how many changed. What the same
    person has under that code already goes instead."""
    asked = (
        select(PassageRow.id, PassageRow.code_id)
        .join(CodeRow, CodeRow.id == PassageRow.code_id)
        .where(PassageRow.id.in_(ids), CodeRow.project_id == project_id)
    )
    there = [(row_id, code) for row_id, code in recorder.session.execute(asked)]
    if code_id is None:
        recorder.delete_frame(PassageRow, pl.Series("id", [row_id for row_id, _ in there], pl.Int64))
        return len(there)
    moved = 0
    for code in sorted({code for _, code in there if code != code_id}):
        moved += move_passages(recorder, code, code_id, [row_id for row_id, one in there if one == code])
    return moved
