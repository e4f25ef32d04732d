"""Words of a corpus: how often, where, in which company."""

from winnower.core.words.collocates import Collocates, find_collocates
from winnower.core.words.concordance import SORTS, Concordance, counted_neighbours, neighbours, sort_hits
from winnower.core.words.frequency import WordCounts, count_words, merge_forms
from winnower.core.words.phrases import count_phrases
from winnower.core.words.pick import Pick, form_term, near_term, pick_rows, row_term

__all__ = [
    "SORTS",
    "Collocates",
    "Concordance",
    "Pick",
    "WordCounts",
    "count_phrases",
    "count_words",
    "counted_neighbours",
    "find_collocates",
    "form_term",
    "merge_forms",
    "near_term",
    "neighbours",
    "pick_rows",
    "row_term",
    "sort_hits",
]
