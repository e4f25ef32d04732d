"""Findings of the demo project, one of each kind of view and more, under three questions, and its events."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass, field
from typing import Any

from winnower.core.compare import Comparison
from winnower.core.compare.targets import (
    AnyTarget,
    OfCodes,
    OfDictionary,
    OfNumbers,
    OfRun,
    OfValues,
    ToneNumber,
)
from winnower.core.finding import AnyView, ChangesView, ComparisonView, MapView
from winnower.core.keyness import Keywords
from winnower.core.network import Network
from winnower.core.scope import During, HasValue, Part, Split
from winnower.core.together import Together
from winnower.settings import Settings
from winnower.store.answering import Room
from winnower.store.codebook import codebook_of
from winnower.store.coding_fields import with_coding
from winnower.store.corpus import open_corpus
from winnower.store.database import Database, Session
from winnower.store.dictionaries import dictionaries_of
from winnower.store.events import make_event
from winnower.store.findings import findings_of, keep_finding, make_question
from winnower.store.history import Recorder
from winnower.store.models import Project
from winnower.store.runs import runs_of

SOURCE = Split("source")
BY_MONTH = Split("date", "month")
PAPERS = ("Orrin Courier", "Hill Farmer", "Valley Wire", "The Lantern")
EVENTS = (
    (dt.date(2031, 4, 6), "First losses"),
    (dt.date(2031, 6, 12), "Compensation vote"),
    (dt.date(2031, 9, 15), "Inquiry opens"),
    (dt.date(2031, 10, 2), "Kittens on camera"),
)
WHO, WHEN, WITH = "Who speaks of what?", "What changed over the year?", "What occurs together?"


@dataclass(frozen=True)
class _Kept:
    question: str
    title: str
    view: AnyView
    remark: str = ""
    drawn: dict[str, Any] = field(default_factory=dict)


def load_findings(settings: Settings, database: Database, project_id: int, account_id: int) -> int:
    """Keep them unless there are some; how many."""
    with database.session() as session:
        if findings_of(session, project_id):
            return 0
        project = session.get_one(Project, project_id)
        corpus = open_corpus(session, project, settings.index / str(project_id))
        room = Room(session, project, with_coding(session, project, corpus))
        recorder = Recorder(session, project_id, account_id, "Findings")
        for day, name in EVENTS:
            make_event(recorder, day, name)
        questions = {words: make_question(recorder, words).id for words in (WHO, WHEN, WITH)}
        kept = _findings(session, project_id)
        for one in kept:
            keep_finding(recorder, room, one.view, one.title, one.remark, one.drawn, questions[one.question])
        # not kept as a command: the project begins without a history
        return len(kept)


def _findings(session: Session, project_id: int) -> list[_Kept]:
    frames = OfDictionary(dictionaries_of(session, project_id)[0].id)
    book = codebook_of(session, project_id)
    speakers = next(row for row in book.codes if row.name == "Speakers" and row.parent_id is None)
    names = tuple(
        " > ".join(book.tree.path(row.id))
        for row in book.codes
        if row.parent_id == speakers.id and row.name != "Interviewer"
    )
    runs = [run for run, _ in runs_of(session, project_id)]
    learned = next(run for run in runs if run.name.endswith("by example"))
    tone = OfNumbers((ToneNumber(next(run.id for run in runs if run.recipe["finder"]["kind"] == "tone")),))
    papers = (HasValue("source", PAPERS),)
    october = EVENTS[3][0]
    return [
        _Kept(
            WHO,
            "Each source has its own mix of frames",
            _compared(frames, SOURCE),
            "Farmers and neighbours speak of livelihood, the Wire of fear, the posts of wonder. The agency report that four "
            "papers ran counts four times; with the story as the unit the picture stays the same.",
            {"draw": "dots"},
        ),
        _Kept(
            WHO,
            "The same with agency copies counted once",
            ComparisonView(Comparison(frames, split=SOURCE, unit="story")),
            drawn={"draw": "table"},
        ),
        _Kept(
            WHO,
            "A map of sources and frames",
            MapView(Comparison(frames, split=SOURCE)),
            drawn={"draw": "map"},
        ),
        _Kept(
            WHO,
            "Words typical of Hill Farmer",
            Keywords(SOURCE, "Hill Farmer", scope=papers),
            "Its own names and sums come first. Look at “heft” again: it is a word of the trade, not of the paper.",
        ),
        _Kept(
            WHO,
            "What each speaker of the interviews dwells on",
            _compared(frames, Split(codes=names)),
            "Nine interviews, so intervals are wide: to illustrate, not to claim.",
            {"draw": "heat"},
        ),
        _Kept(
            WHEN,
            "Governance rises in June and falls after the inquiry",
            ChangesView(Comparison(frames, split=BY_MONTH)),
            drawn={"draw": "trend"},
        ),
        _Kept(
            WHEN,
            "The tone darkens with the first losses and clears with the inquiry",
            ChangesView(Comparison(tone, split=BY_MONTH, measure="mean")),
            "Tone counts words, so irony and what people are only quoted with are in it: read the lowest sentences first.",
            {"draw": "trend"},
        ),
        _Kept(
            WHEN,
            "Wonder before and after the kittens",
            _compared(
                frames,
                Split(
                    parts=(
                        Part("before the kittens", (During("date", None, october - dt.timedelta(days=1)),)),
                        Part("from the kittens on", (During("date", october, None),)),
                    )
                ),
            ),
            drawn={"draw": "dots"},
        ),
        _Kept(
            WHEN,
            "How much of the corpus comes from where, by quarter",
            ComparisonView(
                Comparison(OfValues("source"), split=Split("date", "quarter"), measure="share_of_texts")
            ),
            "A rise of a frame can be a rise of a source: control for the source before saying more.",
            {"draw": "bars"},
        ),
        _Kept(
            WITH,
            "Frames that share a sentence with who speaks",
            Together(OfCodes(), within="sentence"),
            drawn={"shown": "lift"},
        ),
        _Kept(
            WITH,
            "Topics of the papers and what bridges them",
            Network(papers, most=100, resolution=1.0),
            "The names of the valley and the deer share few links. Read the sentences with words of both before making much of it.",
        ),
        _Kept(
            WITH,
            "Livelihood as the learned code finds it, by paper",
            ComparisonView(
                Comparison(
                    OfRun(learned.id), scope=papers, split=SOURCE, measure="rate", counting="sentences"
                )
            ),
            "Precision is about 0.8 over all papers together. Judge some passages of each paper before comparing their rates.",
            {"draw": "dots"},
        ),
    ]


def _compared(target: AnyTarget, split: Split) -> ComparisonView:
    return ComparisonView(Comparison(target, split=split))
