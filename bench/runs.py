"""A run of automatic coding over very many texts: tried, stored, read, taken back, brought in step; finding beside
polars with one expression a category, which knows nothing of sentences."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
import polars as pl
import psutil
from corpora import vocabulary
from counting import expressions
from measure import row, seconds

from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.runs import ByDictionary, Recipe
from winnower.jobs.coding import CodingJob
from winnower.settings import Settings
from winnower.store.accounts import local_account, project_named
from winnower.store.corpus import open_corpus
from winnower.store.database import Database
from winnower.store.dictionaries import import_dictionary
from winnower.store.history import Recorder
from winnower.store.jobs import make_job
from winnower.store.memory import Memory
from winnower.store.models import CategoryRow, Project, TermRow
from winnower.store.opened import OpenCorpus
from winnower.store.reading_passages import PassageCache
from winnower.store.run_finding import find, sought
from winnower.store.run_review import judged_run, kept_places
from winnower.store.runs import aligned, begin_run, differs, run_of, set_state, targets_of
from winnower.store.undo import undo


def frequent(terms: int = 200, categories: int = 10) -> Dictionary:
    """Terms frequent enough for about one passage a text."""
    rng = np.random.default_rng(5)
    words = vocabulary(420)[rng.choice(np.arange(20, 420), terms, replace=False)]
    each = terms // categories
    return Dictionary(
        "Frequent",
        tuple(
            Category((f"C{k}",), tuple(TermEntry(str(word)) for word in words[k * each : (k + 1) * each]))
            for k in range(categories)
        ),
    )


class _Bench:
    def __init__(self, database: Database, settings: Settings, name: str) -> None:
        self.database, self.settings = database, settings
        with database.session() as session:
            account = local_account(session)
            self.account, self.project = account.id, project_named(session, account, name).id
            recorder = Recorder(session, self.project, self.account, "dictionary")
            made = import_dictionary(recorder, "Frequent", frequent())
            recorder.save()
            self.dictionary = made.id
        self.recipe = Recipe(ByDictionary(self.dictionary))
        self.memory = Memory()

    @property
    def folder(self) -> Path:
        return self.settings.index / str(self.project)

    def corpus(self) -> OpenCorpus:
        with self.database.session() as session:
            return open_corpus(session, session.get_one(Project, self.project), self.folder, self.memory)

    def tried(self, corpus: OpenCorpus) -> int:
        with self.database.session() as session:
            what = sought(session, self.project, self.recipe, corpus)
            return len(find(session, what, corpus))

    def job(self, run: int, **params: object) -> None:
        with self.database.session() as session:
            given = {"name": "bench", "run": run, **params}
            job = make_job(session, self.project, self.account, "coding", given)
        CodingJob(self.database, self.settings, job.id).run()

    def read(self) -> int:
        with self.database.session() as session:
            project = session.get_one(Project, self.project)
            return len(PassageCache(self.memory).open(session, project, self.folder))

    def begin(self) -> int:
        with self.database.session() as session:
            return begin_run(session, self.project, self.account, "bench", self.recipe).id

    def turn(self, run: int, state: str) -> None:
        with self.database.session() as session:
            recorder = Recorder(session, self.project, self.account, state)
            set_state(recorder, run_of(session, self.project, run), state)
            recorder.save()

    def undone(self) -> None:
        with self.database.session() as session:
            undo(session, session.get_one(Project, self.project), self.account, self.corpus)

    def differs(self, run: int, corpus: OpenCorpus) -> tuple[int, int]:
        with self.database.session() as session:
            row_of = run_of(session, self.project, run)
            targets = targets_of(session, [run])[run]
            what = sought(session, self.project, self.recipe, corpus)
            frame, _, _ = aligned(row_of, targets, what, find(session, what, corpus), corpus)
            found = differs(session, row_of, targets, frame, kept_places(session, row_of, corpus))
            return len(found.added), len(found.removed)

    def looked_at(self, run: int, corpus: OpenCorpus) -> int:
        with self.database.session() as session:
            return len(judged_run(session, run_of(session, self.project, run), corpus))

    def change_a_term(self) -> None:
        with self.database.session() as session:
            term = (
                session.query(TermRow)
                .join(CategoryRow)
                .filter(CategoryRow.dictionary_id == self.dictionary)
                .first()
            )
            term.source = str(vocabulary(500)[450])


def _timed(work: object, *of: object) -> tuple[float, object]:
    started = time.perf_counter()
    found = work(*of)  # type: ignore[operator]
    return time.perf_counter() - started, found


def main(database: Database, settings: Settings, name: str, path: Path) -> None:
    """Print how long each step of a run over the texts of a project takes."""
    bench = _Bench(database, settings, name)
    corpus = bench.corpus()
    tried_s, places = _timed(bench.tried, corpus)
    texts = pl.read_csv(path, columns=["text"])["text"]
    some = texts.head(len(texts) // 10)
    other_s = 10 * seconds(lambda: [some.str.count_matches(one) for one in expressions(frequent())])
    print(f"   {places:,} passages in {corpus.index.n_texts:,} texts")
    row("a run tried, the first time", f"{tried_s:.2f} s", "within 3 s", tried_s <= 3)
    row("the same beside expressions in polars", f"{other_s / tried_s:.0f} x", "faster", other_s > tried_s)
    process = psutil.Process()
    before = process.memory_info().rss
    run = bench.begin()
    stored_s, _ = _timed(lambda: bench.job(run, state="applied", codes={}, parent=None))
    grown = (process.memory_info().rss - before) / 1e6
    row("stored, ready to review", f"{stored_s:.1f} s", "within 45 s", stored_s <= 45)
    row("memory it took", f"{grown:,.0f} MB", "under 1,000 MB", grown < 1_000)
    read_s, counted = _timed(bench.read)
    row(f"{counted:,} passages read for the first time", f"{read_s:.1f} s", "within 10 s", read_s <= 10)
    back_s, _ = _timed(lambda: (bench.turn(run, "taken back"), bench.read()))
    row("taken back, and read again", f"{back_s:.2f} s", "within 10 s", back_s <= 10)
    bench.turn(run, "applied")
    opened_s, _ = _timed(bench.looked_at, run, corpus)
    row("its review opened for the first time", f"{opened_s:.1f} s", "within 10 s", opened_s <= 10)
    bench.change_a_term()
    step_s, change = _timed(bench.differs, run, corpus)
    row(f"what one changed term changes {change}", f"{step_s:.1f} s", "within 5 s", step_s <= 5)
    carried_s, _ = _timed(lambda: bench.job(run, step=True))
    row("brought in step", f"{carried_s:.1f} s", "within 15 s", carried_s <= 15)
    undone_s, _ = _timed(bench.undone)
    row("that undone", f"{undone_s:.1f} s", "within 10 s", undone_s <= 10)
