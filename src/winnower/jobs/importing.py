"""Import: files to texts in the database and parts of the index, batch by batch.

While one batch is stored, the next one is read and tokenized. A batch is one transaction; the job
row notes how many are done, so that an interrupted import goes on from there. Until the end nothing
of a delivery is part of the project; a failed or cancelled one is removed.
"""

from __future__ import annotations

import shutil
import time
from collections import deque
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl

from winnower.core.errors import ReadError
from winnower.core.index import Segment, build_segment
from winnower.jobs.again import Again, Known, compare, find_stored, keep_brought, read_brought, taken_frame
from winnower.jobs.identity import Identities, KnownIdentities, content_hashes, shorten
from winnower.jobs.import_progress import ImportProgress
from winnower.jobs.reading import PiecesApart
from winnower.jobs.report import ImportReport
from winnower.jobs.run import Hold, Progress, Stage, carry_out
from winnower.jobs.sources import Piece, Pieces
from winnower.jobs.storing import Labels, column_frame, store_texts
from winnower.readers import Problem
from winnower.readers.prepare import PreparedTexts
from winnower.settings import Settings
from winnower.store import jobs
from winnower.store.again import keep_line, note_brought, take_over
from winnower.store.bulk import take_ids
from winnower.store.corpus import open_corpus
from winnower.store.database import Database, Session
from winnower.store.fields import lock_project
from winnower.store.history import Recorder
from winnower.store.imports import (
    categories_made,
    come_with,
    contents_by_id,
    contents_in,
    delivery_of,
    drop_undone,
    identities_of,
    keep_mappings,
    settle_positions,
)
from winnower.store.models import Delivery, Job, Project
from winnower.store.opened import OpenCorpus
from winnower.store.parts import write_columns
from winnower.store.reindex import clear_up, present_parts, publish
from winnower.store.rollback import remove_delivery, remove_parts

BATCHES_AHEAD = 3
LEFT_OUT = "Left out, as was chosen: it is nearly a text that is there."
#: Percent of the way at which all is stored; then the index is joined and the list of texts written.
READY_AT = 96


@dataclass
class _Ready:
    """A batch read and tokenized, waiting to be stored."""

    number: int
    piece: Piece
    texts: PreparedTexts
    identities: list[bytes]
    contents: list[bytes]
    words: Future[Any]
    report: ImportReport
    known: list[int]
    taken: pl.DataFrame
    #: Bytes of the delivery that were read when it was complete.
    bytes_read: int


class ImportRun:
    """One import job from its row in the database to its report."""

    def __init__(
        self,
        database: Database,
        settings: Settings,
        job_id: int,
        tell: Callable[[dict[str, Any]], None] | None = None,
        read: Callable[[dict[str, Any], Settings], Pieces | PiecesApart] = Pieces,
    ) -> None:
        self._read = read
        self.database, self.settings, self.job_id = database, settings, job_id
        self.hold = Hold(database, job_id, settings)
        self.tell = tell or (lambda progress: None)
        self._started = time.monotonic()

    what = "The import"

    def run(self) -> ImportReport:
        """Do it. Raises Cancelled, or the error that ended it; in both cases nothing of it is left. Raises
        Conflict where another import of the project is at work; then this one has not begun."""
        carry_out(self.hold, self, self._tell)
        return self.report

    def begin(self, session: Session, job: Job) -> None:
        self.project_id, self.account_id, self.params = job.project_id, job.account_id, job.params
        checkpoint = job.checkpoint or {}
        # what an earlier holder may still be writing has other names
        self.prefix = f"job{job.id}-{job.attempts}"
        self.batches_done = job.batches_done
        self.folder = self.settings.index / str(self.project_id)
        self.report = ImportReport.from_plain(checkpoint.get("report", {}))
        self.made_variables: list[int] = checkpoint.get("made_variables", [])
        self.parts: list[str] = checkpoint.get("parts", [])
        self.brought: list[str] = checkpoint.get("brought", [])
        self.again = Again.from_plain(self.params.get("again"))

    def stages(self) -> tuple[Stage, ...]:
        return (
            Stage("Clearing what was left", 0, 0, self._clear),
            Stage("Reading and storing", 0, READY_AT, self._all_batches),
            Stage("Making it ready to count", READY_AT, 100, lambda _: None),
        )

    def _clear(self, _: Progress) -> None:
        """Imports of this project that were interrupted and not taken up again are removed, and deliveries
        that were undone give way."""
        self.hold.lasting(self._make_room)

    def _make_room(self, session: Session) -> None:
        for left in jobs.left_imports(session, self.project_id, self.job_id):
            remove_delivery(session, left.id)
            jobs.give_up(session, left, "It was interrupted. Nothing of it was kept.")
        drop_undone(session, self.project_id)
        name = self.params["name"]
        self.delivery_id = delivery_of(session, self.project_id, self.job_id, name, self.account_id)
        self.hold.confirm(session)

    def _all_batches(self, progress: Progress) -> None:
        self._load_known()
        pieces = self._read(self.params, self.settings)
        self.lines = pieces.lines()
        self.report.files = pieces.files
        self._progress = ImportProgress(pieces, progress)
        waiting: deque[Future[Any]] = deque()
        with ThreadPoolExecutor(2) as tokenizer, ThreadPoolExecutor(1) as storer:
            try:
                for number, piece in enumerate(self._progress.pieces()):
                    contents = content_hashes(piece.texts)
                    identities = self._identities.of(piece.texts, contents, piece.mapping)
                    if number < self.batches_done:
                        self._progress.stored = pieces.bytes_done
                        continue
                    ready = self._ready(tokenizer, number, piece, contents, identities, pieces.bytes_done)
                    waiting.append(storer.submit(self._store, ready))
                    if len(waiting) >= BATCHES_AHEAD:
                        self._progress.wait_for(waiting.popleft())
                while waiting:
                    self._progress.wait_for(waiting.popleft())
            finally:
                wait(waiting)
        self.report.alike = self._identities.alike
        if not (self.report.new or self.report.known or self.report.changed or self.report.other_values):
            first = self.report.refusals[0]["reason"] if self.report.refusals else "No text was found."
            raise ReadError(f"No text could be taken. {first}")

    def _tell(self, progress: dict[str, Any]) -> None:
        self.tell({**progress, "new": self.report.new, "seconds": time.monotonic() - self._started})

    def _load_known(self) -> None:
        def stored(session: Session) -> list[np.ndarray]:
            known = identities_of(session, self.project_id, finished=False)
            return [shorten(list(part)) for part in known]

        parts = self.hold.lasting(stored)
        self._identities = Identities()
        self._known = KnownIdentities(np.concatenate(parts) if parts else np.empty(0, np.uint64))
        # what was handed over for storing and may not be committed yet
        self._pending: deque[dict[bytes, bytes]] = deque(maxlen=BATCHES_AHEAD + 1)

        self._labels: Labels | None = None
        self._labels_of: tuple[Any, ...] = ()

    def _ready(
        self,
        pool: ThreadPoolExecutor,
        number: int,
        piece: Piece,
        contents: list[bytes],
        identities: list[bytes],
        bytes_read: int,
    ) -> _Ready:
        """Leave out what is known, and begin to tokenize the rest."""
        report = ImportReport(notices=piece.notices)
        report.add(piece.problems)
        keep, known = self._select_new(piece, contents, identities, report)
        met = self.hold.lasting(
            lambda session: compare(session, self.project_id, piece.texts, contents, known, piece.mapping)
        )
        report.add_met(piece.texts, met, self.again)
        taken = taken_frame(piece.texts, met, self.again, piece.mapping)
        texts = piece.texts.take(keep)
        name = f"{self.prefix}-{number:05d}"
        words = pool.submit(_build, self.folder / name, texts.body)
        hashes = [identities[i] for i in keep], [contents[i] for i in keep]
        there = [one.text_id for one in known]
        return _Ready(number, piece, texts, *hashes, words, report, there, taken, bytes_read)

    def _select_new(
        self, piece: Piece, contents: list[bytes], identities: list[bytes], report: ImportReport
    ) -> tuple[list[int], list[Known]]:
        """Places of the texts that are not stored yet, and those that are part of the project; what came
        earlier in this delivery is counted in ``report``."""
        texts, here = piece.texts, self.delivery_id
        former = self._identities.former
        wanted = self._known.candidates(identities, former)
        stored: dict[bytes, tuple[int, bytes]] = {}
        mine: dict[bytes, bytes] = {}
        if wanted:
            stored = self.hold.lasting(lambda session: find_stored(session, self.project_id, wanted, former))
            mine = self.hold.lasting(lambda session: contents_in(session, here, wanted))
        for handed_over in self._pending:
            mine.update(handed_over)
        stored |= self._corrected(identities)
        left_out = set(self.again.left_out)
        keep: list[int] = []
        known: list[Known] = []
        fresh: dict[bytes, bytes] = {}
        for at, (identity, content) in enumerate(zip(identities, contents, strict=True)):
            before = fresh.get(identity) or mine.get(identity)
            if identity in stored:
                known.append(Known(at, stored[identity][0], identity, stored[identity][1]))
            elif identity.hex() in left_out:
                report.add([Problem(texts.file[at], texts.line[at], LEFT_OUT)])
            elif before is None:
                keep.append(at)
                fresh[identity] = content
            elif before == content:
                report.known += 1
            else:
                report.add_twice(texts.file[at], texts.line[at], texts.key[at] or "")
        self._known.add(list(fresh))
        self._pending.append(fresh)
        return keep, known

    def _corrected(self, identities: list[bytes]) -> dict[bytes, tuple[int, bytes]]:
        """Rows of which somebody said that they are texts that are there, corrected."""
        said = {one: text for one in identities if (text := self.again.corrects.get(one.hex())) is not None}
        if not said:
            return {}
        there = self.hold.lasting(
            lambda session: contents_by_id(session, self.project_id, list(said.values()))
        )
        return {one: (text, there[text]) for one, text in said.items() if text in there}

    def _store(self, ready: _Ready) -> None:
        """One transaction a batch, tried again while the database is away."""
        n_words = ready.words.result()

        def store(session: Session) -> tuple[ImportReport, list[str], list[str]]:
            job = session.get_one(Job, self.job_id)
            if job.batches_done > ready.number:  # it was committed; only the answer was lost
                kept = job.checkpoint or {}
                return ImportReport.from_plain(kept["report"]), kept["parts"], kept["brought"]
            try:
                return self._store_once(session, ready, n_words)
            except BaseException:
                self._labels = None  # what it knows of is not committed
                raise

        self.report, self.parts, self.brought = self.hold.lasting(store)
        self._progress.stored = ready.bytes_read

    def _store_once(
        self, session: Session, ready: _Ready, n_words: np.ndarray
    ) -> tuple[ImportReport, list[str], list[str]]:
        """Rows, index part and checkpoint of a batch; the report counts it from its commit on."""
        name = f"{self.prefix}-{ready.number:05d}"
        if len(ready.texts):
            self._store_texts(session, ready, n_words, self.folder / name)
        report = ImportReport.from_plain(self.report.plain())
        report.merge(ready.report)
        report.new += len(ready.texts)
        report.words += int(n_words.sum())
        parts = [*self.parts, name] if len(ready.texts) else self.parts
        brought = [*self.brought, *keep_brought(self.folder, f"{name}-again", ready.known, ready.taken)]
        checkpoint = {
            "report": report.plain(),
            "parts": parts,
            "brought": brought,
            "made_variables": self.made_variables,
        }
        self.hold.beat(session, batches_done=ready.number + 1, checkpoint=checkpoint)
        return report, parts, brought

    def _store_texts(self, session: Session, ready: _Ready, n_words: np.ndarray, part: Path) -> None:
        texts, targets = ready.texts, ready.piece.mapping.variables
        if self._labels is None or self._labels_of != targets:
            self._labels = Labels(session, self.project_id, targets)
            self._labels_of = targets
            self.made_variables += [i for i in self._labels.made if i not in self.made_variables]
        self._labels.add_missing(session, texts)
        first = take_ids(session, "text", len(texts))
        ids = list(range(first, first + len(texts)))
        columns = column_frame(ids, texts, self._labels)
        np.save(part / "text_id.npy", np.asarray(ids, np.int64))
        write_columns(part, columns)
        hashes = (ready.identities, ready.contents)
        store_texts(
            session,
            self.project_id,
            self.delivery_id,
            texts,
            hashes,
            n_words.tolist(),
            columns,
            self._labels,
        )

    def publish(self, session: Session) -> dict[str, Any]:
        """Make the delivery part of the project: join index parts, write the list, one commit."""
        project = session.get_one(Project, self.project_id)
        lock_project(session, project)
        old = present_parts(session, project, self.folder)
        told = [notice for notice in self.report.folded() if notice not in self.report.notices]
        self.report.notices += told
        made = categories_made(session, self.project_id)
        settle_positions(session, self.project_id)
        publish(session, project, self.folder, [*old, *self.parts])
        self._bring_in(session, project, made)
        if (
            "upload_id" in self.params and "lots" in self.params
        ):  # chosen by hand, and it went well: kept for the next delivery
            keep_mappings(session, self.project_id, self.account_id, self.params["lots"])
        for lot, (name, mapping) in self.lines.items():
            keep_line(session, self.project_id, lot, name, mapping)
        return {"delivery_id": self.delivery_id, **self.report.plain()}

    def _bring_in(self, session: Session, project: Project, made: list[int]) -> None:
        """The delivery, the variables and categories it ``made``, and what it changes in texts that are
        there: one change that can be undone."""
        delivery = session.get_one(Delivery, self.delivery_id)
        delivery.state, delivery.report = "undone", self.report.plain()
        session.flush()
        recorder = Recorder(session, self.project_id, self.account_id, f"Import {delivery.name}")
        recorder.update(delivery, {"state": "done"})
        come_with(recorder, self.made_variables, made)
        known, taken = read_brought(self.folder, self.brought)
        note_brought(session, delivery.id, known)
        if len(taken):

            def corpus() -> OpenCorpus:
                return open_corpus(session, project, self.folder)

            take_over(recorder, corpus, self.folder, taken, self.settings.limit_text_chars)
        command = recorder.save()
        assert command is not None
        command.delivery_id = delivery.id

    def take_back(self, session: Session) -> str:
        remove_delivery(session, self.job_id, self.made_variables)
        session.get_one(Job, self.job_id).result = self.report.plain()
        return "Nothing of this delivery was kept."

    def sweep(self) -> None:
        """Tidy the index folder, and prepare what the table of texts opens with."""
        self._drop_upload()
        if self.hold.lasting(self._tidy):
            self.hold.lasting(self._order)

    def _tidy(self, session: Session) -> list[str]:
        project = session.get_one(Project, self.project_id)
        lock_project(session, project)
        names = clear_up(session, project, self.folder)
        remove_parts(self.folder, self.job_id, names)
        return names

    def _order(self, session: Session) -> None:
        corpus: OpenCorpus = open_corpus(session, session.get_one(Project, self.project_id), self.folder)
        corpus.order("title")

    def _drop_upload(self) -> None:
        """Files that were received for this import are not needed any more."""
        if upload_id := self.params.get("upload_id"):
            shutil.rmtree(self.settings.uploads / str(upload_id), ignore_errors=True)


def _build(folder: Path, bodies: list[str]) -> np.ndarray:
    """Tokenize into a part of the index; words per text. Ids are written when they are known."""
    if not bodies:
        return np.empty(0, np.int32)
    segment: Segment = build_segment(folder, range(len(bodies)), pl.Series(bodies, dtype=pl.String))
    return np.array(segment.words)
