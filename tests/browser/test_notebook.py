"""Notes, paraphrases and what goes on around coding in the browser."""

import time

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.test_coding import LINE, cards, chosen, focus, press, unfolds
from tests.chromium import saved_file
from tests.conftest import NEWS_MAPPING, write_table
from winnower.store.accounts import share
from winnower.store.models import CodeRow, NoteRow, ParaphraseRow, PassageRow, Project

CODES = "code,description,Core\nLosses,What was lost,x\nLosses > Lambs,,x\nVoice,Who speaks,\n"


def coded(page, *codes):
    """The first sentences each under a code."""
    focus(page)
    for code in codes:
        press(page, Keys.ARROW_DOWN)
        press(page, code, Keys.ENTER)
        unfolds(page, code)


def paraphrases(database):
    with database.session() as session:
        return [one.body for one in session.query(ParaphraseRow)]


def at_words(page, what):
    """Choose the next sentence and take something else than a code for it."""
    focus(page)
    press(page, Keys.ARROW_DOWN)
    page.wait(lambda: chosen(page) != "")
    press(page, Keys.ENTER)
    page.find(LINE)
    page.button(what).click()


def reach(page, words):
    """Come by keys to a button that is shown to whoever points at its row."""
    page.driver.execute_script(
        "[...document.querySelectorAll('li button')].find((e) => e.innerText === arguments[0]).focus()", words
    )


def notes(database, project):
    with database.session() as session:
        return session.query(NoteRow).filter_by(project_id=project.id).order_by(NoteRow.id).all()


def stored(database, project):
    """Passages of the project, the newest first."""
    with database.session() as session:
        mine = session.query(PassageRow).join(CodeRow, CodeRow.id == PassageRow.code_id)
        return mine.filter(CodeRow.project_id == project.id).order_by(PassageRow.id.desc()).all()


def test_words_are_noted_said_otherwise_and_quoted_while_reading(desk, database, project):
    page = desk
    at_words(page, "Note on it")
    page.find("textarea[aria-label='Note on these words']").send_keys(
        "Who says so?", Keys.CONTROL, Keys.ENTER
    )
    page.text("Who says so?")
    at_words(page, "Paraphrase")
    page.find("textarea[aria-label='Paraphrase']").send_keys("Many are lost", Keys.ENTER)
    page.text("Many are lost")
    at_words(page, "Quote it")
    page.button("In a new note").click()
    page.wait(lambda: len(notes(database, project)) == 2)
    page.text("Notebook", "b").click()
    page.find("section[aria-label=Notes] li button").click()
    quote = page.find("[data-testid=quote]").text
    assert page.find("input[aria-label=Title]").get_attribute("value") == "Quotes"
    editor = page.find("[aria-label='The note']")
    editor.click()
    ActionChains(page.driver).key_down(Keys.CONTROL).send_keys(Keys.END).key_up(Keys.CONTROL).perform()
    press(page, Keys.ENTER, "## Why", Keys.ENTER)
    page.button("Bold").click()
    press(page, "so")
    page.find("input[aria-label=Type]").send_keys("own type", Keys.TAB)
    page.says("article [role=status]", "Stored")
    page.wait(lambda: notes(database, project)[-1].kind == "own type")
    body = notes(database, project)[-1].body
    assert "## Why" in body and "**so**" in body and "(quote:" in body
    page.driver.refresh()
    assert page.find("[data-testid=quote]").text == quote
    page.text("Why", "h2")
    assert page.barriers() == [] and page.errors() == []
    page.find("input[aria-label='Find in notes']").send_keys("who says")
    page.wait(lambda: len(page.driver.find_elements("css selector", "section[aria-label=Notes] li")) == 1)


def test_a_note_links_to_a_passage_and_leads_there(desk, database, project):
    page = desk
    coded(page, "Losses")
    page.text("Notebook", "b").click()
    page.button("New note").click()
    page.find("[aria-label='The note']").click()
    page.text("Link…", "button").click()
    page.find("input[aria-label='Link to']").send_keys("loss")
    page.find("section[aria-label='Passages of Losses'] button")
    for key in (Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ENTER):  # past the code, to its passage
        page.driver.switch_to.active_element.send_keys(key)
    page.wait(lambda: "](passage:" in notes(database, project)[-1].body)
    page.find("[aria-label='The note'] a").click()
    page.find("[data-testid=body]")
    page.wait(lambda: "paragraph=1" in page.driver.current_url)
    assert page.errors() == []


def test_what_is_typed_in_a_note_outlives_a_server_that_is_away(desk, database, project):
    page = desk
    page.text("Notebook", "b").click()
    page.button("New note").click()
    title = page.find("input[aria-label=Title]")
    offline(page, True)
    title.send_keys("Typed on the train")
    page.says("article [role=status]", "kept in this browser")
    offline(page, False)
    page.says("article [role=status]", "Stored")
    page.wait(lambda: notes(database, project)[-1].title == "Typed on the train")
    page.driver.get_log("browser")


def offline(page, away):
    """What the browser says of requests that found no server is as it should be."""
    page.driver.execute_cdp_cmd("Network.enable", {})
    page.driver.execute_cdp_cmd(
        "Network.emulateNetworkConditions",
        {"offline": away, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
    )


def test_coding_goes_on_while_the_server_is_away_and_is_sent_again(desk, database, project):
    page = desk
    coded(page, "Losses")
    before = len(stored(database, project))
    offline(page, True)
    press(page, Keys.ARROW_DOWN)
    press(page, "1")
    unfolds(page, "Losses", 2)
    page.text("The server does not answer", "span")
    assert len(stored(database, project)) == before
    offline(page, False)
    page.wait(lambda: len(stored(database, project)) == before + 1, "it is sent again")
    page.wait(lambda: "does not answer" not in page.find("nav[aria-label=Coding]").text)
    page.driver.get_log("browser")


def test_a_passage_is_lengthened_by_its_grip(desk, database, project):
    page = desk
    focus(page)
    press(page, Keys.ARROW_RIGHT)
    press(page, "Losses", Keys.ENTER)
    unfolds(page, "Losses")
    focus(page)
    press(page, "n")
    grip = page.find("[data-testid=handle-end]")
    ActionChains(page.driver).click_and_hold(grip).move_by_offset(12, 2).move_by_offset(
        26, 0
    ).release().perform()
    page.wait(lambda: stored(database, project)[0].end > len("The"), "it is longer")
    assert stored(database, project)[0].end in (len("The lambs"), len("The lambs are"))


def test_paraphrases_become_passages_of_a_new_code(desk, database, project):
    page = desk
    for said in ("Many are lost", "Nobody pays"):
        at_words(page, "Paraphrase")
        page.find("textarea[aria-label='Paraphrase']").send_keys(said, Keys.ENTER)
        page.text(said)
    page.text("Notebook", "b").click()
    page.text("Paraphrases", "a").click()
    page.says("[data-testid=paraphrase-count]", "2 paraphrases")
    page.find("input[aria-label='Choose all paraphrases of this page']").click()
    page.find("input[aria-label='Name of a new code']").send_keys("Costs", Keys.ENTER)
    page.wait(lambda: len(stored(database, project)) == 2)
    page.wait(lambda: page.find("[data-testid=paraphrase]").text.count("Costs") == 1)
    page.text("Many are lost", "p")
    reach(page, "change")
    page.text("change", "button").click()
    page.find("textarea[aria-label='Paraphrase']").send_keys(" indeed", Keys.ENTER)
    page.wait(lambda: any(one.endswith(" indeed") for one in paraphrases(database)))
    assert page.barriers() == [] and page.errors() == []


def _asked_again(page, question):
    """Whether a kept question is asked; its menu is opened again where a click came while it was being filled."""
    if "asked=" in page.driver.current_url:
        return True
    if not page.driver.find_elements("css selector", "[role=menuitem]"):
        page.text("Kept questions", "button").click()
    page.text(question, "div").click()
    return False


def test_a_question_is_grouped_kept_held_beside_another_and_coded_at_once(desk, database, downloads, project):
    page = desk
    coded(page, "Losses", "Voice")
    page.text("Passages", "a").click()
    page.says("[data-testid=found-count]", "2 passages in 1 text")
    Select(page.find("select[aria-label='Grouped by']")).select_by_visible_text("by code")
    page.says("[data-testid=group-head]", "Losses 1 passage")
    page.button("+ how they lie").click()
    Select(page.find("select[aria-label='How they lie']")).select_by_value("near")
    Select(page.find("select[aria-label='Other code']")).select_by_visible_text("Voice")
    page.says("[data-testid=found-count]", "2 passages")
    near = page.find("input[aria-label='How near']")
    near.send_keys(Keys.BACKSPACE, Keys.BACKSPACE)
    Select(page.find("select[aria-label='Code asked for']")).select_by_visible_text("Losses")
    page.says("[data-testid=found-count]", "1 passage")
    page.button("Keep this question").click()
    page.find("[role=dialog] input").send_keys("Losses beside voices", Keys.ENTER)
    page.text("Kept questions", "button")
    page.driver.get(page.driver.current_url.split("?")[0])
    page.says("[data-testid=found-count]", "2 passages")
    page.wait(lambda: _asked_again(page, "Losses beside voices"), "the kept question is asked")
    page.says("[data-testid=found-count]", "1 passage")
    page.text("All 1 passage", "button").click()
    page.text("Code all as well as", "div").click()
    Select(page.find("select[aria-label='Code all as']")).select_by_visible_text("Voice")
    page.wait(lambda: len(stored(database, project)) == 3)
    page.find("button[aria-label=Undo]").click()
    page.wait(lambda: len(stored(database, project)) == 2)
    page.button("Export").click()
    page.text("Passages as Word", "div").click()
    assert saved_file(downloads, ".docx").name == "passages.docx"
    page.button("Side by side").click()
    page.says("section[aria-label='The left side']", "Losses")
    Select(page.find("select[aria-label='On the right']")).select_by_visible_text("Voice")
    page.says("section[aria-label='The right side'] b", "1 passage")
    assert page.barriers() == [] and page.errors() == []


def test_a_passage_is_widened_in_place(desk):
    page = desk
    focus(page)
    press(page, Keys.ARROW_RIGHT)
    press(page, "Losses", Keys.ENTER)
    unfolds(page, "Losses")
    page.text("Passages", "a").click()
    page.find("[data-testid=found]")
    reach(page, "whole sentence")
    page.text("whole sentence", "button").click()
    page.text("whole paragraph", "button").click()
    page.text("only the passage", "button").click()
    page.wait(lambda: page.find("[data-testid=found] mark").text == "The")


def test_texts_are_drawn_ticked_off_and_followed_by_the_next(desk):
    page = desk
    coded(page, "Losses")
    page.button("Sample…").click()
    page.find("[role=dialog] input[inputmode=numeric]").send_keys(Keys.BACKSPACE, Keys.BACKSPACE, "1")
    page.find("[role=dialog] input[placeholder='To code']").send_keys("Round one")
    page.button("Draw").click()
    page.text("1 of", "td")
    page.wait(
        lambda: len(page.driver.find_elements("xpath", "//td[starts-with(normalize-space(.), '1 of')]")) == 3,
        "one text drawn from each of three sources",
    )
    page.button("Keep as a set and begin").click()
    page.wait(lambda: "scope=" in page.driver.current_url)
    # the text of the set takes the place of the one that was open, with all that stands around it
    page.text("Next text to code (3)", "button")
    page.settled()
    first = page.driver.current_url.split("?")[0]
    page.find("nav[aria-label=Coding] input[type=checkbox]").click()
    page.text("Next text to code (2)", "button").click()
    page.wait(lambda: page.driver.current_url.split("?")[0] != first, "the next text of the set")
    page.find("[data-testid=body]")
    page.text("Corpus", "b").click()
    page.text("Columns", "button").click()
    options = page.driver.find_elements("css selector", "[role=menuitem]")
    next(one for one in options if "Coding" in one.text).click()
    page.text("✓ you", "span")


def test_codes_come_from_a_file_lie_in_groups_and_are_put_back(desk, tmp_path):
    page = desk
    page.text("Codebook", "a").click()
    page.button("From a file").click()
    file = tmp_path / "codes.csv"
    file.write_text(CODES)
    page.driver.find_element("css selector", "input[aria-label='Codebook file']").send_keys(str(file))
    page.says("[data-testid=code-steps]", "New groups: Core")
    assert page.barriers() == []
    page.button("Import 3 codes").click()
    page.says("section[aria-label='Groups of codes']", "Core 2 codes")
    page.text("Core", "button").click()
    page.wait(lambda: "Voice" not in page.find("section[aria-label=Codes] ul").text)
    page.text("Core", "button").click()
    page.button("Versions").click()
    page.find("input[aria-label='Name of the version']").send_keys("First", Keys.ENTER)
    page.text(", current", "span")
    press(page, Keys.ESCAPE)
    page.text("Voice", "span").click()
    page.button("Delete").click()
    page.wait(lambda: "Voice" not in page.find("section[aria-label=Codes] ul").text)
    page.button("Versions").click()
    page.button("What differs").click()
    page.says("[data-testid=code-steps]", "Voice")
    page.button("Restore this version").click()
    page.wait(lambda: "Voice" in page.find("section[aria-label=Codes] ul").text)
    assert page.errors() == []


def test_only_what_is_coded_is_counted_and_words_are_compared(desk):
    page = desk
    coded(page, "Losses", "Voice")
    page.button("+ Narrow").click()
    Select(page.find("[role=dialog] select")).select_by_visible_text("Codes")
    page.find("[role=dialog] label input[type=checkbox]").click()
    counted = [e for e in page.driver.find_elements("css selector", "[role=dialog] select")][-1]
    Select(counted).select_by_visible_text("only the passages under it")
    page.button("Narrow").click()
    page.text("only passages: Losses", "span")
    page.says("[data-testid=scope-size]", "1 of")
    page.text("Compare", "b").click()
    Select(page.find("select[aria-label='What is compared']")).select_by_visible_text("Codes")
    page.button("More settings").click()
    page.text("Of the passages", "label")
    Select(page.find("section[aria-label='What to compare'] select[id]")).select_by_visible_text(
        "words they cover"
    )
    page.find("[data-testid^=dot-]")
    assert page.errors() == []


def test_passages_that_lost_their_words_are_put_on_others(desk, database, project):
    page = desk
    focus(page)
    press(page, Keys.ARROW_RIGHT)
    press(page, "Losses", Keys.ENTER)
    unfolds(page, "Losses")
    text_id = int(page.driver.current_url.split("/")[-1].split("?")[0])
    page.driver.execute_async_script(
        "const [id, project, done] = arguments; const at = `/api/v1/projects/${project}/texts/${id}`;"
        "fetch(at).then((r) => r.json()).then((text) => fetch(`${at}/body`, { method: 'PUT',"
        " headers: { 'Content-Type': 'application/json' },"
        " body: JSON.stringify({ body: text.body.slice(4), revision: text.revision }) })).then(() => done())",
        text_id,
        project.id,
    )
    page.driver.refresh()
    page.says("[data-testid=body]", "lambs")
    focus(page)
    press(page, Keys.ARROW_RIGHT)
    page.text("1 passage without words", "button").click()
    page.says("[data-testid=lost]", "The")
    page.button("Attach to the chosen words").click()
    page.wait(lambda: len(stored(database, project)) == 1 and cards(page) == ["Losses"])


def test_a_text_opens_where_it_was_read_in_the_other_station(
    page, deliver, account, project, database, tmp_path
):
    body = "\n\n".join(f"Paragraph {n} speaks of lambs and deer at some length. " * 6 for n in range(60))
    deliver(
        write_table(tmp_path / "long.csv", [["1", "Long", "Wire", "2031-01-01", body, "", ""]]), NEWS_MAPPING
    )
    name = page.driver.execute_script("return fetch('/api/v1/me').then((r) => r.json()).then((r) => r.name)")
    with database.session() as session:
        share(session, session.get_one(Project, project.id), name, "coder")
    page.open(f"/projects/{project.id}/corpus")
    page.text("Long", "div").click()
    page.find("#n1")
    page.driver.execute_script("document.getElementById('n40').scrollIntoView({ block: 'start' })")
    time.sleep(0.6)
    page.text("Coding", "b").click()
    page.find("[data-testid=body]")
    top = "return document.getElementById('n40').getBoundingClientRect().top"
    page.wait(lambda: 0 < page.driver.execute_script(top) < 700, "paragraph 40 is in the window")


SIGNS = "שלום 🦌 עולם. Cafe\u0301 👩‍🌾 lambs, deer. ناقة wild 🐾 end."


def test_emoji_combining_marks_and_words_from_right_to_left_are_coded_as_they_stand(
    page, deliver, project, database, tmp_path
):
    table = write_table(tmp_path / "signs.csv", [["1", "Signs", "Wire", "2031-01-01", SIGNS, "", ""]])
    deliver(table, NEWS_MAPPING)
    name = page.driver.execute_script("return fetch('/api/v1/me').then((r) => r.json()).then((r) => r.name)")
    with database.session() as session:
        share(session, session.get_one(Project, project.id), name, "coder")
    page.open(f"/projects/{project.id}/coding")
    page.says("[data-testid=body]", "lambs")
    body = page.driver.execute_script(
        "return fetch(`/api/v1/projects/${arguments[0]}/texts/${location.pathname.split('/').pop()}`)"
        ".then((r) => r.json()).then((r) => r.body)",
        project.id,
    )
    for code in ("First", "Second", "Third"):
        focus(page)
        press(page, Keys.ARROW_DOWN)
        page.wait(lambda: chosen(page) != "")
        words = chosen(page)
        press(page, code, Keys.ENTER)
        unfolds(page, code)
        page.wait(lambda: any(body[one.start : one.end] == words for one in stored(database, project)))  # noqa: B023
    assert len(stored(database, project)) == 3
    press(page, Keys.ESCAPE)
    press(page, "n")
    page.button("Note").click()
    page.find("textarea[aria-label='Note on the passage']").send_keys("🦌 und שלום", Keys.CONTROL, Keys.ENTER)
    page.wait(lambda: [one.body for one in notes(database, project)] == ["🦌 und שלום"])
    assert notes(database, project)[0].code_id is not None
