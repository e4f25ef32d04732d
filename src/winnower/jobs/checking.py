"""The corpus check as a job: what it finds is kept beside the index, for the texts as they were then.

    index/<project>/check-<corpus revision>.arrow

one row a text in the order of the texts: text_id, same (group of texts with the same body, -1 for
none), near (group of texts nearly alike), alike, language, damaged (bool), lost (characters).
"""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import polars as pl
from sqlalchemy import select

from winnower.core.check import SIGNS_OF_DAMAGE, language_of, near_duplicates, repair
from winnower.core.scope import NO_DATE, DateColumn
from winnower.jobs.ending import ended_in_order
from winnower.settings import Settings
from winnower.store import jobs
from winnower.store.bulk import chunks
from winnower.store.corpus import open_corpus
from winnower.store.database import Database
from winnower.store.models import Project, TextRow
from winnower.store.opened import OpenCorpus
from winnower.store.texts import bodies

TEXTS_AT_ONCE = 2_000
DEFAULT_THRESHOLD = 0.6


def check_path(folder: Path, revision: int) -> Path:
    return folder / f"check-{revision}.arrow"


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

    def __init__(self, database: Database, settings: Settings, job_id: int) -> None:
        self.database, self.settings, self.job_id = database, settings, job_id
        self._told = 0.0

    def run(self) -> None:
        """Do it. Raises Cancelled, or the error that ended it; nothing is left then."""
        with ended_in_order(self.database, self.job_id, "The check"):
            with self.database.session() as session:
                job = jobs.begin(session, self.job_id)
                threshold = float(job.params.get("threshold", DEFAULT_THRESHOLD))
                project = session.get_one(Project, job.project_id)
                folder = self.settings.index / str(project.id)
                corpus = open_corpus(session, project, folder)
            found = self._check(corpus, project.id, threshold)
            path = check_path(folder, corpus.revision)
            draft = path.with_suffix(".part")
            found.write_ipc(draft, compression="uncompressed")
            os.replace(draft, path)
            with self.database.session() as session:
                result = {"threshold": threshold, "revision": corpus.revision}
                jobs.finish(session, self.job_id, "done", result=result)

    def _check(self, corpus: OpenCorpus, project_id: int, threshold: float) -> pl.DataFrame:
        ids = corpus.columns.text_id
        near = near_duplicates(
            corpus.index, threshold, earliest_first(corpus), self._teller("Comparing texts", 0, 50)
        )
        same = self._same(project_id, corpus)
        language, damaged, lost = self._read(ids, self._teller("Reading texts", 50, 100))
        return pl.DataFrame(
            {
                "text_id": ids,
                "same": same,
                "near": near.group,
                "alike": near.alike,
                "language": pl.Series(language, dtype=pl.String),
                "damaged": damaged,
                "lost": lost,
            }
        )

    def _teller(self, stage: str, low: int, high: int) -> Callable[[float], None]:
        def tell(share: float) -> None:
            if time.monotonic() - self._told < 0.5:
                return
            self._told = time.monotonic()
            with self.database.session() as session:
                done = int(low + share * (high - low))
                jobs.beat(session, self.job_id, done=done, total=100, stage=stage)

        return tell

    def _same(self, project_id: int, corpus: OpenCorpus) -> np.ndarray:
        """int32 per text: texts with the very same body, by the hash of their content; placeholders apart."""
        with self.database.session() as session:
            rows = session.execute(
                select(TextRow.id, TextRow.content).where(
                    TextRow.project_id == project_id, TextRow.placeholder == 0
                )
            ).all()
        frame = pl.DataFrame(
            {"text_id": [row.id for row in rows], "content": [row.content for row in rows]},
            schema={"text_id": pl.Int64, "content": pl.Binary},
        )
        place = pl.DataFrame({"text_id": corpus.columns.text_id}).with_row_index("place")
        frame = frame.join(place, on="text_id").sort("place")
        many = (
            frame.group_by("content", maintain_order=True).agg("place").filter(pl.col("place").list.len() > 1)
        )
        out = np.full(corpus.columns.n_texts, -1, np.int32)
        for number, places in enumerate(many["place"].to_list()):
            out[places] = number
        return out

    def _read(
        self, ids: np.ndarray, tell: Callable[[float], None]
    ) -> tuple[list[str], np.ndarray, np.ndarray]:
        """Language of each text, whether it is damaged, characters lost."""
        language: list[str] = []
        damaged = np.zeros(len(ids), bool)
        lost = np.zeros(len(ids), np.int32)
        for part in chunks(ids, TEXTS_AT_ONCE):
            with self.database.session() as session:
                found = bodies(session, [int(i) for i in part])
            texts = [found.get(int(i), "") for i in part]
            suspects = pl.Series(texts, dtype=pl.String).str.contains(SIGNS_OF_DAMAGE).to_numpy()
            base = len(language)
            language += [language_of(body) for body in texts]
            for at in np.flatnonzero(suspects):
                mended = repair(texts[at])
                if mended is not None:
                    damaged[base + at], lost[base + at] = True, mended.lost
            tell(len(language) / max(len(ids), 1))
        return language, damaged, lost
