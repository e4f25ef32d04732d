"""The codebook of a project: codes as a tree; every change through a Recorder."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.tree import MAX_NAME, Placement, Tree, in_tree_order
from winnower.store.fields import lock_project
from winnower.store.history import Recorder, plain
from winnower.store.models import CodeInGroup, CodeRow, LostPassage, NoteRow, PassageRow, Project, RunTarget
from winnower.store.reading_passages import read_passages

NOUN, NOUNS, MAX_DEPTH = "code", "codes", 8
COLOURS = 10


@dataclass(frozen=True)
class Codebook:
    """Codes in the order of their tree."""

    codes: tuple[CodeRow, ...]
    tree: Tree

    def code(self, code_id: int) -> CodeRow:
        """Raises NotFound."""
        for row in self.codes:
            if row.id == code_id:
                return row
        raise NotFound("There is no such code any more; somebody may have deleted it.")

    def with_code(self, made: CodeRow) -> Codebook:
        """With a code that was made, which stands last."""
        codes = (*self.codes, made)
        return Codebook(codes, Tree(codes, NOUN, NOUNS, MAX_DEPTH))

    def below(self) -> dict[int, set[int]]:
        """Each code with all under it."""
        return {row.id: self.tree.below(row.id) for row in self.codes}


def codebook_of(session: Session, project_id: int) -> Codebook:
    rows = session.scalars(select(CodeRow).where(CodeRow.project_id == project_id)).all()
    tree = Tree(rows, NOUN, NOUNS, MAX_DEPTH)
    return Codebook(tuple(in_tree_order(rows, tree)), tree)


def hold_codebook(session: Session, project: Project) -> Codebook:
    """The codebook to be changed or coded with: nobody else does either until the end of the transaction."""
    lock_project(session, project)
    session.expire_all()
    return codebook_of(session, project.id)


def make_code(
    recorder: Recorder, book: Codebook, name: str, parent_id: int | None = None, **values: Any
) -> CodeRow:
    """A code at the end of its level, in a colour few others have unless one is given.

    Raises WinnowerError for a bad name, Conflict for a taken one, NotFound for a parent that is gone.
    """
    name = code_name(name)
    if parent_id is not None:
        parent = book.code(parent_id)
        if book.tree.depth(parent_id) + 1 >= MAX_DEPTH:
            raise WinnowerError(f"Codes can lie at most {MAX_DEPTH} levels deep. Nothing was changed.")
        values.setdefault("colour", parent.colour)
    book.tree.free_name(name, parent_id)
    if values.get("colour") is None:
        used = [row.colour for row in book.codes if row.parent_id is None]
        values["colour"] = min(range(COLOURS), key=used.count)
    found: CodeRow = recorder.insert(
        CodeRow(
            project_id=recorder.project_id,
            parent_id=parent_id,
            name=name,
            position=book.tree.last_position(parent_id),
            made_by=recorder.account_id,
            **values,
        )
    )
    return found


def code_name(written: str) -> str:
    """A name as it is kept. Raises WinnowerError."""
    name = " ".join(written.split())
    if not name:
        raise WinnowerError("A code needs a name.")
    if len(name) > MAX_NAME:
        raise WinnowerError(
            f"A code's name can have at most {MAX_NAME} characters; this one has {len(name)}. "
            "Its definition goes into its description."
        )
    return name


def change_code(
    recorder: Recorder, book: Codebook, code_id: int, values: dict[str, Any], revision: int | None
) -> CodeRow:
    """Rename, describe, recolour. Raises NotFound, Conflict, WinnowerError."""
    row = book.code(code_id)
    if "name" in values:
        values["name"] = code_name(values["name"])
        book.tree.free_name(values["name"], row.parent_id, but=row.id)
    recorder.update(row, values, revision)
    return row


def move_code(
    recorder: Recorder,
    book: Codebook,
    code_id: int,
    parent_id: int | None,
    before_id: int | None = None,
    revision: int | None = None,
) -> None:
    """Put a code under another (None: the top), before one of the codes there or last.

    Raises TreeError where it would lie in itself or too deep, Conflict for a taken name or a stale revision.
    """
    row = book.code(code_id)
    if revision is not None and row.revision != revision:
        raise Conflict("Somebody changed this in the meantime.", plain(row))
    _place(recorder, book, book.tree.move(code_id, parent_id, before_id))


def _place(recorder: Recorder, book: Codebook, placements: Sequence[Placement]) -> None:
    for placement in placements:
        recorder.update(book.code(placement.id), dict(placement.values))


def merge_codes(recorder: Recorder, book: Codebook, from_id: int, into_id: int) -> int:
    """Take the passages and codes of one code into another and remove it; how many passages moved. The same
    words of one person under both stay once. Raises TreeError, NotFound."""
    source, target = book.code(from_id), book.code(into_id)
    placements = book.tree.merge(from_id, into_id)
    moved = move_passages(recorder, from_id, into_id)
    _place(recorder, book, placements)
    words = {
        name: "\n".join(part for part in (getattr(target, name), getattr(source, name)) if part)
        for name in ("description", "rule", "example", "counter_example")
        if getattr(source, name) and getattr(source, name) not in getattr(target, name)
    }
    if words:
        recorder.update(target, words)
    _hang_elsewhere(recorder, {from_id}, into_id)
    recorder.delete(source)
    return moved


def move_passages(recorder: Recorder, from_id: int, into_id: int, which: Sequence[int] = ()) -> int:
    """Passages of one code (``which``, or all) to another; those the same person has there already go. How
    many moved."""
    columns = read_passages(recorder.session, recorder.project_id, codes=[from_id, into_id]).columns()
    frame = pl.DataFrame(columns).with_columns(pl.col("id", "code_id").cast(pl.Int64))
    own = frame.filter(pl.col("code_id") == from_id)
    if which:
        own = own.filter(pl.col("id").is_in(list(which)))
    words = ["text_id", "start", "end", "made_by"]
    there = frame.filter(pl.col("code_id") == into_id)
    doubles = own.join(there, on=words, how="semi")
    moving = own.join(there, on=words, how="anti").select("id", "code_id")
    if len(doubles):
        recorder.delete_frame(PassageRow, doubles["id"])
    if len(moving):
        moved = moving.with_columns(pl.lit(into_id, pl.Int64).alias("code_id"))
        recorder.update_frame(PassageRow, moved, moving)
    return len(moving)


def split_code(
    recorder: Recorder, book: Codebook, code_id: int, name: str, passage_ids: Sequence[int]
) -> CodeRow:
    """Some passages of a code under a new one beside it. Raises WinnowerError without any, Conflict."""
    code = book.code(code_id)
    if not passage_ids:
        raise WinnowerError("Choose the passages that are to come under a code of their own.")
    made = make_code(recorder, book, name, code.parent_id)
    if not move_passages(recorder, code_id, made.id, passage_ids):
        raise WinnowerError("None of these passages is under this code any more. Nothing was changed.")
    return made


def delete_code(recorder: Recorder, book: Codebook, code_id: int, revision: int | None = None) -> int:
    """Remove a code with its passages and all below it, which undo brings back; how many passages. Raises
    Conflict."""
    code = book.code(code_id)
    if revision is not None and code.revision != revision:
        raise Conflict("Somebody changed this in the meantime.", plain(code))
    under = book.tree.below(code_id)
    ids = recorder.session.scalars(select(PassageRow.id).where(PassageRow.code_id.in_(under))).all()
    if ids:
        recorder.delete_frame(PassageRow, pl.Series("id", list(ids), pl.Int64))
    _hang_elsewhere(recorder, under, None)
    for row in reversed([one for one in book.codes if one.id in under]):
        recorder.delete(row)
    return len(ids)


def _hang_elsewhere(recorder: Recorder, code_ids: Collection[int], into_id: int | None) -> None:
    """Before codes go: notes on them and passages without words are another code's. Without one notes become the
    project's, passages without words go with their code, and what runs found under it counts no more."""
    session = recorder.session
    for note in session.scalars(select(NoteRow).where(NoteRow.code_id.in_(code_ids))).all():
        recorder.update(note, {"code_id": into_id})
    for lost in session.scalars(select(LostPassage).where(LostPassage.code_id.in_(code_ids))).all():
        if into_id is None:
            recorder.delete(lost)
        else:
            recorder.update(lost, {"code_id": into_id})
    for target in session.scalars(select(RunTarget).where(RunTarget.code_id.in_(code_ids))).all():
        recorder.update(target, {"code_id": into_id})
    for member in session.scalars(select(CodeInGroup).where(CodeInGroup.code_id.in_(code_ids))).all():
        recorder.delete(member)


def number_of_codes(session: Session, project_id: int) -> int:
    return session.scalar(select(func.count()).where(CodeRow.project_id == project_id)) or 0
