"""Samples drawn for judging, and verdicts on hits and on texts without one."""

from __future__ import annotations

import datetime as dt

import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound
from winnower.store.history import Recorder
from winnower.store.models import Account, Judgement, JudgingSample

VERDICT_SCHEMA = {
    "text_id": pl.Int64,
    "start": pl.Int32,
    "end": pl.Int32,
    "verdict": pl.Int8,
    "made_by": pl.Int64,
}


def keep_sample(session: Session, sample: JudgingSample) -> JudgingSample:
    session.add(sample)
    session.flush()
    session.refresh(sample)
    return sample


def sample_in(session: Session, project_id: int, sample_id: int) -> JudgingSample:
    """Raises NotFound."""
    row = session.get(JudgingSample, sample_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such sample in this project.")
    return row


def samples_of(session: Session, project_id: int, category_id: int) -> list[tuple[JudgingSample, str]]:
    """Samples of a category, the newest first, with who drew each."""
    rows = session.execute(
        select(JudgingSample, Account.full_name)
        .join(Account, Account.id == JudgingSample.made_by)
        .where(JudgingSample.project_id == project_id, JudgingSample.category_id == category_id)
        .order_by(JudgingSample.id.desc())
        .limit(50)
    )
    return [(row[0], row[1]) for row in rows]


def verdicts(session: Session, category_ids: list[int], kind: str) -> dict[int, pl.DataFrame]:
    """All verdicts of some categories by category, see VERDICT_SCHEMA; one query."""
    rows = session.execute(
        select(
            Judgement.category_id,
            Judgement.text_id,
            Judgement.start,
            Judgement.end,
            Judgement.verdict,
            Judgement.made_by,
        ).where(Judgement.category_id.in_(category_ids), Judgement.kind == kind)
    ).all()
    out: dict[int, list[tuple]] = {category_id: [] for category_id in category_ids}
    for category_id, *values in rows:
        out[category_id].append(tuple(values))
    return {
        category_id: pl.DataFrame(values, schema=VERDICT_SCHEMA, orient="row")
        for category_id, values in out.items()
    }


def verdicts_in_texts(
    session: Session, category_id: int, kind: str, text_ids: list[int]
) -> list[tuple[Judgement, str]]:
    """Verdicts on some texts with who gave them, the oldest first."""
    rows = session.execute(
        select(Judgement, Account.full_name)
        .join(Account, Account.id == Judgement.made_by)
        .where(Judgement.category_id == category_id, Judgement.kind == kind, Judgement.text_id.in_(text_ids))
        .order_by(Judgement.id)
    )
    return [(row[0], row[1]) for row in rows]


def all_verdicts(session: Session, category_id: int, kind: str) -> list[tuple[Judgement, str]]:
    """All verdicts on a category with who gave them, by text and place, the oldest first."""
    rows = session.execute(
        select(Judgement, Account.full_name)
        .join(Account, Account.id == Judgement.made_by)
        .where(Judgement.category_id == category_id, Judgement.kind == kind)
        .order_by(Judgement.text_id, Judgement.start, Judgement.end, Judgement.id)
    )
    return [(row[0], row[1]) for row in rows]


def judge(
    recorder: Recorder,
    *,
    category_id: int,
    kind: str,
    place: tuple[int, int, int],
    verdict: int | None,
    term: str,
    version: int,
) -> None:
    """Note this person's verdict on words (text, start, end), or take it back with None."""
    text_id, start, end = place
    row = recorder.session.scalar(
        select(Judgement).where(
            Judgement.category_id == category_id,
            Judgement.kind == kind,
            Judgement.text_id == text_id,
            Judgement.start == start,
            Judgement.end == end,
            Judgement.made_by == recorder.account_id,
        )
    )
    if verdict is None:
        if row is not None:
            recorder.delete(row)
    elif row is None:
        recorder.insert(
            Judgement(
                project_id=recorder.project_id,
                category_id=category_id,
                kind=kind,
                text_id=text_id,
                start=start,
                end=end,
                verdict=verdict,
                term=term,
                version=version,
                made_by=recorder.account_id,
            )
        )
    else:
        now = dt.datetime.now(dt.UTC).replace(tzinfo=None)
        changed = {"verdict": verdict, "version": version, "term": term or row.term, "made_at": now}
        recorder.update(row, changed)


def judges_of(session: Session, category_id: int) -> list[str]:
    """Names of the people who gave verdicts."""
    names = (
        select(Account.full_name)
        .join(Judgement, Judgement.made_by == Account.id)
        .where(Judgement.category_id == category_id)
        .distinct()
        .order_by(Account.full_name)
    )
    return list(session.scalars(names))
