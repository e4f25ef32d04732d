"""Listings as files: what stands in a cell is what comes back, and nothing becomes a formula."""

import csv
import io

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from python_calamine import CalamineWorkbook

from winnower.core.cells import as_given
from winnower.writers.listing import Column, listing_csv, listing_xlsx

words = st.text(
    st.characters(codec="utf-8", exclude_categories=("Cc", "Cs"), exclude_characters="\ufffe\uffff"),
    min_size=1,
    max_size=12,
)
risky = st.sampled_from(
    ["=1+1", "+3", "-lamb", "@board", "https://hill.example", "#N/A", "{=A1}", "'x", " a"]
)
#: What spreadsheets take for the beginning of a formula.
LIVE = ("=", "+", "-", "@", "\t", "\r")
cells = st.none() | st.integers(-10_000, 10_000) | st.floats(-9, 9, allow_nan=False) | words | risky


@st.composite
def listings(draw):
    size = draw(st.integers(0, 5))
    names = draw(st.lists(words, min_size=1, max_size=4, unique=True))
    return [Column(name, draw(st.lists(cells, min_size=size, max_size=size))) for name in names]


@given(listings())
@settings(max_examples=80)
def test_csv_gives_back_every_cell(columns):
    rows = list(csv.reader(io.StringIO(listing_csv(columns), newline="")))
    assert [as_given(name) for name in rows[0]] == [column.name for column in columns]
    for at, row in enumerate(rows[1:]):
        for cell, column in zip(row, columns, strict=True):
            given_cell = column.cells[at]
            if isinstance(given_cell, str):
                assert as_given(cell) == given_cell and cell[:1] not in LIVE
            else:
                assert cell == ("" if given_cell is None else str(given_cell))
    assert len(rows) == 1 + len(columns[0].cells)


@given(listings())
@settings(max_examples=40)
def test_a_workbook_keeps_text_as_text_and_numbers_as_numbers(columns):
    book = CalamineWorkbook.from_filelike(
        io.BytesIO(listing_xlsx(columns, [("Hits", "All of them.", "A (1)")]))
    )
    assert book.sheet_names == ["List", "How it was counted"]
    rows = book.get_sheet_by_name("List").to_python(skip_empty_area=False)
    assert [str(name) for name in rows[0]] == [column.name for column in columns]
    for at, row in enumerate(rows[1:]):
        for cell, column in zip(row, columns, strict=True):
            given_cell = column.cells[at]
            if given_cell is None:
                assert cell == ""
            elif isinstance(given_cell, str):
                assert isinstance(cell, str) and cell == given_cell
            else:
                assert cell == pytest.approx(given_cell, rel=1e-14)  # Excel keeps 15 digits or 16
    about = book.get_sheet_by_name("How it was counted").to_python()
    assert about == [["Hits", "All of them. A (1)"]]
