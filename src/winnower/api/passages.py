"""Passages: coding a text, and asking for passages across texts."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

import numpy as np
from fastapi import APIRouter, Response

from winnower.api.codebook import passages_of, texts_in
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.evidence import origin_of
from winnower.api.files import EXCEL, download
from winnower.api.schemas import coding as c
from winnower.api.schemas.variables import Changed
from winnower.core.coding import Beside, Passages, Question, answer
from winnower.core.errors import WinnowerError
from winnower.store import codebook, passages
from winnower.store.models import PassageRow
from winnower.store.texts import bodies, text_of
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}")
AROUND = 120
LABEL_WORDS = 60
MOST_EXPORTED = 50_000


@router.get("/texts/{text_id}/passages")
def on_text(desk: Reading, text_id: int) -> c.TextPassages:
    """What is coded in a text."""
    text_of(desk.session, desk.project.id, text_id)
    return c.TextPassages(
        passages=[_public(desk, row, who) for row, who in passages.passages_on(desk.session, text_id)],
        revision=desk.project.coding_revision,
    )


def _changed(desk: Desk, rows: Sequence[PassageRow], gone: Sequence[int] = ()) -> c.PassagesChanged:
    names = passages.rows_of(desk.session, [row.id for row in rows])
    return c.PassagesChanged(
        passages=[_public(desk, row, who) for row, who in names.values()],
        gone=list(gone),
        revision=desk.project.coding_revision,
    )


def _public(desk: Desk, row: PassageRow, who: str) -> c.CodedPassage:
    return c.CodedPassage(**_values(desk, row, who))


def _values(desk: Desk, row: PassageRow, who: str) -> dict[str, Any]:
    return {
        "id": row.id,
        "code_id": row.code_id,
        "start": row.start,
        "end": row.end,
        "strength": row.strength,
        "comment": row.comment,
        "coder": who,
        "mine": row.made_by == desk.account.id,
        "made_at": row.made_at,
        "revision": row.revision,
    }


@router.post("/texts/{text_id}/passages", status_code=201)
def code(desk: Writing, text_id: int, given: c.PassageCreate) -> c.PassagesChanged:
    """Put a stretch of a text under codes, one of them new if wanted."""
    book = codebook.hold_codebook(desk.session, desk.project)
    row, body, _ = text_of(desk.session, desk.project.id, text_id)
    start, end = passages.stretch_now(desk.session, row, body, given.start, given.end, given.words)
    chosen = [book.code(one) for one in given.codes]
    recorder = desk.recorder("")
    if given.new is not None:
        chosen.append(codebook.make_code(recorder, book, **given.new.model_dump()))
    if not chosen:
        raise WinnowerError("Choose a code for these words.")
    rows = passages.code_stretch(recorder, text_id, (start, end), chosen)
    words = " ".join(body[start : start + LABEL_WORDS].split())
    recorder.label = f"Code “{words}” as {', '.join(one.name for one in chosen)}"[:300]
    recorder.save()
    return _changed(desk, rows)


@router.patch("/passages/{passage_id}")
def change(desk: Writing, passage_id: int, given: c.PassageUpdate) -> c.PassagesChanged:
    """Lengthen, shorten, move to another code, comment, weigh."""
    book = codebook.hold_codebook(desk.session, desk.project)
    row = passages.passage_of(desk.session, desk.project.id, passage_id)
    values = given.model_dump(exclude={"revision"}, exclude_unset=True)
    values = {name: value for name, value in values.items() if value is not None or name == "strength"}
    if "strength" in values:
        values["strength"] = values["strength"] or None
    body = bodies(desk.session, [row.text_id])[row.text_id]
    recorder = desk.recorder(f"Change a passage of {book.code(row.code_id).name}")
    left = passages.change_passage(recorder, book, row, values, len(body), given.revision)
    recorder.save()
    return _changed(desk, [left], [] if left.id == passage_id else [passage_id])


@router.delete("/passages/{passage_id}")
def take_off(desk: Writing, passage_id: int, revision: Seen = None) -> c.PassagesChanged:
    """Take a code off its words."""
    book = codebook.hold_codebook(desk.session, desk.project)
    row = passages.passage_of(desk.session, desk.project.id, passage_id)
    recorder = desk.recorder(f"Take {book.code(row.code_id).name} off a passage")
    recorder.delete(row, revision)
    recorder.save()
    return _changed(desk, [], [passage_id])


@router.post("/passages/find")
def find(desk: Reading, asked: c.PassagesRequest) -> c.PassagesPage:
    """Passages of the scope that a question asks for, a page at a time."""
    found = _answer(desk, asked)
    shown = found.taken(np.arange(asked.start, min(asked.start + asked.most, len(found))))
    return c.PassagesPage(
        total=len(found),
        texts=len(np.unique(found.text_id)),
        start=asked.start,
        passages=_found(desk, shown.id.tolist()),
    )


def _answer(desk: Desk, asked: c.PassagesRequest) -> Passages:
    book = codebook.codebook_of(desk.session, desk.project.id)
    question = Question(
        codes=tuple(asked.codes),
        coders=tuple(asked.coders),
        strength=asked.strength,
        beside=tuple(Beside(one.relation, tuple(one.codes), one.without) for one in asked.beside),
    )
    # a code that is gone has nothing under it
    known = set(book.tree.node)
    return answer(
        question,
        passages_of(desk),
        texts_in(desk, asked.texts),
        lambda codes: {one for code in codes if code in known for one in book.tree.below(code)},
    )


def _found(desk: Desk, ids: Sequence[int]) -> list[c.FoundPassage]:
    """Passages with their words, in the order of ``ids``."""
    rows = passages.rows_of(desk.session, ids)
    texts = sorted({row.text_id for row, _ in rows.values()})
    body = bodies(desk.session, texts)
    places = dict(zip(texts, desk.corpus.places_of(np.asarray(texts, np.int64)).tolist(), strict=True))
    out = []
    for one in ids:
        if one not in rows:
            continue
        row, who = rows[one]
        text, title = body[row.text_id], origin_of(desk, places[row.text_id])
        out.append(
            c.FoundPassage(
                **_values(desk, row, who),
                text_id=row.text_id,
                title=title[0],
                source=title[1],
                date=title[2],
                before=text[max(row.start - AROUND, 0) : row.start].replace("\n", " "),
                text=text[row.start : row.end],
                after=text[row.end : row.end + AROUND].replace("\n", " "),
                paragraph=_paragraph(text, row.start),
            )
        )
    return out


def _paragraph(body: str, start: int) -> int:
    """The number of a paragraph, from 1: stretches with words between line ends."""
    return sum(bool(line.strip()) for line in body[:start].split("\n")[:-1]) + 1


@router.post("/passages/change")
def change_many(desk: Writing, given: c.PassagesChange) -> Changed:
    """Move passages under another code, or take them off: one step, undone as one."""
    book = codebook.hold_codebook(desk.session, desk.project)
    name = book.code(given.code_id).name if given.code_id is not None else ""
    recorder = desk.recorder(
        f"Move passages to {name}" if name else f"Take {len(given.passages):,} passages off"
    )
    changed = passages.change_many(recorder, desk.project.id, given.passages, given.code_id)
    recorder.save()
    return Changed(texts=changed, label=recorder.label)


@router.post("/passages/export")
def export(desk: Reading, asked: c.PassagesRequest, form: Literal["csv", "xlsx"] = "csv") -> Response:
    """The passages of a question with origin and paragraph, at most 50,000."""
    found = _answer(desk, asked)
    book = codebook.codebook_of(desk.session, desk.project.id)
    path = {row.id: " > ".join(book.tree.path(row.id)) for row in book.codes}
    names = (
        "source", "date", "title", "paragraph", "code", "passage", "coder", "strength", "comment", "made",
        "from", "to",
    )  # fmt: skip
    parts: list[list[Any]] = [[] for _ in names]
    for first in range(0, min(len(found), MOST_EXPORTED), 1_000):
        for one in _found(desk, found.id[first : first + 1_000].tolist()):
            row = (
                one.source, one.date, one.title, one.paragraph, path[one.code_id], one.text, one.coder,
                one.strength, one.comment, one.made_at.isoformat(" ", "minutes"), one.start, one.end,
            )  # fmt: skip
            for part, cell in zip(parts, row, strict=True):
                part.append(cell)
    columns = [Column(name, cells) for name, cells in zip(names, parts, strict=True)]
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), "passages.csv", "text/csv; charset=utf-8")
    texts = len(np.unique(found.text_id))
    method = [("Passages", f"{len(found):,} passages in {texts:,} texts, in the order of the texts.", "")]
    return download(listing_xlsx(columns, method), "passages.xlsx", EXCEL)
