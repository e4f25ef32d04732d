"""Runs by example, themes and tone in the browser: learned, ticked, tried, changed, stored."""

import time

import pytest
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.test_coding import press
from tests.valley import code_losses, deliver_valley


@pytest.fixture
def valley(desk, deliver, tmp_path, database, project, account):
    deliver_valley(deliver, tmp_path)
    code_losses(database, project.id, account.id)
    return desk


def store(page):
    """Store what is found, once nothing is being counted anew any more: until then the button is dead again and again."""

    def ready():
        button = page.find("button.ml-auto")
        return "Store " in button.text and button.is_enabled()

    page.wait(lambda: ready() and not time.sleep(1.5) and ready())
    page.find("button.ml-auto").click()


def new_run(page, project, finds):
    page.open(f"/projects/{project.id}/coding/runs?run=new&finds={finds}")


def test_a_code_is_learned_and_its_threshold_moved_by_keys(valley, project):
    page = valley
    new_run(page, project, "example")
    page.text("What is it to learn?")
    page.button("which code?").click()
    page.find("[data-radix-popper-content-wrapper] label").click()
    press(page, Keys.ESCAPE)
    page.says("[data-testid=learned]", "Learned from 24 examples")
    page.says("[data-testid=learned-figures]", "precision")
    assert page.barriers() == []
    slider = page.find("[role=slider]")
    before = float(slider.get_attribute("aria-valuenow"))
    slider.send_keys(Keys.ARROW_RIGHT)
    page.wait(lambda: float(slider.get_attribute("aria-valuenow")) == pytest.approx(before + 0.01))
    slider.send_keys(Keys.PAGE_UP)
    page.wait(lambda: float(slider.get_attribute("aria-valuenow")) == pytest.approx(before + 0.11))
    page.button("Best threshold").click()
    page.wait(lambda: float(slider.get_attribute("aria-valuenow")) == before)
    # a word is struck out and put back, another is added
    word = page.find("[aria-label='Speaks for it'] button")
    struck = word.text
    word.click()
    page.text(f"{struck} put back", "button")
    page.wait(lambda: page.find("[aria-label='Speaks for it'] button").text != struck)
    field = page.find("input[aria-label='A word to add']")
    field.send_keys("bridge", Keys.ENTER)
    assert field.get_attribute("value") == ""
    page.text("bridge added for", "button")
    page.wait(lambda: "bridge" in page.find("[aria-label='Speaks for it']").text)
    # an answer is noted at once, and learned from when asked
    page.wait(lambda: page.find("[data-testid=learned]").get_attribute("aria-busy") == "false")
    page.find("[aria-label='Look at these next'] li button").click()
    page.text("coded by hand", "span")
    page.button("Learn again, with 1 answer").click()
    page.says("[data-testid=learned]", "Learned from 25 examples")
    page.says("[data-testid=run-preview]", "passages in")
    store(page)
    page.says("[data-testid=run-head]", "on texts it had not learned from: precision")
    page.says("[data-testid=run-item]", "Losses")
    Select(page.find("select[aria-label='Order']")).select_by_visible_text("strongest first")
    page.find("input[aria-label='With a score of at least']")
    assert page.barriers() == []
    assert page.errors() == []


def test_themes_are_ticked_merged_and_stored_under_a_code_of_their_own(valley, project):
    page = valley
    new_run(page, project, "themes")
    page.says("section[aria-label='Themes found']", "0 themes ticked")
    assert page.barriers() == []
    field = page.find("input[aria-label='Find among the phrases']")
    for word in ("lamb", "ewe"):
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(word)
        page.wait(lambda word=word: page.find("[aria-label=Phrases] tbody label").text == word)
        page.find("[aria-label=Phrases] tbody input[type=checkbox]").click()
    page.says("section[aria-label='Themes found']", "2 themes ticked")
    called = page.find("input[aria-label='What ewe is called']")
    called.send_keys(Keys.CONTROL, "a")
    called.send_keys("Lamb")
    page.says("section[aria-label='Themes found']", "1 theme ticked")
    page.says("[data-testid=run-preview]", "passages in")
    store(page)
    page.says("[data-testid=run-head]", "one theme of the texts")
    page.text("Codebook", "a").click()
    page.text("Themes")
    assert page.errors() == []


def test_tone_is_tried_with_a_list_of_ones_own_and_corrected(valley, project):
    page = valley
    new_run(page, project, "tone")
    page.find("input[aria-label='A sentence to try']").send_keys("A hefted, lovely flock!")
    page.says("[data-testid=tone-tried]", "strongly positive")
    page.button("See or change the words").click()
    page.button("Make an own list from it").click()
    page.says("[role=dialog]", "not used in a run yet")
    page.button("Rename").click()
    name = page.find("[role=dialog] input[aria-label=Name]")
    name.send_keys(Keys.CONTROL, "a")
    name.send_keys("Hill words", Keys.ENTER)
    page.says("[role=dialog] h2", "Hill words")
    assert page.barriers() == []
    page.find("input[aria-label='New word']").send_keys("hefted")
    page.find("input[aria-label='Its value']").send_keys("-4", Keys.ENTER)
    assert page.find("input[aria-label='New word']").get_attribute("value") == ""
    page.text("Changed", "button").click()
    page.says("[role=dialog] tbody", "hefted")
    value = page.find("input[aria-label='Value of hefted']")
    value.send_keys(Keys.CONTROL, "a")
    value.send_keys("9", Keys.ENTER)
    page.text("between -4 and 4")
    press(page, Keys.ESCAPE)
    page.wait(lambda: not page.driver.find_elements("css selector", "[role=dialog]"))
    page.says("[data-testid=tone-tried]", "−")
    page.says("[data-testid=run-preview]", "Strongly positive")
    store(page)
    page.says("[data-testid=run-head]", "Hill words, version 1")
    page.find("[data-testid=run-item]")
    press(page, "x")
    page.says("[data-testid=run-head]", "Of 1 passage reviewed 100")
    assert page.barriers() == []
    assert page.errors() == []
