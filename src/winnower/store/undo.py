"""Undo and redo: a command's rows are put back, provided that they are still as it left them and nobody has
built on them since; else it says what is in the way, and whose it is, and does nothing.

What follows in the index from a change of texts is done by the caller from what ``undo`` and ``redo`` return.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import polars as pl
from sqlalchemy import ColumnElement, Executable, delete, insert, select, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session
from sqlalchemy.orm.attributes import flag_modified

from winnower.core.errors import Conflict, NotFound
from winnower.store.bulk import chunks
from winnower.store.coded import note_coding, note_notes
from winnower.store.dependents import hanging_on
from winnower.store.fields import lock_project, touch
from winnower.store.history import ROWS_AT_ONCE, TABLES, note_rules, plain
from winnower.store.models import (
    Base,
    Command,
    CommandData,
    Delivery,
    DictionaryRow,
    Project,
    TextBody,
    TextRow,
)
from winnower.store.opened import OpenCorpus
from winnower.store.packed import UNCOMPARED, RowChange, carry_out
from winnower.store.values import apply_change, turned, unpacked
from winnower.store.work_of_others import Others, heed_others

#: Where a command stands; what was passed over is neither undone nor done again any more.
DONE, UNDONE, PASSED_OVER = 0, 1, 2


@dataclass
class Effects:
    """What undo or redo did: bodies by text as (before, after), and to which deliveries (True: part of
    the project)."""

    label: str
    bodies: dict[int, tuple[str, str]] = field(default_factory=dict)
    deliveries: dict[int, bool] = field(default_factory=dict)


def next_commands(
    session: Session, project_id: int, account_id: int
) -> tuple[Command | None, Command | None]:
    """The commands that undo and redo would take, of this account."""
    mine = select(Command).where(Command.project_id == project_id, Command.account_id == account_id)
    undo = mine.where(Command.undone == 0).order_by(Command.id.desc()).limit(1)
    redo = mine.where(Command.undone == 1).order_by(Command.id).limit(1)
    return session.scalar(undo), session.scalar(redo)


CorpusOf = Callable[[], OpenCorpus]


def undo(
    session: Session, project: Project, account_id: int, corpus: CorpusOf, others: Others = "refuse"
) -> Effects:
    """Take back this account's last command. Raises NotFound or Conflict.

    ``corpus`` opens the project's corpus as it is within this transaction.
    """
    return _step(session, project, account_id, corpus, back=True, others=others)


def redo(session: Session, project: Project, account_id: int, corpus: CorpusOf) -> Effects:
    """Do the last undone command again. Raises NotFound or Conflict."""
    return _step(session, project, account_id, corpus, back=False, others="refuse")


def _step(
    session: Session, project: Project, account_id: int, corpus: CorpusOf, *, back: bool, others: Others
) -> Effects:
    lock_project(session, project)
    to_undo, to_redo = next_commands(session, project.id, account_id)
    command = to_undo if back else to_redo
    if command is None:
        raise NotFound(f"There is nothing to {'undo' if back else 'do again'}.")
    _heed_others(session, command, back, others)
    effects = _apply(session, project, command, corpus, back=back)
    command.undone = UNDONE if back else DONE
    return effects


def _heed_others(session: Session, command: Command, back: bool, others: Others) -> None:
    """Before a delivery goes, what others have done on its texts. Raises WorkOfOthers."""
    for change in command.changes:
        if change.get("table") != "delivery" or not change["before"] or not change["after"]:
            continue
        if change["after" if back else "before"]["state"] == "done":
            delivery = session.get_one(Delivery, change["after"]["id"])
            heed_others(session, delivery, command.account_id, others, command.label, command.id)


def pass_over(session: Session, project: Project, account_id: int, command_id: int) -> str:
    """Leave a change of this account as it is, for good: undo and redo go on with the ones beside it. Its
    label. Raises NotFound where it is not the next one for either."""
    lock_project(session, project)
    for command in next_commands(session, project.id, account_id):
        if command is not None and command.id == command_id:
            command.undone = PASSED_OVER
            session.flush()
            return command.label
    raise NotFound("This change is not the next one to undo or do again.")


class Stuck(Conflict):
    """A change cannot be taken back or repeated as it is; it can be passed over."""

    def __init__(self, command: Command, why: str, current: dict[str, Any] | None = None) -> None:
        what = "done again" if command.undone else "taken back"
        super().__init__(f"“{command.label}” cannot be {what}: {why}. Nothing was changed.", current)
        self.command_id = command.id


Step = tuple[str, dict[str, Any] | None, dict[str, Any] | None]


def _apply(session: Session, project: Project, command: Command, corpus: CorpusOf, back: bool) -> Effects:
    """Turn each row from one state into the other; nothing at all where one is not as expected."""
    changes = list(reversed(command.changes)) if back else command.changes
    rows: list[Step] = [
        (c["table"], c["after"], c["before"]) if back else (c["table"], c["before"], c["after"])
        for c in changes
        if "table" in c
    ]
    _hold_dictionaries(session, rows)
    _check(session, command, rows)
    effects = Effects(command.label)
    # which texts there are changes last: until then the index holds the texts of the project
    for change in sorted(changes, key=_says_which_texts):
        if "packed" in change:
            kept = RowChange.unpacked(session.get_one(CommandData, (command.id, change["packed"])).data)
            turn = kept.turned() if back else kept
            _carry_out(session, command, turn, change.get("seal"))
        elif "data" in change:
            data = session.get_one(CommandData, (command.id, change["data"])).data
            field_key, frame = unpacked(data)
            session.expire_all()
            _put_values(session, project, command, corpus, field_key, turned(frame) if back else frame)
        else:
            before, after = change["before"], change["after"]
            step = (change["table"], after, before) if back else (change["table"], before, after)
            _turn(session, command, *step)
            _note_effects(effects, *step)
            if change["table"] == "variable":
                # a column that comes or goes must be known before values of it are put back
                touch(session, project)
    session.expire_all()
    tables = {change.get("table") or change.get("of", "") for change in changes}
    note_rules(session, project, tables)
    note_coding(session, project, changes)
    note_notes(session, project, tables)
    return effects


def _says_which_texts(change: dict[str, Any]) -> bool:
    return change.get("table") == "delivery" or change.get("of") == "text"


def _put_values(
    session: Session,
    project: Project,
    command: Command,
    corpus: CorpusOf,
    field_key: str,
    frame: pl.DataFrame,
) -> None:
    try:
        apply_change(session, project, corpus(), field_key, frame)
    except (Conflict, NotFound) as error:
        raise Stuck(command, "some of these values were changed by somebody else since") from error


def _hold_dictionaries(session: Session, steps: list[Step]) -> None:
    """Whoever changes a dictionary holds its row: a tree is changed by one at a time."""
    rows = [row for table, *states in steps if table == "category" for row in states if row]
    ids = sorted({row["dictionary_id"] for row in rows})
    if ids:
        session.execute(select(DictionaryRow.id).where(DictionaryRow.id.in_(ids)).with_for_update())


def _carry_out(session: Session, command: Command, change: RowChange, sealed: str | None) -> None:
    if change.after is None and change.before is not None:
        ids = change.before["id"].to_list()
        for part in chunks(ids, ROWS_AT_ONCE):
            _not_built_on(session, command, change.table, part)
    try:
        with session.begin_nested():
            carry_out(session, TABLES[change.table], change, sealed=sealed)
    except IntegrityError as error:
        raise Stuck(command, "somebody has made some of the same again since") from error
    except Conflict as error:
        raise Stuck(command, error.message) from error


def _not_built_on(session: Session, command: Command, table: str, ids: list[int]) -> None:
    """Raises Stuck where somebody has added to rows that are to go."""
    if hanging := hanging_on(session, command, table, ids):
        raise Stuck(command, f"{hanging} would go with it")


def _check(session: Session, command: Command, steps: list[Step]) -> None:
    seen = _current(session, steps)
    for table, before, after in steps:
        key = (table, _key(table, before or after or {}))
        if not _alike(seen.get(key), before):
            raise Stuck(command, "the same entry was changed by somebody else since", seen.get(key))
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


def _turn(
    session: Session,
    command: Command,
    table: str,
    before: dict[str, Any] | None,
    after: dict[str, Any] | None,
) -> None:
    model = TABLES[table]
    key = _key_column(model)
    if table == "delivery" and after and after["state"] == "done" and _gave_way(session, after):
        raise Stuck(command, "a later import has taken the place of this delivery; import its files again")
    if after is None:
        _not_built_on(session, command, table, [_key(table, before or {})])
        session.execute(delete(model).where(key == _key(table, before or {})))
    elif before is None:
        values = _counted_on(model, _typed(model, after), after.get("revision"))
        _under_free_name(session, command, model, values, lambda given: insert(model).values(**given))
    else:
        now = model.__table__.c.revision if "revision" in model.__table__.c else None
        values = _counted_on(model, _typed(model, after), now)
        changing = update(model).where(key == _key(table, after))
        _under_free_name(session, command, model, values, lambda given: changing.values(**given))


#: So many names are tried for what comes back where its own is taken.
NAMES_TRIED = 20


def _under_free_name(
    session: Session,
    command: Command,
    model: type[Base],
    values: dict[str, Any],
    statement: Callable[[dict[str, Any]], Executable],
) -> None:
    """Put a row back; where somebody has taken its name since, under the next free one. Raises Stuck where it is not
    for its name that it cannot come back."""
    named = next((name for name in ("name", "label") if name in values), None)
    tries = [values]
    if named is not None:
        longest = model.__table__.c[named].type.length or 120  # type: ignore[attr-defined]
        for number in range(1, NAMES_TRIED):
            ending = " (restored)" if number == 1 else f" (restored {number})"
            tries.append(values | {named: f"{str(values[named])[: longest - len(ending)]}{ending}"})
    for given in tries:
        try:
            with session.begin_nested():
                session.execute(statement(given))
        except IntegrityError:
            continue
        if given is not values and named is not None:
            _remember_name(command, model.__tablename__, values, named, given[named])
            session.flush()  # what is expired later would forget it
        return
    raise Stuck(command, "somebody has made the same again since")


def _remember_name(command: Command, table: str, values: dict[str, Any], named: str, now: str) -> None:
    """The command says by which name its row came back, so that it can be taken away or changed again."""
    key = "text_id" if table == "text_body" else "id"
    was = values[named]
    for change in command.changes:
        for side in ("before", "after"):
            row = change.get(side) if change.get("table") == table else None
            if row and row[key] == values.get(key, row[key]) and row.get(named) == was:
                row[named] = now
    flag_modified(command, "changes")


def _counted_on(model: type[Base], values: dict[str, Any], revision: Any) -> dict[str, Any]:
    """The same values on the next revision: what is as it was before is another state to those who saw the one
    between, and a number that comes back would let them write over what they never saw."""
    return values | {"revision": revision + 1} if "revision" in model.__table__.c else values


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
        now = select(model).where(_key_column(model).in_(ids)).order_by(_key_column(model))
        held = now.with_for_update().execution_options(populate_existing=True)
        for row in session.scalars(held):
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
