"""Terms: read what was typed, resolve it against a vocabulary, find its hits."""

from winnower.core.pattern.find import find_term, forms_of_single
from winnower.core.pattern.parse import parse_term, term_of_words
from winnower.core.pattern.query import (
    Query,
    as_one_term,
    matching_texts,
    only_or,
    parse_query,
    terms_of,
    with_alternatives,
)
from winnower.core.pattern.resolve import Letters, Singles, resolve, rows_of_each
from winnower.core.pattern.spans import Hits, leftmost, longest_first, positions_in_order, union
from winnower.core.pattern.term import Choice, Condition, Piece, Sequence, Term
from winnower.core.pattern.write import write_piece, write_term

__all__ = [
    "Choice",
    "Condition",
    "Hits",
    "Letters",
    "Piece",
    "Query",
    "Sequence",
    "Singles",
    "rows_of_each",
    "Term",
    "as_one_term",
    "find_term",
    "forms_of_single",
    "leftmost",
    "longest_first",
    "matching_texts",
    "only_or",
    "parse_query",
    "parse_term",
    "positions_in_order",
    "resolve",
    "term_of_words",
    "terms_of",
    "union",
    "with_alternatives",
    "write_piece",
    "write_term",
]
