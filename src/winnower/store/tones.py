"""Lists of words for tone: made, changed word by word, kept as versions."""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.tone import ToneWords, shipped
from winnower.core.tone.words import MOST_WORDS, ROLES, Base, Role, checked
from winnower.store.history import Recorder
from winnower.store.models import CodingRun, ToneListRow, ToneVersion

MOST_NAME = 200


def lists_of(session: Session, project_id: int) -> list[ToneListRow]:
    """All lists of a project by name."""
    asked = select(ToneListRow).where(ToneListRow.project_id == project_id).order_by(ToneListRow.name)
    return list(session.scalars(asked))


def list_in(session: Session, project_id: int, list_id: int) -> ToneListRow:
    """Raises NotFound."""
    row = session.get(ToneListRow, list_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such word list for tone in this project any more.")
    return row


def words_of(row: ToneListRow | ToneVersion) -> ToneWords:
    """The words of a list, or of a version of it."""
    return shipped(row.base).changed(row.changes)


def make_list(recorder: Recorder, name: str, base: Base) -> ToneListRow:
    """A list that begins as one that ships. Raises WinnowerError for a bad name, Conflict for a taken one."""
    row: ToneListRow = recorder.insert(
        ToneListRow(
            project_id=recorder.project_id,
            name=_free(recorder, name),
            base=base,
            changes={role: {} for role in ROLES},
            made_by=recorder.account_id,
        )
    )
    return row


def rename_list(recorder: Recorder, row: ToneListRow, name: str, revision: int | None) -> None:
    if " ".join(name.split()) != row.name:
        recorder.update(row, {"name": _free(recorder, name)}, revision)


def _free(recorder: Recorder, name: str) -> str:
    name = " ".join(name.split())
    if not name or len(name) > MOST_NAME:
        raise WinnowerError(f"Give the list a name of at most {MOST_NAME} letters.")
    taken = select(ToneListRow.id).where(
        ToneListRow.project_id == recorder.project_id, ToneListRow.name == name
    )
    if recorder.session.scalar(taken) is not None:
        raise Conflict(f"There is a word list named “{name}” already.")
    return name


def delete_list(recorder: Recorder, row: ToneListRow) -> None:
    """Raises Conflict where a run was made with it: its scores could not be traced any more."""
    for run in recorder.session.scalars(select(CodingRun).where(CodingRun.project_id == recorder.project_id)):
        finder = run.recipe.get("finder", {})
        if finder.get("kind") == "tone" and finder.get("words") == row.id:
            raise Conflict(f"The run “{run.name}” was made with this list. Remove the run for good first.")
    recorder.delete(row)


def set_words(recorder: Recorder, row: ToneListRow, given: Iterable[tuple[str, str, float | None]]) -> int:
    """Give words (role, word, value) their values, or take them out with None; how many that changes. Raises
    WinnowerError for what has no place in a list."""
    base, now = shipped(row.base), words_of(row)
    changes: dict[str, dict[str, float | None]] = {role: dict(row.changes.get(role, {})) for role in ROLES}
    changed = 0
    for role, word, value in given:
        kept, number = checked(role, word, value)
        known: Role = role  # type: ignore[assignment]
        if now.value_of(known, kept) == number:
            continue
        changed += 1
        if base.value_of(known, kept) == number:
            changes[role].pop(kept, None)
        else:
            changes[role][kept] = number
    if sum(map(len, changes.values())) > MOST_WORDS:
        raise WinnowerError(f"A list can have at most {MOST_WORDS:,} words of its own.")
    if changed:
        recorder.update(row, {"changes": changes})
    return changed


def keep_version(session: Session, row: ToneListRow, account_id: int) -> int:
    """Keep the present state as a version where it is none yet; its number."""
    fingerprint = words_of(row).fingerprint()
    known = select(ToneVersion.number).where(
        ToneVersion.tone_list_id == row.id, ToneVersion.fingerprint == fingerprint
    )
    if (number := session.scalar(known)) is not None:
        return number
    newest = select(func.max(ToneVersion.number)).where(ToneVersion.tone_list_id == row.id)
    try:
        with session.begin_nested():
            version = ToneVersion(
                tone_list_id=row.id,
                number=(session.scalar(newest) or 0) + 1,
                fingerprint=fingerprint,
                base=row.base,
                changes=row.changes,
                made_by=account_id,
            )
            session.add(version)
        return version.number
    except IntegrityError:
        return session.scalar(known.with_for_update()) or 0


def newest_version(session: Session, row: ToneListRow) -> tuple[int | None, bool]:
    """The version the list is at now, and True; of one that was changed since, the newest, and False."""
    of_list = select(ToneVersion.number).where(ToneVersion.tone_list_id == row.id)
    now = session.scalar(of_list.where(ToneVersion.fingerprint == words_of(row).fingerprint()))
    if now is not None:
        return now, True
    return session.scalar(of_list.order_by(ToneVersion.number.desc()).limit(1)), False


def words_for(session: Session, project_id: int, list_id: int | None) -> ToneWords:
    """The words a recipe names: those of a list as it is now, or those that ship. Raises NotFound."""
    return shipped("english") if list_id is None else words_of(list_in(session, project_id, list_id))


def words_at(session: Session, list_id: int | None, version: int | None) -> ToneWords:
    """The words a run was made with; those of today where it has no version."""
    if list_id is None:
        return shipped("english")
    row = session.scalar(
        select(ToneVersion).where(ToneVersion.tone_list_id == list_id, ToneVersion.number == version)
    )
    if row is not None:
        return words_of(row)
    listed = session.get(ToneListRow, list_id)
    return shipped("english") if listed is None else words_of(listed)
