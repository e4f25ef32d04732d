"""Hits in line: sorted by what stands beside them, counted by it, widened, exported; collocates."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Annotated, Literal

import numpy as np
from fastapi import APIRouter, Query, Response

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading
from winnower.api.evidence import evidence_page, looked_up, origin_of, places_asked
from winnower.api.files import EXCEL, download
from winnower.api.numbers import plain
from winnower.api.passage_tables import with_variables
from winnower.api.schemas import words as w
from winnower.api.words import counts_in_scope, stop_numbers
from winnower.core.compare import OfSearch, collocates_method
from winnower.core.pattern import Piece, write_piece
from winnower.core.places import Places, passages
from winnower.core.places import widen as widen_place
from winnower.core.scope import Scope, Split
from winnower.core.tokens import fold
from winnower.core.words import (
    Collocates,
    Concordance,
    counted_neighbours,
    find_collocates,
    near_term,
    neighbours,
    sort_hits,
)
from winnower.store.comparing import places_key
from winnower.store.opened import OpenCorpus
from winnower.store.reading import standings_in
from winnower.store.texts import all_bodies, bodies
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}")
MOST_EXPORTED = 50_000
MOST_NEIGHBOURS = 200
CONTEXT_CHARS = 160


def _concordance(desk: Desk, asked: s.EvidenceRequest, order: str) -> tuple[Concordance, Hashable]:
    """The lines of a request in reading order, and all that decides which they are."""
    found = looked_up(desk, asked.comparison)
    places = places_asked(desk, asked.model_copy(update={"order": order}))
    corpus = desk.corpus
    key = (*places_key(found, asked.cell, order), asked.company)
    fields = corpus.scope_fields(asked.comparison.texts, asked.comparison.split, "date", "source")
    made = corpus.kept(
        ("beside", key), lambda corpus: neighbours(places, corpus.index, corpus.lexicon), fields
    )
    return made, key


def _lines(desk: Desk, asked: w.LinesRequest) -> Places:
    """The hits of the request in its order, only those with the wanted neighbour."""
    found, key = _concordance(desk, asked, "source" if asked.sort == "source" else "date")
    corpus = desk.corpus

    def make(corpus: OpenCorpus) -> Places:
        rows = sort_hits(found, asked.sort)
        if asked.at and asked.beside:
            rows = rows[found.at(asked.at)[rows] == corpus.lexicon.number_of(fold(asked.beside))]
        return found.places.some(rows)

    fields = corpus.scope_fields(asked.comparison.texts, asked.comparison.split, "date", "source")
    return corpus.kept(("lines", key, asked.sort, asked.at, asked.beside), make, fields)


@router.post("/concordance")
def concordance(desk: Reading, asked: w.LinesRequest) -> s.EvidencePage:
    """Hits in line, a page at a time."""
    return evidence_page(desk, _lines(desk, asked), asked, "line")


@router.post("/concordance/neighbours")
def neighbour_counts(
    desk: Reading,
    asked: w.LinesRequest,
    offset: Annotated[int, Query(ge=-3, le=3)] = 1,
    most: Annotated[int, Query(ge=1, le=MOST_NEIGHBOURS)] = 30,
) -> w.Neighbours:
    """The words at one place beside the hits, counted."""
    found, _ = _concordance(desk, asked, "date")
    folds, hits = counted_neighbours(found, offset or 1)
    names = desk.corpus.lexicon.folds.gather(folds[:most]).to_list()
    return w.Neighbours(
        offset=offset or 1,
        different=len(folds),
        words=[w.NeighbourCount(word=word, hits=int(n)) for word, n in zip(names, hits[:most], strict=True)],
    )


@router.post("/concordance/export")
def export_lines(desk: Reading, asked: w.LinesRequest, form: Literal["csv", "xlsx"] = "csv") -> Response:
    """The lines in their order as CSV or Excel, at most 50,000."""
    found = _lines(desk, asked)
    corpus = desk.corpus
    names = (
        "source", "date", "title", "speaker", "page", "time", "paragraph", "left", "hit", "right", "place in text",
    )  # fmt: skip
    parts: list[list] = [[] for _ in names]
    texts_of_rows: list[int] = []
    for first in range(0, min(found.hits, MOST_EXPORTED), 2_000):
        shown, _ = passages(found, corpus.index, first, 2_000, each_hit=True)
        body = dict(all_bodies(desk.session, sorted({p.text_id for p in shown})))
        standings = standings_in(desk.session, body.keys())
        for p in shown:
            text, (low, high) = body[p.text_id], p.marks[0]
            title, source, date = origin_of(desk, p.text)
            row = (
                source,
                date,
                title,
                *standings.at(p.text_id, low),
                p.paragraph,
                text[max(low - CONTEXT_CHARS, 0) : low].replace("\n", " "),
                text[low:high],
                text[high : high + CONTEXT_CHARS].replace("\n", " "),
                low,
            )
            texts_of_rows.append(p.text_id)
            for part, cell in zip(parts, row, strict=True):
                part.append(cell)
    columns = with_variables(
        desk, [Column(name, cells) for name, cells in zip(names, parts, strict=True)], texts_of_rows
    )
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), "concordance.csv", "text/csv; charset=utf-8")
    sorted_by = (
        asked.sort if asked.sort in ("date", "source") else f"{asked.sort[-1]}. word to the {asked.sort[:-1]}"
    )
    method = [("Lines", f"{found.hits:,} hits in {found.texts:,} texts, sorted by {sorted_by}.", "")]
    return download(listing_xlsx(columns, method), "concordance.xlsx", EXCEL)


@router.post("/widen")
def widen(desk: Reading, asked: w.WidenRequest) -> w.Widened:
    """The sentence, paragraph or text around a hit."""
    corpus = desk.corpus
    place = corpus.place_of(asked.text_id)
    body = bodies(desk.session, [asked.text_id])[asked.text_id]
    found = widen_place(place, asked.start, asked.to, body, corpus.index)
    return w.Widened(
        text=body[found.start : found.end],
        mark_start=asked.start - found.start,
        mark_end=asked.end - found.start,
        whole=found.whole,
    )


@router.post("/collocates")
def collocates(desk: Reading, asked: w.CollocatesRequest) -> w.CollocatesPage:
    """Words in the company of the hits, with three measures and their places."""
    found = _collocates(desk, asked)
    order = _order(desk, asked, found)
    shown = order[asked.start : asked.start + asked.most]
    names = desk.corpus.lexicon.folds.gather(found.folds[shown]).to_list()
    half = asked.window
    target = asked.comparison.target
    query = target.query if isinstance(target, OfSearch) else None
    return w.CollocatesPage(
        hits=places_asked(desk, asked).hits,
        tokens=found.tokens,
        window=asked.window,
        total=len(order),
        rows=[
            w.CollocateRow(
                word=name,
                term=write_piece(Piece(name)),
                near=near_term(query, asked.window, name) if query else None,
                together=int(found.together[at]),
                total=int(found.total[at]),
                g2=float(found.g2[at]),
                log_dice=plain(found.log_dice[at]),
                pmi=plain(found.pmi[at]),
                left=int(found.by_position[at, :half].sum()),
                right=int(found.by_position[at, half:].sum()),
                by_position=found.by_position[at].tolist(),
            )
            for name, at in zip(names, shown.tolist(), strict=True)
        ],
        method=[
            s.MethodPart(heading=h, words=v, source=c)
            for h, v, c in collocates_method(asked.window, asked.least)
        ],
    )


def _collocates(desk: Desk, asked: w.CollocatesRequest) -> Collocates:
    """Expected counts are those of the texts in which there can be a hit at all."""
    found = looked_up(desk, asked.comparison)
    scope = Scope((*asked.comparison.scope, *found.target.conditions))
    counts = counts_in_scope(desk.corpus, scope, Split())
    hits = places_asked(desk, asked.model_copy(update={"order": "date"}))

    def make(corpus: OpenCorpus) -> Collocates:
        return find_collocates(
            hits, corpus.index, corpus.lexicon, counts, window=asked.window, least=asked.least
        )

    key = ("collocates", places_key(found, asked.cell, "date"), asked.company, asked.window, asked.least)
    fields = desk.corpus.scope_fields(scope, asked.comparison.split)
    return desk.corpus.kept(key, make, fields)


def _order(desk: Desk, asked: w.CollocatesRequest, found: Collocates) -> np.ndarray:
    value = getattr(found, asked.by).astype(float)
    order = np.argsort(np.where(np.isnan(value), np.inf, -value), kind="stable")
    if asked.stop:
        order = order[~np.isin(found.folds[order], stop_numbers(desk))]
    return order


@router.post("/collocates/export")
def export_collocates(
    desk: Reading, asked: w.CollocatesRequest, form: Literal["csv", "xlsx"] = "csv"
) -> Response:
    """All collocates as CSV or Excel."""
    found = _collocates(desk, asked)
    order = _order(desk, asked, found)
    numbers = {
        "together": found.together,
        "in the scope": found.total,
        "G2": found.g2,
        "logDice": found.log_dice,
        "PMI": found.pmi,
    }
    columns = [Column("word", desk.corpus.lexicon.folds.gather(found.folds[order]).to_list())]
    columns += [Column(name, [plain(float(v)) for v in values[order]]) for name, values in numbers.items()]
    places = [*range(-asked.window, 0), *range(1, asked.window + 1)]
    for at, place in enumerate(places):
        columns.append(Column(f"at {place:+d}", found.by_position[order, at].tolist()))
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), "collocates.csv", "text/csv; charset=utf-8")
    return download(
        listing_xlsx(columns, collocates_method(asked.window, asked.least)), "collocates.xlsx", EXCEL
    )
