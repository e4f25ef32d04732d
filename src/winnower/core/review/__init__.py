"""Review: verdicts of people on places, samples to judge, and what the verdicts say."""

from winnower.core.review.quality import (
    Missed,
    Quality,
    balanced_sample,
    missed_texts,
    precision,
    quality_of,
    text_quality_of,
)
from winnower.core.review.sampling import sample_places, sample_texts
from winnower.core.review.summary import Summary, summarise
from winnower.core.review.verdicts import (
    PLACE,
    SHOWS,
    agreed,
    judged_hits,
    right_hits,
    said_by,
    shown,
    standing,
    standing_texts,
    texts_without,
)

__all__ = [
    "PLACE",
    "SHOWS",
    "Missed",
    "Quality",
    "Summary",
    "agreed",
    "balanced_sample",
    "judged_hits",
    "missed_texts",
    "precision",
    "quality_of",
    "right_hits",
    "said_by",
    "sample_places",
    "sample_texts",
    "shown",
    "standing",
    "standing_texts",
    "summarise",
    "text_quality_of",
    "texts_without",
]
