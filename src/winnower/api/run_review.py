"""Review of runs: what is open, verdicts on it, coding by hand in its stead; results by text."""

from __future__ import annotations

from typing import Literal

import numpy as np
import polars as pl
from fastapi import APIRouter, Response

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Writing
from winnower.api.evidence import origin_of
from winnower.api.files import EXCEL, download
from winnower.api.passage_tables import with_variables
from winnower.api.run_items import items_of_passages
from winnower.api.schemas import runs as r
from winnower.core.errors import NotFound, WinnowerError
from winnower.core.places.widen import widen
from winnower.core.runs import ByTone
from winnower.core.runs.review import PLACE, queue
from winnower.store import run_review as store
from winnower.store import runs
from winnower.store.bulk import chunks
from winnower.store.codebook import Codebook, hold_codebook
from winnower.store.models import CodingRun
from winnower.store.run_places import RunPassage
from winnower.store.texts import bodies
from winnower.store.tones import words_at
from winnower.writers.listing import Column, listing_csv, listing_xlsx

MOST_EXPORTED = 50_000
router = APIRouter(prefix="/projects/{project_id}/runs/{run_id}")


def _queue(desk: Desk, row: CodingRun, asked: r.RunItemsRequest) -> tuple[pl.DataFrame, np.ndarray]:
    judged = store.judged_run(desk.session, row, desk.corpus)
    if asked.target is not None:
        judged = judged.filter(pl.col("target") == asked.target)
    if asked.text_id is not None:
        judged = judged.filter(pl.col("text_id") == asked.text_id)
    source = store.source_of(desk.corpus, judged["place"].to_numpy()) if asked.order == "source" else None
    return judged, queue(judged, asked.show, asked.order, asked.seed, source)


@router.post("/passages")
def items(desk: Reading, run_id: int, asked: r.RunItemsRequest) -> r.RunItems:
    """Passages of a run to look at, a page at a time."""
    row = runs.run_of(desk.session, desk.project.id, run_id)
    judged, rows = _queue(desk, row, asked)
    found = _items(desk, row, judged[rows[asked.start : asked.start + asked.most]])
    return r.RunItems(total=len(rows), start=asked.start, items=found)


def _items(desk: Desk, row: CodingRun, page: pl.DataFrame, *, whole: bool = False) -> list[r.RunItem]:
    """Rows of a run as they are shown, with what was said of each."""
    passages = store.places_by_id(desk.session, [-one for one in page["id"].to_list()])
    targets = store.targets_by_number(runs.targets_of(desk.session, [row.id])[row.id])
    names = {number: (one.name, one.code_id) for number, one in targets.items()}
    recipe = runs.recipe_of(row)
    tone = None
    if isinstance(recipe.finder, ByTone):
        tone = words_at(desk.session, recipe.finder.words, row.version)
    found = items_of_passages(desk, passages, recipe.unit, names, whole=whole, tone=tone)
    said = {
        -one: (verdict, differ) for one, verdict, differ in page.select("id", "said", "differ").iter_rows()
    }
    mine = _mine(desk, row)
    places = {one.id: (one.place.target, one.text_id, one.start, one.end) for one in passages}
    for item in found:
        verdict, item.differ = said[item.id]
        item.verdict = verdict if verdict >= 0 else None
        item.mine = mine.get(places[item.id])
    return found


def _mine(desk: Desk, row: CodingRun) -> dict[tuple[int, ...], int]:
    own = store.verdicts_of(desk.session, row).filter(pl.col("made_by") == desk.account.id)
    return {tuple(place): verdict for *place, verdict in own.select(*PLACE, "verdict").iter_rows()}


@router.post("/judge")
def judge(desk: Writing, run_id: int, given: r.RunJudge) -> s.Done:
    """Say of passages that they are right or wrong, or code them otherwise by hand: one step."""
    book = hold_codebook(desk.session, desk.project)
    row = runs.run_of(desk.session, desk.project.id, run_id)
    passages = [one for one in store.places_by_id(desk.session, given.passages) if one.run.id == row.id]
    if not passages:
        raise NotFound("These passages are no longer there; the run was changed in the meantime.")
    recorder = desk.recorder("")
    if given.code_id is not None:
        code = book.code(given.code_id)
        for one in passages:
            store.take_over(recorder, one, code, (one.start, one.end), 0)
        recorder.label = f"Code a passage of {row.name} as {code.name}"
    elif given.widen is not None:
        for one in passages:
            store.take_over(recorder, one, book.code(one.code_id), _wider(desk, one, given.widen), 1)
        recorder.label = f"Widen a passage of {row.name} to its {given.widen}"
    else:
        store.judge_places(recorder, passages, given.verdict)
        said = {1: "right", 0: "wrong", None: "open again"}[given.verdict]
        many = f"{len(passages):,} passages" if len(passages) > 1 else "A passage"
        recorder.label = f"{many} of {row.name}: {said}"
    recorder.save()
    return s.Done(label=recorder.label)


def _wider(desk: Desk, one: RunPassage, to: str) -> tuple[int, int]:
    if not one.code_id:
        raise WinnowerError("The code of this passage is gone; choose another code for it.")
    body = bodies(desk.session, [one.text_id])[one.text_id]
    found = widen(desk.corpus.place_of(one.text_id), one.start, to, body, desk.corpus.index)
    return min(found.start, one.start), max(found.end, one.end)


@router.post("/judge-all")
def judge_all(desk: Writing, run_id: int, given: r.RunJudgeAll) -> s.Done:
    """One verdict on all passages that are asked for: one step, undone as one."""
    _: Codebook = hold_codebook(desk.session, desk.project)
    row = runs.run_of(desk.session, desk.project.id, run_id)
    judged, rows = _queue(desk, row, given)
    chosen = judged[rows].filter(
        pl.col("hits") >= given.least_hits, pl.col("score").abs() >= given.least_score * 1_000
    )
    if not len(chosen):
        raise WinnowerError("There is no such passage left to judge.")
    recorder = desk.recorder(
        f"{len(chosen):,} passages of {row.name}: {'right' if given.verdict else 'wrong'}"
    )
    store.judge_frame(recorder, row, chosen, given.verdict)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/export")
def export(
    desk: Reading, run_id: int, asked: r.RunItemsRequest, form: Literal["csv", "xlsx"] = "csv"
) -> Response:
    """The passages of a run that are asked for, with reasons and verdicts: at most 50,000."""
    row = runs.run_of(desk.session, desk.project.id, run_id)
    judged, rows = _queue(desk, row, asked)
    names = (
        "source", "date", "title", "speaker", "page", "time", "paragraph", "code", "passage", "reason", "hits", "score",
        "verdict", "judged differently",
    )  # fmt: skip
    parts: list[list[str | int | float | None]] = [[] for _ in names]
    texts_of_rows: list[int] = []
    for some in chunks(rows[:MOST_EXPORTED], 1_000):
        for one in _items(desk, row, judged[some], whole=True):
            said = {1: "right", 0: "wrong", None: None}[one.verdict]
            cells = (
                one.source, one.date, one.title, one.standing.speaker, one.standing.page, one.standing.time,
                one.paragraph, one.name, one.text, one.reason, one.hits, one.score,
                said, "yes" if one.differ else None,
            )  # fmt: skip
            texts_of_rows.append(one.text_id)
            for part, cell in zip(parts, cells, strict=True):
                part.append(cell)
    columns = with_variables(
        desk, [Column(name, cells) for name, cells in zip(names, parts, strict=True)], texts_of_rows
    )
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), "run.csv", "text/csv; charset=utf-8")
    version = f", version {row.version}" if row.version else ""
    told = (
        f"{len(rows):,} passages of the run {row.name} ({row.instrument or 'a search'}{version}). Where people "
        "differ, most voices decide; where they are even, it is wrong."
    )
    return download(listing_xlsx(columns, [("Run", told, "")]), "run.xlsx", EXCEL)


@router.get("/texts")
def by_text(desk: Reading, run_id: int, start: int = 0, most: int = 50) -> r.RunTexts:
    """Texts with how much a run found in each, those with the most first."""
    row = runs.run_of(desk.session, desk.project.id, run_id)
    judged = store.judged_run(desk.session, row, desk.corpus)
    total, page = store.texts_by_code(judged, max(start, 0), min(max(most, 1), 200))
    lines = []
    for text_id, place, places, codes in page.iter_rows():
        title, source, date = origin_of(desk, place)
        lines.append(
            r.RunTextLine(text_id=text_id, title=title, source=source, date=date, places=places, codes=codes)
        )
    return r.RunTexts(total=total, texts=lines)
