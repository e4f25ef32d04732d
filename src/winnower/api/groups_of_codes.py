"""Groups of codes, versions of the codebook, and codes from a file."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, File, UploadFile

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.schemas import coding as c
from winnower.core.coding.codebook_table import CodebookGiven
from winnower.core.errors import WinnowerError
from winnower.store import groups_of_codes as store
from winnower.store.codebook import Codebook, codebook_of, hold_codebook
from winnower.store.kept_conditions import codes_followed

router = APIRouter(prefix="/projects/{project_id}/codebook")
MAX_FILE_BYTES = 20_000_000
SHOWN_REFUSED = 200


@router.get("/groups")
def groups(desk: Reading) -> list[c.GroupPublic]:
    """Groups across the tree, each with its codes."""
    return [
        c.GroupPublic(id=row.id, name=row.name, codes=codes, revision=row.revision)
        for row, codes in store.groups_of(desk.session, desk.project.id)
    ]


@router.post("/groups", status_code=201)
def make_group(desk: Writing, given: c.GroupCreate) -> s.Made:
    book = hold_codebook(desk.session, desk.project)
    recorder = desk.recorder(f"New group of codes {given.name[:120]}")
    row = store.make_group(recorder, given.name)
    store.set_members(recorder, row, [book.code(one).id for one in given.codes])
    recorder.save()
    return s.Made(id=row.id, label=recorder.label)


@router.patch("/groups/{group_id}")
def change_group(desk: Writing, group_id: int, given: c.GroupUpdate) -> s.Done:
    """Rename a group, say which codes are in it, or give all of them one colour."""
    book = hold_codebook(desk.session, desk.project)
    row = store.group_of(desk.session, desk.project.id, group_id)
    recorder = desk.recorder(f"Change group {row.name}")
    if given.codes is not None:
        store.set_members(recorder, row, [book.code(one).id for one in given.codes])
    if given.colour is not None:
        store.colour_members(recorder, book, row, given.colour)
    name = row.name if given.name is None else given.name
    store.rename_group(recorder, row, name, given.revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.delete("/groups/{group_id}")
def delete_group(desk: Writing, group_id: int, revision: Seen) -> s.Done:
    """Its codes stay."""
    hold_codebook(desk.session, desk.project)
    row = store.group_of(desk.session, desk.project.id, group_id)
    recorder = desk.recorder(f"Delete group {row.name}")
    store.delete_group(recorder, row, revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.get("/versions")
def versions(desk: Reading) -> list[c.CodebookVersionPublic]:
    """Kept versions, the newest first."""
    now = store.content_of(desk.session, codebook_of(desk.session, desk.project.id), desk.project.id)
    return [
        c.CodebookVersionPublic(
            number=row.number,
            name=row.name,
            note=row.note,
            codes=len(row.content),
            made_by=who,
            made_at=row.made_at,
            now=row.content == now,
        )
        for row, who in store.versions_of(desk.session, desk.project.id)
    ]


@router.post("/versions", status_code=201)
def keep_version(desk: Writing, given: c.VersionKeep) -> c.CodebookVersionPublic:
    """Keep the codebook as it is now under a name."""
    if not given.name.strip():
        raise WinnowerError("Give the version a name.")
    hold_codebook(desk.session, desk.project)
    row = store.keep_version(desk.session, desk.project.id, desk.account.id, given.name, given.note)
    return c.CodebookVersionPublic(
        number=row.number,
        name=row.name,
        note=row.note,
        codes=len(row.content),
        made_by=desk.account.full_name,
        made_at=row.made_at,
        now=True,
    )


@router.get("/versions/{number}/differences")
def differences(desk: Reading, number: int) -> c.CodebookTaken:
    """What putting a version back would do."""
    row = store.version_numbered(desk.session, desk.project.id, number)
    book = codebook_of(desk.session, desk.project.id)
    given = store.as_given(row.content)
    wanted = {one.path for one in given.codes}
    gone = [
        c.CodebookStep(path=list(path), state="gone", changes=[], groups=[])
        for path in (book.tree.path(one.id) for one in book.codes)
        if path not in wanted
    ]
    told = _told(desk, book, given)
    return told.model_copy(update={"steps": [*told.steps, *gone]})


@router.post("/versions/{number}/put-back")
def put_back(desk: Writing, number: int) -> s.Done:
    """Make the codebook what it was; codes that are in both keep their passages. Undo brings back the rest."""
    book = hold_codebook(desk.session, desk.project)
    row = store.version_numbered(desk.session, desk.project.id, number)
    store.keep_version(desk.session, desk.project.id, desk.account.id)
    recorder = desk.recorder(f"Put back version {number} of the codebook")
    store.put_back(recorder, book, store.as_given(row.content))
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/import")
def import_codebook(
    desk: Writing,
    file: Annotated[UploadFile, File()],
    try_only: bool = True,
    head: bool | None = None,
    groups: bool = True,
) -> c.CodebookTaken:
    """Codes from a table or the open exchange format: told first, taken over where ``try_only`` is false. ``head``
    says whether a table's first row names its columns; without ``groups`` other columns are left."""
    content = file.file.read(MAX_FILE_BYTES + 1)
    if len(content) > MAX_FILE_BYTES:
        raise WinnowerError(f"A codebook file can have at most {MAX_FILE_BYTES:,} bytes.")
    name = file.filename or "codebook.csv"
    given: CodebookGiven = desk.house.apart.call("codebook", content, name, head)
    if not groups:
        given = given.without_groups()
    if try_only:
        return _told(desk, codebook_of(desk.session, desk.project.id), given)
    book = hold_codebook(desk.session, desk.project)
    told = _told(desk, book, given)
    recorder = desk.recorder(f"Take over codes from {name[:200]}")
    with codes_followed(recorder):
        store.take_over(recorder, book, given)
    recorder.save()
    return told.model_copy(update={"label": recorder.label})


def _told(desk: Desk, book: Codebook, given: CodebookGiven) -> c.CodebookTaken:
    known = {row.name for row, _ in store.groups_of(desk.session, desk.project.id)}
    return c.CodebookTaken(
        steps=[
            c.CodebookStep(
                path=list(one.given.path),
                state=one.state,  # type: ignore[arg-type]
                changes=sorted(one.values) if one.state == "changed" else [],
                groups=list(one.given.groups),
            )
            for one in store.steps_to(book, given)
        ],
        groups_new=[name for name in given.groups if name not in known],
        groups_known=[name for name in given.groups if name in known],
        refused=_refused(given.refused),
        doubles=given.doubles,
    )


def _refused(refused: Sequence[tuple[int, str]]) -> list[str]:
    told = [f"Row {row}: {reason}" for row, reason in refused[:SHOWN_REFUSED]]
    return told + ([f"{len(refused) - SHOWN_REFUSED:,} more rows."] if len(refused) > SHOWN_REFUSED else [])
