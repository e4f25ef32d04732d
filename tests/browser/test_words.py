"""From a word list to its passages, the stop list, a term; concordance, company, search, cloud."""

import csv

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.api.test_words import SAID
from tests.browser.test_instrument import choose
from tests.browser.test_journeys import HEADER, import_table, make_project
from tests.chromium import saved_file
from tests.conftest import write_table


@pytest.fixture
def words(page, tmp_path):
    make_project(page, "Words")
    rows = [
        [f"{source}{at}", f"Text {at}", source, f"2031-06-0{at + 1}", text, ""]
        for source, texts in SAID.items()
        for at, text in enumerate(texts)
    ]
    rows.append(["none", "No text", "Hill Farmer", "2031-01-01", "", ""])
    import_table(page, write_table(tmp_path / "news.csv", rows, HEADER))
    page.button("See the texts").click()
    page.text("Words", "a").click()
    page.find("[role=table][aria-label=Words] [role=cell]")
    return page


def listed(page):
    cells = page.driver.find_elements(
        By.CSS_SELECTOR, "[role=table] [role=row] [role=cell]:nth-child(2) button"
    )
    return [cell.text for cell in cells]


def test_a_word_leads_to_its_passages_the_stop_list_and_a_term(words):
    page = words
    page.wait(lambda: listed(page)[:3] == ["price", "stock", "lambs"])
    page.text("price", "button").click()
    page.says("[data-testid=evidence-count]", "4 hits in 4 texts")
    choose(page, "Menu of price", "Put on the stop list")
    page.wait(lambda: "price" not in listed(page))
    page.find("button[aria-label=Undo]").click()
    page.wait(lambda: "price" in listed(page))
    page.text("By lemma", "button").click()
    page.wait(lambda: "lamb" in listed(page) and "lambs" not in listed(page))
    page.text("Phrases", "button").click()
    page.wait(lambda: listed(page) == ["market price"])
    page.find("input[aria-label='Find in the list']").send_keys("zzz")
    page.text("Nothing to list")


def test_the_stop_list_is_edited_by_language(words):
    page = words
    page.text("edit", "button").click()
    page.says("[role=dialog]", "words ship for it")
    page.find("[role=dialog] input:not([type=radio], [type=checkbox])").send_keys("stock, price", Keys.ENTER)
    page.find("button[aria-label='Take it off the stop list: stock']").click()
    page.find("[role=dialog] select").send_keys("No language")
    page.says("[role=dialog]", "No list ships for it")
    page.find("[role=dialog]").send_keys(Keys.ESCAPE)
    page.wait(lambda: "the" in listed(page) and "price" not in listed(page) and "stock" in listed(page))


def test_a_cloud_is_shaped_and_saved(words, downloads):
    page = words
    page.text("Cloud", "button").click()
    word = page.find("svg[aria-label='Cloud of words'] text[aria-label^='stock,']")
    page.driver.execute_script("arguments[0].focus()", word)
    ActionChains(page.driver).send_keys(Keys.DELETE).perform()
    page.text("stock ↩", "button")
    page.wait(lambda: not page.driver.find_elements(By.CSS_SELECTOR, "svg text[aria-label^='stock,']"))
    page.text("Rows", "button").click()
    page.button("Save picture ▾").click()
    page.text("As .svg", "div").click()
    picture = saved_file(downloads, ".svg").read_text()
    assert ">price" in picture and ">stock" not in picture and "by hits" in picture
    page.button("Save picture ▾").click()
    page.text("As .png", "div").click()
    assert saved_file(downloads, ".png").read_bytes().startswith(b"\x89PNG")


def test_lines_are_sorted_kept_by_a_neighbour_widened_and_saved(words, downloads):
    page = words
    page.text("In context", "a").click()
    page.find("input[aria-label='Term or search']").send_keys("price")
    page.says("[data-testid=lines-total]", "4 hits in 4 texts")
    page.text("−1", "button").click()
    page.text("market", "span").click()
    page.says("[data-testid=lines-total]", "2 hits in 2 texts")
    page.find("[role=listitem] button").click()
    page.text("Paragraph", "button").click()
    page.says("[role=listitem]", "Market price of lambs fell. #lynx")
    page.find("button[aria-label='Show all lines again']").click()
    page.says("[data-testid=lines-total]", "4 hits")
    page.button("Export ▾").click()
    page.text("Lines as .csv", "div").click()
    with saved_file(downloads, ".csv").open(encoding="utf-8-sig") as file:
        assert [row["hit"] for row in csv.DictReader(file)] == ["price"] * 4
    page.text("Collocates", "button").click()
    page.text("No collocates")
    Select(page.find("select[aria-label='Times together, at least']")).select_by_value("1")
    page.says("table[aria-label=Collocates]", "market")
    page.text("market", "button").click()
    page.says("[data-testid=evidence-title]", "within 5 words of “market”")


def test_a_search_takes_in_variants_and_becomes_a_set(words):
    page = words
    ActionChains(page.driver).key_down(Keys.CONTROL).send_keys("k").key_up(Keys.CONTROL).perform()
    page.find("input[placeholder^='Go to']").send_keys("lamb AND price")
    page.text("Search the texts for “lamb AND price”", "div").click()
    page.says("[data-testid=search-total]", "1 text with 2 hits")
    page.text("lambs", "label").click()
    page.button("Take in 1").click()
    page.says("[data-testid=search-total]", "3 texts with 7 hits")
    page.button("Make a set").click()
    page.find("[role=dialog] input:not([type=radio], [type=checkbox])").send_keys("Lamb prices", Keys.ENTER)
    page.text("Set “Lamb prices” made", "*")
    page.button("Narrow to these texts").click()
    page.text("found by (lamb | lambs) AND price")
    page.text("Texts", "a").click()
    page.says("aside[aria-label='Groups and sets']", "Lamb prices")


def test_a_search_that_cannot_be_read_points_at_the_place(words):
    page = words
    page.text("Search", "a").click()
    page.find("input[aria-label=Search]").send_keys("lamb near:x price")
    page.says("[role=alert]", "needs a number of words")
    assert page.find("[role=alert] u").text == "x"
