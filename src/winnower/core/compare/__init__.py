"""A comparison is a value: Comparison to Table, and any cell of a Table to its Evidence."""

from winnower.core.compare.comparison import MEASURES, Comparison
from winnower.core.compare.counting import Ground, GroupSums, count_groups, lay_ground
from winnower.core.compare.evidence import ORDERS, Evidence, Passage, find_evidence, passages, whole_sentence
from winnower.core.compare.method import how_counted
from winnower.core.compare.overview import Overview, dictionary_overview
from winnower.core.compare.sentences import Statement, statements
from winnower.core.compare.table import Table, compare

__all__ = [
    "MEASURES",
    "ORDERS",
    "Comparison",
    "Evidence",
    "Ground",
    "GroupSums",
    "Overview",
    "Passage",
    "Statement",
    "Table",
    "compare",
    "count_groups",
    "dictionary_overview",
    "find_evidence",
    "how_counted",
    "lay_ground",
    "passages",
    "statements",
    "whole_sentence",
]
