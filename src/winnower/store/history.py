"""Commands: every change with its author, its time and its inverse; undo and redo.

A command lists the rows it changed as they were before and after. Undo puts the rows back, provided
they are still as the command left them; if somebody changed them since, it says so and does nothing.
Values of many texts are kept packed beside the command (store/values.py). What follows in the index
from a change of texts is done by the caller from what ``undo`` and ``redo`` return.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import polars as pl
from sqlalchemy import delete, select, update
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
    Judgement,
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
    WordSetting,
)
from winnower.store.opened import OpenCorpus
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
        Judgement,
        StopWord,
        WordSetting,
        DismissedSuggestion,
    )
}
#: Tables whose rows say what fields are called and what follows from rules.
_DESCRIBES = {"subcorpus", "source", "variable", "variable_category"}
_COUNTED = {"dictionary", "category", "term"}
_UNCOMPARED = {"revision", "made_at"}
ROWS_AT_ONCE = 1_000


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
        note_rules(self.session, self.project, {change.get("table", "") for change in self.changes})
        self.session.flush()
        return command


def note_rules(session: Session, project: Project, tables: set[str]) -> None:
    """Let open corpora look again where names, labels or what rules build on has changed."""
    if tables & _DESCRIBES or (tables & _COUNTED and uses_dictionary(session, project.id)):
        touch(session, project)


def plain(row: Base) -> dict[str, Any]:
    """A row as plain values."""
    values = {column.name: getattr(row, column.name) for column in row.__table__.columns}
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


Step = tuple[str, dict | None, dict | None]


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
        if "data" in change:
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
    note_rules(session, project, {table for table, _, _ in rows})
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
        seen[key] = after


def _key(table: str, row: dict) -> int:
    return row["text_id" if table == "text_body" else "id"]


def _key_column(model: type[Base]):
    return model.text_id if model is TextBody else model.id


def _gave_way(session: Session, delivery: dict) -> bool:
    """Whether the texts of an undone delivery were removed for good by a later import."""
    return bool((delivery.get("report") or {}).get("new")) and not session.scalar(
        select(TextRow.id).where(TextRow.delivery_id == delivery["id"]).limit(1)
    )


def _turn(session: Session, table: str, before: dict | None, after: dict | None) -> None:
    model = TABLES[table]
    key = _key_column(model)
    if table == "delivery" and after and after["state"] == "done" and _gave_way(session, after):
        raise Conflict("A later import has taken the place of this delivery. Import its files again.")
    if after is None:
        session.execute(delete(model).where(key == _key(table, before or {})))
    elif before is None:
        session.execute(model.__table__.insert().values(**_typed(model, after)))
    else:
        session.execute(update(model).where(key == _key(table, after)).values(**_typed(model, after)))


def _note_effects(effects: Effects, table: str, before: dict | None, after: dict | None) -> None:
    if table == "text_body" and after is not None:
        effects.bodies[after["text_id"]] = ((before or {}).get("body", ""), after["body"])
    elif table == "delivery" and after is not None and before is not None:
        effects.deliveries[after["id"]] = after["state"] == "done"


def _current(session: Session, steps: list) -> dict[tuple[str, int], dict]:
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


def _alike(now: dict | None, expected: dict | None) -> bool:
    if now is None or expected is None:
        return now is expected
    return all(now[name] == value for name, value in expected.items() if name not in _UNCOMPARED)


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
