"""Items of lists are found by the marks that begin their lines."""

import polars as pl

from winnower.core.runs.items import MARKS, items_in_lines

BODY = """Agreed:
• pay the claims
  – within thirty days
1. a fence
2.1 a gate, and
(3) a stile
a) lights
* signs
- 5 per cent less
2031 was wet. 7 lambs died.
A dog - and a cat.
-not one
e.g. this
*"""


def test_items_are_lines_that_begin_with_a_mark():
    texts = pl.DataFrame({"text_id": [7, 8, 9], "body": ["Nothing here.", BODY, ""]})
    found = items_in_lines(texts)
    assert found["text_id"].unique().to_list() == [8]
    bullet, dash, number, letter = MARKS
    assert [
        (label, BODY[start:end]) for label, start, end in found.select("label", "start", "end").iter_rows()
    ] == [
        (bullet, "• pay the claims"),
        (dash, "– within thirty days"),
        (number, "1. a fence"),
        (number, "2.1 a gate, and"),
        (number, "(3) a stile"),
        (letter, "a) lights"),
        (bullet, "* signs"),
        (dash, "- 5 per cent less"),
    ]
    assert found["words"].to_list()[:2] == [4, 4]


def test_texts_without_any_line_have_no_items():
    assert (
        len(
            items_in_lines(
                pl.DataFrame({"text_id": [], "body": []}, schema={"text_id": pl.Int64, "body": pl.String})
            )
        )
        == 0
    )
