"""Findings: views that were kept, with what they said that day and what they say now."""

from __future__ import annotations

import gzip
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import orjson
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.compare import Statement
from winnower.core.compare.targets import MethodPart, OfDictionary
from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.finding import (
    Answer,
    AnyView,
    Sheet,
    followed,
    sheets_from_plain,
    sheets_to_plain,
    view_from_plain,
    view_to_plain,
)
from winnower.core.finding.views import targets_of
from winnower.store.answering import Room, answered, kept_state
from winnower.store.dictionaries import dictionary_row, load_value
from winnower.store.finding_names import names_in, renamed_since, with_new_names
from winnower.store.history import Recorder, refuse_other_order
from winnower.store.models import Account, FindingQuestion, FindingRow, FindingSaid, NoteRow
from winnower.store.notes import hang_on_nothing

MOST_TITLE, MOST_REMARK, MOST_WORDS = 300, 100_000, 500


@dataclass(frozen=True)
class Said:
    """What a view said: the view with the states it was counted from, and its answer."""

    row: FindingSaid
    view: AnyView
    answer: Answer


@dataclass(frozen=True)
class Listed:
    """A finding with what it said, and who kept it."""

    row: FindingRow
    said: Said
    author: str


def listed(session: Session, project_id: int, finding_id: int | None = None) -> list[Listed]:
    """All findings of a project in their order, or one of them; one query. Raises ComparisonError where what was kept
    cannot be read."""
    asked = (
        select(FindingRow, FindingSaid, Account.full_name)
        .join(FindingSaid, FindingSaid.id == FindingRow.said_id)
        .join(Account, Account.id == FindingRow.made_by)
        .where(FindingRow.project_id == project_id)
        .order_by(FindingRow.place, FindingRow.id)
    )
    if finding_id is not None:
        asked = asked.where(FindingRow.id == finding_id)
    return [Listed(row, _unpacked(said), author) for row, said, author in session.execute(asked)]


def findings_of(session: Session, project_id: int, *, hold: bool = False) -> list[FindingRow]:
    """All findings of a project in their order; held until the end of the transaction, if wanted."""
    asked = select(FindingRow).where(FindingRow.project_id == project_id)
    if hold:
        asked = asked.with_for_update().execution_options(populate_existing=True)
    return list(session.scalars(asked.order_by(FindingRow.place, FindingRow.id)))


def questions_of(session: Session, project_id: int) -> list[FindingQuestion]:
    asked = select(FindingQuestion).where(FindingQuestion.project_id == project_id)
    return list(session.scalars(asked.order_by(FindingQuestion.place, FindingQuestion.id)))


def finding_in(session: Session, project_id: int, finding_id: int) -> FindingRow:
    """Raises NotFound."""
    row = session.get(FindingRow, finding_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such finding in this project any more.")
    return row


def question_in(session: Session, project_id: int, question_id: int) -> FindingQuestion:
    """Raises NotFound."""
    row = session.get(FindingQuestion, question_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such question in this project any more.")
    return row


def state_of(room: Room, view: AnyView, known: dict[int, str | None] | None = None) -> dict[str, Any]:
    """What an answer is counted from: states of texts, values and coding, and of each dictionary as it is now (None
    where it is gone). ``known`` holds those of dictionaries that were asked for already, and takes up new ones."""
    known = {} if known is None else known
    targets = targets_of(view)
    ids = {target.dictionary for target in targets if isinstance(target, OfDictionary)}
    for dictionary_id in ids - known.keys():
        known[dictionary_id] = _fingerprint(room, dictionary_id)
    coded = any(target.of_coding for target in targets)
    return {
        "texts": room.project.corpus_revision,
        "values": room.corpus.state.values,
        "coding": room.project.coding_revision if coded else None,
        "dictionaries": {str(dictionary_id): known[dictionary_id] for dictionary_id in sorted(ids)},
        "n_texts": room.corpus.index.n_texts // room.corpus.tiles,
    }


def _fingerprint(room: Room, dictionary_id: int) -> str | None:
    try:
        row = dictionary_row(room.session, room.project.id, dictionary_id)
    except NotFound:
        return None
    return load_value(room.session, row).fingerprint()


def say(room: Room, account_id: int, view: AnyView) -> FindingSaid:
    """Answer a view and keep what it says. Raises what ``answered`` does."""
    looking = room.looking(view)
    pinned, answer = answered(looking, kept_state(looking, account_id, view))
    row = FindingSaid(
        project_id=room.project.id,
        request=view_to_plain(pinned),
        state=state_of(looking, pinned) | {"names": names_in(looking, answer.sheets)},
        packed=_packed(answer),
        made_by=account_id,
    )
    room.session.add(row)
    room.session.flush()
    room.session.refresh(row)
    return row


def _packed(answer: Answer) -> bytes:
    whole = {
        "name": answer.name,
        "base": answer.base,
        "sheets": sheets_to_plain(answer.sheets),
        "statements": [[one.kind, one.headline, list(one.strong), one.details] for one in answer.statements],
        "method": [list(part) for part in answer.method],
    }
    return gzip.compress(orjson.dumps(whole), mtime=0)


def said_by(session: Session, finding: FindingRow) -> Said:
    """What a finding said when it was kept. Raises ComparisonError where it cannot be read."""
    return _unpacked(session.get_one(FindingSaid, finding.said_id))


def _unpacked(row: FindingSaid) -> Said:
    whole = orjson.loads(gzip.decompress(row.packed))
    answer = Answer(
        whole["name"],
        whole["base"],
        sheets_from_plain(whole["sheets"]),
        # those kept earlier have no details of their own
        tuple(
            Statement(kind, text, tuple(strong), *more) for kind, text, strong, *more in whole["statements"]
        ),
        tuple(MethodPart(*part) for part in whole["method"]),
    )
    return Said(row, view_from_plain(row.request), answer)


def asked_by(finding: FindingRow) -> AnyView:
    """The view of a finding as it is asked anew. Raises ComparisonError."""
    return view_from_plain(finding.request)


def said_in_names_of_now(room: Room, said: Said) -> tuple[Sheet, ...]:
    """The sheets a finding was kept with, with what has been renamed since called as now."""
    return with_new_names(said.answer.sheets, renamed_since(room, said.row.state.get("names")))


def says_now(room: Room, finding: FindingRow) -> tuple[AnyView, Answer]:
    """What the view of a finding answers now. Raises what ``answered`` does."""
    view = asked_by(finding)
    return answered(room.looking(view), view)


def keep_finding(
    recorder: Recorder,
    room: Room,
    view: AnyView,
    title: str,
    remark: str,
    drawn: dict[str, Any],
    question_id: int | None,
) -> FindingRow:
    """Keep a view with what it says now; it follows its instruments from then on. Raises what ``answered`` does."""
    said = say(room, recorder.account_id, view)
    last = select(func.max(FindingRow.place)).where(FindingRow.project_id == recorder.project_id)
    row: FindingRow = recorder.insert(
        FindingRow(
            project_id=recorder.project_id,
            question_id=question_id,
            place=(recorder.session.scalar(last) or 0) + 1,
            view=view.view,
            title=_titled(title),
            remark=_remarked(remark),
            request=view_to_plain(followed(view) if not _old(view) else view),
            drawn=drawn,
            said_id=said.id,
            made_by=recorder.account_id,
        )
    )
    return row


def _old(view: AnyView) -> bool:
    """Whether a state other than the present one was asked for on purpose: an old version stays what it is."""
    return any(isinstance(target, OfDictionary) and target.version is not None for target in targets_of(view))


def change_finding(recorder: Recorder, row: FindingRow, values: dict[str, Any], revision: int | None) -> None:
    """Title, remark, question, drawing, frozen. Raises Conflict, WinnowerError."""
    if "title" in values:
        values["title"] = _titled(values["title"])
    if "remark" in values:
        values["remark"] = _remarked(values["remark"])
    recorder.update(row, values, revision)


def bring_up_to_date(recorder: Recorder, room: Room, row: FindingRow) -> None:
    """What the view says now takes the place of what it said."""
    recorder.update(row, {"said_id": say(room, recorder.account_id, asked_by(row)).id})


def delete_finding(recorder: Recorder, row: FindingRow, revision: int | None = None) -> None:
    """The finding goes; notes on it stay, on the project."""
    hang_on_nothing(recorder, NoteRow.finding_id, row.id)
    recorder.delete(row, revision)


def _titled(title: str) -> str:
    title = " ".join(title.split())
    if not title or len(title) > MOST_TITLE:
        raise WinnowerError(f"Give the finding a title of at most {MOST_TITLE} letters.")
    return title


def _remarked(remark: str) -> str:
    if len(remark) > MOST_REMARK:
        raise WinnowerError(f"A remark can have at most {MOST_REMARK:,} characters.")
    return remark.strip()


def make_question(recorder: Recorder, words: str) -> FindingQuestion:
    last = select(func.max(FindingQuestion.place)).where(FindingQuestion.project_id == recorder.project_id)
    row: FindingQuestion = recorder.insert(
        FindingQuestion(
            project_id=recorder.project_id,
            words=_asked(words),
            place=(recorder.session.scalar(last) or 0) + 1,
        )
    )
    return row


def change_question(recorder: Recorder, row: FindingQuestion, words: str, revision: int | None) -> None:
    recorder.update(row, {"words": _asked(words)}, revision)


def delete_question(recorder: Recorder, row: FindingQuestion, revision: int | None = None) -> None:
    """Its findings stay, under no question."""
    for finding in findings_of(recorder.session, recorder.project_id):
        if finding.question_id == row.id:
            recorder.update(finding, {"question_id": None})
    hang_on_nothing(recorder, NoteRow.question_id, row.id)
    recorder.delete(row, revision)


def _asked(words: str) -> str:
    words = " ".join(words.split())
    if not words or len(words) > MOST_WORDS:
        raise WinnowerError(f"Write the question in at most {MOST_WORDS} letters.")
    return words


def put_in_order(
    recorder: Recorder,
    ids: Sequence[int],
    under: Sequence[int | None],
    seen: Sequence[tuple[int, int | None]],
) -> int:
    """Findings in an order, each under a question (None: none); those not named follow as they were. How many
    changed. ``seen`` is the order it was decided on, with questions. Raises NotFound for a question that is not
    there, Conflict where somebody else changed the order since."""
    questions = {row.id for row in questions_of(recorder.session, recorder.project_id)}
    for question in under:
        if question is not None and question not in questions:
            raise NotFound("There is no such question in this project any more.")
    rows = {row.id: row for row in findings_of(recorder.session, recorder.project_id, hold=True)}
    refuse_other_order(list(rows), [one for one, _ in seen])
    known = dict(seen)
    if any(row.question_id != known.get(row.id, row.question_id) for row in rows.values()):
        raise Conflict(
            "Somebody put a finding under another question in the meantime. Load it again to see it."
        )
    of = dict(zip(ids, under, strict=True))
    order = [one for one in ids if one in rows] + [one for one in rows if one not in of]
    changed = 0
    for place, finding in enumerate(order, start=1):
        row = rows[finding]
        question = of.get(finding, row.question_id)
        if (row.place, row.question_id) != (place, question):
            recorder.place(row, {"place": place, "question_id": question})
            changed += 1
    return changed


def states_apart(then: dict[str, Any], now: dict[str, Any]) -> list[str]:
    """What changed between two states, in words."""
    out = []
    if then.get("texts") != now["texts"]:
        before, after = int(then.get("n_texts", 0)), int(now["n_texts"])
        out.append(
            f"the corpus ({before:,} texts then, {after:,} now)"
            if before != after
            else "the words of the corpus"
        )
    elif then.get("values") != now["values"]:
        out.append("values of the corpus")
    if now["coding"] is not None and then.get("coding") != now["coding"]:
        out.append("the coding")
    for key, fingerprint in now["dictionaries"].items():
        if fingerprint is None:
            out.append("the dictionary, which is gone")
        elif then.get("dictionaries", {}).get(key) != fingerprint:
            out.append("the dictionary")
    return list(dict.fromkeys(out))
