"""Every view opens on projects of all kinds, without errors and without barriers."""

from urllib.parse import quote

import pytest
from sqlalchemy import select

from tests.at_work import carried_out
from tests.chromium import Page, chromium
from tests.conftest import NEWS_MAPPING, write_table
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.report import CodebookPiece, MethodPiece, OverviewPiece, QualityPiece, QuotesPiece
from winnower.core.runs import ByDictionary, Recipe
from winnower.jobs.coding import CodingJob
from winnower.readers import Mapping, Target
from winnower.store.codebook import codebook_of, make_code
from winnower.store.dictionaries import dictionaries_of, import_dictionary
from winnower.store.history import Recorder
from winnower.store.jobs import make_job
from winnower.store.models import TextRow
from winnower.store.notes import add_quotes, make_note
from winnower.store.paraphrases import make_paraphrase
from winnower.store.passages import code_stretch
from winnower.store.reports import make_report
from winnower.store.runs import begin_run

#: Other fields held equal, with the model; what was judged. Of the first dictionary.
HELD = quote('{"split":{"field":"source"},"measure":"adjusted","adjust":[{"field":"words"}]}')
JUDGED = quote('{"split":{"field":"source"},"measure":"precision"}')
BY_MONTH = quote('{"split":{"field":"date","period":"month"}}')
CROSSED = quote('{"split":{"field":"source","crossed":{"field":"date","period":"quarter"}}}')
SENTENCES = quote('{"split":{"field":"source"},"counting":"sentences"}')
WORDS = '{"kind":"numbers","numbers":[{"kind":"field","field":"words"}%s]}'
PASSAGES = ',{"kind":"field","field":"passages"}'
MEANS = quote(f'{{"target":{WORDS % PASSAGES},"measure":"mean","split":{{"field":"source"}}}}')
MEAN_BY_MONTH = quote(
    f'{{"target":{WORDS % ""},"measure":"mean","split":{{"field":"date","period":"month"}}}}'
)
BY_SOURCE = quote('{"group":"source","strength":0}')
SENTENCE_ROWS = quote('{"rows":"sentence","codes":true,"tone":0,"words":true}')
VIEWS = (
    "corpus",
    "corpus/import",
    "corpus/deliveries",
    "corpus/variables",
    "corpus/words",
    "corpus/words?unit=phrase",
    "corpus/context?q=lamb*",
    "corpus/context?q=lamb*&as=company",
    "corpus/search?q=lamb*",
    "corpus/check",
    "corpus/articles?find=lambs",
    "dictionary",
    "dictionary?view=versions",
    "coding/read",
    "coding/codebook",
    "coding/passages",
    "coding/passages?sides=1",
    f"coding/passages?asked={BY_SOURCE}",
    "coding/runs",
    "coding/runs?run=new",
    "coding/runs?run=new&finds=example",
    "coding/runs?run=new&finds=themes",
    "coding/runs?run=new&finds=tone",
    "coding/runs?tab=codes",
    "coding/runs?tab=texts",
    "coding/runs?tab=beside",
    "notebook/notes",
    "notebook/notes?sort=on",
    "notebook/paraphrases",
    "notebook/data",
    f"notebook/data?table={SENTENCE_ROWS}",
    "compare",
    "compare?draw=table",
    f"compare?compare={HELD}",
    f"compare?draw=table&compare={JUDGED}",
    "compare?draw=bars",
    "compare?draw=heat",
    "compare?draw=area",
    "compare?draw=flow",
    "compare?draw=cloud",
    "compare?draw=map",
    f"compare?draw=trend&smooth=3&compare={BY_MONTH}",
    f"compare?draw=trend&compare={CROSSED}",
    f"compare?draw=table&compare={SENTENCES}",
    f"compare?compare={MEANS}",
    f"compare?draw=trend&smooth=3&compare={MEAN_BY_MONTH}",
    "compare/keywords",
    "compare/together",
    "compare/network",
    "compare/beside",
    "notebook/findings",
    "notebook/report",
    "notebook/assistant",
    "notebook/assistant?task=viewpoints",
    "notebook/assistant?task=groups",
)
FRAMES = Dictionary(
    "Frames",
    (
        Category(("Livelihood",), (TermEntry("lamb*"), TermEntry("market price"))),
        Category(("Ecology",), (TermEntry("deer"), TermEntry("birch"))),
    ),
)
ALERTS = "return [...document.querySelectorAll('[role=alert]')].filter((e) => e.checkVisibility()).map((e) => e.innerText)"
ONLY_TEXT = Mapping((Target("text", "text"),))


def many(size, groups):
    """Texts of many sources."""
    bodies = (
        "The lambs are gone. Market price.",
        "Deer and birch, and one lamb.",
        "Birch grows. Deer, deer.",
    )
    return [
        [str(n), f"Text {n}", f"Source {n % groups:04d}", f"2031-{n % 12 + 1:02d}-03", bodies[n % 3], "", ""]
        for n in range(size)
    ]


@pytest.fixture(params=["empty", "only text", "60 groups", "3,000 groups"])
def kind(request, deliver, database, settings, project, account, tmp_path):
    """A project of one kind, with a dictionary where it has texts."""
    if request.param == "empty":
        return request.param
    if request.param == "only text":
        table = write_table(tmp_path / "t.csv", [[row[4]] for row in many(30, 1)], ["text"])
        deliver(table, ONLY_TEXT)
    else:
        groups = 60 if request.param == "60 groups" else 3_000
        deliver(write_table(tmp_path / "t.csv", many(max(groups, 180), groups)), NEWS_MAPPING)
    with database.session() as session:
        recorder = Recorder(session, project.id, account.id, "Frames")
        import_dictionary(recorder, "Frames", FRAMES)
        code_some(recorder)
        of_all = (OverviewPiece(), QuotesPiece(), QualityPiece(), MethodPiece(), CodebookPiece())
        make_report(recorder, "Report", of_all)
        recorder.save()
        recipe = Recipe(ByDictionary(dictionaries_of(session, project.id)[0].id))
        run = begin_run(session, project.id, account.id, "Frames", recipe).id
        job = make_job(session, project.id, account.id, "coding", {"run": run, "state": "applied"}).id
    carried_out(CodingJob(database, settings, job), database, job, dict)
    return request.param


def code_some(recorder):
    """A code with one below it, and passages where there are texts."""
    book = codebook_of(recorder.session, recorder.project_id)
    losses = make_code(recorder, book, "Losses")
    lambs = make_code(recorder, codebook_of(recorder.session, recorder.project_id), "Lambs", losses.id)
    texts = select(TextRow.id).where(TextRow.project_id == recorder.project_id).order_by(TextRow.id)
    for text_id in recorder.session.scalars(texts.limit(40)).all():
        code_stretch(recorder, text_id, (0, 8), [losses, lambs])
        make_paraphrase(recorder, text_id, (0, 8), "In other words")
        note = make_note(recorder, "Ada", "A **note**.", kind="idea", text_id=text_id)
        add_quotes(recorder, note, [(text_id, 0, 8)])


def test_every_view_opens_on_every_kind_of_project(kind, address, account, project):
    with chromium() as driver:
        page = Page(driver, address)
        page.open("/")
        page.sign_in(account.name, "a long password")
        found = {}
        for view in VIEWS:
            page.go(f"/projects/{project.id}/{view}")
            page.find("main")
            page.settled()
            alerts = driver.execute_script(ALERTS)  # in one step: what is drawn anew meanwhile is no failure
            too_many = kind == "3,000 groups" and all("at most 2,000" in alert for alert in alerts)
            if alerts and not too_many:
                found[view] = alerts
            if barriers := page.barriers():
                found[f"{view} (barriers)"] = barriers
        assert found == {}
        assert page.errors() == []


SCOPE = quote('[{"kind":"values","field":"source","values":["Orrin Courier"]}]')
IN_SCOPE = "2 of 5 texts"


def test_the_scope_goes_along_to_every_station_and_view(desk, project):
    """By the links of the header and of each station, as people go; the same texts are counted everywhere."""
    page, at = desk, f"/projects/{project.id}"
    page.open(f"{at}/corpus?scope={SCOPE}")

    def follow(selector):
        page.driver.execute_script("arguments[0].click()", page.find(selector))
        page.says("[data-testid=scope-size]", IN_SCOPE)
        page.wait(lambda: "scope=" in page.driver.current_url, f"no scope in the address after {selector}")

    for station in ("coding", "notebook", "dictionary", "compare", "corpus", "coding", "corpus", "notebook"):
        follow(f"nav[aria-label=Stations] a[href*='/{station}']")
        for view in page.driver.execute_script(VIEWS_OF_STATION):
            follow(f"main nav a[href^='{view.split('?')[0]}?']")
    page.open(f"{at}/coding/read?scope={SCOPE}")
    page.text("Text 1 of 2", "span")


def test_a_text_outside_the_scope_leads_back_into_it(desk, project):
    page, at = desk, f"/projects/{project.id}"
    read = page.driver.current_url.split("?")[0]  # of a source that the scope leaves out
    page.driver.get(f"{read}?scope={SCOPE}")
    page.text("Outside the scope", "span")
    page.button("Next ›").click()
    page.text("Text 1 of 2", "span")
    # what was read last is of the scope now, and is opened again
    page.open(f"{at}/coding?scope={SCOPE}")
    page.text("Text 1 of 2", "span")


#: Where the views of a station lead: the links of its own row of views.
VIEWS_OF_STATION = """
return [...document.querySelectorAll('main nav a')].filter((a) => a.checkVisibility()).map((a) => a.getAttribute('href'))
"""
