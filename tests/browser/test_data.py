"""A table for statistics is chosen word by word and read from the file that was saved."""

import io
import zipfile

import polars as pl
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.chromium import saved_file


def test_a_table_is_chosen_looked_at_and_saved(desk, project, downloads):
    page = desk
    page.open(f"/projects/{project.id}/notebook/data")
    page.says("[data-testid=data-size]", "5 texts")
    Select(page.find("select[aria-label='What a row is']")).select_by_visible_text("sentence")
    page.says("[data-testid=data-size]", "10 sentences")
    Select(page.find("select[aria-label='The words']")).select_by_visible_text("with its words")
    page.says("[data-testid=data-rows]", "We lost forty lambs")
    page.find("button[aria-label^='Fields']").click()
    page.button("None").click()
    page.find("body").send_keys(Keys.ESCAPE)
    page.says("[data-testid=data-size]", "4 columns")
    page.button("Columns").click()
    page.says("[data-testid=data-columns]", "The words of the sentence.")
    page.button("Export").click()
    page.text("As Parquet", "*[@role='menuitem']").click()
    packed = zipfile.ZipFile(saved_file(downloads, ".zip"))
    table = pl.read_parquet(io.BytesIO(packed.read("data.parquet")))
    assert table.columns == ["text_id", "sentence", "paragraph", "words_of_row"] and len(table) == 10
    assert sorted(packed.namelist()) == ["about.txt", "columns.csv", "data.parquet"]
    page.open(f"/projects/{project.id}/notebook/data?table=%7B%22rows%22%3A%22passage%22%7D")
    page.says("main", "No passages in the scope")
