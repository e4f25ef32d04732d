"""Findings: views kept with what they said, beside what they say now."""

from __future__ import annotations

import io
import zipfile
from typing import Literal

import orjson
from fastapi import APIRouter, Response

from winnower.api import schemas as s
from winnower.api.answers import method_public, statement_public
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.files import EXCEL, download
from winnower.api.numbers import plain
from winnower.api.schemas import answers as a
from winnower.core.errors import ComparisonError, WinnowerError
from winnower.core.finding import (
    Answer,
    AnyView,
    ComparisonView,
    Differences,
    apart_statements,
    differences,
    view_to_plain,
)
from winnower.store import findings as store
from winnower.store.answering import Room
from winnower.store.findings_beside import beside as set_beside
from winnower.store.models import FindingQuestion, FindingRow
from winnower.writers.sheets import answer_csv, answer_text, answer_xlsx

router = APIRouter(prefix="/projects/{project_id}")
_MEDIA = {
    "csv": "text/csv; charset=utf-8",
    "txt": "text/plain; charset=utf-8",
    "json": "application/json; charset=utf-8",
    "svg": "image/svg+xml",
    "png": "image/png",
}


def _room(desk: Desk) -> Room:
    return Room(desk.session, desk.project, desk.house.corpora.open(desk.session, desk.project))


def _question(row: FindingQuestion) -> a.FindingQuestionPublic:
    return a.FindingQuestionPublic(id=row.id, words=row.words, revision=row.revision)


def _finding(
    desk: Desk, room: Room, one: store.Listed, known: dict[int, str | None] | None = None
) -> a.FindingPublic:
    row, said = one.row, one.said
    now = store.state_of(room, said.view, known)
    first = next((sentence.headline for sentence in said.answer.statements), "")
    return a.FindingPublic(
        id=row.id,
        view=row.view,
        title=row.title,
        remark=row.remark,
        question_id=row.question_id,
        frozen=bool(row.frozen),
        request=row.request,
        drawn=row.drawn,
        said_at=said.row.made_at,
        author=one.author,
        mine=row.made_by == desk.account.id,
        changed=store.states_apart(said.row.state, now),
        first=first,
        base=said.answer.base,
        revision=row.revision,
    )


def _public(desk: Desk, row: FindingRow) -> a.FindingPublic:
    desk.session.flush()
    return _finding(desk, _room(desk), store.listed(desk.session, desk.project.id, row.id)[0])


@router.get("/findings")
def list_findings(desk: Reading) -> a.FindingsPublic:
    """All findings under their questions, in order; whether what they were counted from changed since."""
    room, known = _room(desk), dict[int, str | None]()
    return a.FindingsPublic(
        questions=[_question(row) for row in store.questions_of(desk.session, desk.project.id)],
        findings=[_finding(desk, room, one, known) for one in store.listed(desk.session, desk.project.id)],
    )


@router.post("/findings", status_code=201)
def keep(desk: Writing, given: a.FindingGiven) -> a.FindingPublic:
    """Keep a view with what it says now."""
    if given.question_id is not None:
        store.question_in(desk.session, desk.project.id, given.question_id)
    recorder = desk.recorder(f"Keep finding {given.title}")
    row = store.keep_finding(
        recorder, _room(desk), given.view, given.title, given.remark, dict(given.drawn), given.question_id
    )
    recorder.save()
    return _public(desk, row)


@router.get("/findings/{finding_id}")
def open_finding(desk: Reading, finding_id: int) -> a.FindingAnswer:
    """What a finding said when it was kept, and what of that is otherwise now, cell by cell."""
    store.finding_in(desk.session, desk.project.id, finding_id)
    one = store.listed(desk.session, desk.project.id, finding_id)[0]
    row, said, room = one.row, one.said, _room(desk)
    failed, now = None, None
    try:
        _, now = store.says_now(room, row)
    except WinnowerError as error:
        failed = error.message
    was = store.said_in_names_of_now(room, said)
    found = differences(was, now.sheets) if now is not None else Differences((), 0, 0, (), ())
    shown = said.answer if row.frozen or now is None else now
    return _answer(_finding(desk, room, one), shown, found, failed)


def _answer(
    finding: a.FindingPublic, shown: Answer, found: Differences, failed: str | None
) -> a.FindingAnswer:
    return a.FindingAnswer(
        finding=finding,
        sheets=[
            a.SheetPublic(
                name=sheet.name,
                columns=[a.SheetColumn(name=one.name, form=one.form, key=one.key) for one in sheet.columns],
                rows=[list(row) for row in sheet.rows],
            )
            for sheet in shown.sheets
        ],
        statements=[statement_public(one) for one in shown.statements],
        method=method_public(shown.method),
        failed=failed,
        same=failed is None and found.none,
        changed=found.changed,
        compared=found.compared,
        cells=[
            a.CellChanged(
                sheet=one.sheet,
                row=list(one.row),
                column=one.column,
                form=one.form,  # type: ignore[arg-type]
                was=one.was,
                now=one.now,
            )
            for one in found.cells[:200]
        ],
        gone=[", ".join(map(str, key)) for _, key in found.gone[:100]],
        new=[", ".join(map(str, key)) for _, key in found.new[:100]],
    )


@router.patch("/findings/{finding_id}")
def change(desk: Writing, finding_id: int, given: a.FindingChange) -> a.FindingPublic:
    row = store.finding_in(desk.session, desk.project.id, finding_id)
    values = given.model_dump(exclude={"revision"}, exclude_none=True)
    if "question_id" in values:
        values["question_id"] = values["question_id"] or None
        if values["question_id"]:
            store.question_in(desk.session, desk.project.id, values["question_id"])
    recorder = desk.recorder(f"Change finding {row.title}")
    store.change_finding(recorder, row, values, given.revision)
    recorder.save()
    return _public(desk, row)


@router.post("/findings/{finding_id}/say")
def bring_up_to_date(desk: Writing, finding_id: int) -> a.FindingPublic:
    """Keep what the view says now in the place of what it said."""
    row = store.finding_in(desk.session, desk.project.id, finding_id)
    recorder = desk.recorder(f"Bring finding {row.title} up to date")
    store.bring_up_to_date(recorder, _room(desk), row)
    recorder.save()
    return _public(desk, row)


@router.delete("/findings/{finding_id}")
def delete(desk: Writing, finding_id: int, revision: Seen) -> s.Done:
    row = store.finding_in(desk.session, desk.project.id, finding_id)
    recorder = desk.recorder(f"Delete finding {row.title}")
    store.delete_finding(recorder, row, revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.put("/findings/order")
def put_in_order(desk: Writing, given: a.FindingOrder) -> s.Done:
    """Findings in an order, each under a question or none."""
    recorder = desk.recorder("Order findings")
    order = given.findings
    seen = [(one.id, one.question_id) for one in given.seen]
    if store.put_in_order(recorder, [one.id for one in order], [one.question_id for one in order], seen):
        recorder.save()
    return s.Done(label=recorder.label)


@router.post("/findings/{finding_id}/beside")
def beside(desk: Reading, finding_id: int, given: a.BesideRequest) -> a.BesidePublic:
    """The same finding over other texts, and which cells differ by more than chance."""
    row = store.finding_in(desk.session, desk.project.id, finding_id)
    view = store.asked_by(row)
    if not isinstance(view, ComparisonView):
        raise ComparisonError("Only comparisons are set beside themselves over other texts.")
    found = set_beside(
        _room(desk), view, given.scope, store.said_by(desk.session, row) if given.since else None
    )
    measure = found.first.named("mean" if found.first.of_numbers else "rate")
    return a.BesidePublic(
        first_texts=found.first.texts_in_scope,
        second_texts=found.second.texts_in_scope,
        unit=measure.unit,
        form=measure.form,
        cells=[
            a.ApartPublic(
                row=one.row,
                group=one.group,
                **{
                    name: plain(getattr(one, name))
                    for name in ("first", "second", "ratio", "low", "high", "p")
                },
            )
            for one in found.cells
        ],
        statements=[statement_public(one) for one in apart_statements(found)],
    )


@router.post("/findings/export")
def export(
    desk: Reading, given: a.FindingsExport, form: Literal["csv", "xlsx", "txt", "json", "svg", "png"] = "xlsx"
) -> Response:
    """Findings as they are shown: their numbers in one workbook, or a file each in an archive; or pictures."""
    room, titles = _room(desk), []
    shown: list[tuple[AnyView, Answer]] = []
    for finding_id in given.findings:
        row = store.finding_in(desk.session, desk.project.id, finding_id)
        titles.append(row.title)
        shown.append(_shown(desk, room, row))
    if form == "xlsx":
        answers, views = [answer for _, answer in shown], [view for view, _ in shown]
        name = f"{titles[0][:80] if len(titles) == 1 else 'findings'}.xlsx"
        return download(answer_xlsx(answers, views, titles), name, EXCEL)
    contents = _contents(desk, titles, shown, form)
    files = [
        (_file_name(at, title, form), one)
        for at, (title, one) in enumerate(zip(titles, contents, strict=True), 1)
    ]
    if len(files) == 1:
        return download(files[0][1], files[0][0], _MEDIA[form])
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files:
            archive.writestr(zipfile.ZipInfo(name, (2000, 1, 1, 0, 0, 0)), content)
    return download(buffer.getvalue(), "findings.zip", "application/zip")


def _shown(desk: Desk, room: Room, row: FindingRow) -> tuple[AnyView, Answer]:
    said = store.said_by(desk.session, row)
    if row.frozen:
        return said.view, said.answer
    try:
        return store.says_now(room, row)
    except WinnowerError:
        # its view cannot be answered any more: what it said is what there is
        return said.view, said.answer


def _file_name(at: int, title: str, form: str) -> str:
    kept = "".join(char if char.isalnum() or char in " -_,." else " " for char in title)
    return f"{at:02d} {' '.join(kept.split())[:80]}.{form}"


def _contents(desk: Desk, titles: list[str], shown: list[tuple[AnyView, Answer]], form: str) -> list[bytes]:
    if form not in ("svg", "png"):
        return [_file(view, answer, form) for view, answer in shown]
    # the library that draws keeps its settings for a whole process, so it does not draw in one with threads
    found: list[bytes] = desk.house.apart.call("pictures", titles, shown, form)
    return found


def _file(view: AnyView, answer: Answer, form: str) -> bytes:
    if form == "json":
        return orjson.dumps(view_to_plain(view), option=orjson.OPT_INDENT_2)
    if form == "txt":
        return answer_text(answer, view).encode()
    return ("\ufeff" + answer_csv(answer)).encode()


@router.post("/finding-questions", status_code=201)
def make_question(desk: Writing, given: a.FindingQuestionGiven) -> a.FindingQuestionPublic:
    recorder = desk.recorder(f"Ask {given.words}")
    row = store.make_question(recorder, given.words)
    recorder.save()
    return _question(row)


@router.patch("/finding-questions/{question_id}")
def change_question(
    desk: Writing, question_id: int, given: a.FindingQuestionChange
) -> a.FindingQuestionPublic:
    row = store.question_in(desk.session, desk.project.id, question_id)
    recorder = desk.recorder(f"Change question to {given.words}")
    store.change_question(recorder, row, given.words, given.revision)
    recorder.save()
    return _question(row)


@router.delete("/finding-questions/{question_id}")
def delete_question(desk: Writing, question_id: int, revision: Seen) -> s.Done:
    """The question goes; its findings stay."""
    row = store.question_in(desk.session, desk.project.id, question_id)
    recorder = desk.recorder(f"Delete question {row.words}")
    store.delete_question(recorder, row, revision)
    recorder.save()
    return s.Done(label=recorder.label)
