"""Runs of automatic coding in the demo project, of most kinds, some of what they found judged by two people."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace

import polars as pl

from winnower.cli.demo_coding import frames_of
from winnower.core.learn import THRESHOLDS
from winnower.core.runs import ByDictionary, ByExample, BySpeakers, ByThemes, ByTone, Recipe
from winnower.core.runs.recipe import Called, Theme
from winnower.core.runs.review import queue
from winnower.core.runs.signs import with_signs
from winnower.core.runs.speakers import names_in
from winnower.core.scope import Conditions, HasValue, Scope, Split
from winnower.jobs.coding import CodingJob
from winnower.settings import Settings
from winnower.store.codebook import codebook_of
from winnower.store.coded import note_coding
from winnower.store.coding_fields import with_coding
from winnower.store.corpus import open_corpus
from winnower.store.database import Database, Session
from winnower.store.dictionaries import dictionaries_of
from winnower.store.history import Recorder
from winnower.store.jobs import make_job
from winnower.store.learning import learnt
from winnower.store.models import CodingRun, Project
from winnower.store.opened import OpenCorpus
from winnower.store.run_review import judge_places, judged_run, places_by_id
from winnower.store.run_stretches import turns_of
from winnower.store.runs import begin_run, run_of, runs_of
from winnower.store.texts import bodies

NAME, BRANCH = "Frames, by the dictionary", "Frames"
SOURCES = ("Orrin Courier", "Hill Farmer", "Valley Wire", "The Lantern")
JUDGED, TONE_JUDGED, LEARNED_JUDGED, DIFFER, SEED = 90, 60, 60, 4, 31
LEARNED = "Livelihood"
#: Who asks in the interviews.
ASKS = "Interviewer"
TONED = (*SOURCES, "Posts", "Residents’ survey")
THEMES = (
    Theme("Compensation forms", ("compensation form", "compensation forms", "claim form")),
    Theme("Camera traps", ("camera trap", "camera traps")),
    Theme("Smit marks", ("smit mark", "smit marks")),
    Theme("Store lambs", ("store lamb", "store lambs")),
    Theme("Young birch", ("young birch", "birch seedlings", "birch wood")),
    Theme("Ear tufts and tracks", ("ear tufts", "paw print", "tracks")),
)
#: Words of a tone that mean nothing by it here: the trust that holds the licence, a share, things by hand.
MEANT_OTHERWISE = (
    "trust",
    "share",
    "shared",
    "hand",
    "like",
    "top",
    "stock",
    "promises",
    "bright",
    "want",
    "wants",
)
#: Words of a frame that speak of something else.
_OTHERWISE = re.compile(
    r"food stocks?|taking stock|take stock|laughing stock|licen[cs]e trade|rolling stock|bell (?:rang|rings)|"
    r"stock (?:market|cube|room)|in stock",
    re.IGNORECASE,
)


def load_runs(
    settings: Settings, database: Database, project_id: int, judges: tuple[int, int]
) -> dict[str, int]:
    """Make the runs unless there are some, and judge what they found here and there; by name how many passages each
    has."""
    with database.session() as session:
        if runs_of(session, project_id):
            return {}
        dictionary = dictionaries_of(session, project_id)[0].id
        code = {one.name: one.id for one in codebook_of(session, project_id).codes}
    of_news = (HasValue(field="source", values=SOURCES),)
    make = _Maker(settings, database, project_id, judges)
    frames = make(NAME, Recipe(ByDictionary(dictionary), scope=of_news), parent=code[BRANCH])
    make.judge(frames, JUDGED, lambda words, _: not _OTHERWISE.search(words))
    make("Who speaks in the interviews", make.speakers(), state="applied", parent_name="Speakers")
    themes = Recipe(ByThemes(THEMES), scope=of_news)
    make("Themes of the papers", themes, parent_name="Themes")
    tone = make("Tone", Recipe(ByTone(), scope=(HasValue(field="source", values=TONED),)), parent_name="Tone")
    make.judge(tone, TONE_JUDGED, lambda words, reason: reason not in MEANT_OTHERWISE)
    learned = make(
        f"{LEARNED}, by example", make.by_example(code[LEARNED], of_news), codes={"example": code[LEARNED]}
    )
    make.judge(learned, LEARNED_JUDGED, lambda words, _: LEARNED in frames_of(words))
    return make.places


class _Maker:
    """Makes runs of the demo project one after the other."""

    def __init__(
        self, settings: Settings, database: Database, project_id: int, judges: tuple[int, int]
    ) -> None:
        self.settings, self.database = settings, database
        self.project_id, self.judges = project_id, judges
        self.places: dict[str, int] = {}

    def __call__(self, name: str, recipe: Recipe, state: str = "proposals", **given: object) -> int:
        params = {"codes": {}, "parent": None, **given, "name": name, "state": state}
        with self.database.session() as session:
            run_id = begin_run(session, self.project_id, self.judges[0], name, recipe).id
            job = make_job(session, self.project_id, self.judges[0], "coding", {**params, "run": run_id})
        CodingJob(self.database, self.settings, job.id).run()
        with self.database.session() as session:
            self.places[name] = run_of(session, self.project_id, run_id).places
        return run_id

    def _corpus(self, session: Session) -> OpenCorpus:
        project = session.get_one(Project, self.project_id)
        folder = self.settings.index / str(self.project_id)
        return with_coding(session, project, open_corpus(session, project, folder))

    def speakers(self) -> Recipe:
        """Everybody who speaks in the interviews but who asks."""
        scope = (HasValue(field="source", values=("Interviews",)),)
        with self.database.session() as session:
            corpus = self._corpus(session)
            ids = corpus.columns.text_id[corpus.ground(Scope(scope), Split()).mask]
            found = names_in(turns_of(session, "", ids))
        called = [one.name for one in found if not one.field and one.name != ASKS and one.turns > 5]
        return Recipe(BySpeakers(tuple(Called(one, one) for one in called)), unit="paragraph", scope=scope)

    def by_example(self, code: int, scope: Conditions) -> Recipe:
        """What is like the passages of a code, from the threshold on that suits it best."""
        recipe = Recipe(ByExample((code,)), scope=scope)
        with self.database.session() as session:
            project = session.get_one(Project, self.project_id)
            assert isinstance(recipe.finder, ByExample)
            found = learnt(session, project, self._corpus(session), recipe, recipe.finder)
        best = float(THRESHOLDS[found.learned.curve.best])
        return replace(recipe, finder=replace(recipe.finder, threshold=best))

    def judge(self, run_id: int, most: int, fits: Callable[[str, str], bool]) -> None:
        """The first judges so many, by chance; the second a third of those, and sees a few otherwise."""
        with self.database.session() as session:
            _judge(
                session,
                self._corpus(session),
                run_of(session, self.project_id, run_id),
                self.judges,
                most,
                fits,
            )


def _judge(
    session: Session,
    corpus: OpenCorpus,
    row: CodingRun,
    judges: tuple[int, int],
    most: int,
    fits: Callable[[str, str], bool],
) -> None:
    places = judged_run(session, row, corpus)
    chosen: pl.DataFrame = places[queue(places, "open", "chance", SEED)[:most]]
    passages = places_by_id(session, [-one for one in chosen["id"].to_list()])
    body = bodies(session, [one.text_id for one in passages])
    right = []
    for one in passages:
        words = body[one.text_id][slice(*with_signs(body[one.text_id], one.start, one.end))]
        right.append(fits(words, row.reasons[one.place.reason] if row.reasons else ""))
    for number, judge in enumerate(judges):
        recorder = Recorder(session, row.project_id, judge, "Judge a sample")
        own = list(zip(passages, right, strict=True))[: most if number == 0 else most // 3]
        said = [(one, ok != (number == 1 and at < DIFFER)) for at, (one, ok) in enumerate(own)]
        for verdict in (1, 0):
            judge_places(recorder, [one for one, ok in said if ok == bool(verdict)], verdict)
        # not kept as a command: the project begins without a history
        note_coding(session, session.get_one(Project, row.project_id), recorder.changes)
