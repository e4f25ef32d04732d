"""What can be wrong with a corpus: texts that repeat, hold nothing, or are damaged."""

from winnower.core.check.calendar import Calendar, calendar
from winnower.core.check.damage import SIGNS_OF_DAMAGE, Repair, repair
from winnower.core.check.differences import Difference, differences
from winnower.core.check.languages import LANGUAGES, language_of
from winnower.core.check.near import NearGroups, near_duplicates
from winnower.core.check.settling import TINY_WORDS, Way, is_tiny, settled

__all__ = [
    "LANGUAGES",
    "SIGNS_OF_DAMAGE",
    "TINY_WORDS",
    "Calendar",
    "Difference",
    "NearGroups",
    "Repair",
    "Way",
    "calendar",
    "differences",
    "is_tiny",
    "language_of",
    "near_duplicates",
    "repair",
    "settled",
]
