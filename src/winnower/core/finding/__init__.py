"""Any view as a value with its answer in plain numbers: what a finding keeps, exports and sets beside a later one."""

from winnower.core.finding.answers import (
    Answer,
    answer_changes,
    answer_comparison,
    answer_keywords,
    answer_map,
    answer_network,
    answer_together,
)
from winnower.core.finding.apart import Apart, ApartCell, apart_statements, cells_apart
from winnower.core.finding.differences import CellChange, Differences, differences
from winnower.core.finding.sheets import Column, Sheet, sheets_from_plain, sheets_to_plain
from winnower.core.finding.views import (
    AnyView,
    ChangesView,
    ComparisonView,
    MapView,
    followed,
    request_of,
    rescoped,
    view_from_plain,
    view_to_plain,
)

__all__ = [
    "Answer",
    "AnyView",
    "Apart",
    "ApartCell",
    "CellChange",
    "ChangesView",
    "Column",
    "ComparisonView",
    "Differences",
    "MapView",
    "Sheet",
    "answer_changes",
    "answer_comparison",
    "answer_keywords",
    "answer_map",
    "answer_network",
    "answer_together",
    "apart_statements",
    "cells_apart",
    "differences",
    "followed",
    "request_of",
    "rescoped",
    "sheets_from_plain",
    "sheets_to_plain",
    "view_from_plain",
    "view_to_plain",
]
