"""Terms: read what was typed, resolve it against a vocabulary, find its hits."""

from winnower.core.pattern.find import Hits, find_term, leftmost
from winnower.core.pattern.resolve import resolve
from winnower.core.pattern.term import Piece, Term, parse_term

__all__ = ["Hits", "Piece", "Term", "find_term", "leftmost", "parse_term", "resolve"]
