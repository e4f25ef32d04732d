"""Groups of codes across the tree, kept versions of the codebook, and codes taken over from a file."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.coding.codebook_table import CodebookGiven, CodeGiven
from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.tree import MAX_NAME
from winnower.store.codebook import Codebook, change_code, codebook_of, delete_code, make_code
from winnower.store.history import Recorder
from winnower.store.models import Account, CodebookVersion, CodeInGroup, CodeRow, GroupOfCodes

FIELDS = ("description", "rule", "example", "counter_example", "colour", "symbol", "technical")


def groups_of(session: Session, project_id: int) -> list[tuple[GroupOfCodes, list[int]]]:
    """Groups in their order, each with the ids of its codes."""
    rows = session.scalars(
        select(GroupOfCodes)
        .where(GroupOfCodes.project_id == project_id)
        .order_by(GroupOfCodes.position, GroupOfCodes.id)
    ).all()
    members: dict[int, list[int]] = {row.id: [] for row in rows}
    asked = select(CodeInGroup.group_id, CodeInGroup.code_id).where(CodeInGroup.group_id.in_(members))
    for group_id, code_id in session.execute(asked.order_by(CodeInGroup.id)):
        members[group_id].append(code_id)
    return [(row, members[row.id]) for row in rows]


def group_of(session: Session, project_id: int, group_id: int) -> GroupOfCodes:
    """Raises NotFound."""
    row = session.get(GroupOfCodes, group_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such group of codes any more; somebody may have deleted it.")
    return row


def make_group(recorder: Recorder, name: str) -> GroupOfCodes:
    """Raises WinnowerError for a bad name, Conflict for a taken one."""
    row: GroupOfCodes = recorder.insert(
        GroupOfCodes(
            project_id=recorder.project_id,
            name=_free_name(recorder, name),
            position=_last(recorder),
            made_by=recorder.account_id,
        )
    )
    return row


def rename_group(recorder: Recorder, group: GroupOfCodes, name: str, revision: int | None) -> None:
    recorder.update(group, {"name": _free_name(recorder, name, group.id)}, revision)


def _free_name(recorder: Recorder, written: str, but: int | None = None) -> str:
    name = " ".join(written.split())
    if not name:
        raise WinnowerError("A group of codes needs a name.")
    if len(name) > MAX_NAME:
        raise WinnowerError(
            f"A group's name can have at most {MAX_NAME} characters; this one has {len(name)}."
        )
    taken = select(GroupOfCodes.id).where(
        GroupOfCodes.project_id == recorder.project_id, GroupOfCodes.name == name
    )
    if recorder.session.scalar(taken) not in (None, but):
        raise Conflict(f"There is a group named “{name}” already.")
    return name


def _last(recorder: Recorder) -> int:
    asked = select(func.max(GroupOfCodes.position)).where(GroupOfCodes.project_id == recorder.project_id)
    return (recorder.session.scalar(asked) or 0) + 1


def set_members(recorder: Recorder, group: GroupOfCodes, code_ids: Collection[int]) -> None:
    """Make these the codes of a group."""
    now = recorder.session.scalars(select(CodeInGroup).where(CodeInGroup.group_id == group.id)).all()
    for row in now:
        if row.code_id not in code_ids:
            recorder.delete(row)
    for code_id in dict.fromkeys(code_ids):
        if code_id not in {row.code_id for row in now}:
            recorder.insert(CodeInGroup(group_id=group.id, code_id=code_id))


def colour_members(recorder: Recorder, book: Codebook, group: GroupOfCodes, colour: int) -> None:
    """Give all codes of a group one colour (0 to 9)."""
    for code_id in recorder.session.scalars(
        select(CodeInGroup.code_id).where(CodeInGroup.group_id == group.id)
    ):
        change_code(recorder, book, code_id, {"colour": colour}, None)


def delete_group(recorder: Recorder, group: GroupOfCodes, revision: int | None = None) -> None:
    """Its codes stay."""
    set_members(recorder, group, ())
    recorder.delete(group, revision)


def content_of(session: Session, book: Codebook, project_id: int) -> list[dict[str, Any]]:
    """The codebook in plain values: codes in their order with their groups."""
    groups: dict[int, list[str]] = {}
    for row, members in groups_of(session, project_id):
        for code_id in members:
            groups.setdefault(code_id, []).append(row.name)
    return [
        {
            "path": list(book.tree.path(row.id)),
            **{name: getattr(row, name) for name in FIELDS},
            "technical": bool(row.technical),
            "groups": groups.get(row.id, []),
        }
        for row in book.codes
    ]


def as_given(content: Sequence[dict[str, Any]]) -> CodebookGiven:
    """A kept version as what a file would give."""
    codes = tuple(
        CodeGiven(tuple(one["path"]), {name: one[name] for name in FIELDS}, tuple(one["groups"]))
        for one in content
    )
    return CodebookGiven(codes, groups=tuple(dict.fromkeys(name for one in codes for name in one.groups)))


def versions_of(session: Session, project_id: int) -> list[tuple[CodebookVersion, str]]:
    """Kept versions, the newest first, with who kept each."""
    rows = session.execute(
        select(CodebookVersion, Account.full_name)
        .join(Account, Account.id == CodebookVersion.made_by)
        .where(CodebookVersion.project_id == project_id)
        .order_by(CodebookVersion.number.desc())
    )
    return [(row[0], row[1]) for row in rows]


def version_numbered(session: Session, project_id: int, number: int) -> CodebookVersion:
    """Raises NotFound."""
    row = session.scalar(
        select(CodebookVersion).where(
            CodebookVersion.project_id == project_id, CodebookVersion.number == number
        )
    )
    if row is None:
        raise NotFound(f"The codebook has no version {number}.")
    return row


def keep_version(
    session: Session, project_id: int, account_id: int, name: str = "", note: str = ""
) -> CodebookVersion:
    """The codebook as it is now under a number; the last one again where nothing changed since and no name is
    given."""
    content = content_of(session, codebook_of(session, project_id), project_id)
    versions = versions_of(session, project_id)
    last = versions[0][0] if versions else None
    name = " ".join(name.split())[:MAX_NAME]
    if last is not None and last.content == content:
        if name:
            last.name, last.note = name, note
            session.flush()
        return last
    row = CodebookVersion(
        project_id=project_id,
        number=last.number + 1 if last else 1,
        name=name,
        note=note,
        content=content,
        made_by=account_id,
    )
    session.add(row)
    session.flush()
    session.refresh(row)
    return row


@dataclass(frozen=True)
class CodeStep:
    """What taking over would do to a code: "new", "changed" (``values`` are other ones) or "known"."""

    given: CodeGiven
    state: str
    values: dict[str, Any]


def steps_to(book: Codebook, given: CodebookGiven) -> list[CodeStep]:
    """For each code of a file what taking it over would do. What the file says nothing of stays."""
    by_path = {book.tree.path(row.id): row for row in book.codes}
    out = []
    for one in given.codes:
        row = by_path.get(one.path)
        if row is None:
            out.append(CodeStep(one, "new", dict(one.values)))
            continue
        other = {name: value for name, value in one.values.items() if _value(row, name) != value}
        out.append(CodeStep(one, "changed" if other else "known", other))
    return out


def _value(row: CodeRow, name: str) -> Any:
    return bool(row.technical) if name == "technical" else getattr(row, name)


def take_over(recorder: Recorder, book: Codebook, given: CodebookGiven) -> None:
    """Make and change codes and groups as a file says; nothing is removed. Raises WinnowerError."""
    session, project_id = recorder.session, recorder.project_id
    by_path = {book.tree.path(row.id): row for row in book.codes}
    for step in steps_to(book, given):
        path = step.given.path
        if step.state == "new":
            parent = by_path[path[:-1]].id if len(path) > 1 else None
            by_path[path] = make_code(recorder, book, path[-1], parent, **step.values)
            # the whole codebook is not read again after each of many codes
            book = book.with_code(by_path[path])
        elif step.state == "changed":
            change_code(recorder, book, by_path[path].id, dict(step.values), None)
    known = {row.name: (row, list(members)) for row, members in groups_of(session, project_id)}
    for name in given.groups:
        row, members = known[name] if name in known else (make_group(recorder, name), [])
        ids = [by_path[one.path].id for one in given.codes if name in one.groups]
        set_members(recorder, row, [*members, *ids])


def put_back(recorder: Recorder, book: Codebook, given: CodebookGiven) -> int:
    """Make the codebook what it was in a version: codes that are in both keep their passages; those that came
    since go with theirs, which undo brings back. How many passages went."""
    wanted = {one.path for one in given.codes}
    gone = 0
    for row in book.codes:
        path = book.tree.path(row.id)
        if path not in wanted and (path[:-1] in wanted or len(path) == 1):
            gone += delete_code(recorder, codebook_of(recorder.session, recorder.project_id), row.id)
    take_over(recorder, codebook_of(recorder.session, recorder.project_id), given)
    now = codebook_of(recorder.session, recorder.project_id)
    by_path = {now.tree.path(code.id): code.id for code in now.codes}
    for group, members in groups_of(recorder.session, recorder.project_id):
        ids = [by_path[one.path] for one in given.codes if group.name in one.groups]
        if group.name not in given.groups:
            delete_group(recorder, group)
        elif set(ids) != set(members):
            set_members(recorder, group, ids)
    return gone
