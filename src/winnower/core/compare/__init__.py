"""A comparison is a value: Comparison to Table, and any cell of a Table to its Evidence."""

from winnower.core.compare.care import Care, Overlap, look_over
from winnower.core.compare.comparison import MEASURES, Comparison
from winnower.core.compare.counting import GroupSums, count_groups
from winnower.core.compare.evidence import (
    ORDERS,
    Evidence,
    Passage,
    find_evidence,
    hits_in_texts,
    passages,
    whole_sentence,
)
from winnower.core.compare.method import collocates_method, how_counted, words_method
from winnower.core.compare.overview import Overview, dictionary_overview
from winnower.core.compare.sentences import Statement, statements
from winnower.core.compare.side_by_side import SideBySide, side_by_side
from winnower.core.compare.table import Table, compare

__all__ = [
    "MEASURES",
    "ORDERS",
    "Care",
    "Comparison",
    "Evidence",
    "GroupSums",
    "Overlap",
    "Overview",
    "Passage",
    "SideBySide",
    "Statement",
    "Table",
    "collocates_method",
    "compare",
    "count_groups",
    "dictionary_overview",
    "find_evidence",
    "hits_in_texts",
    "how_counted",
    "look_over",
    "passages",
    "side_by_side",
    "statements",
    "whole_sentence",
    "words_method",
]
