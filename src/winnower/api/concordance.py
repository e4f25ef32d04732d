"""Hits in line: sorted by what stands beside them, counted by it, widened, exported; collocates."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from fastapi import APIRouter, Query, Response

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading
from winnower.api.evidence import evidence_page, hits_asked, scope_of, what_is_asked
from winnower.api.instruments import download, plain
from winnower.api.schemas import words as w
from winnower.api.words import EXCEL, counts_in_scope, stop_numbers
from winnower.core.compare import Evidence, collocates_method, passages
from winnower.core.pattern import Piece, write_piece
from winnower.core.scope import Split, value_at
from winnower.core.tokens import fold
from winnower.core.words import (
    Collocates,
    Concordance,
    counted_neighbours,
    find_collocates,
    neighbours,
    sort_hits,
)
from winnower.store.opened import OpenCorpus
from winnower.store.texts import all_bodies, bodies
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}")
MOST_EXPORTED = 50_000
MOST_NEIGHBOURS = 200
CONTEXT_CHARS = 160


def _concordance(desk: Desk, what: tuple) -> Concordance:
    def make(corpus: OpenCorpus) -> Concordance:
        return neighbours(corpus.evidence(*what), corpus.index, corpus.lexicon)

    return desk.corpus.kept(("beside", what), make)


def _lines(desk: Desk, asked: w.LinesRequest) -> Evidence:
    """The hits of the request in its order, only those with the wanted neighbour."""
    order = "source" if asked.sort == "source" else "date"
    what = what_is_asked(desk, asked.model_copy(update={"order": order}))

    def make(corpus: OpenCorpus) -> Evidence:
        found = _concordance(desk, what)
        rows = sort_hits(found, asked.sort)
        if asked.at and asked.beside:
            rows = rows[found.at(asked.at)[rows] == corpus.lexicon.number_of(fold(asked.beside))]
        hits = found.evidence
        return Evidence(hits.text[rows], hits.start[rows], hits.length[rows])

    return desk.corpus.kept(("lines", what, asked.sort, asked.at, asked.beside), make)


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
    found = _concordance(desk, what_is_asked(desk, asked.model_copy(update={"order": "date"})))
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
    fields = corpus.columns.fields
    parts: list[list] = [[] for _ in range(8)]
    for first in range(0, min(found.hits, MOST_EXPORTED), 2_000):
        shown, _ = passages(found, corpus.index, first, 2_000, each_hit=True)
        body = dict(all_bodies(desk.session, sorted({p.text_id for p in shown})))
        for p in shown:
            text, (low, high) = body[p.text_id], p.marks[0]
            row = (
                value_at(fields["source"], p.text),  # type: ignore[arg-type]
                value_at(fields["date"], p.text),  # type: ignore[arg-type]
                fields["title"].values[p.text],  # type: ignore[union-attr]
                p.paragraph,
                text[max(low - CONTEXT_CHARS, 0) : low].replace("\n", " "),
                text[low:high],
                text[high : high + CONTEXT_CHARS].replace("\n", " "),
                low,
            )
            for part, cell in zip(parts, row, strict=True):
                part.append(cell)
    names = ("source", "date", "title", "paragraph", "left", "hit", "right", "place in text")
    columns = [Column(name, cells) for name, cells in zip(names, parts, strict=True)]
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
    segment, local = corpus.index.locate(corpus.place_of(asked.text_id))
    body = bodies(desk.session, [asked.text_id])[asked.text_id]
    if asked.to == "text":
        return w.Widened(text=body, mark_start=asked.start, mark_end=asked.end, whole=True)
    begin, end = int(segment.text_start[local]), int(segment.text_start[local + 1])
    token = begin + int(np.searchsorted(segment.char_start[begin:end], asked.start, side="right")) - 1
    starts = segment.sentence_start if asked.to == "sentence" else segment.paragraph_start
    at = int(np.searchsorted(starts, max(token, begin), side="right"))
    low = int(segment.char_start[int(starts[at - 1])])
    following = int(starts[at]) if at < len(starts) else end
    high = int(segment.char_start[following]) if following < end else len(body)
    if int(starts[at - 1]) == begin:
        low = 0
    # quotes before the first word of what follows belong to it
    stretch = body[low:high].rstrip()
    stretch = stretch.rstrip("“„«([‘") if following < end else stretch
    return w.Widened(
        text=stretch.rstrip(),
        mark_start=asked.start - low,
        mark_end=asked.end - low,
        whole=low == 0 and following >= end,
    )


@router.post("/collocates")
def collocates(desk: Reading, asked: w.CollocatesRequest) -> w.CollocatesPage:
    """Words in the company of the hits, with three measures and their places."""
    found = _collocates(desk, asked)
    order = _order(desk, asked, found)
    shown = order[asked.start : asked.start + asked.most]
    names = desk.corpus.lexicon.folds.gather(found.folds[shown]).to_list()
    half = asked.window
    return w.CollocatesPage(
        hits=hits_asked(desk, asked).hits,
        tokens=found.tokens,
        window=asked.window,
        total=len(order),
        rows=[
            w.CollocateRow(
                word=name,
                term=write_piece(Piece(name)),
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
    what = what_is_asked(desk, asked.model_copy(update={"order": "date"}))
    counts = counts_in_scope(desk.corpus, scope_of(asked), Split())

    def make(corpus: OpenCorpus) -> Collocates:
        hits = corpus.evidence(*what)
        return find_collocates(
            hits, corpus.index, corpus.lexicon, counts, window=asked.window, least=asked.least
        )

    return desk.corpus.kept(("collocates", what, asked.window, asked.least), make)


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
