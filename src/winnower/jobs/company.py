"""Vectors of the company words keep, as a job: kept beside the index, for the texts as they were then.

    index/<project>/company-<corpus revision>.npz

folds (int64, numbers in the lexicon of those texts) and vectors (float32), see core/suggest/company.py.
"""

from __future__ import annotations

import os
import time
from pathlib import Path

import numpy as np

from winnower.core.scope import Scope, Split
from winnower.core.suggest import Company, build_company
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES
from winnower.core.words import count_words
from winnower.jobs.ending import ended_in_order
from winnower.settings import Settings
from winnower.store import jobs
from winnower.store.corpus import open_corpus
from winnower.store.database import Database
from winnower.store.models import Project
from winnower.store.words import language_of, stop_words


def company_path(folder: Path, revision: int) -> Path:
    return folder / f"company-{revision}.npz"


def read_company(path: Path) -> Company | None:
    """The vectors, or None where there are none for these texts."""
    if not path.exists():
        return None
    with np.load(path) as kept:
        return Company(kept["folds"], kept["vectors"])


class CompanyRun:
    """From the job row to the vectors on disk."""

    def __init__(self, database: Database, settings: Settings, job_id: int) -> None:
        self.database, self.settings, self.job_id = database, settings, job_id
        self._told = 0.0

    def run(self) -> None:
        """Do it. Raises Cancelled, or the error that ended it; nothing is left then."""
        with ended_in_order(self.database, self.job_id, "This"):
            with self.database.session() as session:
                job = jobs.begin(session, self.job_id)
                project = session.get_one(Project, job.project_id)
                corpus = open_corpus(session, project, self.settings.index / str(project.id))
                stop = stop_words(session, project.id)
                language = language_of(session, project.id)
            counts = count_words(corpus.index, corpus.lexicon, corpus.ground(Scope(), Split()))
            numbers = corpus.lexicon.numbers_of(list(stop))
            found = build_company(corpus.index, corpus.lexicon, counts.form_hits, numbers, self._tell)
            if language in LEMMA_LANGUAGES:
                for segment in corpus.index.segments:  # kept on disk, ready when they are asked for
                    segment.brought_together(language, "lemma")
            path = company_path(corpus.folder, corpus.revision)
            draft = path.with_suffix(".part")
            with draft.open("wb") as file:
                np.savez(file, folds=found.folds, vectors=found.vectors)
            os.replace(draft, path)
            with self.database.session() as session:
                jobs.finish(session, self.job_id, "done", result={"words": len(found.folds)})

    def _tell(self, done: int, total: int) -> None:
        if time.monotonic() - self._told < 0.3:
            return
        self._told = time.monotonic()
        with self.database.session() as session:
            stage = "Counting which words stand together" if done < total - 1 else "Making vectors"
            jobs.beat(session, self.job_id, done=done, total=total, stage=stage)
