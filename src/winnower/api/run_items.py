"""Passages of runs as the interface has them: with their words, where they are from, and why they were found."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import polars as pl

from winnower.api.context import Desk
from winnower.api.evidence import origin_of, standing_public
from winnower.api.schemas import runs as r
from winnower.core.coding import Standing, paragraph_at
from winnower.core.runs.recipe import Unit
from winnower.core.runs.signs import with_signs
from winnower.core.tone import ToneWords, weighed
from winnower.store.reading import standings_in
from winnower.store.run_places import RunPassage
from winnower.store.texts import bodies

AROUND = 120
#: Letters of a passage that are shown.
LONG = 1_600


def items_of_frame(
    desk: Desk,
    frame: pl.DataFrame,
    unit: Unit,
    names: Mapping[int, tuple[str, int | None]],
    reasons: Sequence[str],
    *,
    whole: bool = False,
    tone: ToneWords | None = None,
) -> list[r.RunItem]:
    """Found passages (see ``Found.in_texts``), in their order; ``names`` gives name and code of a target. Long ones are
    cut to what stands around their hit unless they are wanted ``whole``. ``tone`` is the list their scores were made
    with."""
    rows = frame.to_dicts()
    ids = sorted({row["text_id"] for row in rows})
    body = bodies(desk.session, ids)
    standings = standings_in(desk.session, ids)
    out = []
    for row in rows:
        if row["text_id"] not in body:
            continue
        name, code_id = names[row["target"]]
        out.append(
            _item(
                desk, body[row["text_id"]], row, unit,
                standing=standings.at(row["text_id"], row["start"]),
                name=name, code_id=code_id, reason=reasons[row["reason"]] if reasons else "", whole=whole,
            )
        )  # fmt: skip
        if tone is not None:
            one = out[-1]
            one.words = [
                r.RunWeighed(start=word.start, end=word.end, value=word.value)
                for word in weighed(one.text, tone)
            ]
    return out


def items_of_passages(
    desk: Desk,
    passages: Sequence[RunPassage],
    unit: Unit,
    names: Mapping[int, tuple[str, int | None]],
    *,
    whole: bool = False,
    tone: ToneWords | None = None,
) -> list[r.RunItem]:
    """Stored passages of one run, in their order."""
    rows = [
        {
            "id": one.id, "text_id": one.text_id, "start": one.start, "end": one.end, "target": one.place.target,
            "reason": one.place.reason, "mark_start": one.place.mark_start, "mark_end": one.place.mark_end,
            "hits": one.place.hits, "score": one.place.score,
        }
        for one in passages
    ]  # fmt: skip
    if not rows:
        return []
    frame = pl.DataFrame(rows)
    return items_of_frame(desk, frame, unit, names, passages[0].run.reasons, whole=whole, tone=tone)


def _item(
    desk: Desk,
    body: str,
    row: dict[str, int],
    unit: Unit,
    *,
    standing: Standing,
    name: str,
    code_id: int | None,
    reason: str,
    whole: bool,
) -> r.RunItem:
    start, end = row["start"], row["end"]
    own_start, own_end = start, end
    if unit not in ("hit", "words"):
        start, end = with_signs(body, start, end)
    # words that were corrected since may have moved away from their passage
    low, high = max(row["mark_start"], start), min(row["mark_end"], end)
    marked = low < high
    if not whole:
        # of a very long passage what stands around its hit
        around = low if marked else start
        start, end = max(start, around - LONG // 2), min(end, max(around + LONG // 2, start + LONG))
        high = min(high, end)
    title, source, date = origin_of(desk, desk.corpus.place_of(row["text_id"]))
    return r.RunItem(
        id=row.get("id", 0),
        target=row["target"],
        name=name,
        code_id=code_id,
        text_id=row["text_id"],
        title=title,
        source=source,
        date=date,
        paragraph=paragraph_at(body, start),
        standing=standing_public(standing),
        start=own_start,
        end=own_end,
        before=body[max(start - AROUND, 0) : start].replace("\n", " "),
        text=body[start:end],
        after=body[end : end + AROUND].replace("\n", " "),
        mark_start=low - start if marked else 0,
        mark_end=high - start if marked else 0,
        reason=reason,
        hits=row["hits"],
        score=row["score"] / 1_000 if row.get("score") else None,
    )
