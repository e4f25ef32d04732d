"""A run of automatic coding in the demo project: proposals of its dictionary, some of them judged by two people."""

from __future__ import annotations

import re

import polars as pl

from winnower.core.runs import ByDictionary, Recipe
from winnower.core.runs.review import queue
from winnower.core.scope import HasValue
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
from winnower.store.models import Project
from winnower.store.run_review import judge_places, judged_run, places_by_id
from winnower.store.runs import begin_run, run_of, runs_of
from winnower.store.texts import bodies

NAME, BRANCH = "Frames, by the dictionary", "Frames"
SOURCES = ("Orrin Courier", "Hill Farmer", "Valley Wire", "The Lantern")
JUDGED, BY_BOTH, DIFFER, SEED = 90, 30, 4, 31
#: Words of a frame that speak of something else.
_OTHERWISE = re.compile(
    r"food stocks?|taking stock|take stock|laughing stock|licen[cs]e trade|rolling stock|bell (?:rang|rings)|"
    r"stock (?:market|cube|room)|in stock",
    re.IGNORECASE,
)


def load_run(settings: Settings, database: Database, project_id: int, judges: tuple[int, int]) -> int:
    """Make the run unless there are runs, and judge some of it; how many passages it has."""
    with database.session() as session:
        if runs_of(session, project_id):
            return 0
        recipe = Recipe(
            ByDictionary(dictionaries_of(session, project_id)[0].id),
            scope=(HasValue(field="source", values=SOURCES),),
        )
        row = begin_run(session, project_id, judges[0], NAME, recipe)
        # its categories are called as the codes of this branch, and come under those
        branch = next(one for one in codebook_of(session, project_id).codes if one.name == BRANCH)
        params = {"name": NAME, "run": row.id, "state": "proposals", "codes": {}, "parent": branch.id}
        job = make_job(session, project_id, judges[0], "coding", params)
        run_id = row.id
    CodingJob(database, settings, job.id).run()
    with database.session() as session:
        _judge(session, settings, project_id, run_id, judges)
        return run_of(session, project_id, run_id).places


def _judge(
    session: Session, settings: Settings, project_id: int, run_id: int, judges: tuple[int, int]
) -> None:
    project = session.get_one(Project, project_id)
    corpus = with_coding(session, project, open_corpus(session, project, settings.index / str(project_id)))
    row = run_of(session, project_id, run_id)
    places = judged_run(session, row, corpus)
    chosen: pl.DataFrame = places[queue(places, "open", "chance", SEED)[:JUDGED]]
    passages = places_by_id(session, [-one for one in chosen["id"].to_list()])
    body = bodies(session, [one.text_id for one in passages])
    right = [not _OTHERWISE.search(body[one.text_id][one.start : one.end]) for one in passages]
    for number, judge in enumerate(judges):
        recorder = Recorder(session, project_id, judge, "Judge a sample")
        own = list(zip(passages, right, strict=True))[: JUDGED if number == 0 else BY_BOTH]
        said = [(one, fits != (number == 1 and at < DIFFER)) for at, (one, fits) in enumerate(own)]
        for verdict in (1, 0):
            judge_places(recorder, [one for one, fits in said if fits == bool(verdict)], verdict)
        # not kept as a command: the project begins without a history
        note_coding(session, project, recorder.changes)
