"""Vectors of the company words keep, as a job: kept beside the index, for the texts as they were then.

    index/<project>/company-<corpus revision>.npz

folds (int64, numbers in the lexicon of those texts) and vectors (float32), see core/suggest/company.py.
"""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any
from zipfile import BadZipFile

import numpy as np

from winnower.core.scope import Scope, Split
from winnower.core.suggest import Company, build_company
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES
from winnower.core.words import count_words
from winnower.jobs.run import Hold, Progress, Stage, carry_out
from winnower.settings import Settings
from winnower.store.corpus import open_corpus
from winnower.store.database import Database, Session
from winnower.store.models import Job, Project
from winnower.store.words import language_of, stop_words


def company_path(folder: Path, revision: int) -> Path:
    return folder / f"company-{revision}.npz"


def read_company(path: Path) -> Company | None:
    """The vectors, or None where there are none for these texts."""
    try:
        with np.load(path) as kept:
            return Company(kept["folds"], kept["vectors"])
    except (OSError, ValueError, EOFError, KeyError, BadZipFile):
        return None


class CompanyRun:
    """From the job row to the vectors on disk."""

    what = "Working out the company of words"

    def __init__(self, database: Database, settings: Settings, job_id: int) -> None:
        self.settings = settings
        self.hold = Hold(database, job_id, settings)

    def run(self) -> None:
        """Do it. Raises Cancelled, or the error that ended it; nothing is left then."""
        carry_out(self.hold, self)

    def begin(self, session: Session, job: Job) -> None:
        project = session.get_one(Project, job.project_id)
        self.corpus = open_corpus(session, project, self.settings.index / str(project.id))
        self.stop = stop_words(session, project.id)
        self.language = language_of(session, project.id)
        self.path = company_path(self.corpus.folder, self.corpus.revision)

    def stages(self) -> tuple[Stage, ...]:
        return (Stage("Counting which words stand together", 0, 100, self._build),)

    def publish(self, session: Session) -> dict[str, Any]:
        draft = self.path.with_suffix(".part")
        with draft.open("wb") as file:
            np.savez(file, folds=self.found.folds, vectors=self.found.vectors)
        os.replace(draft, self.path)
        return {"words": len(self.found.folds)}

    def take_back(self, session: Session) -> str:
        return ""

    def sweep(self) -> None:
        self.path.with_suffix(".part").unlink(missing_ok=True)

    def _build(self, progress: Progress) -> None:
        corpus = self.corpus
        counts = count_words(corpus.index, corpus.lexicon, corpus.ground(Scope(), Split()))
        numbers = corpus.lexicon.numbers_of(list(self.stop))
        self.found = build_company(
            corpus.index,
            corpus.lexicon,
            counts.form_hits,
            numbers,
            lambda done, total: progress.tell(done / max(total, 1)),
        )
        if self.language in LEMMA_LANGUAGES:
            for segment in corpus.index.segments:  # kept on disk, ready when they are asked for
                segment.brought_together(self.language, "lemma")
