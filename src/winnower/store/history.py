"""Commands: every change with its author, its time and its inverse.

A command lists the rows it changed as they were before and after; store/undo.py turns them back. Values of
many texts (store/values.py) and many rows of one table (store/packed.py) are kept packed beside the command.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Hashable, Sequence
from itertools import groupby
from typing import Any

import polars as pl
from sqlalchemy import delete, select
from sqlalchemy.exc import InvalidRequestError
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound
from winnower.store.bulk import chunks
from winnower.store.coded import note_coding, note_notes
from winnower.store.fields import touch
from winnower.store.models import (
    Base,
    CategoryRow,
    CodeInGroup,
    CodeRow,
    CodingDone,
    CodingRun,
    Command,
    CommandData,
    Delivery,
    DictionaryRow,
    DictionaryVersion,
    DismissedSuggestion,
    EventRow,
    FindingQuestion,
    FindingRow,
    GroupOfCodes,
    KeptQuestion,
    LostPassage,
    NoteRow,
    ParaphraseRow,
    PassageRow,
    Project,
    QuoteRow,
    ReportPiece,
    ReportRow,
    RunPlace,
    RunTarget,
    Source,
    StopWord,
    Subcorpus,
    TermRow,
    TextBody,
    TextEdit,
    TextIdentity,
    TextRow,
    ToneListRow,
    Variable,
    VariableCategory,
    VerdictRow,
    WordSetting,
)
from winnower.store.opened import OpenCorpus
from winnower.store.packed import (
    RowChange,
    carry_out,
    frame_of,
    insert_numbered,
    rows_of,
    seal,
    stored_columns,
    with_defaults,
)
from winnower.store.rules import uses_dictionary
from winnower.store.values import apply_change, packed

#: Tables whose changes can be undone, parents before children.
TABLES: dict[str, type[Base]] = {
    model.__tablename__: model
    for model in (
        DictionaryRow,
        DictionaryVersion,
        CategoryRow,
        TermRow,
        Subcorpus,
        Source,
        Variable,
        VariableCategory,
        Delivery,
        TextRow,
        TextBody,
        TextEdit,
        TextIdentity,
        VerdictRow,
        CodeRow,
        CodingRun,
        RunTarget,
        RunPlace,
        PassageRow,
        LostPassage,
        GroupOfCodes,
        CodeInGroup,
        KeptQuestion,
        CodingDone,
        NoteRow,
        QuoteRow,
        ParaphraseRow,
        StopWord,
        ToneListRow,
        WordSetting,
        DismissedSuggestion,
        FindingQuestion,
        FindingRow,
        EventRow,
        ReportRow,
        ReportPiece,
    )
}
#: Tables whose rows say what fields are called and what follows from rules.
_DESCRIBES = {"subcorpus", "source", "variable", "variable_category"}
_COUNTED = {"dictionary", "category", "term"}
ROWS_AT_ONCE = 1_000
#: From so many rows of one table in a row on they are kept packed.
PACKED_FROM = 200


class AlreadyDone(Exception):
    """A request came again that was carried out before; nothing is done."""


def is_done(session: Session, project_id: int, account_id: int, request_key: str) -> bool:
    """Whether a request that somebody's browser calls so was carried out."""
    asked = select(Command.id).where(
        Command.project_id == project_id,
        Command.account_id == account_id,
        Command.request_key == request_key,
    )
    return session.scalar(asked) is not None


class Recorder:
    """Collects the changes of one command and stores it; use one recorder per user action."""

    def __init__(
        self,
        session: Session,
        project_id: int,
        account_id: int,
        label: str,
        *,
        request_key: str | None = None,
    ) -> None:
        self.session, self.project_id, self.account_id = session, project_id, account_id
        self.label, self.request_key = label[:300], request_key
        self.changes: list[dict[str, Any]] = []
        self.data: list[bytes] = []

    @property
    def project(self) -> Project:
        return self.session.get_one(Project, self.project_id)

    def values(self, corpus: OpenCorpus, field: str, change: pl.DataFrame) -> int:
        """Change a field of many texts (see store/values.py); how many. Raises Conflict."""
        apply_change(self.session, self.project, corpus, field, change)
        if len(change):
            self.changes.append({"data": len(self.data), "texts": len(change)})
            self.data.append(packed(field, change))
        return len(change)

    def insert(self, row: Base) -> Any:
        """Add a row; its key is known afterwards. Raises TypeError for a table whose changes cannot be undone."""
        if row.__tablename__ not in TABLES:
            raise TypeError(f"{row.__tablename__} is not among the tables of the history")
        self.session.add(row)
        self.session.flush()
        self.session.refresh(row)
        self.changes.append({"table": row.__tablename__, "before": None, "after": plain(row)})
        return row

    def insert_many(self, rows: list[Any]) -> None:
        """Add rows of one table."""
        self.session.add_all(rows)
        self.session.flush()
        for part in chunks(rows, ROWS_AT_ONCE):  # what the database filled in, some rows at a time
            model = type(part[0])
            ids = [row.id for row in part]
            asked = select(model).where(model.id.in_(ids)).execution_options(populate_existing=True)
            self.session.scalars(asked).all()
        for row in rows:
            self.changes.append({"table": row.__tablename__, "before": None, "after": plain(row)})

    def insert_frame(self, model: type[Base], frame: pl.DataFrame) -> pl.DataFrame:
        """Add very many rows, given as columns without ids; the frame with their ids and all columns."""
        rows = insert_numbered(self.session, model, with_defaults(model, frame))
        self._keep_packed(RowChange(model.__tablename__, None, rows))
        return rows

    def update_frame(
        self, model: type[Base], frame: pl.DataFrame, before: pl.DataFrame | None = None
    ) -> None:
        """Change columns of very many rows; ``frame`` with their ids and the columns that change, ``before`` the
        same as they are now, where that is known."""
        names = [name for name in frame.columns if name != "id"]
        after = frame.sort("id").select("id", *names)
        if before is None:
            before = rows_of(self.session, model, after["id"])
        before = before.sort("id").select("id", *names)
        change = RowChange(model.__tablename__, before, after.cast(before.schema))
        carry_out(self.session, model, change, just_read=True)
        self._keep_packed(change)

    def delete_frame(self, model: type[Base], ids: pl.Series) -> None:
        """Remove very many rows; what hangs on them must have been removed before."""
        change = RowChange(model.__tablename__, rows_of(self.session, model, ids), None)
        carry_out(self.session, model, change, just_read=True)
        self._keep_packed(change)

    def _keep_packed(self, change: RowChange) -> None:
        if change.rows:
            kept: dict[str, Any] = {"packed": len(self.data), "of": change.table, "rows": change.rows}
            if change.before is None and change.after is not None:
                kept["seal"] = seal(self.session, TABLES[change.table], change.after)
            self.changes.append(kept)
            self.data.append(change.packed())

    def place(self, row: Any, values: dict[str, Any]) -> None:
        """Put a row at another place among its like: what it holds is the same, and so is its revision."""
        self._change(row, values)

    def update(self, row: Any, values: dict[str, Any], revision: int | None = None) -> None:
        """Change a row. Raises Conflict where it is no longer at ``revision``."""
        if revision is not None:
            self.hold(row, revision)
        self._change(row, values | ({"revision": row.revision + 1} if hasattr(row, "revision") else {}))

    def _change(self, row: Any, values: dict[str, Any]) -> None:
        before = plain(row)
        for name, value in values.items():
            setattr(row, name, value)
        self.session.flush()
        self.changes.append({"table": row.__tablename__, "before": before, "after": plain(row)})

    def hold(self, row: Any, revision: int) -> None:
        """Hold a row until the end of the transaction. Raises Conflict where it is at another revision by
        now: of two changes at the same moment the second waits here, and then sees the first."""
        try:
            self.session.refresh(row, with_for_update=True)
        except InvalidRequestError as error:
            raise NotFound("Somebody deleted this in the meantime.") from error
        if row.revision != revision:
            raise Conflict("Somebody changed this in the meantime.", plain(row))

    def delete(self, row: Any, revision: int | None = None) -> None:
        """Remove a row; what hangs on it must have been removed before. Raises Conflict where it is no longer
        at ``revision``."""
        if revision is not None:
            self.hold(row, revision)
        self.changes.append({"table": row.__tablename__, "before": plain(row), "after": None})
        self.session.delete(row)
        self.session.flush()

    def save(self) -> Command | None:
        """Store the command; whatever this author had undone before can no longer be done again."""
        if not self.changes:
            return None
        touched = {change.get("table") or change.get("of", "") for change in self.changes}
        self._pack_long_stretches()
        self.session.execute(
            delete(Command).where(
                Command.project_id == self.project_id,
                Command.account_id == self.account_id,
                Command.undone == 1,
            )
        )
        command = Command(
            project_id=self.project_id,
            account_id=self.account_id,
            label=self.label,
            changes=self.changes,
            request_key=self.request_key,
        )
        self.session.add(command)
        self.session.flush()
        self.session.add_all(
            CommandData(command_id=command.id, seq=seq, data=data) for seq, data in enumerate(self.data)
        )
        note_rules(self.session, self.project, touched)
        note_coding(self.session, self.project, self.changes)
        note_notes(self.session, self.project, touched)
        self.session.flush()
        return command

    def _pack_long_stretches(self) -> None:
        """Many new or many deleted rows of one table in a row are kept as columns instead."""
        changes, self.changes = self.changes, []
        for (table, kind), group in groupby(changes, _alike_changes):
            stretch = list(group)
            if (
                table is None
                or kind == "changed"
                or len(stretch) < PACKED_FROM
                or "id" not in _columns(table)
            ):
                self.changes += stretch
                continue
            frames = [
                frame_of(TABLES[table], [change[side] for change in stretch]) if side_there else None
                for side, side_there in (("before", kind == "gone"), ("after", kind == "new"))
            ]
            self._keep_packed(RowChange(table, *frames))


def _columns(table: str) -> set[str]:
    return {column.name for column in stored_columns(TABLES[table])}


def _alike_changes(change: dict[str, Any]) -> tuple[str | None, str]:
    if "table" not in change:
        return None, ""
    kind = "new" if change["before"] is None else "gone" if change["after"] is None else "changed"
    return change["table"], kind


def refuse_other_order(now: Sequence[Hashable], seen: Sequence[Hashable]) -> None:
    """Raises Conflict where things stand in another order than the one somebody saw; what came or went since does
    not count."""
    there, looked = set(now), set(seen)
    if [one for one in now if one in looked] != [one for one in seen if one in there]:
        raise Conflict("Somebody changed the order in the meantime. Load it again to see it.")


def note_rules(session: Session, project: Project, tables: set[str]) -> None:
    """Let open corpora look again where names, labels or what rules build on has changed."""
    if tables & _DESCRIBES or (tables & _COUNTED and uses_dictionary(session, project.id)):
        touch(session, project)


def plain(row: Base) -> dict[str, Any]:
    """A row as plain values."""
    values = {column.name: getattr(row, column.name) for column in stored_columns(type(row))}
    return {name: _plain(value) for name, value in values.items()}


def _plain(value: Any) -> Any:
    if isinstance(value, (dt.datetime, dt.date)):
        return value.isoformat()
    return value.hex() if isinstance(value, bytes) else value
