"""Stretches of texts: passages and what is asked of them, how they keep their place when a text is corrected,
and what differs then."""

from winnower.core.coding.anchor import Moves
from winnower.core.coding.differences import Stretch, differences
from winnower.core.coding.paragraphs import paragraph_at
from winnower.core.coding.passages import CodeCount, Passages, count_codes
from winnower.core.coding.question import Beside, Question, answer
from winnower.core.coding.relations import RELATIONS
from winnower.core.coding.standing import Standing, Standings, origin_in_words

__all__ = [
    "RELATIONS",
    "Beside",
    "CodeCount",
    "Moves",
    "Passages",
    "Question",
    "Stretch",
    "answer",
    "count_codes",
    "differences",
    "Standing",
    "Standings",
    "origin_in_words",
    "paragraph_at",
]
