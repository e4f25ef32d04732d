"""What runs of automatic coding found, read as passages: in one column with those coded by hand.

A passage of a run has the number of its place, below zero, as its id, and the number of its run, below zero, as its
coder: a run is a coder of its own, whose passages are told apart from those of people everywhere.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy import text as sql
from sqlalchemy.orm import Session

from winnower.core.review import agreed
from winnower.store.bulk import chunks
from winnower.store.coded import RUN
from winnower.store.models import CodingRun, RunPlace, RunTarget, VerdictRow
from winnower.store.review import VERDICT_SCHEMA

IDS_AT_ONCE = 200_000
TEXTS_AT_ONCE = 1_000
COUNTED = ("applied", "proposals")
_COLUMNS = {
    "id": pl.Int64,
    "text_id": pl.Int64,
    "code_id": pl.Int64,
    "start": pl.Int32,
    "end": pl.Int32,
    "run": pl.Int64,
    "of": pl.Int64,
}
_PLACE = ["of", "text_id", "start", "end"]
_FROM = (
    "run_place p join run_target t on t.run_id = p.run_id and t.number = p.target and t.code_id is not null"
)
_LISTED = "p.id, p.text_id, t.code_id, p.start, p.`end`, p.run_id, t.id"


def passages_of_runs(
    session: Session, project_id: int, by_hand: dict[str, np.ndarray], texts: Collection[int] | None = None
) -> pl.DataFrame | None:
    """What runs of a project count, with the columns of core/coding/passages.py; None where there is none.

    Of an applied run all that people did not judge wrong, of proposals what they judged right. What was judged right
    and stands, differently cut, under the same code by hand as well, is that passage's (``by_hand``).
    """
    states = _states(session, project_id)
    if not states:
        return None
    found = _read(session, states, texts)
    if not len(found):
        return None
    said = agreed(verdicts_on_runs(session, list(states), texts).rename({"subject_id": "of"}), extra=("of",))
    found = found.join(said.select(*_PLACE, "verdict"), on=_PLACE, how="left", maintain_order="left")
    right, wrong = pl.col("verdict").fill_null(-1) == 1, pl.col("verdict").fill_null(-1) == 0
    proposed = pl.col("run").is_in([run for run, state in states.items() if state == "proposals"])
    found = found.filter(~wrong & (~proposed | right))
    found = _without_taken_over(found, by_hand)
    found = found.unique(["text_id", "code_id", "start", "end", "run"], keep="first", maintain_order=True)
    return found.select(
        id=-pl.col("id"),
        text_id="text_id",
        code_id="code_id",
        start="start",
        end="end",
        made_by=-pl.col("run"),
        strength=pl.lit(0, pl.Int8),
    )


def _without_taken_over(found: pl.DataFrame, by_hand: dict[str, np.ndarray]) -> pl.DataFrame:
    right = found.filter(pl.col("verdict") == 1)
    if not len(right) or not len(by_hand["id"]):
        return found
    hand = pl.DataFrame({name: by_hand[name] for name in ("text_id", "code_id", "start", "end")})
    both = right.join(
        hand.cast({"text_id": pl.Int64, "code_id": pl.Int64}), on=["text_id", "code_id"], suffix="_hand"
    )
    over = both.filter((pl.col("start") < pl.col("end_hand")) & (pl.col("start_hand") < pl.col("end")))
    return found.join(over.select("id").unique(), on="id", how="anti", maintain_order="left")


def _states(session: Session, project_id: int) -> dict[int, str]:
    asked = select(CodingRun.id, CodingRun.state).where(
        CodingRun.project_id == project_id, CodingRun.state.in_(COUNTED)
    )
    return {run: state for run, state in session.execute(asked)}


def _read(session: Session, states: dict[int, str], texts: Collection[int] | None) -> pl.DataFrame:
    connection = session.connection()
    connection.execute(sql("set session group_concat_max_len = 1073741824"))
    applied = [run for run, state in states.items() if state == "applied"]
    proposed = [run for run, state in states.items() if state == "proposals"]
    parts: list[str] = []
    if texts is not None:
        runs = ", ".join(map(str, states))
        for some in chunks(sorted(texts), TEXTS_AT_ONCE):
            listed = ", ".join(str(int(one)) for one in some)
            parts.append(
                _lines(connection, f"{_FROM} where p.text_id in ({listed}) and p.run_id in ({runs})")
            )
    else:
        for run in applied:
            low, high = connection.execute(
                sql("select min(id), max(id) from run_place where run_id = :run"), {"run": run}
            ).one()
            for first in range(low or 0, (high or -1) + 1, IDS_AT_ONCE):
                within = f"p.id between {first} and {first + IDS_AT_ONCE - 1} and p.run_id = {run}"
                parts.append(_lines(connection, f"{_FROM} where {within}"))
        if proposed:
            parts.append(_lines(connection, _judged_right(proposed)))
    written = "\n".join(part for part in parts if part)
    if not written:
        return pl.DataFrame(schema=_COLUMNS)
    return pl.read_csv(written.encode(), has_header=False, schema=_COLUMNS)


def _judged_right(runs: Sequence[int]) -> str:
    """Of proposals only what somebody judged right can count: asked for from the verdicts."""
    listed = ", ".join(map(str, runs))
    return (
        "(select distinct subject_id, text_id, start, `end` from verdict "
        f"where subject = '{RUN}' and verdict = 1 and subject_id in "
        f"(select id from run_target where run_id in ({listed}))) v "
        "join run_target t on t.id = v.subject_id and t.code_id is not null "
        "join run_place p on p.text_id = v.text_id and p.run_id = t.run_id and p.target = t.number "
        "and p.start = v.start and p.`end` = v.`end`"
    )


def _lines(connection: Any, where: str) -> str:
    asked = f"select group_concat(concat_ws(',', {_LISTED}) separator '\\n') from {where}"
    return connection.execute(sql(asked)).scalar() or ""


def verdicts_on_runs(
    session: Session, runs: Collection[int], texts: Collection[int] | None = None
) -> pl.DataFrame:
    """All verdicts on what some runs found, with ``subject_id``, the id of the target; see VERDICT_SCHEMA."""
    asked = (
        select(
            VerdictRow.subject_id,
            VerdictRow.text_id,
            VerdictRow.start,
            VerdictRow.end,
            VerdictRow.verdict,
            VerdictRow.made_by,
        )
        .join(RunTarget, RunTarget.id == VerdictRow.subject_id)
        .where(VerdictRow.subject == RUN, RunTarget.run_id.in_(list(runs)))
    )
    if texts is not None:
        asked = asked.where(VerdictRow.text_id.in_([int(one) for one in texts]))
    rows = [tuple(row) for row in session.execute(asked)]
    return pl.DataFrame(rows, schema={"subject_id": pl.Int64, **VERDICT_SCHEMA}, orient="row")


@dataclass(frozen=True)
class RunPassage:
    """A place of a run as a passage is shown; its names are those of PassageRow."""

    id: int
    text_id: int
    code_id: int
    start: int
    end: int
    made_by: int
    made_at: dt.datetime
    run: CodingRun
    target_id: int
    place: RunPlace
    strength: int | None = None
    comment: str = ""
    revision: int = 0


def shown_passages(session: Session, ids: Sequence[int]) -> dict[int, RunPassage]:
    """Passages of runs by their ids (below zero); one query."""
    asked = (
        select(RunPlace, CodingRun, RunTarget)
        .join(CodingRun, CodingRun.id == RunPlace.run_id)
        .join(RunTarget, (RunTarget.run_id == RunPlace.run_id) & (RunTarget.number == RunPlace.target))
        .where(RunPlace.id.in_([-one for one in ids]))
    )
    return {-place.id: _shown(place, run, target) for place, run, target in session.execute(asked)}


def _shown(place: RunPlace, run: CodingRun, target: RunTarget) -> RunPassage:
    return RunPassage(
        -place.id, place.text_id, target.code_id or 0, place.start, place.end,
        -run.id, run.made_at, run, target.id, place,
    )  # fmt: skip
