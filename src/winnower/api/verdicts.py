"""The verdicts behind a precision: listed, filtered by person, and as a file."""

from __future__ import annotations

from typing import Literal, NamedTuple

import numpy as np
import polars as pl
from fastapi import APIRouter, Response

from winnower.api.context import Desk, Reading
from winnower.api.files import EXCEL, download
from winnower.api.instruments import loaded
from winnower.api.judged import hits_under, place_passage, terms_under, verdict_public
from winnower.api.schemas import judging as j
from winnower.core.review.verdicts import (
    PLACE,
    SHOWS,
    said_by,
    shown,
    standing,
    standing_texts,
    texts_without,
)
from winnower.core.scope import Split
from winnower.store import dictionaries as store
from winnower.store import judging as kept
from winnower.store.models import Judgement
from winnower.store.texts import bodies
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}/dictionaries/{dictionary_id}")
AT_A_TIME = 500
SAID = {"hit": ("does not fit", "fits"), "text": ("rightly none", "missed")}


class Listed(NamedTuple):
    """All verdicts of a category; ``places`` with PLACE, verdict, differ, stands, by text and place."""

    rows: list[tuple[Judgement, str]]
    places: pl.DataFrame


def _listed(desk: Desk, stored: store.StoredDictionary, category_id: int, asked: j.VerdictsRequest) -> Listed:
    rows = kept.all_verdicts(desk.session, category_id, asked.kind)
    frame = pl.DataFrame(
        [(one.text_id, one.start, one.end, one.verdict, one.made_by) for one, _ in rows],
        schema=kept.VERDICT_SCHEMA,
        orient="row",
    )
    terms = terms_under(stored, category_id)
    if asked.term_id is not None:
        terms = (store.entry_of(store.term_in(stored, asked.term_id)).parse(),)
    corpus, scope = desk.corpus, asked.texts
    hits = hits_under(desk, terms, scope)
    if asked.kind == "hit":
        places = standing(frame, hits, corpus.index)
    else:
        without = texts_without(hits, corpus.index, corpus.ground(scope, Split()).mask)
        places = standing_texts(frame, without, corpus.index)
    if asked.judge is not None:
        places = said_by(places, frame, asked.judge)
    return Listed(rows, places)


@router.post("/categories/{category_id}/verdicts")
def verdicts(desk: Reading, dictionary_id: int, category_id: int, asked: j.VerdictsRequest) -> j.VerdictsPage:
    """Judged places with all verdicts on each, a page at a time."""
    found = _listed(desk, loaded(desk, dictionary_id), category_id, asked)
    chosen = shown(found.places, asked.show)
    page = chosen.slice(asked.start, asked.most).select(PLACE).rows()
    given: dict[tuple, list[j.Verdict]] = {place: [] for place in page}
    for one, by in found.rows:
        if (place := (one.text_id, one.start, one.end)) in given:
            given[place].append(verdict_public(desk, one, by))
    body = bodies(desk.session, sorted({place[0] for place in page}))
    after = asked.start + len(page)
    return j.VerdictsPage(
        sizes={show: len(shown(found.places, show)) for show in SHOWS},
        judges=_judges(found.rows),
        start=asked.start,
        next=after if after < len(chosen) else None,
        items=[
            j.SampleItem(
                text_id=text_id,
                start=start,
                end=end,
                passage=place_passage(desk, text_id, start, end, body.get(text_id)),
                verdicts=given[text_id, start, end],
            )
            for text_id, start, end in page
        ],
    )


def _judges(rows: list[tuple[Judgement, str]]) -> list[j.Judge]:
    names = {one.made_by: by for one, by in rows}
    said = np.array([(one.made_by, one.verdict) for one, _ in rows]).reshape(-1, 2)
    return [
        j.Judge(
            id=judge,
            name=name,
            verdicts=int((said[:, 0] == judge).sum()),
            yes=int(((said[:, 0] == judge) & (said[:, 1] == 1)).sum()),
        )
        for judge, name in sorted(names.items(), key=lambda pair: pair[1])
    ]


@router.post("/categories/{category_id}/verdicts/export")
def export_verdicts(
    desk: Reading,
    dictionary_id: int,
    category_id: int,
    asked: j.VerdictsRequest,
    form: Literal["csv", "xlsx"] = "csv",
) -> Response:
    """One line a verdict, of the places that are shown, as CSV or Excel."""
    stored = loaded(desk, dictionary_id)
    name = store.category_in(stored, category_id).name
    found = _listed(desk, stored, category_id, asked)
    chosen = shown(found.places, asked.show)
    stands = dict(zip(chosen.select(PLACE).rows(), chosen["stands"].to_list(), strict=True))
    lines = [pair for pair in found.rows if (pair[0].text_id, pair[0].start, pair[0].end) in stands]
    columns = _columns(desk, lines, asked.kind, stands)
    file = f"Verdicts on {name}.{form}"
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), file, "text/csv; charset=utf-8")
    counted = "hits" if asked.kind == "hit" else "texts without a hit"
    words = f"Verdicts on {counted} of {name} in {stored.row.name}; {len(lines):,} of {len(chosen):,} places."
    how = "Where several people judged one place, most of them decide; where they are even it does not fit."
    return download(listing_xlsx(columns, [("What", words, ""), ("Several judges", how, "")]), file, EXCEL)


def _columns(
    desk: Desk, lines: list[tuple[Judgement, str]], kind: str, stands: dict[tuple, bool]
) -> list[Column]:
    cells: list[list] = [[] for _ in range(12)]
    body: dict[int, str] = {}
    for at, (one, by) in enumerate(lines):
        if at % AT_A_TIME == 0:
            body = bodies(desk.session, sorted({row.text_id for row, _ in lines[at : at + AT_A_TIME]}))
        passage = place_passage(desk, one.text_id, one.start, one.end, body.get(one.text_id))
        words = body.get(one.text_id, "")[one.start : one.end] if kind == "hit" and passage else ""
        row = (
            passage.source if passage else None,
            passage.date if passage else None,
            passage.title if passage else None,
            passage.paragraph if passage else None,
            words,
            passage.text if passage else None,
            one.term,
            SAID[kind][one.verdict],
            by,
            one.made_at.isoformat(sep=" ", timespec="seconds"),
            one.version,
            "yes" if stands[one.text_id, one.start, one.end] else "no",
        )
        for column, cell in zip(cells, row, strict=True):
            column.append(cell)
    names = ("source", "date", "title", "paragraph", "words", "passage", "term", "verdict", "judge")
    more = ("judged at (UTC)", "dictionary version", "counts now")
    return [Column(name, column) for name, column in zip((*names, *more), cells, strict=True)]
