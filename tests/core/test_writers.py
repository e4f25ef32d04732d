"""Exports say what the table says, and how it was counted."""

import csv
import io

import numpy as np
import pytest
from python_calamine import CalamineWorkbook

from tests.core.test_compare import FRAMES, corpus
from tests.core.texts import table_of
from winnower.core.compare import MEASURES, statements
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.finding.answers import numbers
from winnower.core.scope import Split
from winnower.readers.dictionary_file import read_dictionary_bytes
from winnower.writers import tables
from winnower.writers.dictionary_file import dictionary_csv
from winnower.writers.tables import comparison_csv, comparison_xlsx

TEXTS = [
    "lamb lambs market price the the",
    "deer birch the the the",
    "=lamb deer",
    "",
    "deer birch birch lamb the",
]


@pytest.fixture(scope="module")
def table(tmp_path_factory):
    index, columns = corpus(
        tmp_path_factory.mktemp("w"), TEXTS, ["=Farmer", "Courier", "=Farmer", "Courier", "Wire"]
    )
    return table_of(FRAMES, index, columns, version=4)


def test_every_cell_is_a_row_with_all_measures(table):
    heads = [column.name for column in numbers(table).columns]
    rows = numbers(table).rows
    assert len(rows) == 9 and {len(row) for row in rows} == {len(heads)}
    by_cell = {(row[0], row[1]): dict(zip(heads, row, strict=True)) for row in rows}
    cell = by_cell[("Livelihood", "=Farmer")]
    at = table.groups.labels.index("=Farmer")
    assert (cell["hits"], cell["words"], cell["texts"]) == (table.hits[0, at], table.words[at], 2)
    assert cell["rate per 1,000 words"] == pytest.approx(1000 * cell["hits"] / cell["words"])
    one_text = by_cell[("Ecology", "Wire")]
    assert one_text["rate per 1,000 words low"] is None and one_text["rate per 1,000 words"] > 0


def test_csv_holds_full_precision_and_leaves_undefined_cells_empty(table):
    rows = list(csv.DictReader(io.StringIO(comparison_csv(table))))
    assert len(rows) == 9
    wire = next(r for r in rows if r["group"] == "Wire" and r["category"] == "Ecology")
    assert wire["rate per 1,000 words low"] == "" and float(wire["rate per 1,000 words"]) == pytest.approx(
        table.measure("rate").value[1, table.groups.labels.index("Wire")], rel=1e-11
    )


@pytest.mark.parametrize("measure", [name for name, one in MEASURES.items() if one.needs != "numbers"])
def test_a_workbook_shows_the_chosen_measure_and_never_a_formula(tmp_path_factory, measure):
    index, columns = corpus(
        tmp_path_factory.mktemp("x"), TEXTS, ["=Farmer", "Courier", "=Farmer", "Courier", "Wire"]
    )
    held = (Split("date", "year"),) if measure == "adjusted" else ()
    table = table_of(FRAMES, index, columns, measure=measure, adjust=held)
    book = CalamineWorkbook.from_filelike(io.BytesIO(comparison_xlsx(table)))
    grid = book.get_sheet_by_name("Comparison").to_python()
    assert grid[0][0].lower() == table.shown.unit.lower()
    assert set(grid[1][1:]) == {"=Farmer", "Courier", "Wire"}
    values = table.measure(measure).value
    for row, name in enumerate(c.label for c in FRAMES.categories):
        line = next(r for r in grid if r[0] == name)
        for group, label in enumerate(table.groups.labels):
            shown = line[grid[1].index(label)]
            assert shown == "" if np.isnan(values[row, group]) else shown == pytest.approx(values[row, group])
    words = next(r for r in grid if r[0] == "Words")
    assert sum(words[1:]) == table.words.sum()
    about = [str(cell) for r in book.get_sheet_by_name("How it was counted").to_python() for cell in r]
    assert all(s.text in about for s in statements(table))


def test_test_values_are_plain_and_name_what_was_tested(table):
    values = tables.test_values(table)
    assert "Fewer than two groups have 5 texts" in values["reason"] and values["rows"] == []
    assert values["left_out"] == list(table.groups.labels)
    assert values["customary"]["df"] == 2


def test_a_workbook_holds_the_tests_and_is_the_same_every_time(tmp_path):
    index, columns = corpus(
        tmp_path, ["lamb deer the", "lamb lamb the", "deer the the"] * 20, ["A", "B", "C"] * 20
    )
    table = table_of(FRAMES, index, columns, level=0.9, seed=7)
    book = comparison_xlsx(table)
    assert book == comparison_xlsx(table_of(FRAMES, index, columns, level=0.9, seed=7))
    lines = CalamineWorkbook.from_filelike(io.BytesIO(book)).get_sheet_by_name("Tests").to_python()
    assert [line[0] for line in lines[:3]] == ["Row", "Livelihood", "Ecology"]
    told = {line[0]: line[1] for line in lines[3:]}
    values = tables.test_values(table)
    assert lines[1][3] == pytest.approx(values["rows"][0]["p_adjusted"])
    assert (told["level"], told["seed"], told["unit"]) == (0.9, 7, "text")
    assert told["mix: p"] == pytest.approx(values["mix"]["p"])
    assert told["gap: against"] == values["gap"]["against"]


def test_a_dictionary_with_every_option_goes_out_and_comes_back():
    entries = (
        TermEntry("Trust", match_case=True, note="the body, not the feeling"),
        TermEntry("café", ignore_accents=True),
        TermEntry('"who?"'),
        TermEntry("#night*"),
        TermEntry("🐾"),
    )
    given = Dictionary(
        "D",
        (
            Category(("A, with comma",), entries, 'What “belongs", here'),
            Category(("A, with comma", "B"), ()),
            Category(("C",), (TermEntry("market price"),)),
        ),
    )
    read = read_dictionary_bytes(("\ufeff" + dictionary_csv(given)).encode(), "D.csv")
    assert read.dictionary.fingerprint() == given.fingerprint()
    assert [c.path for c in read.dictionary.categories] == [c.path for c in given.categories]
    assert {t.note for t in read.dictionary.categories[0].terms} == {"the body, not the feeling", ""}
    assert read.dictionary.categories[0].description == 'What “belongs", here'


def test_unreadable_rows_of_a_dictionary_file_are_listed_with_the_bad_terms():
    content = b'category,term\nA,lamb\nA,"open\nB,*\nB,deer,more\nB,birch\n'
    read = read_dictionary_bytes(content, "D.csv")
    assert [row for row, _ in read.refused] == [3, 4, 5]
    assert sum(len(c.terms) for c in read.dictionary.categories) == 2
