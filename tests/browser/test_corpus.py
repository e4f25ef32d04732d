"""Journeys in the Corpus station: what arrives, described and under control."""

import json

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.test_journeys import HEADER, import_table, make_project, rows
from tests.conftest import write_table

RIS = (
    "TY  - JOUR\nAU  - Quill, Ada\nTI  - Lynx and deer\nJO  - Hill Ecology\nPY  - 2029\nAB  - We count deer.\nER  - \n\n"
    "TY  - BOOK\nAU  - Fell, Cy\nTI  - The valley\nPY  - 2028\nPB  - Orrin Press\nER  - \n"
)
SURVEY = (
    "nr;parish;What worries you about the lynx?;What do you hope for?\n"
    "1;Orrin;The lambs on the hill and what the winter will do to the flock after all this.;"
    "That the deer leave the young birch alone and that the wood comes back at last here.\n"
    "2;Skell;Nothing worries me at all about them, I have lived here for sixty years and more.;\n"
)


@pytest.fixture
def filled(page, tmp_path):
    make_project(page, "Corpus")
    import_table(page, write_table(tmp_path / "news.csv", rows(), HEADER))
    page.button("See the texts").click()
    page.says("[data-testid=table-total]", "40 texts")
    return page


def cell(row, column):
    return f"[role=row][aria-rowindex='{row}'] [role=cell]:nth-of-type({column})"


def box(page, row):
    return page.find(f"{cell(row, 1)} input")


def test_mixed_files_in_one_drop_with_placeholders_to_fill(page, tmp_path):
    make_project(page, "Mixed")
    (tmp_path / "studies.ris").write_text(RIS)
    (tmp_path / "survey.csv").write_text(SURVEY)
    (tmp_path / "note.md").write_text("# A walk\n\nWe walked up past the wood.")
    (tmp_path / "broken.docx").write_bytes(b"PK no")
    page.button("Import texts").click()
    page.button("Choose files")
    names = ("studies.ris", "survey.csv", "note.md", "broken.docx")
    page.driver.find_element("css selector", "[data-testid=file-input]").send_keys(
        "\n".join(str(tmp_path / name) for name in names)
    )
    page.says("[data-testid=expected]", "6 new (2 without text, to fill later), 0 known already")
    page.text("This is not a Word document (.docx), or it is damaged or cut off", "span")
    lots = page.driver.find_elements(By.CSS_SELECTOR, "[data-testid=lot] h2")
    assert {lot.text for lot in lots} == {"References", "Tables", "Markdown", "Word documents"}
    page.button("Import").click()
    page.says("[data-testid=import-done]", "Imported 6 texts")
    page.button("See the texts").click()
    page.find("input[aria-label='Find in titles and texts']").send_keys("valley")
    page.says("[data-testid=table-total]", "1 text")
    page.find(cell(1, 2)).click()
    page.says("article h1", "Fell 2028: The valley")
    page.says("aside", "Fell, C. (2028). The valley. Orrin Press.")
    page.find("textarea[aria-label='The text']").send_keys("Typed in by hand: the valley is wide.")
    page.button("Keep the text").click()
    page.says("[data-testid=body]", "Typed in by hand")
    page.says("aside", "Filled")


def test_chosen_texts_get_a_group_and_a_set_and_undo_takes_it_back(filled):
    page = filled
    box(page, 1).click()
    box(page, 2).click()
    page.says("[data-testid=chosen]", "2 texts chosen")
    page.button("Put in a group").click()
    page.find("[role=dialog] input:not([type=radio], [type=checkbox])").send_keys("First wave", Keys.ENTER)
    page.says("aside[aria-label='Groups and sets']", "First wave")
    page.button("Add to a set").click()
    page.find("[role=dialog] input:not([type=radio], [type=checkbox])").send_keys("Read twice", Keys.ENTER)
    page.says("aside[aria-label='Groups and sets']", "Read twice")
    page.find("button[aria-label=Undo]").click()
    page.wait(lambda: "Read twice" not in page.find("aside[aria-label='Groups and sets']").text)
    page.text("First wave", "span").click()
    page.says("[data-testid=scope-size]", "2 of 40 texts")


def test_texts_are_dragged_onto_a_set_and_a_rule_set_stays_current(filled):
    page = filled
    page.button("New set").click()
    page.find("[role=dialog] input:not([type=radio], [type=checkbox])").send_keys("By hand")
    page.button("Make the set").click()
    page.text("Set “By hand” made.")
    page.wait(lambda: not page.driver.find_elements("css selector", "[data-waiting]"))
    page.says("aside[aria-label='Groups and sets']", "By hand")
    page.driver.execute_script(
        "const data = new DataTransfer(), fire = (on, kind) => on.dispatchEvent(new DragEvent(kind, {dataTransfer: data, bubbles: true, cancelable: true}));"
        "const row = document.querySelector(\"[role=row][aria-rowindex='3']\"), set = [...document.querySelectorAll('aside li')].find(e => e.textContent.includes('By hand'));"
        "fire(row, 'dragstart'); fire(set, 'dragover'); fire(set, 'drop');"
    )
    page.wait(lambda: "By hand\n1" in page.find("aside[aria-label='Groups and sets']").text)
    scope = json.dumps([{"kind": "terms", "terms": ["deer"], "exclude": False}])
    page.driver.get(page.driver.current_url.split("?")[0] + f"?scope={scope}")
    page.says("[data-testid=scope-size]", "25 of 40 texts")
    page.says("aside[aria-label='Groups and sets']", "By hand")
    page.button("New set").click()
    page.text("By rule", "span").click()
    page.find("[role=dialog] input:not([type=radio], [type=checkbox])").send_keys("On deer", Keys.ENTER)
    page.wait(lambda: "rule\n25" in page.find("aside[aria-label='Groups and sets']").text)


def test_values_are_changed_in_the_table_by_keyboard(filled):
    page = filled
    page.find("[aria-label^='Texts;']").send_keys(Keys.ARROW_RIGHT, Keys.F2)
    field = page.find(f"{cell(1, 3)} input")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("Valley Wire", Keys.ENTER)
    page.says(cell(1, 3), "Valley Wire")
    page.find("[aria-label^='Texts;']").send_keys(Keys.CONTROL, "a")
    page.says("[data-testid=chosen]", "40 texts chosen")
    page.button("Set a value").click()
    page.find("[role=dialog] select").send_keys("region")
    page.find("[role=dialog] input:not([type=radio], [type=checkbox])").send_keys("valley", Keys.ENTER)
    page.text("region: valley: 40 texts changed.")
    page.find("button[aria-label=Undo]").click()
    page.text("Undone: region: valley")


def test_a_locked_text_is_corrected_and_a_note_stays_on_its_words(filled):
    page = filled
    page.find(cell(1, 2)).click()
    page.find("article h1")
    page.driver.execute_script(
        "const part = document.querySelector('[data-testid=body] [data-at]').firstChild, range = document.createRange();"
        "range.setStart(part, 4); range.setEnd(part, 8); getSelection().removeAllRanges(); getSelection().addRange(range);"
        "document.querySelector('[data-testid=body]').dispatchEvent(new MouseEvent('mouseup', {bubbles: true}));"
    )
    words = page.find("[data-testid=body]").text.split("\n")[-1][4:8]
    note = page.find("textarea[aria-label='A new note']")
    note.send_keys("Look here", Keys.CONTROL, Keys.ENTER)
    page.says("[data-testid=note]", words)
    page.button("Unlock to correct").click()
    field = page.find("textarea[aria-label='Text to correct']")
    field.send_keys(Keys.CONTROL, Keys.HOME)
    field.send_keys("Corrected now. ")
    page.button("Keep and lock").click()
    page.says("[data-testid=body]", "Corrected now.")
    page.says("[data-testid=note]", words)
    page.says("aside", "Corrections")
    page.find("button[aria-label=Undo]").click()
    page.wait(lambda: "Corrected now." not in page.find("[data-testid=body]").text)
    assert page.find("[aria-label='Open texts'] [aria-current=page]").text == page.find("article h1").text


def test_variables_are_derived_merged_and_filled_from_a_table(filled, tmp_path):
    page = filled
    page.text("Variables", "a").click()
    page.find("h1")
    page.button("Derive a variable").click()
    page.button("a date").click()
    page.find("[role=dialog] label + input").send_keys("Quarter")
    page.says("[aria-label='Texts by value']", "2031-Q1")
    page.button("Make the variable").click()
    page.text("Quarter", "span").click()
    page.text("Derived: Date by quarter")
    page.text("region", "span").click()
    for label in ("north", "south"):
        page.find(f"input[aria-label='Tick {label}']").click()
    page.button("Merge 2 into “north”").click()
    page.wait(lambda: not page.driver.find_elements(By.CSS_SELECTOR, "input[aria-label='Tick south']"))
    page.button("Fill from a table").click()
    (tmp_path / "more.csv").write_text("id,height\n1,200\n2,340\n99,1\n")
    page.driver.find_element("css selector", "[data-testid=fill-input]").send_keys(str(tmp_path / "more.csv"))
    page.find("select[aria-label='What height fills']").send_keys("a new variable")
    page.says("[data-testid=fill-report]", "2 of 3 rows match")
    page.says("[data-testid=fill-report]", "Without a text: 99.")
    page.button("Fill").click()
    page.text("height", "span")


def test_the_check_counts_what_repeats_once(filled):
    page = filled
    page.text("Check", "a").click()
    page.button("Check the corpus").click()
    page.text("Checked")
    page.text("Identical", "button").click()
    page.find("[data-testid=alike-group]")
    page.button("Count all open groups once").click()
    page.says("[data-testid=scope-size]", "excluded")
    page.text("Overview", "button").click()
    page.find("button[aria-label^='Hill Farmer, 2031-01']").click()
    page.says("[data-testid=scope-size]", " of ")
    page.find("button[aria-label=Undo]").click()
    page.wait(lambda: "excluded" not in page.find("[data-testid=scope-size]").text)


def test_a_delivery_is_undone_and_brought_back(filled):
    page = filled
    page.text("Deliveries", "a").click()
    page.button("Undo this delivery").click()
    page.text("texts will go")
    page.button("Remove it").click()
    page.text("undone; undo or redo in the header bring it back or take it away")
    page.find("button[aria-label=Undo]").click()
    page.button("Undo this delivery")
    page.text("Texts", "a").click()
    page.says("[data-testid=table-total]", "40 texts")
