"""Automatic coding as a job: a run is made, or brought in step with its dictionary and the texts of today."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
import polars as pl

from winnower.core.errors import WinnowerError
from winnower.core.scope import Split
from winnower.jobs.run import Hold, Progress, Stage, carry_out
from winnower.settings import Settings
from winnower.store import runs
from winnower.store.codebook import hold_codebook
from winnower.store.coding_fields import with_coding
from winnower.store.corpus import open_corpus
from winnower.store.database import Database, Session
from winnower.store.history import Recorder
from winnower.store.inside import inside
from winnower.store.models import Job, Project
from winnower.store.run_finding import find, sought
from winnower.store.run_scored import Batches


class CodingJob:
    """One run from its recipe to what it found. ``params`` of the job:

    run      its id
    state    what it is to be when it is done: "proposals" or "applied"
    codes    by the key of what is looked for: the code it comes under, where it is not a new one
    parent   the code new ones come under; ``parent_name`` what it is called where it may have to be made
    step     whether it is there already and is to be brought in step
    """

    what = "The run"

    def __init__(self, database: Database, settings: Settings, job_id: int) -> None:
        self.settings = settings
        self.hold = Hold(database, job_id, settings)

    def run(self) -> None:
        """Do it. Raises Cancelled, or the error that ended it; nothing is left then."""
        carry_out(self.hold, self)

    def begin(self, session: Session, job: Job) -> None:
        self.params, self.account_id = dict(job.params), job.account_id
        project = session.get_one(Project, job.project_id)
        self.project_id = project.id
        row = runs.run_of(session, project.id, int(self.params["run"]))
        self.run_id, self.recipe, self.step = row.id, runs.recipe_of(row), bool(self.params.get("step"))
        corpus = open_corpus(session, project, self.settings.index / str(project.id))
        if project.coding_revision:
            corpus = with_coding(session, project, corpus)
        self.corpus = inside(session, project, corpus, self.recipe.texts)
        if not self.step:
            runs.clear(session, self.run_id)  # what an interrupted try left
        # fields of the coding are worked out while the session lasts
        self.corpus.ground(self.recipe.texts, Split())

    def stages(self) -> tuple[Stage, ...]:
        finding = Stage("Looking through the texts", 0, 30, self._find)
        return (finding,) if self.step else (finding, Stage("Storing what was found", 30, 98, self._store))

    def publish(self, session: Session) -> dict[str, Any]:
        project = session.get_one(Project, self.project_id)
        book = hold_codebook(session, project)
        row = runs.run_of(session, project.id, self.run_id)
        recorder = Recorder(session, project.id, self.account_id, "")
        targets = runs.targets_of(session, [row.id])[row.id]
        values: dict[str, Any] = {
            "version": runs.keep_instrument(session, recorder, self.recipe),
            "texts_revision": self.corpus.revision,
            "measured": self.sought.measured,
        }
        if self.step:
            values["instrument"] = self.sought.instrument[:200]
        told: dict[str, Any] = {"run": row.id, "texts": self.found.texts}
        if self.step:
            frame, reasons, new = runs.aligned(row, targets, self.sought, self.found, self.corpus)
            change = runs.differs(session, row, targets, frame)
            targets += runs.bring_in_step(recorder, row, change, {**values, "reasons": reasons}, new)
            told |= {"added": len(change.added), "removed": len(change.removed), "held": change.held}
            recorder.label = f"Bring the run {row.name} in step"
        else:
            state = str(self.params["state"])
            runs.set_made(row)
            recorder.update(row, {**values, "state": state, "places": len(self.found)})
            recorder.label = f"Code by a run: {row.name}"
        parent = self.params.get("parent")
        if not self.step and (name := str(self.params.get("parent_name", ""))):
            book, row_above = runs.code_named(recorder, book, name, None)
            parent = row_above.id
        gone = runs.give_codes(recorder, book, self.sought.pieces, targets, self._codes(), parent)
        recorder.save()
        return told | {"places": row.places, "without_code": gone}

    def _codes(self) -> dict[str, int]:
        return {str(key): int(code) for key, code in (self.params.get("codes") or {}).items()}

    def take_back(self, session: Session) -> str:
        if self.step:
            return "The run is as it was."
        runs.clear(session, int(self.params["run"]), whole=True)
        return "Nothing of it was kept."

    def sweep(self) -> None:
        return

    def _find(self, progress: Progress) -> None:
        def batches(items: Sequence[np.ndarray]) -> Iterator[np.ndarray]:
            for number, item in enumerate(items):
                progress.tell(number / len(items))
                yield item

        self.hold.lasting(lambda session: self._look(session, batches))
        if not len(self.found) and not self.step:
            raise WinnowerError("Nothing was found in these texts, so there is nothing to code.")

    def _look(self, session: Session, batches: Batches[np.ndarray]) -> None:
        what = sought(session, self.project_id, self.recipe, self.corpus, batches)
        self.sought, self.found = what, find(session, what, self.corpus, batches).found
        if not self.step:
            self.hold.confirm(session)
            runs.clear(session, self.run_id)
            runs.add_targets(session, runs.run_of(session, self.project_id, self.run_id), what)

    def _store(self, progress: Progress) -> None:
        frame = self.found.in_texts(self.corpus.index)
        parts: list[pl.DataFrame] = list(frame.iter_slices(runs.ROWS_AT_ONCE))
        for part in progress.batches(parts, len(parts)):
            self.hold.lasting(lambda session, part=part: self._add(session, part))  # type: ignore[misc]

    def _add(self, session: Session, part: pl.DataFrame) -> None:
        self.hold.confirm(session)
        runs.add_places(session, self.run_id, part)
