"""Words, phrases, lemmas and hashtags typical of a group of texts."""

from winnower.core.keyness.keywords import LEAST_TEXTS, Keyness, keyness, most_typical
from winnower.core.keyness.occurrences import Occurrences, occurrences
from winnower.core.keyness.request import Keywords, Sides, sides_of
from winnower.core.keyness.words import keywords_method, keywords_statements

__all__ = [
    "LEAST_TEXTS",
    "Keyness",
    "Keywords",
    "Occurrences",
    "Sides",
    "keyness",
    "keywords_method",
    "keywords_statements",
    "most_typical",
    "occurrences",
    "sides_of",
]
