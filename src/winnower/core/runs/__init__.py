"""Automatic coding: what a run looks for, what it finds, and how it keeps in step with what it was made from."""

from winnower.core.runs.found import Found, Sorted, in_step
from winnower.core.runs.recipe import (
    ByDictionary,
    ByExample,
    BySearch,
    BySpeakers,
    ByStructure,
    ByThemes,
    ByTone,
    ByValues,
    Recipe,
    recipe_from_plain,
    recipe_to_plain,
)
from winnower.core.runs.terms import Target, find_terms
from winnower.core.runs.values import find_values

__all__ = [
    "ByDictionary",
    "ByExample",
    "BySearch",
    "BySpeakers",
    "ByStructure",
    "ByThemes",
    "ByTone",
    "ByValues",
    "Found",
    "Recipe",
    "Sorted",
    "Target",
    "find_terms",
    "find_values",
    "in_step",
    "recipe_from_plain",
    "recipe_to_plain",
]
