"""The demo project, loaded through the real importer."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from winnower.cli.demo_coding import load_coding
from winnower.cli.demo_findings import load_findings
from winnower.cli.demo_notes import load_notes
from winnower.cli.demo_report import load_report
from winnower.cli.demo_runs import load_runs
from winnower.core.scope import CategoryColumn
from winnower.jobs.checking import CheckRun
from winnower.jobs.company import CompanyRun
from winnower.jobs.importing import ImportRun
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Mapping, Target, gather, list_files
from winnower.readers.dictionary_file import read_dictionary_file
from winnower.readers.mapping import guess_references
from winnower.readers.reference_lists import HEADER as REFERENCE_COLUMNS
from winnower.settings import ROOT, Settings
from winnower.store.accounts import account_named, demo_people
from winnower.store.corpus import open_corpus, with_new_values
from winnower.store.database import Database
from winnower.store.dictionaries import dictionaries_of, import_dictionary
from winnower.store.history import Recorder
from winnower.store.imports import deliveries_done
from winnower.store.jobs import make_job
from winnower.store.models import Project, VariableCategory
from winnower.store.opened import OpenCorpus
from winnower.store.variables import make_variable, role_variable, set_values

DEMO_NAME = "mira"
DEMO_PASSWORD = "orrin-hills"
PROJECT_NAME = "Lynx return, Orrin Hills"
FOLDER = ROOT / "demo" / "files"
PEOPLE = ((DEMO_NAME, "Mira Tolland"), ("jonas", "Jonas Birkett"))

_NEWS = Mapping(
    (
        Target("id", "key"),
        Target("headline", "title"),
        Target("outlet", "source"),
        Target("published", "date"),
        Target("article", "text"),
        Target("section", "variable", "Section", "category"),
        Target("byline", "variable", "Byline", "category"),
    ),
    line="news",
)
_FEED = Mapping(
    (
        Target("id", "key"),
        Target("title", "title"),
        Target("source", "source"),
        Target("published", "date"),
        Target("text", "text"),
        Target("categories", "variable", "Section", "category"),
        Target("author", "variable", "Byline", "category"),
    ),
    line="news",
)
_PAGES = Mapping(
    (
        Target("Title", "title"),
        Target("Text", "text"),
        Target("Date", "date"),
        Target("Author", "variable", "Byline", "category"),
    ),
    source_name="The Lantern",
)
_LONG_READ = Mapping((Target("Title", "title"), Target("Text", "text")), source_name="The Lantern")
_POSTS = Mapping(
    (
        Target("id", "key"),
        Target("created", "date"),
        Target("text", "text"),
        Target("reach.reposts", "variable", "Reposts", "number"),
        Target("account.type", "variable", "Account type", "category"),
        Target("tags", "variable", "Tags", "several", ";"),
    ),
    source_name="Posts",
)
_SURVEY = Mapping(
    (
        Target("respondent", "key"),
        Target("answered", "date"),
        Target(
            "What does the return of the lynx mean for you and your household?",
            "text",
            "What it means for you",
        ),
        Target("What should the board do next, and why?", "text", "What the board should do"),
        Target("age band", "variable", "Age band", "category"),
        Target("parish", "variable", "Parish", "category"),
        Target("occupation", "variable", "Occupation", "category"),
        Target("keeps animals", "variable", "Keeps animals", "category"),
        Target("heard first from", "variable", "Heard first from", "several", ";"),
    ),
    source_name="Residents’ survey",
)
_INTERVIEW = Mapping((Target("File", "title"), Target("Text", "text")), source_name="Interviews")


@dataclass(frozen=True)
class DemoDelivery:
    """Files that come together, and the mapping of each kind among them."""

    name: str
    files: tuple[str, ...]
    mappings: dict[str, Mapping]


_STUDIES = replace(guess_references(REFERENCE_COLUMNS), source_name="Studies")
_INTERVIEWS = dict.fromkeys(("word", "rtf", "text"), _INTERVIEW)
DELIVERIES = (
    DemoDelivery(
        "news, first delivery",
        ("orrin-courier.xlsx", "hill-farmer.csv", "valley-wire.rss", "the-lantern-pages.zip"),
        {"sheets": _NEWS, "table": _NEWS, "feed": _FEED, "html": _PAGES},
    ),
    DemoDelivery("second-delivery.csv", ("second-delivery.csv",), {"table": _NEWS}),
    DemoDelivery("the-lantern-long-read.pdf", ("the-lantern-long-read.pdf",), {"pdf": _LONG_READ}),
    DemoDelivery("posts.jsonl", ("posts.jsonl",), {"jsonl": _POSTS}),
    DemoDelivery("survey.csv", ("survey.csv",), {"table": _SURVEY}),
    DemoDelivery("interviews", ("interviews",), _INTERVIEWS),
    DemoDelivery("studies.ris", ("studies.ris",), {"ris": _STUDIES}),
)


def load_demo(settings: Settings, database: Database, tell: Callable[[str], None]) -> int:
    """Accounts, project, texts and dictionary, unless they are there; the project's id."""
    with database.session() as session:
        owner, project, new = demo_people(session, PEOPLE, DEMO_PASSWORD, PROJECT_NAME)
        project_id, account_id = project.id, owner.id
        done = deliveries_done(session, project_id)
    if new:
        tell("Loading the demo project")
    for delivery in DELIVERIES[done:]:
        texts = _deliver(settings, database, project_id, account_id, delivery)
        tell(f"  {delivery.name}: {texts:,} texts")
    if not done:
        _describe(settings, database, project_id, account_id)
        _check(settings, database, project_id, account_id)
    _load_dictionary(database, project_id, account_id)
    with database.session() as session:
        two = [account_named(session, name) for name in (PEOPLE[0][0], PEOPLE[1][0])]
        ids, names = (two[0].id, two[1].id), (two[0].full_name, two[1].full_name)
        if coded := load_coding(session, project_id, ids):
            load_notes(session, project_id, ids, names)
            tell(f"  coded: {coded:,} passages, with notes and paraphrases")
    for name, places in load_runs(settings, database, project_id, ids).items():
        tell(f"  a run of automatic coding, {name}: {places:,} passages")
    if kept := load_findings(settings, database, project_id, account_id):
        tell(f"  findings: {kept}, with the events of the year")
    if load_report(database, project_id, account_id):
        tell("  a report of them")
    return project_id


def _deliver(
    settings: Settings, database: Database, project_id: int, account_id: int, delivery: DemoDelivery
) -> int:
    paths = [(name, FOLDER / name) for name in delivery.files]
    origins, problems = list_files(paths, settings.limit_archive_bytes)
    lots, more = gather(origins, settings.limit_text_chars)
    assert not problems and not more, [*problems, *more]
    chosen = {lot.key: {"mapping": mapping_to_plain(delivery.mappings[lot.kind])} for lot in lots}
    params = {"name": delivery.name, "paths": [(name, str(path)) for name, path in paths], "lots": chosen}
    with database.session() as session:
        job = make_job(session, project_id, account_id, "import", params)
    return ImportRun(database, settings, job.id).run().new


def _describe(settings: Settings, database: Database, project_id: int, account_id: int) -> None:
    """Groups, sets and derived variables, as somebody at work would have made them."""
    groups = dict.fromkeys(("Orrin Courier", "Hill Farmer", "Valley Wire", "The Lantern"), "News")
    groups |= {
        "Posts": "Posts",
        "Residents’ survey": "Survey",
        "Interviews": "Interviews",
        "Studies": "Studies",
    }
    with database.session() as session:
        project = session.get_one(Project, project_id)
        corpus = open_corpus(session, project, settings.index / str(project_id))
        recorder = Recorder(session, project_id, account_id, "Groups, sets and derived variables")
        group = role_variable(recorder, "group")
        sets = role_variable(recorder, "sets")
        make_variable(
            recorder, "Reposts, in bands", "category",
            rule={"derive": "bands", "field": _key(corpus, "Reposts"), "cuts": [1, 5, 20]},
        )  # fmt: skip
        make_variable(
            recorder, "Quarter", "category", rule={"derive": "period", "field": "date", "period": "quarter"}
        )
        rule = [{"kind": "terms", "terms": ["compensation", "claim*"], "exclude": False}]
        recorder.insert(VariableCategory(variable_id=sets.id, label="On compensation", position=0, rule=rule))
        corpus = with_new_values(session, project, corpus)
        source = corpus.columns.field("source")
        assert isinstance(source, CategoryColumn)
        labels = [groups[source.labels[code]] if code >= 0 else None for code in source.codes]
        places = np.arange(corpus.columns.n_texts)
        set_values(recorder, corpus, f"v{group.id}", places, labels)
        corpus = with_new_values(session, project, corpus)
        words = corpus.columns.words
        longest = np.argsort(-words, kind="stable")[:12]
        set_values(recorder, corpus, f"v{sets.id}", longest, [["To read in full"]] * len(longest), "add")
        # not kept as a command: the project begins without a history


def _key(corpus: OpenCorpus, name: str) -> str:
    return next(key for key, called in corpus.columns.names.items() if called == name)


def _check(settings: Settings, database: Database, project_id: int, account_id: int) -> None:
    with database.session() as session:
        job = make_job(session, project_id, account_id, "check", {"name": "Corpus check"})
    CheckRun(database, settings, job.id).run()
    with database.session() as session:
        job = make_job(session, project_id, account_id, "company", {"name": "Company of words"})
    CompanyRun(database, settings, job.id).run()


def _load_dictionary(database: Database, project_id: int, account_id: int) -> None:
    with database.session() as session:
        if dictionaries_of(session, project_id):
            return
        read = read_dictionary_file(FOLDER / "lynx-frames.csv")
        recorder = Recorder(session, project_id, account_id, "Import dictionary lynx-frames.csv")
        import_dictionary(recorder, "Lynx frames", read.dictionary)
        recorder.save()
