"""The token index: immutable memory-mapped segments with their inversion.

It is a derived copy of the stored texts and can be deleted and built again at any time.
"""

from winnower.core.index.build import build_segment
from winnower.core.index.edit import take_texts
from winnower.core.index.lexicon import KINDS, Lexicon, brought_together, build_lexicon
from winnower.core.index.merge import merge_segments
from winnower.core.index.segment import Segment
from winnower.core.index.token_index import TokenIndex

__all__ = [
    "KINDS",
    "Lexicon",
    "Segment",
    "TokenIndex",
    "brought_together",
    "build_lexicon",
    "build_segment",
    "merge_segments",
    "take_texts",
]
