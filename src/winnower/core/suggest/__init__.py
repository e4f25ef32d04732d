"""Words that may be missing from a category, and terms that may mean two things."""

from winnower.core.suggest.category import (
    LEAST_JUDGED,
    Sources,
    by_hits,
    caught_folds,
    suggest_for,
    synonyms,
    words_of,
)
from winnower.core.suggest.company import Company, build_company
from winnower.core.suggest.compounds import compounds
from winnower.core.suggest.mixed import MixedCompany, hits_of_kind, mixed_company, mixed_terms
from winnower.core.suggest.suggest import REASONS, Suggestion, in_the_same_company, suggest
from winnower.core.suggest.typical import typical_words
from winnower.core.suggest.variants import other_forms, variants

__all__ = [
    "hits_of_kind",
    "mixed_terms",
    "words_of",
    "synonyms",
    "suggest_for",
    "caught_folds",
    "compounds",
    "by_hits",
    "Sources",
    "LEAST_JUDGED",
    "REASONS",
    "Company",
    "MixedCompany",
    "Suggestion",
    "build_company",
    "in_the_same_company",
    "mixed_company",
    "other_forms",
    "suggest",
    "typical_words",
    "variants",
]
