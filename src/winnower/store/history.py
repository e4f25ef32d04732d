"""Commands: every change with its author, its time and its inverse; undo and redo.

A command lists the rows it changed as they were before and after. Undo puts the rows back, provided
they are still as the command left them; if somebody changed them since, it says so and does nothing.
"""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound
from winnower.store.models import Base, CategoryRow, Command, DictionaryRow, Subcorpus, TermRow

#: Tables whose changes can be undone, parents before children.
TABLES: dict[str, type[Base]] = {
    model.__tablename__: model for model in (DictionaryRow, CategoryRow, TermRow, Subcorpus)
}
_UNCOMPARED = {"revision", "made_at"}


class Recorder:
    """Collects the changes of one command and stores it; use one recorder per user action."""

    def __init__(self, session: Session, project_id: int, account_id: int, label: str) -> None:
        self.session, self.project_id, self.account_id = session, project_id, account_id
        self.label = label[:300]
        self.changes: list[dict[str, Any]] = []

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
        for row in rows:
            self.session.refresh(row)
            self.changes.append({"table": row.__tablename__, "before": None, "after": plain(row)})

    def update(self, row: Any, values: dict[str, Any], revision: int | None = None) -> None:
        """Change a row. Raises Conflict where it is no longer at ``revision``."""
        if revision is not None and row.revision != revision:
            raise Conflict("Somebody changed this in the meantime.", plain(row))
        before = plain(row)
        for name, value in values.items():
            setattr(row, name, value)
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
        return command


def plain(row: Base) -> dict[str, Any]:
    """A row as plain values."""
    values = {column.name: getattr(row, column.name) for column in row.__table__.columns}
    return {
        name: value.isoformat() if isinstance(value, dt.datetime) else value for name, value in values.items()
    }


def next_commands(
    session: Session, project_id: int, account_id: int
) -> tuple[Command | None, Command | None]:
    """The commands that undo and redo would take, of this account."""
    mine = select(Command).where(Command.project_id == project_id, Command.account_id == account_id)
    undo = mine.where(Command.undone == 0).order_by(Command.id.desc()).limit(1)
    redo = mine.where(Command.undone == 1).order_by(Command.id).limit(1)
    return session.scalar(undo), session.scalar(redo)


def undo(session: Session, project_id: int, account_id: int) -> str:
    """Take back this account's last command; its label. Raises NotFound or Conflict."""
    command = next_commands(session, project_id, account_id)[0]
    if command is None:
        raise NotFound("There is nothing to undo.")
    _apply(session, command, [(c["table"], c["after"], c["before"]) for c in reversed(command.changes)])
    command.undone = True
    return command.label


def redo(session: Session, project_id: int, account_id: int) -> str:
    """Do the last undone command again; its label. Raises NotFound or Conflict."""
    command = next_commands(session, project_id, account_id)[1]
    if command is None:
        raise NotFound("There is nothing to do again.")
    _apply(session, command, [(c["table"], c["before"], c["after"]) for c in command.changes])
    command.undone = False
    return command.label


def _apply(session: Session, command: Command, steps: list[tuple[str, dict | None, dict | None]]) -> None:
    """Turn each row from one state into the other; nothing at all where one is not as expected."""
    seen = _current(session, steps)
    for table, before, after in steps:
        key = (table, (before or after or {})["id"])
        if not _alike(seen.get(key), before):
            raise Conflict(
                f"“{command.label}” cannot be taken back or repeated: the same entry was changed by "
                "somebody else since. Nothing was changed.",
                seen.get(key),
            )
        seen[key] = after
    for table, before, after in steps:
        model = TABLES[table]
        if after is None:
            session.execute(delete(model).where(model.id == before["id"]))
        elif before is None:
            session.execute(model.__table__.insert().values(**_typed(model, after)))
        else:
            session.execute(update(model).where(model.id == after["id"]).values(**_typed(model, after)))
    session.expire_all()


def _current(session: Session, steps: list) -> dict[tuple[str, int], dict]:
    """The rows the steps speak of as they are now, one query per table."""
    wanted: dict[str, set[int]] = {}
    for table, before, after in steps:
        wanted.setdefault(table, set()).add((before or after)["id"])
    found = {}
    for table, ids in wanted.items():
        model = TABLES[table]
        for row in session.scalars(select(model).where(model.id.in_(ids))):
            found[(table, row.id)] = plain(row)
    return found


def _alike(now: dict | None, expected: dict | None) -> bool:
    if now is None or expected is None:
        return now is expected
    return all(now[name] == value for name, value in expected.items() if name not in _UNCOMPARED)


def _typed(model: type[Base], values: dict[str, Any]) -> dict[str, Any]:
    return {
        name: dt.datetime.fromisoformat(value) if name == "made_at" else value
        for name, value in values.items()
    }
