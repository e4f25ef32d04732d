"""Very many passages: opened, asked, counted, merged and taken back; beside the same in pandas."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pandas as pd
import polars as pl
from measure import row, seconds
from sqlalchemy import insert

from winnower.core.coding import Beside, Question, answer
from winnower.core.coding.passages import Passages, count_in_groups
from winnower.store.accounts import local_account, make_project
from winnower.store.bulk import insert_frame
from winnower.store.codebook import codebook_of, merge_codes
from winnower.store.database import Database, Session
from winnower.store.history import Recorder
from winnower.store.memory import Memory
from winnower.store.models import CodeRow, Delivery, PassageRow, Project, TextRow
from winnower.store.packed import insert_numbered, with_defaults
from winnower.store.reading_passages import PassageCache
from winnower.store.undo import undo

CODES, GROUPS, TEXT_CHARS = 300, 20, 4_000
#: Of the codes two hold more than the others, to be merged.
LARGE = 0.1


def _texts(session: Session, size: int) -> tuple[int, int, np.ndarray]:
    """A project with texts to hang passages on."""
    account = local_account(session)
    project = make_project(session, account, f"coding {time.time_ns()}")
    delivery = Delivery(project_id=project.id, name="texts", made_by=account.id, state="done")
    session.add(delivery)
    session.flush()
    first = 10_000_000
    frame = pl.DataFrame({"id": np.arange(first, first + size)}).with_columns(
        pl.lit(project.id).alias("project_id"),
        pl.lit(delivery.id).alias("delivery_id"),
        pl.format("text {}", "id").alias("title"),
        pl.lit("bench").alias("origin"),
        pl.col("id").cast(pl.String).str.zfill(32).alias("identity"),
        pl.lit("0" * 32).alias("content"),
        pl.lit(10).alias("words"),
    )
    insert_frame(session, TextRow, frame)
    return project.id, account.id, frame["id"].to_numpy()


def _codes(session: Session, project: int, account: int) -> list[int]:
    """Three hundred codes in two levels."""
    tops = [
        {"project_id": project, "name": f"code {at}", "position": at, "made_by": account} for at in range(30)
    ]
    session.execute(insert(CodeRow), tops)
    parents = [code.id for code in codebook_of(session, project).codes]
    under = [
        {
            "project_id": project,
            "parent_id": parents[at % 30],
            "name": f"code {at}",
            "position": at,
            "made_by": account,
        }
        for at in range(30, CODES)
    ]
    session.execute(insert(CodeRow), under)
    return [code.id for code in codebook_of(session, project).codes]


def _passages(texts: np.ndarray, codes: list[int], account: int, size: int) -> pl.DataFrame:
    rng = np.random.default_rng(3)
    code = rng.choice(np.asarray(codes), size)
    draw = rng.random(size)
    code[draw < LARGE] = codes[1]
    code[(draw >= LARGE) & (draw < 2 * LARGE)] = codes[2]
    start = rng.integers(0, TEXT_CHARS, size)
    frame = pl.DataFrame(
        {
            "text_id": rng.choice(texts, size),
            "code_id": code,
            "start": start,
            "end": start + rng.integers(10, 300, size),
        }
    ).with_columns(pl.lit(account).alias("made_by"))
    return frame.unique(maintain_order=True)


def _timed(work: Callable[[], object]) -> float:
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def main(database: Database, folder: Path, size: int) -> None:
    """Print what ``size`` passages over a fifth as many texts cost."""
    with database.session() as session:
        project, account, texts = _texts(session, size // 5)
        codes = _codes(session, project, account)
        frame = _passages(texts, codes, account, size)
        insert_numbered(session, PassageRow, with_defaults(PassageRow, frame))
    opened: list[Passages] = []

    def read() -> None:
        with database.session() as session:
            cache = PassageCache(Memory())
            opened.append(cache.open(session, session.get_one(Project, project), folder))

    row(f"{len(frame):,} passages read for the first time", f"{_timed(read):.2f} s", "", None)
    again = _timed(read)
    row("   and after a start", f"{again:.2f} s", "at most 2 s", again <= 2)
    passages = opened[-1]
    with database.session() as session:
        book = codebook_of(session, project)
    below = book.below()

    def under(chosen: object) -> set[int]:
        return {one for code in chosen for one in below[code]}  # type: ignore[attr-defined]

    worst = 0.0
    for beside in (
        (),
        *((Beside(name, (codes[0],)),) for name in ("overlapping", "inside", "followed by", "in one text")),
        (Beside("near", (codes[0],), within=10),),
    ):
        question = Question((codes[1], codes[40]), beside=beside)
        worst = max(worst, seconds(lambda q=question: answer(q, passages, texts, under, _spans), 3))
    row("slowest of six questions, all places", f"{worst * 1000:.0f} ms", "at most 300 ms", worst <= 0.3)
    group_of = np.random.default_rng(5).integers(0, GROUPS, len(texts))
    _count_groups(passages, texts, group_of, below)
    _merge(database, project, account, codes)


def _spans(of: Passages, unit: str) -> tuple[np.ndarray, np.ndarray]:
    """Words as six letters each: where real ones stand is read from the index (bench of words)."""
    return of.start // 6, of.end // 6 + 1


def _count_groups(
    passages: Passages, texts: np.ndarray, group_of: np.ndarray, below: dict[int, set[int]]
) -> None:
    """Codes by groups: each passage once in a code with all below it."""

    def ours() -> None:
        group = group_of[np.searchsorted(texts, passages.texts)][passages.text_number - 1]
        count_in_groups(passages, group, GROUPS, below)

    frame = pd.DataFrame({name: values for name, values in passages.columns().items()})
    frame["group"] = group_of[np.searchsorted(texts, passages.text_id)]

    def theirs() -> None:
        for under in below.values():
            of_code = frame[frame.code_id.isin(under)]
            once = of_code.drop_duplicates(["text_id", "start", "end", "made_by"])
            once.groupby("group").agg(passages=("id", "size"), texts=("text_id", "nunique"))

    mine, pandas = seconds(ours, 3), _timed(theirs)
    row(f"{CODES} codes by {GROUPS} groups", f"{mine * 1000:.0f} ms", "at most 150 ms", mine <= 0.15)
    row("   beside pandas", f"{pandas / mine:.0f} times", "at least 50 times", pandas >= 50 * mine)


def _merge(database: Database, project: int, account: int, codes: list[int]) -> None:
    def merge() -> None:
        with database.session() as session:
            recorder = Recorder(session, project, account, "merge")
            merge_codes(recorder, codebook_of(session, project), codes[2], codes[1])
            recorder.save()

    def back() -> None:
        with database.session() as session:
            undo(session, session.get_one(Project, project), account, lambda: None)  # type: ignore[arg-type, return-value]

    merged, undone = _timed(merge), _timed(back)
    row("two large codes merged", f"{merged:.1f} s", "at most 5 s", merged <= 5)
    row("   and taken back", f"{undone:.1f} s", "at most 5 s", undone <= 5)
