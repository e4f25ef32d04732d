"""Passages: given, changed, taken off; and all of a project as columns in memory, kept up to date."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy import text as sql
from sqlalchemy.orm import Session

from winnower.core.coding import Moves
from winnower.core.coding.passages import KINDS, NAMES, Passages, empty
from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.store.bulk import chunks
from winnower.store.codebook import Codebook, move_passages
from winnower.store.history import Recorder
from winnower.store.memory import Memory
from winnower.store.models import Account, CodeRow, CodingChange, PassageRow, Project, TextEdit, TextRow

MAX_COMMENT = 2_000
#: So many ids are read by one statement.
IDS_AT_ONCE = 200_000
TEXTS_AT_ONCE = 1_000
_COLUMNS = "p.id, p.text_id, p.code_id, p.start, p.`end`, p.made_by, coalesce(p.strength, 0)"


def passages_on(session: Session, text_id: int) -> list[tuple[PassageRow, str]]:
    """Passages of a text with who made them, in the order of their words."""
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


class PassageCache:
    """The passages of a project at a state of its coding, brought up to date from what changed since."""

    def __init__(self, memory: Memory) -> None:
        self._memory = memory

    def open(self, session: Session, project: Project) -> Passages:
        """All passages of the project, those of texts that are not part of it now included."""
        revision = project.coding_revision
        before: int | None = self._memory.peek(("coding at", project.id))

        def make() -> Passages:
            if before is not None and before < revision:
                old: Passages | None = self._memory.peek(("coding", project.id, before))
                changed = changed_texts(session, project.id, before, revision)
                if old is not None and changed is not None:
                    return old.with_texts(changed, read_passages(session, project.id, changed))
            return read_passages(session, project.id)

        found = self._memory.kept(("coding", project.id, revision), make)
        if before != revision:
            self._memory.put(("coding at", project.id), revision)
        return found


def changed_texts(session: Session, project_id: int, since: int, until: int) -> set[int] | None:
    """Texts whose passages changed between two states; None where that may be any."""
    asked = select(CodingChange.texts).where(
        CodingChange.project_id == project_id, CodingChange.revision > since, CodingChange.revision <= until
    )
    out: set[int] = set()
    for texts in session.scalars(asked):
        if texts is None:
            return None
        out.update(texts)
    return out


def read_passages(session: Session, project_id: int, texts: Collection[int] | None = None) -> Passages:
    """Passages of some texts or of the whole project.

    The server puts the columns into lines of text itself, which is several times as fast as fetching rows.
    """
    connection = session.connection()
    connection.execute(sql("set session group_concat_max_len = 1073741824"))
    of_project = "passage p join code c on c.id = p.code_id where c.project_id = :project"
    parts: list[str] = []
    if texts is not None:
        for some in chunks(sorted(texts), TEXTS_AT_ONCE):
            listed = ", ".join(str(int(one)) for one in some)
            parts.append(_lines(connection, f"{of_project} and p.text_id in ({listed})", project=project_id))
    else:
        low, high = connection.execute(
            sql(f"select min(p.id), max(p.id) from {of_project}"), {"project": project_id}
        ).one()
        for first in range(low or 0, (high or -1) + 1, IDS_AT_ONCE):
            within = f"{of_project} and p.id between :low and :high"
            parts.append(
                _lines(connection, within, project=project_id, low=first, high=first + IDS_AT_ONCE - 1)
            )
    written = "\n".join(part for part in parts if part)
    if not written:
        return empty()
    frame = pl.read_csv(written.encode(), has_header=False, new_columns=list(NAMES))
    return Passages.of({name: frame[name].to_numpy().astype(KINDS[name]) for name in NAMES})


def _lines(connection: Any, where: str, **values: int) -> str:
    asked = f"select group_concat(concat_ws(',', {_COLUMNS}) separator '\\n') from {where}"
    return connection.execute(sql(asked), values).scalar() or ""


def number_of_passages(passages: Passages, text_ids: np.ndarray) -> int:
    """Passages of texts that are part of the corpus."""
    return int(np.isin(passages.text_id, text_ids).sum())


def rows_of(session: Session, ids: Sequence[int]) -> dict[int, tuple[PassageRow, str]]:
    """Passages by id, with who made each."""
    asked = (
        select(PassageRow, Account.full_name)
        .join(Account, Account.id == PassageRow.made_by)
        .where(PassageRow.id.in_(ids))
    )
    return {row.id: (row, name) for row, name in session.execute(asked)}


def coders_of(session: Session, project_id: int) -> list[tuple[int, str]]:
    """(account, name) of whoever has coded in a project, by name."""
    asked = (
        select(Account.id, Account.full_name)
        .join(PassageRow, PassageRow.made_by == Account.id)
        .join(CodeRow, CodeRow.id == PassageRow.code_id)
        .where(CodeRow.project_id == project_id)
        .distinct()
        .order_by(Account.full_name)
    )
    return [(account_id, name) for account_id, name in session.execute(asked)]


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
