"""One picture of each main view, from the demo data: ``./winnower screenshots``."""

from __future__ import annotations

import argparse
import json
import sys
import time
from pathlib import Path
from urllib.parse import quote

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT / "tests"))

from selenium.webdriver.common.keys import Keys  # noqa: E402

from chromium import Page, chromium  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"
SETTLE_S = 0.9


class Shots:
    def __init__(self, page: Page, folder: Path) -> None:
        self.page, self.folder = page, folder

    def take(self, name: str) -> None:
        time.sleep(SETTLE_S)
        self.page.driver.save_screenshot(str(self.folder / f"{name}.png"))


def corpus_views(page: Page, shots: Shots, project: str) -> None:
    page.open(f"{project}/corpus")
    page.find("[role=row][aria-rowindex]")
    shots.take("corpus")
    page.open(f"{project}/corpus/import")
    page.button("Choose files")
    files = page.driver.find_element("css selector", "[data-testid=file-input]")
    files.send_keys(str(ROOT / "demo" / "files" / "survey.csv"))
    page.find("[data-testid=expected]")
    shots.take("import")


def words_views(page: Page, shots: Shots, project: str) -> None:
    page.open(f"{project}/corpus/words?forms=lemma")
    page.find("[role=table] [role=cell]")
    shots.take("words")


def judged(page: Page, shots: Shots, project: str) -> None:
    page.open(f"{project}/dictionary")
    page.find("button[aria-label='Menu of stock*']").click()
    page.text("Judge a sample of hits", "div").click()
    page.find("[role=dialog] input[placeholder=new]").send_keys("12")
    page.button("Draw and judge").click()
    page.find("aside[aria-label=Judging] [aria-current=true]")
    rows = len(page.driver.find_elements("css selector", "aside[aria-label=Judging] [aria-current]"))
    for _ in range(min(rows, 12)):
        here = page.find("aside[aria-label=Judging] [aria-current=true]").text
        page.button("Fits" if "insurers" in here else "Does not").click()
        page.driver.find_element("css selector", "body").send_keys("j")
        time.sleep(0.25)
    shots.take("judging")


def dictionary_views(page: Page, shots: Shots, project: str) -> None:
    page.open(f"{project}/dictionary")
    page.find("table[aria-label=Terms]")
    page.find("input[aria-label^='New term']").send_keys("compensat*")
    page.find("[data-testid=term-catches]")
    page.button("stock*").click()
    page.find("[data-testid=evidence-count]")
    shots.take("dictionary")
    judged(page, shots, project)


def coding_views(page: Page, shots: Shots, project: str) -> None:
    page.open(f"{project}/coding/passages")
    page.find("[data-testid=found]")
    shots.take("passages")
    page.find("[data-testid=found] a").click()
    page.find("[data-testid=card]")
    shots.take("coding")
    page.open(f"{project}/coding/runs")
    page.says("[data-testid=run-head]", "passages in")
    page.find("[data-testid=run-item]")
    shots.take("runs")
    page.open(f"{project}/coding/codebook")
    page.text("Heritage", "span").click()
    page.find("[data-testid=found]")
    shots.take("codebook")


def notebook_views(page: Page, shots: Shots, project: str) -> None:
    page.open(f"{project}/notebook/notes?sort=oldest&on=code")
    page.text("two frames or one").click()
    page.find("[data-testid=quote]")
    shots.take("notebook")
    page.open(f"{project}/notebook/findings")
    page.says("article [role=status]", "numbers are the same")
    shots.take("findings")
    dictionary = page.driver.execute_script(
        "return fetch(`/api/v1${arguments[0]}/dictionaries`).then((r) => r.json()).then((all) => all[0].id)",
        project,
    )
    table = quote(
        json.dumps(
            {
                "rows": "sentence",
                "fields": ["source", "date", "title"],
                "dictionaries": [dictionary],
                "tone": 0,
                "words": True,
            }
        )
    )
    page.open(f"{project}/notebook/data?table={table}")
    page.find("[data-testid=data-rows]")
    shots.take("data")
    page.open(f"{project}/notebook/assistant?task=question")
    page.find("form textarea").send_keys("How many claims for compensation have been paid?", Keys.ENTER)
    page.find("ol[aria-label=Statements]")
    page.button("3").click()
    shots.take("assistant")
    page.open(f"{project}/notebook/report")
    page.find("[aria-label='The report'] article")
    page.text("Each source has its own mix of frames", "span").click()
    page.find("figure img")
    page.wait(
        lambda: page.driver.execute_script("return document.querySelector('figure img').naturalWidth > 0")
    )
    shots.take("report")


def compare_views(page: Page, shots: Shots, project: str) -> None:
    page.open(f"{project}/compare")
    page.find("[data-testid='dot-Livelihood-Hill Farmer']").click()
    page.find("[data-testid=evidence-count]")
    shots.take("compare")
    by_week = quote(json.dumps({"split": {"field": "date", "period": "week"}}))
    page.open(f"{project}/compare?compare={by_week}")
    page.text("How the categories change by week")
    page.find("svg[data-figure]")
    page.says("[data-testid=statements]", " from the week of ")
    shots.take("trend")
    page.open(f"{project}/compare/keywords")
    page.find("section[aria-label=Keywords]")
    shots.take("keywords")
    page.open(f"{project}/compare/together")
    page.find("section[aria-label='Co-occurrence']")
    shots.take("together")
    page.open(f"{project}/compare/network")
    page.find("svg[aria-label='Network of words']")
    shots.take("network")


def main() -> None:
    options = argparse.ArgumentParser()
    options.add_argument("--address", default="http://127.0.0.1:8410", help="of a running ./winnower demo")
    options.add_argument("--folder", type=Path, default=FOLDER)
    options.add_argument("--only", default="")
    given = options.parse_args()
    given.folder.mkdir(parents=True, exist_ok=True)
    with chromium() as driver:
        page = Page(driver, given.address)
        shots = Shots(page, given.folder)
        page.open("/")
        page.find("input[name=name]")
        page.sign_in("mira", "orrin-hills")
        link = page.text("Lynx return", "a").get_attribute("href") or ""
        project = link.removeprefix(given.address).removesuffix("/corpus")
        for name, views in (
            ("corpus", corpus_views),
            ("words", words_views),
            ("dictionary", dictionary_views),
            ("coding", coding_views),
            ("compare", compare_views),
            ("notebook", notebook_views),
        ):
            if given.only in ("", name):
                views(page, shots, project)
        for line in page.errors():
            print("console:", line)


if __name__ == "__main__":
    main()
