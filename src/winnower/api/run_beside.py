"""A run beside coding by hand: what both have, and what only one of them has."""

from __future__ import annotations

import numpy as np
import polars as pl
from fastapi import APIRouter

from winnower.api.codebook import passages_of
from winnower.api.context import Desk, Reading
from winnower.api.numbers import plain
from winnower.api.run_items import items_of_frame
from winnower.api.schemas import runs as r
from winnower.api.schemas.coding import CoderPublic
from winnower.core.errors import NotFound
from winnower.core.measure.agreement import beside
from winnower.core.places import places_in_texts
from winnower.core.scope import CategoryColumn
from winnower.store import runs
from winnower.store.codebook import codebook_of
from winnower.store.passages import coders_of
from winnower.store.run_beside import Marked, marked

router = APIRouter(prefix="/projects/{project_id}/runs/{run_id}/beside")
MOST_SOURCES = 60


def _marked(desk: Desk, run_id: int, asked: r.RunBesideRequest) -> Marked:
    row = runs.run_of(desk.session, desk.project.id, run_id)
    scope = runs.recipe_of(row).texts
    matched = {one.code_id: one.hand_id for one in asked.matched}
    passages = passages_of(desk)
    return marked(desk.session, row, desk.corpus, passages, scope, asked.unit, asked.coders, matched)


@router.post("")
def beside_hand(desk: Reading, run_id: int, asked: r.RunBesideRequest) -> r.RunBesidePublic:
    """How a run agrees with coding by hand, by code and by source."""
    found = _marked(desk, run_id, asked)
    book = codebook_of(desk.session, desk.project.id)
    text = found.text
    codes = [
        _row(" > ".join(book.tree.path(code)), (code, hand), found.run[at], found.hand[at], text)
        for at, (code, hand) in enumerate(zip(found.codes, found.by_hand, strict=True))
    ]
    return r.RunBesidePublic(
        texts=len(np.unique(text)),
        units=len(text),
        codes=codes,
        sources=_by_source(desk, found) if len(text) else [],
        coders=[
            CoderPublic(id=account, name=name, me=account == desk.account.id)
            for account, name in coders_of(desk.session, desk.project.id)
            if account > 0
        ],
    )


def _by_source(desk: Desk, found: Marked) -> list[r.RunBesideRow]:
    """All codes together, each unit once for each code."""
    column = desk.corpus.columns.fields["source"]
    assert isinstance(column, CategoryColumn)
    source = column.codes[found.text]
    out = []
    for code in np.unique(source).tolist()[:MOST_SOURCES]:
        of = source == code
        run, hand = found.run[:, of].ravel(), found.hand[:, of].ravel()
        text = np.tile(found.text[of], len(found.codes))
        out.append(_row(column.labels[code] if code >= 0 else "no source", None, run, hand, text))
    return out


def _row(
    label: str, codes: tuple[int, int] | None, run: np.ndarray, hand: np.ndarray, text: np.ndarray
) -> r.RunBesideRow:
    found = beside(run, hand, text)
    measured = {
        name: r.Measured(
            **{part: plain(one) for part, one in zip(("value", "low", "high"), value, strict=True)}
        )
        for name, value in (("precision", found.precision), ("recall", found.recall), ("f1", found.f1))
    }
    return r.RunBesideRow(
        label=label,
        code_id=codes[0] if codes else None,
        hand_id=codes[1] if codes else None,
        both=found.both,
        only_run=found.only_run,
        only_hand=found.only_hand,
        neither=found.neither,
        kappa=plain(found.kappa),
        alpha=plain(found.alpha),
        **measured,
    )


@router.post("/units")
def units(desk: Reading, run_id: int, asked: r.RunBesideUnits) -> r.RunUnits:
    """The units that both have, only the run, or only people, a page at a time."""
    found = _marked(desk, run_id, asked)
    if asked.code_id not in found.codes:
        raise NotFound("This run codes nothing under this code.")
    at = found.codes.index(asked.code_id)
    run, hand = found.run[at], found.hand[at]
    chosen = {"both": run & hand, "only the run": run & ~hand, "only by hand": hand & ~run}[asked.which]
    rows = found.at[np.flatnonzero(chosen)]
    page = rows[asked.start : asked.start + asked.most]
    index = desk.corpus.index
    frame = places_in_texts(found.units.places(page, index), index)
    nothing = [pl.lit(0).alias(name) for name in ("target", "reason", "mark_start", "mark_end")]
    frame = frame.with_columns(*nothing, pl.lit(1).alias("hits"))
    name = codebook_of(desk.session, desk.project.id).code(asked.code_id).name
    items = items_of_frame(desk, frame, asked.unit, {0: (name, asked.code_id)}, [""])
    return r.RunUnits(total=len(rows), start=asked.start, items=items)
