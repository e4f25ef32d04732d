"""A report is begun, put together, written in, ordered, frozen and taken along in the browser."""

import time

import docx
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.chromium import saved_file
from winnower.store.findings import make_question
from winnower.store.history import Recorder
from winnower.store.models import ReportPiece, ReportRow
from winnower.store.notes import add_quotes, make_note


def question_with_a_quote(database, project, account, text_id):
    """A question with one chosen quote on its shelf."""
    with database.session() as session:
        recorder = Recorder(session, project.id, account.id, "A question")
        question = make_question(recorder, "Who pays for the lambs?")
        note = make_note(recorder, "Ada", "", title="Shelf", question_id=question.id)
        add_quotes(recorder, note, [(text_id, 0, 19)])
        recorder.save()


def parts(page):
    return [line.text.split("\n")[0] for line in page.driver.find_elements("css selector", "[data-piece]")]


def press(page, *keys):
    page.driver.switch_to.active_element.send_keys(*keys)


def stored(database, project):
    with database.session() as session:
        mine = session.query(ReportPiece).join(ReportRow).filter(ReportRow.project_id == project.id)
        return [row.piece for row in mine.order_by(ReportPiece.place, ReportPiece.id)]


def first_text(page, project):
    page.open(f"/projects/{project.id}/corpus")
    page.find("[role=row][aria-rowindex]")
    return page.driver.execute_script(
        "return fetch(`/api/v1/projects/${arguments[0]}/texts/page`, {method: 'POST', headers: {'Content-Type':"
        " 'application/json'}, body: JSON.stringify({scope: [], start: 0, most: 1})})"
        ".then((r) => r.json()).then((r) => r.rows[0].id)",
        project.id,
    )


def test_a_report_is_put_together_frozen_and_saved(desk, database, project, account, downloads):
    page = desk
    question_with_a_quote(database, project, account, first_text(page, project))
    page.open(f"/projects/{project.id}/notebook/report")
    page.button("Begin a report").click()
    title = page.find("[role=dialog] input[maxlength='300']")
    title.send_keys(Keys.CONTROL, "a")
    title.send_keys("Lambs and deer")
    page.find("[role=dialog]").find_element("xpath", ".//button[.='Begin the report']").click()
    page.wait(
        lambda: (
            parts(page)[:4] == ["The texts", "The texts at a glance", "Who pays for the lambs?", "1 quote"]
        )
    )
    page.says("[aria-label='The report'] blockquote", "paragraph 1")

    # text of one's own, behind the chosen part; what is typed is stored without a button
    page.text("Who pays for the lambs?", "span").click()
    page.button("Add ▾").click()
    page.find("input[aria-label='What to add']").send_keys("your own words", Keys.ENTER)
    page.wait(lambda: parts(page)[3] == "Empty text")
    page.find("textarea[aria-label=Text]").send_keys("The board **never** answered.")
    page.says("[aria-label='The report'] strong", "never")
    page.wait(
        lambda: stored(database, project)[3] == {"kind": "words", "body": "The board **never** answered."}
    )

    # moved by the keys, taken out, and brought back
    page.driver.find_elements("css selector", "[data-piece]")[3].click()
    press(page, Keys.ALT, Keys.ARROW_DOWN)
    page.wait(lambda: parts(page)[3:5] == ["1 quote", "The board never answered."])
    press(page, Keys.DELETE)
    page.wait(lambda: "The board never answered." not in parts(page))
    page.wait(lambda: all(piece["kind"] != "words" for piece in stored(database, project)))
    page.find("button[aria-label^='Undo']").click()
    page.wait(lambda: parts(page)[4] == "The board never answered.")

    # other quotes in the same place
    page.text("1 quote", "span").click()
    Select(page.find("select[aria-label='Which quotes']")).select_by_visible_text("any code")
    page.says("[aria-label='The report']", "There is no passage to quote here yet.")

    page.button("Freeze this version").click()
    page.button("Update with the project again")
    assert not page.driver.find_elements("css selector", "[aria-label='Take it out']")
    page.button("Download ▾").click()
    page.text("Word (.docx)", "*[@role='menuitem']").click()
    file = saved_file(downloads, ".docx")
    assert file.name == "Lambs and deer.docx"
    document = docx.Document(str(file))
    written = [one.text for one in document.paragraphs]
    assert "The board never answered." in written and "There is no passage to quote here yet." in written
    assert page.barriers() == [] and page.errors() == []


def test_a_part_dragged_before_another_one_stays_there(desk, database, project):
    page = desk
    page.open(f"/projects/{project.id}/notebook/report")
    page.button("Begin a report").click()
    page.text("Empty", "span").click()
    page.find("[role=dialog]").find_element("xpath", ".//button[.='Begin the report']").click()
    page.text("Nothing in it yet", "p")
    for name in ("at a glance", "How it was made", "Precision"):
        page.button("Add ▾").click()
        page.find("input[aria-label='What to add']").send_keys(name, Keys.ENTER)
        time.sleep(0.3)
    page.wait(lambda: [one["kind"] for one in stored(database, project)] == ["overview", "method", "quality"])
    lines = page.driver.find_elements("css selector", "[data-piece]")
    page.driver.execute_script(
        "const data = new DataTransfer(); const tell = (kind, on) => on.dispatchEvent(new DragEvent(kind,"
        " {bubbles: true, cancelable: true, dataTransfer: data}));"
        "tell('dragstart', arguments[0]); tell('dragover', arguments[1]); tell('drop', arguments[1]);",
        lines[2],
        lines[0],
    )
    page.wait(lambda: parts(page)[0] == "Precision and agreement")
    page.wait(lambda: [one["kind"] for one in stored(database, project)] == ["quality", "overview", "method"])
    page.says("[aria-label='The report']", "Nothing has been judged yet")
