"""Paraphrases: what stretches of texts say, in a reader's own words."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from typing import Any, Literal

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound, WinnowerError
from winnower.store.codebook import Codebook
from winnower.store.history import Recorder
from winnower.store.models import Account, Delivery, ParaphraseRow, PassageRow, Source, TextRow
from winnower.store.passages import code_stretch

MAX_BODY = 5_000
Sort = Literal["text", "source", "newest", "words"]


def _paraphrases(project_id: int) -> Select[ParaphraseRow, str, str, str, dt.date | None]:
    return (
        select(ParaphraseRow, Account.full_name, TextRow.title, Source.name, TextRow.date)
        .join(Account, Account.id == ParaphraseRow.made_by)
        .join(TextRow, TextRow.id == ParaphraseRow.text_id)
        .join(Delivery, Delivery.id == TextRow.delivery_id)
        .outerjoin(Source, Source.id == TextRow.source_id)
        .where(TextRow.project_id == project_id, Delivery.state == "done")
    )


_SORTS: dict[str, tuple[Any, ...]] = {
    "text": (TextRow.title, TextRow.id, ParaphraseRow.start, ParaphraseRow.id),
    "source": (Source.name, TextRow.date, TextRow.id, ParaphraseRow.start, ParaphraseRow.id),
    "newest": (ParaphraseRow.made_at.desc(), ParaphraseRow.id.desc()),
    "words": (func.lower(ParaphraseRow.body), ParaphraseRow.id),
}


def paraphrases_of(
    session: Session,
    project_id: int,
    *,
    text_id: int | None = None,
    source: str | None = None,
    author: int | None = None,
    find: str = "",
    sort: Sort = "text",
    start: int = 0,
    most: int = 100,
) -> tuple[list[tuple[ParaphraseRow, str, str, str | None, Any]], int]:
    """(paraphrase, who, title, source, date) of some of those asked for, and how many there are."""
    asked = _paraphrases(project_id)
    if text_id is not None:
        asked = asked.where(ParaphraseRow.text_id == text_id)
    if source is not None:
        asked = asked.where(Source.name == source)
    if author is not None:
        asked = asked.where(ParaphraseRow.made_by == author)
    if find.strip():
        asked = asked.where(func.lower(ParaphraseRow.body).contains(find.strip().lower(), autoescape=True))
    total = session.scalar(select(func.count()).select_from(asked.subquery())) or 0
    rows = session.execute(asked.order_by(*_SORTS[sort]).offset(start).limit(most))
    return [(row[0], row[1], row[2], row[3], row[4]) for row in rows], total


def paraphrase_of(session: Session, project_id: int, paraphrase_id: int) -> ParaphraseRow:
    """Raises NotFound."""
    row = session.scalar(
        select(ParaphraseRow)
        .join(TextRow, TextRow.id == ParaphraseRow.text_id)
        .where(ParaphraseRow.id == paraphrase_id, TextRow.project_id == project_id)
    )
    if row is None:
        raise NotFound("This paraphrase is no longer there; somebody may have deleted it.")
    return row


def written(body: str) -> str:
    """Raises WinnowerError for no words, or too many."""
    body = body.strip()
    if not body:
        raise WinnowerError("A paraphrase needs words.")
    if len(body) > MAX_BODY:
        raise WinnowerError(
            f"A paraphrase can have at most {MAX_BODY:,} characters; this one has {len(body):,}."
        )
    return body


def make_paraphrase(recorder: Recorder, text_id: int, stretch: tuple[int, int], body: str) -> ParaphraseRow:
    row: ParaphraseRow = recorder.insert(
        ParaphraseRow(
            text_id=text_id,
            start=stretch[0],
            end=stretch[1],
            body=written(body),
            made_by=recorder.account_id,
        )
    )
    return row


def gather(
    recorder: Recorder, book: Codebook, code_id: int, paraphrase_ids: Sequence[int]
) -> list[PassageRow]:
    """Put the words of paraphrases under a code. Raises WinnowerError where none of them has words any more."""
    code = book.code(code_id)
    rows = recorder.session.scalars(
        select(ParaphraseRow)
        .join(TextRow, TextRow.id == ParaphraseRow.text_id)
        .where(
            ParaphraseRow.id.in_(paraphrase_ids),
            ParaphraseRow.start.is_not(None),
            TextRow.project_id == recorder.project_id,
        )
        .order_by(ParaphraseRow.text_id, ParaphraseRow.start)
    ).all()
    if not rows:
        raise WinnowerError(
            "None of these paraphrases stands on words of a text any more. Nothing was changed."
        )
    out: list[PassageRow] = []
    for row in rows:
        if row.start is not None and row.end is not None:
            out += code_stretch(recorder, row.text_id, (row.start, row.end), [code])
    return out


def codes_on(session: Session, rows: Sequence[ParaphraseRow]) -> dict[int, set[int]]:
    """The codes that somebody gave to the very words of each paraphrase."""
    asked = (
        select(ParaphraseRow.id, PassageRow.code_id)
        .join(
            PassageRow,
            (PassageRow.text_id == ParaphraseRow.text_id)
            & (PassageRow.start == ParaphraseRow.start)
            & (PassageRow.end == ParaphraseRow.end),
        )
        .where(ParaphraseRow.id.in_([row.id for row in rows]))
    )
    out: dict[int, set[int]] = {row.id: set() for row in rows}
    for paraphrase_id, code_id in session.execute(asked):
        out[paraphrase_id].add(code_id)
    return out
