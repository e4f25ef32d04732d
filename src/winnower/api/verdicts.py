"""The verdicts behind a precision: listed, filtered by person, and as a file."""

from __future__ import annotations

from typing import Literal, NamedTuple

import numpy as np
import polars as pl
from fastapi import APIRouter, Response

from winnower.api.context import Desk, Reading
from winnower.api.files import EXCEL, download
from winnower.api.passage_tables import with_variables
from winnower.api.review import judged_item, passage_of, subject_asked, verdict_public
from winnower.api.schemas import review as r
from winnower.core.coding import Standings
from winnower.core.review import PLACE, SHOWS, said_by, shown, standing, standing_texts, texts_without
from winnower.core.scope import Split
from winnower.store import review as kept
from winnower.store.models import VerdictRow
from winnower.store.reading import standings_in
from winnower.store.subjects import Subject
from winnower.store.texts import bodies
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}/review/{subject}/{subject_id}/verdicts")
AT_A_TIME = 500
SAID = {"hit": ("does not fit", "fits"), "text": ("correctly without", "missed")}
Place = tuple[int, int, int]


class Listed(NamedTuple):
    """All verdicts of a subject; ``places`` with PLACE, verdict, differ, stands, by text and place."""

    rows: list[tuple[VerdictRow, str]]
    places: pl.DataFrame


def _listed(desk: Desk, judged: Subject, asked: r.VerdictsRequest) -> Listed:
    rows = kept.verdicts_with_names(desk.session, judged.kind, judged.id, asked.kind)
    frame = kept.frame_of_rows(rows)
    desk.look_at(asked.texts)
    corpus, scope = desk.corpus, asked.texts
    hits = judged.hits(corpus, scope, asked.part)
    if asked.kind == "hit":
        places = standing(frame, hits, corpus.index)
    else:
        without = texts_without(hits, corpus.index, corpus.ground(scope, Split()).mask)
        places = standing_texts(frame, without, corpus.index)
    if asked.judge is not None:
        places = said_by(places, frame, asked.judge)
    return Listed(rows, places)


@router.post("")
def verdicts(desk: Reading, subject: str, subject_id: int, asked: r.VerdictsRequest) -> r.VerdictsPage:
    """Judged places with all verdicts on each, a page at a time."""
    found = _listed(desk, subject_asked(desk, subject, subject_id), asked)
    chosen = shown(found.places, asked.show)
    page = chosen.slice(asked.start, asked.most).select(PLACE).rows()
    given: dict[Place, list[r.Verdict]] = {place: [] for place in page}
    for one, by in found.rows:
        if (place := (one.text_id, one.start, one.end)) in given:
            given[place].append(verdict_public(desk, one, by))
    body = bodies(desk.session, sorted({place[0] for place in page}))
    standings = standings_in(desk.session, body.keys())
    after = asked.start + len(page)
    return r.VerdictsPage(
        sizes={show: len(shown(found.places, show)) for show in SHOWS},
        judges=_judges(found.rows),
        start=asked.start,
        next=after if after < len(chosen) else None,
        items=[judged_item(desk, place, body.get(place[0]), given[place], standings) for place in page],
    )


def _judges(rows: list[tuple[VerdictRow, str]]) -> list[r.Judge]:
    names = {one.made_by: by for one, by in rows}
    said = np.array([(one.made_by, one.verdict) for one, _ in rows]).reshape(-1, 2)
    return [
        r.Judge(
            id=judge,
            name=name,
            verdicts=int((said[:, 0] == judge).sum()),
            yes=int(((said[:, 0] == judge) & (said[:, 1] == 1)).sum()),
        )
        for judge, name in sorted(names.items(), key=lambda pair: pair[1])
    ]


@router.post("/export")
def export_verdicts(
    desk: Reading,
    subject: str,
    subject_id: int,
    asked: r.VerdictsRequest,
    form: Literal["csv", "xlsx"] = "csv",
) -> Response:
    """One line a verdict, of the places that are shown, as CSV or Excel."""
    judged = subject_asked(desk, subject, subject_id)
    found = _listed(desk, judged, asked)
    chosen = shown(found.places, asked.show)
    stands = dict(zip(chosen.select(PLACE).rows(), chosen["stands"].to_list(), strict=True))
    lines = [pair for pair in found.rows if (pair[0].text_id, pair[0].start, pair[0].end) in stands]
    columns = with_variables(
        desk, _columns(desk, lines, asked.kind, stands), [row.text_id for row, _ in lines]
    )
    file = f"Verdicts on {judged.name}.{form}"
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), file, "text/csv; charset=utf-8")
    counted = "hits" if asked.kind == "hit" else "texts without a hit"
    words = (
        f"Verdicts on {counted} of {judged.name} in {judged.instrument}; "
        f"{len(lines):,} of {len(chosen):,} places."
    )
    how = "Where several people judged one place, most of them decide; where they are even it does not fit."
    return download(listing_xlsx(columns, [("What", words, ""), ("Several judges", how, "")]), file, EXCEL)


def _columns(
    desk: Desk, lines: list[tuple[VerdictRow, str]], kind: str, stands: dict[Place, bool]
) -> list[Column]:
    names = (
        "source",
        "date",
        "title",
        "speaker",
        "paragraph",
        "words",
        "passage",
        "term",
        "verdict",
        "judge",
    )
    more = ("judged at (UTC)", "dictionary version", "counts now")
    cells: list[list[str | int | float | None]] = [[] for _ in (*names, *more)]
    body: dict[int, str] = {}
    standings = Standings(())
    for at, (one, by) in enumerate(lines):
        if at % AT_A_TIME == 0:
            body = bodies(desk.session, sorted({row.text_id for row, _ in lines[at : at + AT_A_TIME]}))
            standings = standings_in(desk.session, body.keys())
        passage = passage_of(desk, one.text_id, one.start, one.end, body.get(one.text_id), standings)
        words = body.get(one.text_id, "")[one.start : one.end] if kind == "hit" and passage else ""
        row = (
            passage.source if passage else None,
            passage.date if passage else None,
            passage.title if passage else None,
            passage.standing.speaker if passage else None,
            passage.paragraph if passage else None,
            words,
            passage.text if passage else None,
            one.found_by,
            SAID[kind][one.verdict],
            by,
            one.made_at.isoformat(sep=" ", timespec="seconds"),
            one.version,
            "yes" if stands[one.text_id, one.start, one.end] else "no",
        )
        for column, cell in zip(cells, row, strict=True):
            column.append(cell)
    return [Column(name, column) for name, column in zip((*names, *more), cells, strict=True)]
