"""Whole journeys in a real browser, on a real server and database."""

import csv
from pathlib import Path

from python_calamine import CalamineWorkbook
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.chromium import Page, saved_file
from tests.conftest import write_table

HEADER = ["id", "headline", "outlet", "published", "article", "region"]


def rows():
    """Texts of two sources that differ plainly in what they write about."""
    out = []
    for i in range(40):
        farmer = i % 2 == 0
        body = (
            "The lamb and the flock are gone, and the lambs too. "
            if farmer
            else "Deer and birch, and again deer, with one lamb. "
        )
        if i % 8 == 0:
            body += "Even here, deer. "
        out.append(
            [
                str(i),
                f"Text {i:02d}",
                "Hill Farmer" if farmer else "Orrin Courier",
                f"2031-0{i % 9 + 1}-11",
                body * (i % 3 + 1) + "😀 “Ewes know,” she said.",
                "north" if i % 4 else "south",
            ]
        )
    out.append(["40", "No text", "Hill Farmer", "2031-01-01", "", "north"])
    return out


def make_project(page: Page, name: str) -> None:
    page.find("input[aria-label='Name of a new project']").send_keys(name)
    page.button("Make project").click()
    page.text("No texts yet")


def import_table(page: Page, path: Path) -> None:
    page.button("Import texts").click()
    page.button("Choose files")
    page.driver.find_element("css selector", "[data-testid=file-input]").send_keys(str(path))
    page.text("The first texts will be")
    assert page.find("select[aria-label='What is article']").get_attribute("value") == "text"
    assert page.text("There is no text in this row.")
    page.button("Import").click()
    page.find("[data-testid=import-done]")


def test_from_a_table_to_a_tested_comparison(page, tmp_path, downloads):
    make_project(page, "Journey")
    import_table(page, write_table(tmp_path / "news.csv", rows(), HEADER))
    assert page.find("[data-testid=report-new]").text == "40"
    assert page.find("[data-testid=report-refused]").text == "1"
    page.button("See the texts").click()
    page.wait(lambda: page.find("[data-testid=table-total]").text == "40 texts")

    page.text("Dictionary", "b").click()
    page.find("input[aria-label='Name of the dictionary']").send_keys("Frames", Keys.ENTER)
    for category, term, catches in (
        ("Livelihood", "lamb*", "Catches 119 hits in 40 texts"),
        ("Ecology", "deer", "Catches 88 hits in 25 texts"),
    ):
        page.button("+ Category").click()
        page.find("input[aria-label='New category']").send_keys(category, Keys.ENTER)
        entry = page.find(f"input[aria-label='New term in {category}']")
        entry.send_keys(term)
        page.wait(
            lambda expected=catches: page.find("[data-testid=term-catches]").text.startswith(expected),
            catches,
        )
        entry.send_keys(Keys.ENTER)
        page.button(term)
    page.find("button[aria-label=Undo]").click()
    page.text("Undone: Add term deer")
    page.find("button[aria-label=Redo]").click()
    page.button("deer")

    page.text("Compare", "b").click()
    dot = page.find("[data-testid='dot-Livelihood-Hill Farmer']")
    assert "; 80 hits in 20 texts" in dot.get_attribute("aria-label")
    said = page.says("[data-testid=statements]", "differ significantly")
    assert said.split("\n")[-1] != said and "Ecology terms are about" in said and "p adjusted for" not in said
    page.text("Details", "button").click()
    page.says("[data-testid=statements]", "permutations")
    assert "p adjusted for" in page.find("[data-testid=statements]").text
    page.text("Fewer details", "button").click()
    hits = 80
    dot.send_keys(Keys.ENTER)
    page.wait(lambda: page.find("[data-testid=evidence-count]").text == f": {hits} hits in 20 texts")
    marks = [m.text for m in page.driver.find_elements("css selector", "aside mark")]
    assert set(marks) <= {"lamb", "lambs"} and marks

    page.button("Export ▾").click()
    page.text("Numbers as Excel").click()
    book = CalamineWorkbook.from_path(str(saved_file(downloads, ".xlsx")))
    grid = book.get_sheet_by_name("All numbers").to_python()
    cell = next(row for row in grid if row[:2] == ["Livelihood", "Hill Farmer"])
    assert cell[2] == hits

    page.find("aside a").click()
    assert {m.text for m in page.driver.find_elements("css selector", "article mark")} <= {"lamb", "lambs"}
    page.driver.find_element("css selector", "body").send_keys(Keys.ESCAPE)
    page.wait(lambda: not page.driver.find_elements("css selector", "aside[aria-label=Evidence]"))


def test_narrow_keep_go_to_and_second_delivery(page, tmp_path):
    make_project(page, "Scopes")
    path = write_table(tmp_path / "news.csv", rows(), HEADER)
    import_table(page, path)
    page.button("Import more").click()
    page.driver.find_element("css selector", "[data-testid=file-input]").send_keys(str(path))
    page.button("Import").click()
    page.find("[data-testid=import-done]")
    assert [page.find(f"[data-testid=report-{name}]").text for name in ("new", "known")] == ["0", "40"]
    page.button("See the texts").click()

    page.button("+ Narrow").click()
    page.text("Orrin Courier", "span").click()
    page.button("Narrow").click()
    page.wait(lambda: page.find("[data-testid=scope-size]").text.startswith("20 of 40 texts"))
    page.button("Keep as subcorpus").click()
    page.find("[role=dialog] input:not([type=radio], [type=checkbox])").send_keys("Courier only", Keys.ENTER)
    page.button("Subcorpora ▾")
    assert "scope=" in page.driver.current_url
    page.driver.refresh()
    page.wait(lambda: page.find("[data-testid=scope-size]").text.startswith("20 of 40 texts"))
    page.find("button[aria-label^='Remove ']").click()
    page.wait(lambda: page.find("[data-testid=scope-size]").text.startswith("40 texts"))

    page.find("body").send_keys(Keys.CONTROL, "k")
    page.find("[cmdk-input]").send_keys("Text 07")
    page.text("Text 07", "span")
    page.find("[cmdk-input]").send_keys(Keys.ENTER)
    page.says("article h1", "Text 07")


def test_bad_terms_bad_names_and_an_ended_session_are_told(page, tmp_path, database):
    page.find("input[aria-label='Name of a new project']").send_keys("x" * 300)
    page.button("Make project").click()
    page.says("[role=alert]", "at most 200 characters")
    page.driver.refresh()
    make_project(page, "Errors")
    import_table(page, write_table(tmp_path / "news.csv", rows(), HEADER))
    page.text("Dictionary", "b").click()
    page.find("input[aria-label='Name of the dictionary']").send_keys("D", Keys.ENTER)
    page.button("+ Category").click()
    page.find("input[aria-label='New category']").send_keys("C", Keys.ENTER)
    entry = page.find("input[aria-label='New term in C']")
    entry.send_keys("c++")
    page.says("[role=alert]", "never part of a word")
    entry.clear()
    entry.send_keys("*")
    page.says("[role=alert]", "every word")
    entry.send_keys(Keys.CONTROL, "a")
    entry.send_keys("zebra")
    page.text("Catches nothing in this scope.")
    page.driver.delete_all_cookies()
    entry.send_keys("s")
    page.text("Your session has ended. Sign in again; nothing was lost.")


def test_numbers_saved_as_csv_say_the_same_as_the_table(page, tmp_path, downloads):
    make_project(page, "Table")
    import_table(page, write_table(tmp_path / "news.csv", rows(), HEADER))
    page.text("Dictionary", "b").click()
    content = tmp_path / "frames.csv"
    content.write_text("category,term\nLivelihood,lamb*\nLivelihood,flock\nEcology,deer\n")
    page.button("Import from a file").click()
    page.button("Choose a file")
    page.driver.find_element("css selector", "[data-testid=dictionary-file]").send_keys(str(content))
    page.button("flock")
    page.text("Compare", "b").click()
    page.find("[data-testid^='dot-']")
    page.text("Table", "button").click()
    shown = page.find("table").text
    page.button("Export ▾").click()
    page.text("Numbers as .csv").click()
    with saved_file(downloads, ".csv").open(encoding="utf-8-sig") as file:
        saved = {(r["category"], r["group"]): r for r in csv.DictReader(file)}
    rate = float(saved[("Ecology", "Orrin Courier")]["rate per 1,000 words"])
    assert (f"{rate:.0f}" if rate >= 100 else f"{rate:.1f}") in shown


def test_a_double_click_on_undo_takes_back_one_step(desk, project):
    page = desk
    page.driver.execute_async_script(
        "const [at, done] = arguments;"
        "const add = (body) => fetch(at, {method: 'POST', headers: {'Content-Type': 'application/json'}, body});"
        "add(JSON.stringify({body: 'First'})).then(() => add(JSON.stringify({body: 'Second'}))).then(() => done())",
        f"/api/v1/projects/{project.id}/notes",
    )
    page.open(f"/projects/{project.id}/notebook/notes")
    page.text("Second")
    undo = page.find("button[aria-label=Undo]:enabled")
    ActionChains(page.driver).double_click(undo).perform()
    page.find("button[aria-label=Redo]:enabled")
    page.wait(lambda: "Second" not in page.find("main").text, "the second note is there still")
    page.text("First")
    page.wait(lambda: page.find("button[aria-label=Undo]").is_enabled())
