"""Co-occurrence: rows of one or two targets in the same passage, sentence, paragraph or text, or near each other."""

from winnower.core.together.count import MOST_ROWS, Matrix, count_together, places_together
from winnower.core.together.request import UNITS, Together, Within
from winnower.core.together.words import together_method, together_statements

__all__ = [
    "MOST_ROWS",
    "UNITS",
    "Matrix",
    "Together",
    "Within",
    "count_together",
    "places_together",
    "together_method",
    "together_statements",
]
