"""Dictionaries: categories of terms, and what counts as a hit of a category."""

from winnower.core.dictionary.dictionary import LEVEL_SIGN, Category, Dictionary, TermEntry, in_tree_order
from winnower.core.dictionary.hits import category_hits, texts_of_entries, texts_of_hits
from winnower.core.dictionary.rows import DictionaryRows, dictionary_from_rows, dictionary_to_rows

__all__ = [
    "LEVEL_SIGN",
    "Category",
    "Dictionary",
    "DictionaryRows",
    "TermEntry",
    "category_hits",
    "dictionary_from_rows",
    "dictionary_to_rows",
    "in_tree_order",
    "texts_of_entries",
    "texts_of_hits",
]
