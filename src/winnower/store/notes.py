"""Notes: on texts, words, codes, passages, findings, questions and the project; and the quotes in them."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from sqlalchemy import ColumnElement, Select, func, or_, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from winnower.core.errors import NotFound, WinnowerError
from winnower.store.history import Recorder
from winnower.store.models import (
    Account,
    CodeRow,
    Delivery,
    FindingQuestion,
    FindingRow,
    NoteRow,
    QuoteRow,
    TextRow,
)
from winnower.store.texts import bodies

MAX_BODY = 200_000
On = Literal["project", "text", "passage", "code", "finding", "question"]
Sort = Literal["newest", "oldest", "kind", "author", "on"]
#: A quote in the Markdown of a note: the words are those of the text, what is written here is not shown.
QUOTE = re.compile(r"\[[^\]]*\]\(quote:(\d+)\)")


@dataclass(frozen=True)
class Asked:
    """Which notes: with these words in title or body, of a type (None: any), by an account, on a kind of thing,
    on a code, on a text; ``ids`` alone where they are given."""

    find: str = ""
    kind: str | None = None
    author: int | None = None
    on: On | None = None
    code_id: int | None = None
    text_id: int | None = None
    finding_id: int | None = None
    question_id: int | None = None
    ids: tuple[int, ...] | None = None
    sort: Sort = "newest"


@dataclass(frozen=True)
class Note:
    """A note with the names of what it hangs on."""

    row: NoteRow
    author: str
    text_title: str | None
    code_name: str | None
    finding_title: str | None
    question_words: str | None


def _who() -> ColumnElement[str]:
    return func.coalesce(Account.full_name, NoteRow.author)


def _notes(project_id: int) -> Select[NoteRow, str, str, str, str, str]:
    """Notes of a project but for those on texts that are not part of it now."""
    return (
        select(NoteRow, _who(), TextRow.title, CodeRow.name, FindingRow.title, FindingQuestion.words)
        .outerjoin(Account, Account.id == NoteRow.made_by)
        .outerjoin(TextRow, TextRow.id == NoteRow.text_id)
        .outerjoin(Delivery, Delivery.id == TextRow.delivery_id)
        .outerjoin(CodeRow, CodeRow.id == NoteRow.code_id)
        .outerjoin(FindingRow, FindingRow.id == NoteRow.finding_id)
        .outerjoin(FindingQuestion, FindingQuestion.id == NoteRow.question_id)
        .where(NoteRow.project_id == project_id, or_(NoteRow.text_id.is_(None), Delivery.state == "done"))
    )


_ON: dict[str, tuple[ColumnElement[bool], ...]] = {
    "project": tuple(
        column.is_(None)
        for column in (NoteRow.text_id, NoteRow.code_id, NoteRow.finding_id, NoteRow.question_id)
    ),
    "finding": (NoteRow.finding_id.is_not(None),),
    "question": (NoteRow.question_id.is_not(None),),
    "text": (NoteRow.text_id.is_not(None), NoteRow.start.is_(None)),
    "passage": (NoteRow.text_id.is_not(None), NoteRow.start.is_not(None)),
    "code": (NoteRow.code_id.is_not(None), NoteRow.text_id.is_(None)),
}


def _where(asked: Asked) -> list[ColumnElement[bool]]:
    out: list[ColumnElement[bool]] = []
    if asked.ids is not None:
        out.append(NoteRow.id.in_(asked.ids))
    if asked.find.strip():
        words = asked.find.strip().lower()
        columns = (func.lower(NoteRow.title), func.lower(NoteRow.body))
        out.append(or_(*(column.contains(words, autoescape=True) for column in columns)))
    if asked.kind is not None:
        out.append(NoteRow.kind == asked.kind)
    if asked.author is not None:
        out.append(NoteRow.made_by == asked.author)
    if asked.on is not None:
        out += _ON[asked.on]
    if asked.code_id is not None:
        out.append(NoteRow.code_id == asked.code_id)
    if asked.text_id is not None:
        out.append(NoteRow.text_id == asked.text_id)
    if asked.finding_id is not None:
        out.append(NoteRow.finding_id == asked.finding_id)
    if asked.question_id is not None:
        out.append(NoteRow.question_id == asked.question_id)
    return out


_SORTS: dict[str, tuple[Any, ...]] = {
    "newest": (NoteRow.made_at.desc(), NoteRow.id.desc()),
    "oldest": (NoteRow.made_at, NoteRow.id),
    "kind": (NoteRow.kind == "", NoteRow.kind, NoteRow.made_at.desc(), NoteRow.id.desc()),
    "author": (_who(), NoteRow.made_at.desc(), NoteRow.id.desc()),
    # those on a whole text before those on its words
    "on": (
        TextRow.title,
        TextRow.id,
        CodeRow.name,
        FindingQuestion.words,
        FindingRow.title,
        NoteRow.start.is_not(None),
        NoteRow.start,
        NoteRow.id,
    ),
}


def notes_of(
    session: Session, project_id: int, asked: Asked, start: int = 0, most: int = 60
) -> tuple[list[Note], int]:
    """Some of the notes asked for, in order, and how many there are."""
    query = _notes(project_id).where(*_where(asked))
    total = session.scalar(select(func.count()).select_from(query.order_by(None).subquery())) or 0
    rows = session.execute(query.order_by(*_SORTS[asked.sort]).offset(start).limit(most))
    return [Note(*row) for row in rows], total


def on_words(session: Session, project_id: int, text_ids: Collection[int]) -> dict[int, list[Note]]:
    """Notes on words of some texts, by text, in the order of the words."""
    query = _notes(project_id).where(NoteRow.text_id.in_(text_ids), NoteRow.start.is_not(None))
    found: dict[int, list[Note]] = {}
    for row in session.execute(query.order_by(NoteRow.text_id, NoteRow.start, NoteRow.id)):
        found.setdefault(row[0].text_id or 0, []).append(Note(*row))
    return found


def kinds_and_authors(
    session: Session, project_id: int
) -> tuple[list[tuple[str, int]], list[tuple[int, str, int]]]:
    """Types with how many notes each has, and (account, name, notes) of whoever wrote some."""
    some = _notes(project_id).order_by(None).subquery()
    kinds = session.execute(select(some.c.kind, func.count()).group_by(some.c.kind).order_by(some.c.kind))
    authors = session.execute(
        select(Account.id, Account.full_name, func.count())
        .join(some, some.c.made_by == Account.id)
        .group_by(Account.id, Account.full_name)
        .order_by(Account.full_name)
    )
    return [(k, n) for k, n in kinds], [(i, name, n) for i, name, n in authors]


def note_of(session: Session, project_id: int, note_id: int) -> NoteRow:
    """Raises NotFound where there is no such note in the project."""
    note = session.get(NoteRow, note_id)
    if note is None or note.project_id != project_id:
        raise NotFound("There is no such note here any more; somebody may have deleted it.")
    return note


def make_note(recorder: Recorder, author: str, body: str, **hangs: Any) -> NoteRow:
    """A note; ``hangs`` says on what, and its type and title. Raises WinnowerError for a body that is too long."""
    row: NoteRow = recorder.insert(
        NoteRow(
            project_id=recorder.project_id,
            author=author,
            body=checked(body),
            made_by=recorder.account_id,
            **hangs,
        )
    )
    return row


def change_note(recorder: Recorder, note: NoteRow, values: dict[str, Any], revision: int | None) -> None:
    """Write, retype, hang elsewhere. Quotes that are no longer in it go; those that came from another note
    become its own. Raises Conflict, WinnowerError."""
    if "body" in values:
        values["body"] = _with_own_quotes(recorder, note, checked(values["body"]))
    recorder.update(note, values, revision)


def delete_note(recorder: Recorder, note: NoteRow, revision: int | None = None) -> None:
    for quote in recorder.session.scalars(select(QuoteRow).where(QuoteRow.note_id == note.id)).all():
        recorder.delete(quote)
    recorder.delete(note, revision)


def hang_on_nothing(recorder: Recorder, column: InstrumentedAttribute[int | None], value: int) -> None:
    """Notes on a finding or question that goes hang on the project then; with it they come back."""
    for note in recorder.session.scalars(select(NoteRow).where(column == value)).all():
        recorder.update(note, {column.key: None})


def checked(body: str) -> str:
    if len(body) > MAX_BODY:
        raise WinnowerError(
            f"A note can have at most {MAX_BODY:,} characters; this one has {len(body):,}. Nothing was kept of it "
            "yet: shorten it, or import it as a text."
        )
    return body.strip()


def _with_own_quotes(recorder: Recorder, note: NoteRow, body: str) -> str:
    session = recorder.session
    wanted = [int(one) for one in QUOTE.findall(body)]
    quotes = quotes_by_id(session, note.project_id, wanted)
    for quote_id, quote in quotes.items():
        if quote.note_id != note.id:
            copy = QuoteRow(
                note_id=note.id, text_id=quote.text_id, start=quote.start, end=quote.end, words=quote.words
            )
            own = recorder.insert(copy)
            body = body.replace(f"(quote:{quote_id})", f"(quote:{own.id})")
    mine = select(QuoteRow).where(QuoteRow.note_id == note.id)
    kept = {int(one) for one in QUOTE.findall(body)}
    for quote in session.scalars(mine).all():
        if quote.id not in kept:
            recorder.delete(quote)
    return body


def quotes_by_id(session: Session, project_id: int, ids: Collection[int]) -> dict[int, QuoteRow]:
    """Quotes of notes of a project."""
    asked = (
        select(QuoteRow)
        .join(NoteRow, NoteRow.id == QuoteRow.note_id)
        .where(QuoteRow.id.in_(set(ids)), NoteRow.project_id == project_id)
    )
    return {row.id: row for row in session.scalars(asked)}


def quotes_in(session: Session, notes: Iterable[NoteRow]) -> dict[int, list[QuoteRow]]:
    """The quotes of each note, in the order of their ids."""
    ids = [note.id for note in notes]
    out: dict[int, list[QuoteRow]] = {note_id: [] for note_id in ids}
    for row in session.scalars(select(QuoteRow).where(QuoteRow.note_id.in_(ids)).order_by(QuoteRow.id)):
        out[row.note_id].append(row)
    return out


def add_quotes(recorder: Recorder, note: NoteRow, places: Sequence[tuple[int, int, int]]) -> None:
    """Pull stretches of texts (text, start, end) into a note, at its end. Raises WinnowerError for a stretch
    outside its text."""
    body = bodies(recorder.session, [text_id for text_id, _, _ in places])
    lines = []
    for text_id, start, end in places:
        words = body.get(text_id, "")[start:end]
        if not words.strip():
            raise WinnowerError("There are no words in what was to be quoted.")
        row = recorder.insert(QuoteRow(note_id=note.id, text_id=text_id, start=start, end=end, words=words))
        lines.append(f"[quote](quote:{row.id})")
    recorder.update(note, {"body": checked("\n\n".join([note.body, *lines]))})
