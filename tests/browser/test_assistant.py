"""Services in the browser: the assistant asked, its passages looked at, taken piece by piece, kept as a note; articles
found, cited, and taken into the corpus."""

from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.conftest import NEWS_MAPPING, write_table
from winnower.store.accounts import share
from winnower.store.models import CodeRow, NoteRow, PassageRow, Project

BODIES = (
    "The board pays farmers for lost lambs after nine months. It rained on the hill that day.",
    "Farmers say that lambs were lost on the north corrie again. Nobody came to count them.",
    "Forty lambs and a ewe were lost because nobody watched the flock. The board pays late.",
    "A farmer should be paid for each ewe, said the union on Monday. Nobody answered the union.",
)


def rows_of(database, project, model):
    with database.session() as session:
        if model is PassageRow:
            mine = session.query(PassageRow).join(CodeRow, CodeRow.id == PassageRow.code_id)
            return mine.filter(CodeRow.project_id == project.id).all()
        return session.query(model).filter_by(project_id=project.id).all()


def at_work(page, deliver, database, project, tmp_path):
    rows = [[str(at), f"Text {at}", "Wire", "2031-05-01", BODIES[at % 4], "", ""] for at in range(12)]
    deliver(write_table(tmp_path / "board.csv", rows), NEWS_MAPPING)
    name = page.driver.execute_script("return fetch('/api/v1/me').then((r) => r.json()).then((r) => r.name)")
    with database.session() as session:
        share(session, session.get_one(Project, project.id), name, "coder")


def test_a_question_is_answered_with_its_passages_and_kept(page, deliver, database, project, tmp_path):
    at_work(page, deliver, database, project, tmp_path)
    page.open(f"/projects/{project.id}/notebook/assistant?task=question")
    page.find("form textarea").send_keys("Who pays for lost lambs?", Keys.ENTER)
    page.says("ol[aria-label=Statements]", "The board pays farmers for lost lambs")
    assert page.find("section[aria-label='What the assistant says'] h1").text == "Who pays for lost lambs?"
    page.find("button[aria-label='Passage 2']").click()
    assert page.find("aside[aria-label=Passages] [aria-current=true]").text.startswith("2")
    assert rows_of(database, project, NoteRow) == []
    page.button("Keep as a note").click()
    page.text("Kept in the notes, with its passages.", "p")
    (note,) = rows_of(database, project, NoteRow)
    assert note.title == "Who pays for lost lambs?" and note.kind == "assistant"
    page.find("form textarea").send_keys(Keys.CONTROL, "a")
    page.find("form textarea").send_keys("Do submarines dream?", Keys.ENTER)
    page.text("The texts do not tell.", "p")
    assert page.errors() == [] and page.barriers() == []


def test_what_needs_no_words_is_asked_at_once(page, deliver, database, project, tmp_path):
    at_work(page, deliver, database, project, tmp_path)
    page.open(f"/projects/{project.id}/notebook/assistant")
    for task, found in (
        ("Sum up", "lambs were lost"),
        ("Find themes", "Theme"),
        ("Compare two viewpoints", ""),
    ):
        page.text(task, "button").click()
        if not found:
            page.text("No field divides these texts into groups.")
            assert not page.find("form button[type=submit]").is_enabled()
            continue
        page.button("Ask").click()
        page.says("section[aria-label='What the assistant says']", found)
    assert page.errors() == [] and page.barriers() == []


def test_codings_are_proposed_and_taken_one_by_one(page, deliver, database, project, tmp_path):
    at_work(page, deliver, database, project, tmp_path)
    page.open(f"/projects/{project.id}/notebook/assistant?task=codings")
    page.find("form textarea").send_keys("How are lost lambs discussed?", Keys.ENTER)
    page.find("ol[aria-label=Proposals]")
    assert rows_of(database, project, PassageRow) == []
    code = page.find("input[aria-label^='Code for']")
    code.send_keys(Keys.CONTROL, "a")
    code.send_keys("Losses")
    page.button("Take").click()
    page.text("1 passage coded.", "span")
    page.button("Leave").click()
    page.text("1 left.", "span")
    page.button("Take").click()
    page.text("2 passages coded.", "span")
    assert len(rows_of(database, project, PassageRow)) == 2
    assert [one.name for one in rows_of(database, project, CodeRow)] == ["Losses"]
    page.find("button[aria-label^='Undo']").click()
    page.wait(lambda: len(rows_of(database, project, PassageRow)) == 1)
    assert page.errors() == []


def test_articles_are_found_looked_at_and_taken_into_the_corpus(page, deliver, database, project, tmp_path):
    at_work(page, deliver, database, project, tmp_path)
    page.open(f"/projects/{project.id}/corpus/articles")
    page.says("[data-testid=articles-found]", "3,200 records")
    page.find("input[aria-label='Find articles']").send_keys("compensated lambs", Keys.ENTER)
    page.says("[data-testid=first-five]", "The first 5 in short")
    total = page.find("[data-testid=articles-found]").text
    Select(page.find("select[aria-label=Kind]")).select_by_value("study")
    page.wait(lambda: page.find("[data-testid=articles-found]").text != total)
    page.driver.find_elements("css selector", "tbody button")[0].click()
    assert "(20" in page.find("section[aria-label='Author and date'] p").text
    for box in page.driver.find_elements("css selector", "tbody input")[:2]:
        box.click()
    page.button("Take 2 records into the corpus").click()
    page.says("[data-testid=expected]", "2")
    page.button("Import").click()
    page.button("See the texts")
    page.open(f"/projects/{project.id}/corpus/articles?find=compensated+lambs&kind=study")
    page.says("tbody tr", "in the corpus")
    assert page.errors() == [] and page.barriers() == []
