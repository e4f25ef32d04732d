"""What a look says of the texts it found agrees with a count by hand."""

import datetime as dt

from winnower.jobs.look_summary import LookSummary
from winnower.readers.prepare import PreparedTexts


def texts(*rows):
    """(body, source, date)"""
    n = len(rows)
    return PreparedTexts(
        file=["a.csv"] * n,
        line=list(range(2, n + 2)),
        key=[None] * n,
        title=[f"T{at}" for at in range(n)],
        source=[row[1] for row in rows],
        date=[dt.date.fromisoformat(row[2]) if row[2] else None for row in rows],
        body=[row[0] for row in rows],
        extra=[None] * n,
    )


def summed(*batches):
    summary = LookSummary()
    for batch in batches:
        summary.see(batch)
    return summary.in_numbers


def test_numbers_of_two_batches():
    found = summed(
        texts(("The lynx.", "Hill Farmer", "2031-06-03"), ("", None, None)),
        texts(
            ("A flock.", "Orrin Courier", "2031-07-01"),
            ("No count.", "Hill Farmer", None),
            ("Few.", None, None),
        ),
    )
    assert (found.texts, found.placeholders, found.undated, found.unsourced) == (4, 1, 2, 1)
    assert (found.first, found.last) == (dt.date(2031, 6, 3), dt.date(2031, 7, 1))
    assert found.sources == (("Hill Farmer", 2), ("Orrin Courier", 1)) and found.n_sources == 2


def test_the_oddest_are_told_with_what_is_odd():
    usual = [("The flock was brought in. " * 4, "A", f"2031-06-{day:02}") for day in range(1, 21)]
    odd = [
        ("x", "A", "2031-06-05"),
        ("Long. " * 500, "A", "2031-06-06"),
        ("The flock went. " * 6, "A", "1931-06-07"),
    ]
    found = summed(texts(*usual, *odd))
    assert [(one.row, one.reason.split()[0]) for one in found.odd] == [(24, "Its"), (22, "It"), (23, "It")]
    assert "7 June 1931" in found.odd[0].reason and "1 characters" in found.odd[1].reason


def test_nothing_is_odd_of_texts_that_are_alike():
    assert (
        summed(texts(*[("The flock was brought in.", "A", f"2031-0{m}-01") for m in range(1, 9)])).odd == ()
    )
    assert summed().odd == ()
