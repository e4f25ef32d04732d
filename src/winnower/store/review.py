"""Samples drawn for review, and verdicts on places and on texts without one; over any subject."""

from __future__ import annotations

import datetime as dt
from collections.abc import Collection

import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound
from winnower.store.history import Recorder
from winnower.store.models import Account, ReviewSample, VerdictRow
from winnower.store.subjects import Named, Subject

VERDICT_SCHEMA = {
    "text_id": pl.Int64,
    "start": pl.Int32,
    "end": pl.Int32,
    "verdict": pl.Int8,
    "made_by": pl.Int64,
}


def keep_sample(session: Session, sample: ReviewSample) -> ReviewSample:
    session.add(sample)
    session.flush()
    session.refresh(sample)
    return sample


def sample_in(session: Session, project_id: int, sample_id: int) -> tuple[ReviewSample, str]:
    """A sample, and who drew it. Raises NotFound."""
    found = session.execute(
        select(ReviewSample, Account.full_name)
        .join(Account, Account.id == ReviewSample.made_by)
        .where(ReviewSample.id == sample_id, ReviewSample.project_id == project_id)
    ).first()
    if found is None:
        raise NotFound("There is no such sample in this project.")
    return found[0], found[1]


def samples_of(session: Session, project_id: int, subject: Subject) -> list[tuple[ReviewSample, str]]:
    """Samples of a subject, the newest first, with who drew each."""
    rows = session.execute(
        select(ReviewSample, Account.full_name)
        .join(Account, Account.id == ReviewSample.made_by)
        .where(
            ReviewSample.project_id == project_id,
            ReviewSample.subject == subject.kind,
            ReviewSample.subject_id == subject.id,
        )
        .order_by(ReviewSample.id.desc())
        .limit(50)
    )
    return [(row[0], row[1]) for row in rows]


def judged_keys(session: Session, samples: Collection[ReviewSample]) -> dict[int, set[tuple[int, int, int]]]:
    """The judged places of some samples of one subject, by sample; one query."""
    if not samples:
        return {}
    first = next(iter(samples))
    ids = {item[0] for sample in samples for item in sample.items}
    rows = session.execute(
        select(VerdictRow.kind, VerdictRow.text_id, VerdictRow.start, VerdictRow.end).where(
            VerdictRow.subject == first.subject,
            VerdictRow.subject_id == first.subject_id,
            VerdictRow.text_id.in_(ids),
        )
    ).all()
    return {
        sample.id: {(row.text_id, row.start, row.end) for row in rows if row.kind == sample.kind}
        for sample in samples
    }


def verdicts(session: Session, subject: str, ids: Collection[int], kind: str) -> dict[int, pl.DataFrame]:
    """All verdicts on some subjects of a kind by their ids, see VERDICT_SCHEMA; one query."""
    rows = session.execute(
        select(
            VerdictRow.subject_id,
            VerdictRow.text_id,
            VerdictRow.start,
            VerdictRow.end,
            VerdictRow.verdict,
            VerdictRow.made_by,
        ).where(VerdictRow.subject == subject, VerdictRow.subject_id.in_(ids), VerdictRow.kind == kind)
    ).all()
    out: dict[int, list[tuple[int, ...]]] = {one: [] for one in ids}
    for subject_id, *values in rows:
        out[subject_id].append(tuple(values))
    return {one: pl.DataFrame(values, schema=VERDICT_SCHEMA, orient="row") for one, values in out.items()}


def verdicts_with_names(
    session: Session, subject: str, subject_id: int, kind: str, text_ids: Collection[int] | None = None
) -> list[tuple[VerdictRow, str]]:
    """Verdicts, of some texts or all, with who gave them: by text and place, the oldest first."""
    asked = (
        select(VerdictRow, Account.full_name)
        .join(Account, Account.id == VerdictRow.made_by)
        .where(VerdictRow.subject == subject, VerdictRow.subject_id == subject_id, VerdictRow.kind == kind)
        .order_by(VerdictRow.text_id, VerdictRow.start, VerdictRow.end, VerdictRow.id)
    )
    if text_ids is not None:
        asked = asked.where(VerdictRow.text_id.in_(text_ids))
    return [(row[0], row[1]) for row in session.execute(asked)]


def frame_of_rows(rows: Collection[tuple[VerdictRow, str]]) -> pl.DataFrame:
    """The same as a frame, see VERDICT_SCHEMA."""
    values = [(one.text_id, one.start, one.end, one.verdict, one.made_by) for one, _ in rows]
    return pl.DataFrame(values, schema=VERDICT_SCHEMA, orient="row")


def judge(
    recorder: Recorder,
    subject: Named,
    kind: str,
    place: tuple[int, int, int],
    verdict: int | None,
    *,
    found_by: str,
    version: int,
) -> None:
    """Note this person's verdict on words (text, start, end), or take it back with None."""
    text_id, start, end = place
    row = recorder.session.scalar(
        select(VerdictRow).where(
            VerdictRow.subject == subject.kind,
            VerdictRow.subject_id == subject.id,
            VerdictRow.kind == kind,
            VerdictRow.text_id == text_id,
            VerdictRow.start == start,
            VerdictRow.end == end,
            VerdictRow.made_by == recorder.account_id,
        )
    )
    if verdict is None:
        if row is not None:
            recorder.delete(row)
    elif row is None:
        recorder.insert(
            VerdictRow(
                project_id=recorder.project_id,
                subject=subject.kind,
                subject_id=subject.id,
                kind=kind,
                text_id=text_id,
                start=start,
                end=end,
                verdict=verdict,
                found_by=found_by,
                version=version,
                made_by=recorder.account_id,
            )
        )
    else:
        now = dt.datetime.now(dt.UTC).replace(tzinfo=None)
        changed = {
            "verdict": verdict,
            "version": version,
            "found_by": found_by or row.found_by,
            "made_at": now,
        }
        recorder.update(row, changed)


def move_verdicts(recorder: Recorder, subject: str, from_id: int, into_id: int) -> None:
    """Take verdicts on one subject along into another. A person's verdict on the same words in both: that of
    the one that stays."""
    rows = recorder.session.scalars(
        select(VerdictRow).where(VerdictRow.subject == subject, VerdictRow.subject_id.in_([from_id, into_id]))
    ).all()

    def words(row: VerdictRow) -> tuple[int, str, int, int, int]:
        return row.text_id, row.kind, row.start, row.end, row.made_by

    taken = {words(row) for row in rows if row.subject_id == into_id}
    for row in rows:
        if row.subject_id == from_id and words(row) not in taken:
            recorder.update(row, {"subject_id": into_id})


def judges_of(session: Session, subject: Subject) -> list[str]:
    """Names of the people who gave verdicts."""
    names = (
        select(Account.full_name)
        .join(VerdictRow, VerdictRow.made_by == Account.id)
        .where(VerdictRow.subject == subject.kind, VerdictRow.subject_id == subject.id)
        .distinct()
        .order_by(Account.full_name)
    )
    return list(session.scalars(names))
