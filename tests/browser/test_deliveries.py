"""Deliveries as people meet them: a second one, many texts in one file, who they are from, one taken out."""

from pathlib import Path

from tests.browser.test_corpus import cell
from tests.browser.test_journeys import make_project
from tests.conftest import write_table

HEADER = ["id", "headline", "outlet", "published", "article"]
ROWS = [
    ["1", "Nine pages", "Hill Farmer", "2031-06-03", "The lambs are gone and nobody has said why they went."],
    ["2", "Deer", "Wire", "2031-06-05", "Deer fell on the slope and the birch came back again."],
]
PRESS = "".join(
    f"Headline: {head}\nSource: Orrin Courier\nDate: {day} June 2031\n\n{words}\n\n"
    for head, day, words in (
        ("Fell Side", 3, "The lynx was seen by the upper gate before dark."),
        ("Market", 14, "Compensation for nine lambs was asked for on Saturday."),
        ("Birch", 20, "Nobody could say how many sheep are kept there."),
    )
)


def drop(page, path: Path) -> None:
    """Choose a file for import, from the empty project or after an import."""
    page.button("Choose files")
    page.driver.find_element("css selector", "[data-testid=file-input]").send_keys(str(path))


def choose(page, label: str, words: str) -> None:
    """Choose in a list of choices by its label and the words of the choice."""
    from selenium.webdriver.support.ui import Select

    found = page.find(f"select[aria-label='{label}']")
    Select(found).select_by_visible_text(words)


def test_a_second_delivery_is_decided_and_taken_out_again(page, tmp_path):
    make_project(page, "Two deliveries")
    page.button("Import texts").click()
    drop(page, write_table(tmp_path / "may.csv", ROWS, HEADER))
    page.says("[data-testid=expected]", "2 new")
    page.button("Import").click()
    page.says("[data-testid=import-done]", "Imported 2 texts")
    page.button("Import more").click()
    again = [[*ROWS[0], "Farm"], [*ROWS[1], "Wood"]]
    again[1][4] = "Deer fell on the slope and the birch came back at once."
    drop(page, write_table(tmp_path / "june.csv", again, [*HEADER, "section"]))
    page.says("[data-testid=expected]", "1 known with another text")
    page.text("again", "del")
    choose(page, "What to do with 2", "take the new")
    page.button("Import").click()
    page.says("[data-testid=import-done]", "Imported 0 texts")
    page.says("[data-testid=report-changed]", "1")
    page.text("See the texts", "button").click()
    page.find("input[aria-label='Find in titles and texts']").send_keys("Deer")
    page.says("[data-testid=table-total]", "1 text")
    page.find(cell(1, 2)).click()
    page.says("[data-testid=body]", "at once")
    page.find("button[aria-label=Undo]").click()
    page.text("Undone: Import june.csv")
    page.says("[data-testid=body]", "back again")


def test_a_press_export_is_cut_and_shown(page, tmp_path):
    make_project(page, "Press")
    page.button("Import texts").click()
    (tmp_path / "press.txt").write_text(PRESS)
    drop(page, tmp_path / "press.txt")
    page.says("[data-testid=cut-texts]", "3 texts")
    page.button("Show where texts begin").click()
    page.text("begins a text", "span")
    page.button("Import").click()
    page.says("[data-testid=import-done]", "Imported 3 texts")


def test_a_source_is_asked_for(page, tmp_path):
    make_project(page, "No source")
    page.button("Import texts").click()
    drop(page, write_table(tmp_path / "answers.csv", [["Yes, often."], ["No, never."]], ["answer"]))
    page.text("Who are the texts from?", "label")
    page.says("[data-testid=expected]", "2 new")
