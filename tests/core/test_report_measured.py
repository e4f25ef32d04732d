"""What a report says of the texts and of how good its instruments are, against figures worked out by hand."""

import datetime as dt

import numpy as np
import pytest

from winnower.core.report.measured import (
    MOST_SOURCES,
    Figure95,
    LearnedFact,
    SourceFact,
    VerdictsFact,
    overview_of,
    quality_of,
)
from winnower.core.report.method import CorpusFact
from winnower.core.review import Quality, precision

DAY = dt.date(2031, 6, 3)


def corpus(sources=("Hill Farmer",), first=DAY):
    return CorpusFact(1_434, 428_124, list(sources), first, first and dt.date(2031, 12, 28), 0, "English")


def test_texts_are_told_in_a_sentence_and_by_source():
    words, grid = overview_of(
        corpus(), [SourceFact("Hill Farmer", 1_200, 3_000, DAY, DAY), SourceFact("Posts", 3, 10, None, None)]
    )
    assert words.body == "1,434 texts with 428,124 words, dated 2031-06-03 to 2031-12-28."
    assert grid.rows == (
        ("Hill Farmer", "1,200", "3,000", "2", "2031-06-03 to 2031-06-03"),
        ("Posts", "3", "10", "3", "–"),
    )
    assert [one.number for one in grid.columns] == [False, True, True, True, False] and grid.note == ""


def test_texts_without_source_or_date_have_a_sentence_alone():
    (words,) = overview_of(corpus(sources=(), first=None), [SourceFact("no source", 5, 50, None, None)])
    assert words.body == "1,434 texts with 428,124 words."


@pytest.mark.parametrize(("more", "told"), [(0, ""), (1, "1 more source"), (2_970, "2,970 more sources")])
def test_of_many_sources_the_first_are_shown_and_the_rest_is_said(more, told):
    many = [SourceFact(f"S{at}", 9, 90, DAY, DAY) for at in range(MOST_SOURCES + more)]
    grid = overview_of(corpus(), many)[1]
    assert len(grid.rows) == MOST_SOURCES and grid.note == (f"{told} left out here." if told else "")


def test_verdicts_have_their_interval_agreement_and_what_nothing_is_known_of():
    # Wilson (1927) for 36 of 40: 0.769 to 0.960
    sure, half = precision(36, 40), Quality(10, 5, 0.5, 0.2, 0.8, 10, 0.234)
    (grid,) = quality_of(
        [VerdictsFact("Frames: Wonder", sure, None), VerdictsFact("run: Tone", half, 0.514)], []
    )
    assert grid.rows == (
        ("Frames: Wonder", "40", "36", "90% (77% to 96%)", "–"),
        ("run: Tone", "10", "5", "50% (20% to 80%)", "0.51"),
    )
    assert "Wilson 1927" in grid.note and "Krippendorff 2011" in grid.note
    assert grid.note.endswith(
        "Of “run: Tone” nothing is known of 23% of the hits: they are of sources without a verdict."
    )
    assert "Wonder" not in grid.note


def test_what_was_learned_is_told_with_its_intervals_and_gaps():
    whole = Figure95(0.744, 0.65, 0.7949)
    (grid,) = quality_of(
        [], [LearnedFact("By example", whole, Figure95(0.5, None, 0.6), Figure95(None, None, None))]
    )
    assert grid.rows == (("By example", "0.74 (0.65 to 0.79)", "0.50", "–"),)


def test_nothing_judged_is_said_and_no_number_is_made_up():
    (words,) = quality_of([], [])
    assert "Nothing has been judged yet" in words.body
    assert np.isnan(precision(0, 0).share)  # which is why what is not judged has no row
