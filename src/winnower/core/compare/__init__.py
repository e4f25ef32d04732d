"""A comparison is a value: Comparison to Table, and any cell of a Table to its evidence."""

from winnower.core.compare.care import Care, Overlap, look_over
from winnower.core.compare.cells import Cell, evidence, number_of, rows_of, texts_of
from winnower.core.compare.comparison import FORM, Comparison, from_plain, to_plain, usual_comparison
from winnower.core.compare.counting import Counts, count_groups, counts_of
from winnower.core.compare.found import Found, count_search
from winnower.core.compare.influence import TermInfluence, influence_of_terms, influence_statements
from winnower.core.compare.judged import RowVerdicts
from winnower.core.compare.measure import Measure
from winnower.core.compare.measures import MEASURES, measure_named
from winnower.core.compare.method import collocates_method, how_counted, words_method
from winnower.core.compare.modelled import Modelled, ModelledField, model_of, model_statements
from winnower.core.compare.overview import Overview, dictionary_overview
from winnower.core.compare.profile import TermProfile, profile_term
from winnower.core.compare.sentences import statements
from winnower.core.compare.side_by_side import SideBySide, side_by_side
from winnower.core.compare.statement import Statement
from winnower.core.compare.table import Table, compare, counted_by, is_dated, viewed
from winnower.core.compare.targets import (
    AnyTarget,
    Corpus,
    DictionaryTarget,
    Known,
    MethodPart,
    OfDictionary,
    OfGiven,
    OfSearch,
    OfTerms,
    OfWords,
    Row,
    Target,
)
from winnower.core.compare.testing import Tests, Verdict, run_tests
from winnower.core.compare.unit import STORY, Unit, unit_of
from winnower.core.compare.written import number

__all__ = [
    "FORM",
    "MEASURES",
    "STORY",
    "AnyTarget",
    "Care",
    "Cell",
    "Comparison",
    "Corpus",
    "DictionaryTarget",
    "Found",
    "Counts",
    "Known",
    "Measure",
    "MethodPart",
    "Modelled",
    "ModelledField",
    "OfDictionary",
    "OfGiven",
    "OfSearch",
    "OfTerms",
    "OfWords",
    "Overlap",
    "Overview",
    "Row",
    "RowVerdicts",
    "SideBySide",
    "Statement",
    "Table",
    "Target",
    "TermInfluence",
    "TermProfile",
    "Tests",
    "Unit",
    "Verdict",
    "collocates_method",
    "compare",
    "count_groups",
    "counted_by",
    "count_search",
    "counts_of",
    "dictionary_overview",
    "evidence",
    "from_plain",
    "influence_of_terms",
    "influence_statements",
    "how_counted",
    "is_dated",
    "look_over",
    "measure_named",
    "model_of",
    "model_statements",
    "number",
    "number_of",
    "profile_term",
    "rows_of",
    "run_tests",
    "side_by_side",
    "statements",
    "texts_of",
    "to_plain",
    "unit_of",
    "usual_comparison",
    "viewed",
    "words_method",
]
