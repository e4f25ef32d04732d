"""Places in texts, whatever put them there: hits in order, and the passages around them."""

from winnower.core.places.passages import Passage, passages, place_passage, whole_sentence
from winnower.core.places.places import (
    ORDERS,
    Places,
    distinct_texts,
    find_hits,
    hits_in_texts,
    in_order,
    places_in_texts,
)
from winnower.core.places.widen import Stretch, widen

__all__ = [
    "ORDERS",
    "Passage",
    "Places",
    "Stretch",
    "distinct_texts",
    "find_hits",
    "hits_in_texts",
    "in_order",
    "passages",
    "place_passage",
    "places_in_texts",
    "whole_sentence",
    "widen",
]
