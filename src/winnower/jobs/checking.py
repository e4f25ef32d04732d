"""The corpus check as a job: what it finds is kept beside the index, for the texts as they were then.

    index/<project>/check-<corpus revision>.arrow

one row a text in the order of the texts: text_id, same (group of texts with the same body, -1 for
none), near (group of texts nearly alike), alike, language, damaged (bool), lost (characters).
"""

from __future__ import annotations

import os
from contextlib import nullcontext
from typing import Any, NamedTuple

import numpy as np
import polars as pl

from winnower.core.check import SIGNS_OF_DAMAGE, language_of, near_duplicates, repair
from winnower.core.scope import NO_DATE, DateColumn
from winnower.jobs.executor import executor, in_order
from winnower.jobs.run import Hold, Progress, Stage, carry_out
from winnower.settings import Settings
from winnower.store.bulk import chunks
from winnower.store.corpus import open_corpus
from winnower.store.database import Database, Session
from winnower.store.imports import contents_of
from winnower.store.models import Job, Project
from winnower.store.opened import OpenCorpus, check_path
from winnower.store.texts import bodies

TEXTS_AT_ONCE = 2_000
FEW_PARTS = 4
DEFAULT_THRESHOLD = 0.6


def earliest_first(corpus: OpenCorpus) -> np.ndarray:
    """int per text: its rank by date, those without one last, then by id."""
    dates = corpus.columns.fields["date"]
    assert isinstance(dates, DateColumn)
    when = np.where(dates.days == NO_DATE, np.iinfo(np.int32).max, dates.days)
    rank = np.empty(len(when), np.int64)
    rank[np.lexsort((corpus.columns.text_id, when))] = np.arange(len(when))
    return rank


class CheckRun:
    """One check from its job row to its findings."""

    what = "The check"

    def __init__(self, database: Database, settings: Settings, job_id: int) -> None:
        self.settings = settings
        self.hold = Hold(database, job_id, settings)

    def run(self) -> None:
        """Do it. Raises Cancelled, or the error that ended it; nothing is left then."""
        carry_out(self.hold, self)

    def begin(self, session: Session, job: Job) -> None:
        self.threshold = float(job.params.get("threshold", DEFAULT_THRESHOLD))
        self.project = session.get_one(Project, job.project_id)
        self.corpus = open_corpus(session, self.project, self.settings.index / str(self.project.id))
        self.path = check_path(self.corpus.folder, self.corpus.revision)

    def stages(self) -> tuple[Stage, ...]:
        return Stage("Comparing texts", 0, 50, self._compare), Stage("Reading texts", 50, 100, self._read)

    def publish(self, session: Session) -> dict[str, Any]:
        found = pl.DataFrame(
            {
                "text_id": self.corpus.columns.text_id,
                "same": self.same,
                "near": self.near.group,
                "alike": self.near.alike,
                "language": pl.Series(self.language, dtype=pl.String),
                "damaged": self.damaged,
                "lost": self.lost,
            }
        )
        draft = self.path.with_suffix(".part")
        found.write_ipc(draft, compression="uncompressed")
        os.replace(draft, self.path)
        return {"threshold": self.threshold, "revision": self.corpus.revision}

    def take_back(self, session: Session) -> str:
        return ""

    def sweep(self) -> None:
        self.path.with_suffix(".part").unlink(missing_ok=True)

    def _compare(self, progress: Progress) -> None:
        corpus = self.corpus
        self.near = near_duplicates(corpus.index, self.threshold, earliest_first(corpus), progress.tell)
        rows = self.hold.lasting(lambda session: contents_of(session, self.project.id))
        self.same = same_bodies(rows, corpus.columns.text_id)

    def _read(self, progress: Progress) -> None:
        """Language of each text, whether it is damaged, characters lost."""
        ids = self.corpus.columns.text_id
        self.language: list[str] = []
        damaged, lost = [], []
        parts = list(chunks(ids, TEXTS_AT_ONCE))
        # a few texts are looked at quicker here than a process starts
        with executor() if len(parts) > FEW_PARTS else nullcontext() as pool:
            texts = (self._bodies(part) for part in parts)
            looks = in_order(pool, look_at, texts) if pool else map(look_at, texts)
            for number, look in enumerate(looks, 1):
                self.language += look.language
                damaged.append(look.damaged)
                lost.append(look.lost)
                progress.tell(number / len(parts))
        self.damaged = np.concatenate(damaged) if damaged else np.zeros(0, bool)
        self.lost = np.concatenate(lost) if lost else np.zeros(0, np.int32)

    def _bodies(self, ids: np.ndarray) -> list[str]:
        found = self.hold.lasting(lambda session: bodies(session, [int(i) for i in ids]))
        return [found.get(int(i), "") for i in ids]


class Look(NamedTuple):
    """What was seen in some texts: their languages, bool whether damaged, int32 characters lost."""

    language: list[str]
    damaged: np.ndarray
    lost: np.ndarray


def look_at(texts: list[str]) -> Look:
    """Language and damage of some texts."""
    damaged, lost = np.zeros(len(texts), bool), np.zeros(len(texts), np.int32)
    suspects = pl.Series(texts, dtype=pl.String).str.contains(SIGNS_OF_DAMAGE).to_numpy()
    for at in np.flatnonzero(suspects):
        mended = repair(texts[at])
        if mended is not None:
            damaged[at], lost[at] = True, mended.lost
    return Look([language_of(body) for body in texts], damaged, lost)


def same_bodies(contents: list[tuple[int, bytes]], text_id: np.ndarray) -> np.ndarray:
    """int32 per text: the group of texts with the very same body, -1 for none.

    ``contents`` are ids and hashes of the texts with words.
    """
    frame = pl.DataFrame(contents, schema={"text_id": pl.Int64, "content": pl.Binary}, orient="row")
    place = pl.DataFrame({"text_id": text_id}).with_row_index("place")
    frame = frame.join(place, on="text_id").sort("place")
    many = frame.group_by("content", maintain_order=True).agg("place").filter(pl.col("place").list.len() > 1)
    out = np.full(len(text_id), -1, np.int32)
    for number, places in enumerate(many["place"].to_list()):
        out[places] = number
    return out
