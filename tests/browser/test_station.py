"""The dictionary station: fields, forms, suggestions, judging by key, versions, merging, two dictionaries."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.test_instrument import choose, terms
from tests.browser.test_journeys import HEADER, import_table, make_project
from tests.conftest import write_table

TEXTS = [
    "The stock was moved off the hill before dawn. Lambs were lost.",
    "Traders on the stock exchange were calm. A lamb was seen.",
    "She makes stock from the bones. The flock is safe.",
    "Stocks of hay ran low and the lambs were sold.",
    "Compensation came late, and compensatory payments later; compenstation was misspelled.",
    "Nothing here speaks of animals.",
]


@pytest.fixture
def station(page, tmp_path):
    make_project(page, "Station")
    rows = [
        [str(at), f"Text {at}", ["Hill Farmer", "Valley Wire"][at % 2], "2031-06-03", text, ""]
        for at, text in enumerate(TEXTS)
    ]
    rows.append(["none", "No text", "Hill Farmer", "2031-01-01", "", ""])
    import_table(page, write_table(tmp_path / "news.csv", rows, HEADER))
    page.text("Dictionary", "b").click()
    path = tmp_path / "Frames.csv"
    path.write_text(
        "category,term\nLivelihood,stock*\nLivelihood,lamb*\nLivelihood,compensation\nEcology,hay\n"
    )
    page.button("Import from a file").click()
    page.button("Choose a file")
    page.driver.find_element(By.CSS_SELECTOR, "[data-testid=dictionary-file]").send_keys(str(path))
    page.button("stock*")
    return page


def keys(page, *pressed):
    for key in pressed:
        ActionChains(page.driver).send_keys(key).perform()


def test_a_term_is_made_with_fields_and_a_form_left_out(station):
    page = station
    page.button("As fields").click()
    page.find("input[aria-label='Find, row 1, part 1']").send_keys("stock*")
    page.says("[data-testid=term-catches]", "stocks 1")
    page.button("+ Condition").click()
    page.find("select[aria-label=Condition]").send_keys("unless near")
    page.find("input[aria-label='Words of the condition, row 1, part 1']").send_keys("exchange | bones")
    entry = page.find("input[aria-label='New term in Livelihood']")
    page.wait(lambda: entry.get_property("value") == "stock* unless-near:5 exchange | bones")
    page.says("[data-testid=term-catches]", "2 hits in 2 texts")
    page.button("Add term ⏎").click()
    page.wait(lambda: "stock* unless-near:5 exchange | bones" in terms(page))
    page.find("button[aria-label='Forms of stock*']").click()
    page.find("button[aria-label='Leave stocks out']").click()
    page.wait(lambda: "stock* unless-part-of: stocks" in terms(page))


def test_suggestions_are_added_and_dismissed(station):
    page = station
    page.says("section[aria-label=Suggestions]", "spelled like compensation")
    page.find("button[aria-label='Add compenstation']").click()
    page.wait(lambda: "compenstation" in terms(page))
    page.find("button[aria-label=Undo]").click()
    page.find("button[aria-label='Do not suggest compenstation again']").click()
    page.wait(lambda: "compenstation" not in page.find("section[aria-label=Suggestions]").text)


def test_hits_are_judged_by_key(station):
    page = station
    choose(page, "Menu of stock*", "Judge a sample of hits")
    page.button("Draw and judge").click()
    page.find("aside[aria-label=Judging] [aria-current=true]")
    keys(page, "f", "x", "x", "f")
    page.says("[data-testid=judged]", "4 of 4 judged: 2 right of this sample")
    keys(page, "u")
    page.says("[data-testid=judged]", "3 of 4 judged")
    keys(page, "f")
    page.says("table[aria-label=Terms]", "0.50 of 4")
    page.says("[data-testid=category-precision]", "2 of 4 judged hits right")
    page.text("2 of 4 judged hits right", "button").click()
    page.find("select[aria-label='Which verdicts']").send_keys("Does")
    page.says("[data-testid=verdicts-shown]", "2 of 2 places")
    page.says("aside[aria-label=Verdicts]", "You: does not, ")
    page.find("aside[aria-label=Verdicts] [aria-current=true]").click()
    page.find("body").send_keys("f")
    page.says("[data-testid=category-precision]", "3 of 4 judged hits right")
    keys(page, Keys.ESCAPE)
    page.button("Look for what is missed").click()
    page.button("Draw and judge").click()
    page.find("aside[aria-label=Judging] [aria-current=true]")
    keys(page, "x")
    page.says("[data-testid=judged]", "should have had a hit")
    page.says("[data-testid=category-missed]", "Missed")


def test_versions_are_named_compared_and_gone_back_to(station):
    page = station
    choose(page, "Dictionary menu", "Versions")
    page.find("input[placeholder^='as in']").send_keys("first", Keys.ENTER)
    page.says("table[aria-label=Versions]", "first")
    page.text("Livelihood", "span").click()
    page.find("input[aria-label='New term in Livelihood']").send_keys("flock", Keys.ENTER)
    page.wait(lambda: "flock" in terms(page))
    page.text("Compare", "b").click()
    page.find("[data-testid^='dot-']")
    page.find("section[aria-label='What to compare'] select")
    page.text("Dictionary", "b").click()
    choose(page, "Dictionary menu", "Versions")
    page.says("table[aria-label='Changed terms']", "flock")
    page.says("table[aria-label='Side by side']", "+1")
    choose(page, "Menu of version 1", "Restore it")
    page.text("Livelihood", "span").click()
    page.wait(lambda: terms(page) == {"stock*", "lamb*", "compensation"})


def test_a_file_is_merged_and_conflicts_are_settled(station, tmp_path):
    page = station
    theirs = tmp_path / "Theirs.csv"
    theirs.write_text("category,term,case\nLivelihood,stock*,match\nLivelihood,ewe*,\nWonder,awe,\n")
    choose(page, "Dictionary menu", "Merge a file into this one")
    page.button("Choose a file")
    page.driver.find_element(By.CSS_SELECTOR, "[data-testid=dictionary-file]").send_keys(str(theirs))
    page.says("[role=dialog]", "2 new terms")
    page.button("All as in the file").click()
    page.button("Merge").click()
    page.wait(lambda: "ewe*" in terms(page))
    page.says("table[aria-label=Terms]", "exact case")
    page.says("section[aria-label=Categories]", "Wonder")
    page.find("button[aria-label=Undo]").click()
    page.wait(lambda: "ewe*" not in terms(page))


def test_categories_are_dragged_into_one_another(station):
    page = station
    page.driver.execute_script(
        """
        const [from, to] = ['Ecology', 'Livelihood'].map((name) =>
          [...document.querySelectorAll('section[aria-label=Categories] li button')].find((b) => b.textContent.includes(name)));
        const data = new DataTransfer();
        const at = to.getBoundingClientRect();
        const fire = (on, type) => on.dispatchEvent(new DragEvent(type, {dataTransfer: data, bubbles: true, cancelable: true, clientY: at.top + at.height * 0.7}));
        fire(from, 'dragstart'); fire(to, 'dragover'); fire(to, 'drop');
        """
    )
    page.text("Livelihood", "span").click()
    page.says("h1 + button", "9 hits")
    choose(page, "Category menu", "Read all hits in context")
    page.says("[data-testid=lines-total]", "9 hits")


def test_what_to_look_after_and_two_dictionaries(station):
    page = station
    page.find("input[aria-label='New term in Livelihood']").send_keys("unicorn", Keys.ENTER)
    page.says("section[aria-label=Categories]", "1 term matches nothing")
    page.text("Warnings", "span").click()
    page.says("section[aria-label='Match nothing in the corpus']", "unicorn")
    choose(page, "Dictionary menu", "Copy this dictionary")
    page.find("input[aria-label='Name of the copy']").send_keys(Keys.ENTER)
    page.find("select[aria-label=Dictionary]")
    page.text("Compare", "b").click()
    page.button("More settings").click()
    page.find("section[aria-label='What to compare'] select[id]:has(option[value$='.'])").send_keys("Frames")
    page.says("table[aria-label='Side by side']", "Livelihood")
