"""Working on a dictionary and reading, by keyboard and menu, as a person would."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.test_journeys import HEADER, import_table, make_project, rows
from tests.chromium import Page
from tests.conftest import write_table


@pytest.fixture
def project(page, tmp_path):
    """A project with texts and a small dictionary, opened at the dictionary."""
    make_project(page, "Instrument")
    import_table(page, write_table(tmp_path / "news.csv", rows(), HEADER))
    page.text("Dictionary", "b").click()
    path = tmp_path / "frames.csv"
    path.write_text("category,term\nLivelihood,lamb*\nLivelihood,flock\nEcology,deer\nEcology,unicorn\n")
    page.button("Import from a file").click()
    page.button("Choose a file")
    page.driver.find_element(By.CSS_SELECTOR, "[data-testid=dictionary-file]").send_keys(str(path))
    page.button("flock")
    return page


def choose(page: Page, menu: str, item: str) -> None:
    page.find(f"button[aria-label='{menu}']").click()
    page.find("[role=menu]")
    page.text(item, "div").click()


def terms(page: Page) -> set[str]:
    return {
        e.text
        for e in page.driver.find_elements(
            By.CSS_SELECTOR, "table[aria-label=Terms] tbody td:first-child button[title]"
        )
    }


def test_terms_are_changed_moved_deleted_and_brought_back(project):
    page = project
    page.says("section[aria-label=Categories]", "1 term matches nothing")
    choose(page, "Menu of flock", "Change wording or note")
    field = page.find("[role=dialog] input:not([type=radio], [type=checkbox])")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("flock*")
    page.says("[role=dialog] [data-testid=term-catches]", "Catches")
    field.send_keys(Keys.ENTER)
    page.wait(lambda: terms(page) == {"lamb*", "flock*"})
    choose(page, "Menu of flock*", "Match exact case")
    page.says("table[aria-label=Terms]", "exact case")
    choose(page, "Menu of lamb*", "Delete")
    page.wait(lambda: terms(page) == {"flock*"})
    page.find("body").send_keys(Keys.CONTROL, "z")
    page.wait(lambda: terms(page) == {"lamb*", "flock*"})


def test_a_category_is_renamed_nested_deleted_and_brought_back(project):
    page = project
    choose(page, "Category menu", "Rename, describe, recolour")
    field = page.find("[role=dialog] input:not([type=radio], [type=checkbox])")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("Income")
    page.find("[role=dialog] textarea").send_keys("What the hill pays.")
    page.button("Save").click()
    page.says("h1", "Income")
    page.text("What the hill pays.")
    page.button("+ Within this one").click()
    page.find("input[aria-label='New category within Income']").send_keys("Losses", Keys.ENTER)
    page.says("h1", "Losses")
    page.text("No term in this category itself yet")
    page.text("Income", "span").click()
    choose(page, "Category menu", "Delete this category")
    page.wait(lambda: "Income" not in page.find("section[aria-label=Categories]").text)
    page.find("button[aria-label=Undo]").click()
    page.says("section[aria-label=Categories]", "Losses")


def test_a_list_is_pasted_and_what_is_bad_in_it_is_told(project):
    page = project
    entry = page.find("input[aria-label='New term in Livelihood']")
    page.driver.execute_script(
        "const data = new DataTransfer(); data.setData('text', arguments[1]);"
        "arguments[0].dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true}))",
        entry,
        "ewe*\n\nlamb*\nc++\nmarket price\n",
    )
    page.says("[role=dialog]", "2 terms added, 1 were there already; 1 line could not be read")
    page.says("[role=dialog]", "never part of a word")
    page.find("[role=dialog]").send_keys(Keys.ESCAPE)
    page.wait(lambda: terms(page) == {"lamb*", "flock", "ewe*", "market price"})


def test_a_small_column_opens_the_passages_of_its_source(project):
    page = project
    page.find("button[aria-label^='Hill Farmer:']").click()
    page.says("[data-testid=evidence-title]", "in Hill Farmer")
    page.button("In line").click()
    page.wait(lambda: len(page.driver.find_elements(By.CSS_SELECTOR, "aside mark")) > 3)
    page.text("Compare", "b").click()
    page.says("[data-testid=evidence-title]", "in Hill Farmer")


def test_texts_are_found_sorted_opened_and_stepped_through_by_keyboard(project):
    page = project
    page.text("Corpus", "b").click()
    page.find("input[aria-label='Find in titles and texts']").send_keys("Text 1")
    page.wait(lambda: page.find("[data-testid=table-total]").text == "10 texts")
    page.text("Title", "button").click()
    page.wait(lambda: page.find("[role=row][aria-rowindex='1'] [role=cell]:nth-of-type(2)").text == "Text 10")
    page.find("[aria-label^='Texts;']").send_keys(Keys.ARROW_DOWN, Keys.ENTER)
    page.says("article h1", "Text 11")
    page.find("body").send_keys("]")
    page.says("article h1", "Text 12")
    page.find("body").send_keys("[")
    page.says("article h1", "Text 11")
    ActionChains(page.driver).send_keys("?").perform()
    page.says("[role=dialog]", "previous and next text")


def test_change_over_time_is_drawn_and_described(project):
    page = project
    page.text("Compare", "b").click()
    Select(page.find("select[aria-label=Across]")).select_by_visible_text("Date")
    page.text("How the categories change by month", "h1")
    page.button("More settings").click()
    page.wait(lambda: len(page.driver.find_elements(By.CSS_SELECTOR, "svg[data-figure] [role=button]")) == 18)
    page.find("section[aria-label=Uncertainty] select:has(option[value='0.99'])").send_keys("99%")
    page.wait(lambda: "0.99" in page.driver.current_url)
    seed = page.find("section[aria-label=Uncertainty] input")
    seed.send_keys(Keys.CONTROL, "a")
    seed.send_keys("77", Keys.ENTER)
    page.wait(lambda: "77" in page.driver.current_url)
    page.find("section[aria-label=Uncertainty] select:has(option[value=source])").send_keys("Source")
    page.says("[data-testid=statements]", "so the groups are not independent")
    page.find("section[aria-label=Uncertainty] select:has(option[value=source])").send_keys("the text")
    page.button("How this was counted").click()
    page.text("Ratio estimator: Cochran (1977), Sampling Techniques, ch. 6;")
    page.button("Methods, and how well they hold").click()
    page.says("[role=dialog]", "Corpora without any difference that are found to differ")


def test_a_field_is_held_equal_and_a_ratio_opens_its_texts(project):
    page = project
    page.text("Compare", "b").click()
    page.button("More settings").click()
    page.find("section[aria-label='What to compare'] select[id]:has(option[value=words])").send_keys("Date")
    page.says("[data-testid=model-statements]", "Controlling for “Date by month”, ")
    page.find("[data-testid=statements] button[aria-expanded=false]").click()
    page.says("[data-testid=statements]", "Controlling for “Date by month”: adjusted rates use")
    page.says("[data-testid=model-statements]", "Controlling for “Date by month”, ")
    page.find("section[aria-label='Rate model'] [role=radiogroup]")
    page.button("Date by month").click()
    band = page.find("section[aria-label=Ratios] tbody button:not([aria-label*='the reference level'])")
    said = band.get_attribute("aria-label")
    band.click()
    page.text(said.split(":")[0], "div")
    page.find("[data-testid=evidence-count]")
    page.find("button[aria-label='No longer control for Date']").click()
    page.wait(lambda: not page.driver.find_elements(By.CSS_SELECTOR, "section[aria-label='Rate model']"))
    page.button("Single terms").click()
    page.text("The test of a category without each term that has a fifth or more of its hits")
    page.button("lamb*").click()
    page.wait(lambda: "lamb*" in page.find("[data-testid=evidence-title]").text)


def test_what_was_judged_is_shown_for_each_source(project):
    page = project
    page.text("Compare", "b").click()
    Select(page.find("select[aria-label=Measure]")).select_by_visible_text("Precision of hits")
    page.says("[data-testid=statements]", "No hits of these categories were judged yet")
    page.button("More settings").click()
    page.find("section[aria-label=Uncertainty] select:has(option[value=story])").send_keys("the story")
    page.find("[role=alert]")
    page.text("Check the corpus first")
