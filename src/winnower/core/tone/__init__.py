"""Tone of sentences from a list of weighted words and a few rules; the list is the analyst's to change."""

from winnower.core.tone.bands import BANDS, band_of
from winnower.core.tone.score import Scorer, Weighed, score, weighed
from winnower.core.tone.words import ToneWords, shipped

__all__ = ["BANDS", "Scorer", "ToneWords", "Weighed", "band_of", "score", "shipped", "weighed"]
