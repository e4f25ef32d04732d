"""The demo project, loaded through the real importer."""

from __future__ import annotations

from collections.abc import Callable

from sqlalchemy import select

from winnower.jobs.importing import ImportRun
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Mapping, TableReader, Target
from winnower.readers.dictionary_file import read_dictionary_file
from winnower.settings import ROOT, Settings
from winnower.store.accounts import make_account, make_project
from winnower.store.database import Database
from winnower.store.dictionaries import import_dictionary
from winnower.store.history import Recorder
from winnower.store.jobs import make_job
from winnower.store.models import Account, DictionaryRow, Member, Project

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
    )
)
_POSTS = Mapping(
    (
        Target("post_id", "key"),
        Target("posted", "date"),
        Target("post", "text"),
        Target("reposts", "variable", "Reposts", "number"),
        Target("account_type", "variable", "Account type", "category"),
    ),
    source_name="Posts",
)
_SURVEY_VARIABLES = (
    Target("age band", "variable", "Age band", "category"),
    Target("parish", "variable", "Parish", "category"),
    Target("occupation", "variable", "Occupation", "category"),
    Target("keeps animals", "variable", "Keeps animals", "category"),
    Target("heard first from", "variable", "Heard first from", "several", ";"),
)
_SURVEY = Mapping(
    (
        Target("answer id", "key"),
        Target("question", "variable", "Question", "category"),
        Target("answered", "date"),
        Target("answer", "text"),
        *_SURVEY_VARIABLES,
    ),
    source_name="Residents’ survey",
)
_STUDIES = Mapping(
    (
        Target("reference", "key"),
        Target("title", "title"),
        Target("year", "variable", "Year of study", "number"),
        Target("abstract", "text"),
    ),
    source_name="Studies",
)
_INTERVIEWS = Mapping((Target("Title", "title"), Target("Text", "text")), source_name="Interviews")

#: File or folder of the demo, its mapping, and whether it is a table.
DELIVERIES = (
    ("news.csv", _NEWS, True),
    ("news-second-delivery.csv", _NEWS, True),
    ("posts.csv", _POSTS, True),
    ("survey.csv", _SURVEY, True),
    ("studies.csv", _STUDIES, True),
    ("interviews", _INTERVIEWS, False),
)


def load_demo(settings: Settings, database: Database, tell: Callable[[str], None]) -> int:
    """Accounts, project, texts and dictionary, unless they are there; the project's id."""
    with database.session() as session:
        accounts = {name: session.scalar(select(Account).where(Account.name == name)) for name, _ in PEOPLE}
        for name, full_name in PEOPLE:
            accounts[name] = accounts[name] or make_account(session, name, full_name, DEMO_PASSWORD)
        mira, jonas = (accounts[name] for name, _ in PEOPLE)
        assert mira is not None and jonas is not None
        found = session.scalar(
            select(Project).where(Project.name == PROJECT_NAME, Project.made_by == mira.id)
        )
        if found is None:
            tell("Loading the demo project")
            found = make_project(session, mira, PROJECT_NAME)
            session.add(Member(project_id=found.id, account_id=jonas.id, role="coder"))
        project_id, account_id, revision = found.id, mira.id, found.corpus_revision
    for name, mapping, table in DELIVERIES[revision:]:
        new = _deliver(settings, database, project_id, account_id, name, mapping, table)
        tell(f"  {name}: {new:,} texts")
    _load_dictionary(database, project_id, account_id)
    return project_id


def _deliver(
    settings: Settings,
    database: Database,
    project_id: int,
    account_id: int,
    name: str,
    mapping: Mapping,
    table: bool,
) -> int:
    path = FOLDER / name
    if table:
        with path.open("rb") as raw:
            header = TableReader(raw, name).header
        assert all(target.column in header for target in mapping.targets), header
    params = {
        "name": name,
        "paths": [(name, str(path))],
        "mapping" if table else "text_mapping": mapping_to_plain(mapping),
    }
    with database.session() as session:
        job = make_job(session, project_id, account_id, "import", params)
    return ImportRun(database, settings, job.id).run().new


def _load_dictionary(database: Database, project_id: int, account_id: int) -> None:
    with database.session() as session:
        if session.scalar(select(DictionaryRow).where(DictionaryRow.project_id == project_id)):
            return
        read = read_dictionary_file(FOLDER / "lynx-frames.csv")
        recorder = Recorder(session, project_id, account_id, "Import dictionary lynx-frames.csv")
        import_dictionary(recorder, "Lynx frames", read.dictionary)
        recorder.save()
