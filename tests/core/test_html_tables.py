"""Web pages that are one table are read as tables; all others stay pages."""

import io

import pytest

from tests.core.test_catalogue import column, read
from winnower.core.errors import ReadError
from winnower.readers.html_tables import HtmlTableReader, may_be_a_table, table_of

ROWS = [("a1", "The gate is open."), ("a2", "The gate is shut again, said the board.")]


def page(rows, before="", after="", head="<tr><th>id<th>text"):
    cells = "".join(f"<tr><td>{one}<td>{words}" for one, words in rows)
    return f"<html><head><style>{'td {color: red}' * 200}</style></head><body>{before}<table>{head}{cells}</table>{after}</body></html>".encode()


def rows_read(content):
    reader = HtmlTableReader(io.BytesIO(content), "a.html")
    return reader.header, [row for batch in reader.batches() for row in batch.rows]


def test_a_page_that_is_a_table_is_one():
    assert rows_read(page(ROWS)) == (["id", "text"], [list(row) for row in ROWS])
    batches, problems = read("export.html", page(ROWS))
    assert column(batches, "body") == tuple(words for _, words in ROWS)
    assert "a table in a web page" in problems[0].reason


def test_paragraphs_in_a_cell_stay_and_line_ends_of_the_file_do_not():
    words = "<p>One line\nof two.</p><p>Another<br>and <b>more</b>.</p>"
    _, rows = rows_read(page([("a1", words), ("a2", "plain")]))
    assert rows[0][1] == "One line of two.\nAnother\nand more."


def test_cells_that_reach_over_rows_and_columns():
    table = (
        "<table><tr><th>source<th>day<th>text<tr><td rowspan=2>Hill Farmer<td>1<td>One"
        "<tr><td>2<td>Two<tr><td colspan=2>Courier<td>Three</table>"
    )
    header, rows = rows_read(table.encode())
    assert header == ["source", "day", "text"]
    assert rows == [["Hill Farmer", "1", "One"], ["Hill Farmer", "2", "Two"], ["Courier", "", "Three"]]


@pytest.mark.parametrize(
    "content",
    [
        page(ROWS, before=f"<p>{'Words of an article about the gate. ' * 20}</p>"),
        page(ROWS, after=f"<p>{'Words of an article about the gate. ' * 20}</p>"),
        b"<table><tr><td><table><tr><td>menu</table><td>"
        + b"<p>Words of an old page.</p>" * 30
        + b"</table>",
        b"<p>No table at all, but words.</p>",
        b"<table><tr><td>One cell</table>",
    ],
    ids=["words before", "words after", "layout", "none", "one cell"],
)
def test_pages_with_words_of_their_own_stay_pages(content):
    assert not may_be_a_table(content) or table_of(content) is None
    batches, _ = read("page.html", content)
    assert len(column(batches, "body")) == 1


def test_a_table_that_is_too_large_says_so(monkeypatch):
    monkeypatch.setattr("winnower.readers.html_tables.MAX_BYTES", 100)
    with pytest.raises(ReadError, match="save it as CSV"):
        HtmlTableReader(io.BytesIO(page(ROWS)), "a.html")


def test_a_span_of_a_billion_is_no_bomb():
    table = "<table>" + "<tr><td colspan=1000000000>a<td rowspan=999999999>b" * 3 + "</table>"
    with pytest.raises(ReadError, match="columns|no table"):
        HtmlTableReader(io.BytesIO(table.encode()), "a.html")
