"""Themes: frequent noun phrases gathered under their head words."""

from winnower.core.themes.classes import WordClasses, classes_of
from winnower.core.themes.phrases import Head, Phrase, find_themes

__all__ = ["Head", "Phrase", "WordClasses", "classes_of", "find_themes"]
