"""What goes with coding: questions kept under a name, passages whose words are gone, and how far each coder is."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.store.history import Recorder
from winnower.store.models import (
    Account,
    CodeRow,
    CodingDone,
    Delivery,
    KeptQuestion,
    LostPassage,
    PassageRow,
    TextRow,
)


def questions_of(session: Session, project_id: int) -> list[KeptQuestion]:
    """Kept questions by name."""
    asked = select(KeptQuestion).where(KeptQuestion.project_id == project_id)
    return list(session.scalars(asked.order_by(KeptQuestion.name)))


def question_of(session: Session, project_id: int, question_id: int) -> KeptQuestion:
    """Raises NotFound."""
    row = session.get(KeptQuestion, question_id)
    if row is None or row.project_id != project_id:
        raise NotFound("This question is no longer kept; somebody may have deleted it.")
    return row


def keep_question(recorder: Recorder, name: str, question: dict[str, Any]) -> KeptQuestion:
    """Keep a question under a name; one of that name is asked so from now on. Raises WinnowerError."""
    name = " ".join(name.split())
    if not name:
        raise WinnowerError("Give the question a name.")
    if len(name) > 200:
        raise WinnowerError(f"A question's name can have at most 200 characters; this one has {len(name)}.")
    row = recorder.session.scalar(
        select(KeptQuestion).where(KeptQuestion.project_id == recorder.project_id, KeptQuestion.name == name)
    )
    if row is not None:
        recorder.update(row, {"question": question})
        return row
    made: KeptQuestion = recorder.insert(
        KeptQuestion(
            project_id=recorder.project_id, name=name, question=question, made_by=recorder.account_id
        )
    )
    return made


def lost_passages(session: Session, project_id: int) -> list[tuple[LostPassage, str, str, str]]:
    """(passage, code, title of its text, coder) of passages whose words are gone, by text and place."""
    rows = session.execute(
        select(LostPassage, CodeRow.name, TextRow.title, Account.full_name)
        .join(CodeRow, CodeRow.id == LostPassage.code_id)
        .join(TextRow, TextRow.id == LostPassage.text_id)
        .join(Delivery, Delivery.id == TextRow.delivery_id)
        .join(Account, Account.id == LostPassage.made_by)
        .where(TextRow.project_id == project_id, Delivery.state == "done")
        .order_by(TextRow.title, LostPassage.text_id, LostPassage.was_at)
    )
    return [(row[0], row[1], row[2], row[3]) for row in rows]


def lost_of(session: Session, project_id: int, lost_id: int) -> LostPassage:
    """Raises NotFound."""
    row = session.scalar(
        select(LostPassage)
        .join(TextRow, TextRow.id == LostPassage.text_id)
        .where(LostPassage.id == lost_id, TextRow.project_id == project_id)
    )
    if row is None:
        raise NotFound("This passage is no longer listed; somebody may have put it elsewhere.")
    return row


def put_elsewhere(
    recorder: Recorder, lost: LostPassage, text_id: int, stretch: tuple[int, int]
) -> PassageRow:
    """Put what a lost passage held on other words, as its coder's. Raises Conflict where these words have it."""
    double = recorder.session.scalar(
        select(PassageRow.id).where(
            PassageRow.text_id == text_id,
            PassageRow.code_id == lost.code_id,
            PassageRow.start == stretch[0],
            PassageRow.end == stretch[1],
            PassageRow.made_by == lost.made_by,
        )
    )
    if double is not None:
        raise Conflict("These words are under this code already.")
    row: PassageRow = recorder.insert(
        PassageRow(
            text_id=text_id,
            code_id=lost.code_id,
            start=stretch[0],
            end=stretch[1],
            strength=lost.strength,
            comment=lost.comment,
            made_by=lost.made_by,
        )
    )
    recorder.delete(lost)
    return row


def progress_of(
    session: Session, project_id: int, text_ids: Sequence[int]
) -> tuple[dict[int, int], dict[int, list[tuple[int, str]]]]:
    """Of some texts of a project: passages of each, and who is through with it."""
    counted = session.execute(
        select(PassageRow.text_id, func.count())
        .join(TextRow, TextRow.id == PassageRow.text_id)
        .where(PassageRow.text_id.in_(text_ids), TextRow.project_id == project_id)
        .group_by(PassageRow.text_id)
    )
    done: dict[int, list[tuple[int, str]]] = {}
    rows = session.execute(
        select(CodingDone.text_id, Account.id, Account.full_name)
        .join(Account, Account.id == CodingDone.made_by)
        .join(TextRow, TextRow.id == CodingDone.text_id)
        .where(CodingDone.text_id.in_(text_ids), TextRow.project_id == project_id)
        .order_by(Account.full_name)
    )
    for text_id, account_id, name in rows:
        done.setdefault(text_id, []).append((account_id, name))
    return {text_id: n for text_id, n in counted}, done


def done_by(session: Session, project_id: int, account_id: int) -> set[int]:
    """Ids of the texts this account is through with."""
    asked = (
        select(CodingDone.text_id)
        .join(TextRow, TextRow.id == CodingDone.text_id)
        .where(TextRow.project_id == project_id, CodingDone.made_by == account_id)
    )
    return set(session.scalars(asked))


def mark_done(recorder: Recorder, text_id: int, done: bool) -> None:
    """Say that this account is through with a text, or is not."""
    row = recorder.session.scalar(
        select(CodingDone).where(CodingDone.text_id == text_id, CodingDone.made_by == recorder.account_id)
    )
    if done and row is None:
        recorder.insert(CodingDone(text_id=text_id, made_by=recorder.account_id))
    elif row is not None and not done:
        recorder.delete(row)
