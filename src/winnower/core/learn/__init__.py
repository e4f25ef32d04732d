"""Learning a code from passages coded by hand: words and phrases with weights, tested over texts it has not seen."""

from winnower.core.learn.curve import THRESHOLDS, Curve
from winnower.core.learn.learner import Learned, Lesson, Telling, learn
from winnower.core.learn.scoring import probabilities, strongest
from winnower.core.learn.words import Words

__all__ = [
    "THRESHOLDS",
    "Curve",
    "Learned",
    "Lesson",
    "Telling",
    "Words",
    "learn",
    "probabilities",
    "strongest",
]
