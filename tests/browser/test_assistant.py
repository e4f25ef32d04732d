"""The assistant in the browser: asked, its passages looked at, taken piece by piece, kept as a note."""

from selenium.webdriver.common.keys import Keys

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
