"""A change of very many rows: made, taken back, done again; beside the same rows one object each."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np
import polars as pl
import psutil
from measure import row
from sqlalchemy import delete, insert, select

from winnower.store.accounts import local_account, make_project
from winnower.store.bulk import insert_frame
from winnower.store.database import Database, Session
from winnower.store.history import Recorder
from winnower.store.models import CommandData, Delivery, Project, TextRow, VerdictRow
from winnower.store.undo import redo, undo

TEXTS = 2_000


def _project(session: Session) -> tuple[int, int, list[int]]:
    """A project with texts to hang rows on."""
    account = local_account(session)
    project = make_project(session, account, f"history {time.time_ns()}")
    delivery = Delivery(project_id=project.id, name="texts", made_by=account.id, state="done")
    session.add(delivery)
    session.flush()
    first = (session.scalar(select(TextRow.id).order_by(TextRow.id.desc()).limit(1)) or 0) + 1
    frame = pl.DataFrame({"id": np.arange(first, first + TEXTS)}).with_columns(
        pl.lit(project.id).alias("project_id"),
        pl.lit(delivery.id).alias("delivery_id"),
        pl.format("text {}", "id").alias("title"),
        pl.lit("bench").alias("origin"),
        pl.col("id").cast(pl.String).str.zfill(32).alias("identity"),
        pl.lit("0" * 32).alias("content"),
        pl.lit(10).alias("words"),
    )
    insert_frame(session, TextRow, frame)
    return project.id, account.id, frame["id"].to_list()


def _verdicts(project: int, account: int, texts: list[int], size: int) -> pl.DataFrame:
    at = np.arange(size)
    return pl.DataFrame(
        {"text_id": np.asarray(texts)[at % len(texts)], "start": at, "end": at + 5}
    ).with_columns(
        pl.lit(project).alias("project_id"),
        pl.lit("category").alias("subject"),
        pl.lit(1).alias("subject_id"),
        pl.lit("hit").alias("kind"),
        (pl.col("start") % 2).alias("verdict"),
        pl.lit("lamb*").alias("found_by"),
        pl.lit(1).alias("version"),
        pl.lit(account).alias("made_by"),
    )


def _timed(work: Callable[[], object]) -> float:
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def main(database: Database, size: int) -> None:
    """Print how long a change of ``size`` rows takes, and how much memory and space."""
    with database.session() as session:
        project, account, texts = _project(session)
    frame = _verdicts(project, account, texts, size)
    process = psutil.Process()
    before = process.memory_info().rss

    def make() -> None:
        with database.session() as session:
            recorder = Recorder(session, project, account, "many")
            recorder.insert_frame(VerdictRow, frame)
            recorder.save()

    def turn(way: Callable[..., object]) -> None:
        with database.session() as session:
            way(session, session.get_one(Project, project), account, lambda: None)

    made, undone, redone = _timed(make), _timed(lambda: turn(undo)), _timed(lambda: turn(redo))
    grown = (process.memory_info().rss - before) / 1e6
    with database.session() as session:
        kept = max(len(data) for data in session.scalars(select(CommandData.data)))
        session.execute(delete(VerdictRow).where(VerdictRow.project_id == project))
    some = frame.head(size // 20)

    def bare() -> None:
        with database.session() as session:
            session.execute(insert(VerdictRow), some.to_dicts())
            session.execute(delete(VerdictRow).where(VerdictRow.project_id == project))

    plain = _timed(bare) * 20
    print(f"   {size:,} rows: made {made:.1f} s, taken back {undone:.1f} s, done again {redone:.1f} s")
    print(f"   kept in {kept / 1e6:.1f} MB; memory grew by {grown:.0f} MB")
    row(
        "rows made and taken back, beside bare inserts and a delete",
        f"{(made + undone) / plain:.2f} times",
        "under 1",
        made + undone < plain,
    )
