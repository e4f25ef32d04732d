"""Paraphrases: beside a text, all in one table, gathered under codes."""

from __future__ import annotations

from typing import Any, Literal

from fastapi import APIRouter, Response

from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.files import EXCEL, download
from winnower.api.passage_tables import with_variables
from winnower.api.schemas import notes as n
from winnower.api.schemas.variables import Changed
from winnower.core.errors import WinnowerError
from winnower.store import codebook, paraphrases, passages
from winnower.store.texts import bodies, text_of
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}")
MOST_EXPORTED = 20_000


@router.post("/paraphrases/find")
def find(desk: Reading, asked: n.ParaphrasesRequest) -> n.ParaphrasesPage:
    """Paraphrases by words, text, source and author, a page at a time."""
    found, total = _found(desk, asked, asked.start, asked.most)
    return n.ParaphrasesPage(total=total, start=asked.start, paraphrases=found)


def _found(
    desk: Desk, asked: n.ParaphrasesRequest, start: int, most: int
) -> tuple[list[n.ParaphrasePublic], int]:
    rows, total = paraphrases.paraphrases_of(
        desk.session, desk.project.id, **asked.model_dump(exclude={"start", "most"}), start=start, most=most
    )
    body = bodies(desk.session, [row[0].text_id for row in rows])
    codes = paraphrases.codes_on(desk.session, [row[0] for row in rows])
    out = [
        n.ParaphrasePublic(
            id=row.id,
            text_id=row.text_id,
            title=title,
            source=source,
            date=None if date is None else str(date),
            start=row.start,
            end=row.end,
            words="" if row.start is None else body[row.text_id][row.start : row.end],
            body=row.body,
            codes=sorted(codes[row.id]),
            author=who,
            mine=row.made_by == desk.account.id,
            made_at=row.made_at,
            revision=row.revision,
        )
        for row, who, title, source, date in rows
    ]
    return out, total


@router.post("/texts/{text_id}/paraphrases", status_code=201)
def make(desk: Writing, text_id: int, given: n.ParaphraseCreate) -> Changed:
    """Say in own words what a stretch of a text says."""
    row, body, _ = text_of(desk.session, desk.project.id, text_id)
    stretch = passages.stretch_now(desk.session, row, body, given.start, given.end, given.words)
    recorder = desk.recorder(f"Paraphrase in “{row.title[:120]}”")
    paraphrases.make_paraphrase(recorder, text_id, stretch, given.body)
    recorder.save()
    return Changed(texts=1, label=recorder.label)


@router.patch("/paraphrases/{paraphrase_id}")
def change(desk: Writing, paraphrase_id: int, given: n.ParaphraseUpdate) -> Changed:
    """Put it in other words, or on other words of its text."""
    row = paraphrases.paraphrase_of(desk.session, desk.project.id, paraphrase_id)
    values: dict[str, Any] = given.model_dump(exclude={"revision"}, exclude_none=True)
    if "body" in values:
        values["body"] = paraphrases.written(values["body"])
    if "start" in values or "end" in values:
        start, end = values.get("start", row.start), values.get("end", row.end)
        length = len(bodies(desk.session, [row.text_id])[row.text_id])
        if start is None or end is None or not 0 <= start < end <= length:
            raise WinnowerError("A paraphrase stands on words of its text.")
    recorder = desk.recorder("Change a paraphrase")
    recorder.update(row, values, given.revision)
    recorder.save()
    return Changed(texts=1, label=recorder.label)


@router.delete("/paraphrases/{paraphrase_id}")
def delete(desk: Writing, paraphrase_id: int, revision: Seen) -> Changed:
    row = paraphrases.paraphrase_of(desk.session, desk.project.id, paraphrase_id)
    recorder = desk.recorder("Delete a paraphrase")
    recorder.delete(row, revision)
    recorder.save()
    return Changed(texts=1, label=recorder.label)


@router.post("/paraphrases/gather")
def gather(desk: Writing, given: n.Gather) -> Changed:
    """Put the words of paraphrases under a code, a new one if wanted: one step, undone as one."""
    book = codebook.hold_codebook(desk.session, desk.project)
    recorder = desk.recorder("")
    if given.code_id is not None:
        code = book.code(given.code_id)
    elif given.new.strip():
        code = codebook.make_code(recorder, book, given.new)
        book = codebook.codebook_of(desk.session, desk.project.id)
    else:
        raise WinnowerError("Name the code these paraphrases are to be gathered under.")
    rows = paraphrases.gather(recorder, book, code.id, given.paraphrases)
    recorder.label = f"Gather {len(rows):,} paraphrases under {code.name}"
    recorder.save()
    return Changed(texts=len(rows), label=recorder.label)


@router.post("/paraphrases/export")
def export(desk: Reading, asked: n.ParaphrasesRequest, form: Literal["csv", "xlsx"] = "csv") -> Response:
    """All paraphrases asked for with their origin, at most 20,000."""
    found, total = _found(desk, asked, 0, MOST_EXPORTED)
    book = codebook.codebook_of(desk.session, desk.project.id)
    names = {row.id: " > ".join(book.tree.path(row.id)) for row in book.codes}
    own = [
        Column("source", [one.source for one in found]),
        Column("date", [one.date for one in found]),
        Column("title", [one.title for one in found]),
        Column("paraphrase", [one.body for one in found]),
        Column("words", [one.words for one in found]),
        Column("codes", ["; ".join(names[code] for code in one.codes if code in names) for one in found]),
        Column("by", [one.author for one in found]),
        Column("made", [one.made_at.isoformat(" ", "minutes") for one in found]),
    ]
    columns = with_variables(desk, own, [one.text_id for one in found])
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), "paraphrases.csv", "text/csv; charset=utf-8")
    method = [("Paraphrases", f"{total:,} paraphrases; codes are those given to the very words of each.", "")]
    return download(listing_xlsx(columns, method), "paraphrases.xlsx", EXCEL)
