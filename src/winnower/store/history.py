"""Commands: every change with its author, its time and its inverse; undo and redo.

A command lists the rows it changed as they were before and after. Undo puts the rows back, provided
they are still as the command left them; if somebody changed them since, it says so and does nothing.
Values of many texts (store/values.py) and many rows of one table (store/packed.py) are kept packed beside
the command. What follows in the index from a change of texts is done by the caller from what ``undo`` and
``redo`` return.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import groupby
from typing import Any

import polars as pl
from sqlalchemy import ColumnElement, delete, insert, select, update
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound
from winnower.store.bulk import chunks
from winnower.store.fields import lock_project, touch
from winnower.store.models import (
    Base,
    CategoryRow,
    Command,
    CommandData,
    Delivery,
    DictionaryRow,
    DismissedSuggestion,
    Project,
    Source,
    StopWord,
    Subcorpus,
    TermRow,
    TextBody,
    TextEdit,
    TextNote,
    TextRow,
    Variable,
    VariableCategory,
    VerdictRow,
    WordSetting,
)
from winnower.store.opened import OpenCorpus
from winnower.store.packed import (
    UNCOMPARED,
    RowChange,
    carry_out,
    frame_of,
    insert_numbered,
    rows_of,
    stored_columns,
    with_defaults,
)
from winnower.store.rules import uses_dictionary
from winnower.store.values import apply_change, packed, turned, unpacked

#: Tables whose changes can be undone, parents before children.
TABLES: dict[str, type[Base]] = {
    model.__tablename__: model
    for model in (
        DictionaryRow,
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
        TextNote,
        VerdictRow,
        StopWord,
        WordSetting,
        DismissedSuggestion,
    )
}
#: Tables whose rows say what fields are called and what follows from rules.
_DESCRIBES = {"subcorpus", "source", "variable", "variable_category"}
_COUNTED = {"dictionary", "category", "term"}
ROWS_AT_ONCE = 1_000
#: From so many rows of one table in a row on they are kept packed.
PACKED_FROM = 200


@dataclass
class Effects:
    """What undo or redo did: bodies by text as (before, after), and to which deliveries (True: part of
    the project)."""

    label: str
    bodies: dict[int, tuple[str, str]] = field(default_factory=dict)
    deliveries: dict[int, bool] = field(default_factory=dict)


class Recorder:
    """Collects the changes of one command and stores it; use one recorder per user action."""

    def __init__(self, session: Session, project_id: int, account_id: int, label: str) -> None:
        self.session, self.project_id, self.account_id = session, project_id, account_id
        self.label = label[:300]
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
        """Add a row; its key is known afterwards."""
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

    def update_frame(self, model: type[Base], frame: pl.DataFrame) -> None:
        """Change columns of very many rows; ``frame`` with their ids and the columns that change."""
        names = [name for name in frame.columns if name != "id"]
        after = frame.sort("id").select("id", *names)
        before = rows_of(self.session, model, after["id"]).select("id", *names)
        change = RowChange(model.__tablename__, before, after.cast(before.schema))
        carry_out(self.session, model, change, self.label)
        self._keep_packed(change)

    def delete_frame(self, model: type[Base], ids: pl.Series) -> None:
        """Remove very many rows; what hangs on them must have been removed before."""
        change = RowChange(model.__tablename__, rows_of(self.session, model, ids), None)
        carry_out(self.session, model, change, self.label)
        self._keep_packed(change)

    def _keep_packed(self, change: RowChange) -> None:
        if change.rows:
            self.changes.append({"packed": len(self.data), "of": change.table, "rows": change.rows})
            self.data.append(change.packed())

    def update(self, row: Any, values: dict[str, Any], revision: int | None = None) -> None:
        """Change a row. Raises Conflict where it is no longer at ``revision``."""
        if revision is not None and row.revision != revision:
            raise Conflict("Somebody changed this in the meantime.", plain(row))
        before = plain(row)
        for name, value in values.items():
            setattr(row, name, value)
        if hasattr(row, "revision"):
            row.revision += 1
        self.session.flush()
        self.changes.append({"table": row.__tablename__, "before": before, "after": plain(row)})

    def delete(self, row: Any) -> None:
        """Remove a row; what hangs on it must have been removed before."""
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
        )
        self.session.add(command)
        self.session.flush()
        self.session.add_all(
            CommandData(command_id=command.id, seq=seq, data=data) for seq, data in enumerate(self.data)
        )
        note_rules(self.session, self.project, touched)
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


def next_commands(
    session: Session, project_id: int, account_id: int
) -> tuple[Command | None, Command | None]:
    """The commands that undo and redo would take, of this account."""
    mine = select(Command).where(Command.project_id == project_id, Command.account_id == account_id)
    undo = mine.where(Command.undone == 0).order_by(Command.id.desc()).limit(1)
    redo = mine.where(Command.undone == 1).order_by(Command.id).limit(1)
    return session.scalar(undo), session.scalar(redo)


CorpusOf = Callable[[], OpenCorpus]


def undo(session: Session, project: Project, account_id: int, corpus: CorpusOf) -> Effects:
    """Take back this account's last command. Raises NotFound or Conflict.

    ``corpus`` opens the project's corpus as it is within this transaction.
    """
    lock_project(session, project)
    command = next_commands(session, project.id, account_id)[0]
    if command is None:
        raise NotFound("There is nothing to undo.")
    effects = _apply(session, project, command, corpus, back=True)
    command.undone = True
    return effects


def redo(session: Session, project: Project, account_id: int, corpus: CorpusOf) -> Effects:
    """Do the last undone command again. Raises NotFound or Conflict."""
    lock_project(session, project)
    command = next_commands(session, project.id, account_id)[1]
    if command is None:
        raise NotFound("There is nothing to do again.")
    effects = _apply(session, project, command, corpus, back=False)
    command.undone = False
    return effects


Step = tuple[str, dict[str, Any] | None, dict[str, Any] | None]


def _apply(session: Session, project: Project, command: Command, corpus: CorpusOf, back: bool) -> Effects:
    """Turn each row from one state into the other; nothing at all where one is not as expected."""
    changes = list(reversed(command.changes)) if back else command.changes
    rows: list[Step] = [
        (c["table"], c["after"], c["before"]) if back else (c["table"], c["before"], c["after"])
        for c in changes
        if "table" in c
    ]
    _check(session, command, rows)
    effects = Effects(command.label)
    for change in changes:
        if "packed" in change:
            kept = RowChange.unpacked(session.get_one(CommandData, (command.id, change["packed"])).data)
            turn = kept.turned() if back else kept
            carry_out(session, TABLES[turn.table], turn, command.label)
        elif "data" in change:
            data = session.get_one(CommandData, (command.id, change["data"])).data
            field_key, frame = unpacked(data)
            session.expire_all()
            apply_change(session, project, corpus(), field_key, turned(frame) if back else frame)
        else:
            before, after = change["before"], change["after"]
            step = (change["table"], after, before) if back else (change["table"], before, after)
            _turn(session, *step)
            _note_effects(effects, *step)
            if change["table"] == "variable":
                # a column that comes or goes must be known before values of it are put back
                touch(session, project)
    session.expire_all()
    note_rules(session, project, {change.get("table") or change.get("of", "") for change in changes})
    return effects


def _check(session: Session, command: Command, steps: list[Step]) -> None:
    seen = _current(session, steps)
    for table, before, after in steps:
        key = (table, _key(table, before or after or {}))
        if not _alike(seen.get(key), before):
            raise Conflict(
                f"“{command.label}” cannot be taken back or repeated: the same entry was changed by "
                "somebody else since. Nothing was changed.",
                seen.get(key),
            )
        seen[key] = after or {}
        if after is None:
            del seen[key]


def _key(table: str, row: dict[str, Any]) -> int:
    found: int = row["text_id" if table == "text_body" else "id"]
    return found


def _key_column(model: type[Base]) -> ColumnElement[int]:
    return model.__table__.c["text_id" if model is TextBody else "id"]


def _gave_way(session: Session, delivery: dict[str, Any]) -> bool:
    """Whether the texts of an undone delivery were removed for good by a later import."""
    return bool((delivery.get("report") or {}).get("new")) and not session.scalar(
        select(TextRow.id).where(TextRow.delivery_id == delivery["id"]).limit(1)
    )


def _turn(session: Session, table: str, before: dict[str, Any] | None, after: dict[str, Any] | None) -> None:
    model = TABLES[table]
    key = _key_column(model)
    if table == "delivery" and after and after["state"] == "done" and _gave_way(session, after):
        raise Conflict("A later import has taken the place of this delivery. Import its files again.")
    if after is None:
        session.execute(delete(model).where(key == _key(table, before or {})))
    elif before is None:
        session.execute(insert(model).values(**_typed(model, after)))
    else:
        session.execute(update(model).where(key == _key(table, after)).values(**_typed(model, after)))


def _note_effects(
    effects: Effects, table: str, before: dict[str, Any] | None, after: dict[str, Any] | None
) -> None:
    if table == "text_body" and after is not None:
        effects.bodies[after["text_id"]] = ((before or {}).get("body", ""), after["body"])
    elif table == "delivery" and after is not None and before is not None:
        effects.deliveries[after["id"]] = after["state"] == "done"


def _current(session: Session, steps: list[Any]) -> dict[tuple[str, int], dict[str, Any]]:
    """The rows the steps speak of as they are now, one query per table."""
    wanted: dict[str, set[int]] = {}
    for table, before, after in steps:
        wanted.setdefault(table, set()).add(_key(table, before or after or {}))
    found = {}
    for table, ids in wanted.items():
        model = TABLES[table]
        for row in session.scalars(select(model).where(_key_column(model).in_(ids))):
            values = plain(row)
            found[(table, _key(table, values))] = values
    return found


def _alike(now: dict[str, Any] | None, expected: dict[str, Any] | None) -> bool:
    if now is None or expected is None:
        return now is expected
    return all(now[name] == value for name, value in expected.items() if name not in UNCOMPARED)


def _typed(model: type[Base], values: dict[str, Any]) -> dict[str, Any]:
    """Plain values as the columns want them."""
    out = {}
    for name, value in values.items():
        kind = model.__table__.c[name].type.python_type
        if isinstance(value, str) and kind in (dt.datetime, dt.date):
            value = kind.fromisoformat(value)
        elif isinstance(value, str) and kind is bytes:
            value = bytes.fromhex(value)
        out[name] = value
    return out
