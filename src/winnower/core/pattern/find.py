"""Find the hits of a term in a segment by array work on positions."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from winnower.core.index import Segment
from winnower.core.pattern.resolve import resolve
from winnower.core.pattern.term import Term


class Hits(NamedTuple):
    """Hits in one segment: first token positions (sorted) and how many tokens each spans."""

    start: np.ndarray
    length: np.ndarray


def find_term(term: Term, segment: Segment) -> np.ndarray:
    """First token positions of all hits of the term, sorted; every hit spans ``term.length`` tokens.

    A phrase stands within one text; hits of one phrase may overlap each other here, what that
    means for counting is the dictionary's matter.
    """
    forms = resolve(term, segment)
    if any(len(found) == 0 for found in forms):
        return np.empty(0, np.int64)
    if term.length == 1:
        positions = segment.positions_of(forms[0])
        return np.sort(positions) if len(forms[0]) > 1 else np.asarray(positions)
    return _phrase(forms, segment)


def _phrase(forms: tuple[np.ndarray, ...], segment: Segment) -> np.ndarray:
    """Start from the rarest word and check its neighbours, so that work follows the rarest word."""
    rarest = min(range(len(forms)), key=lambda at: segment.count_of(forms[at]))
    start = np.sort(segment.positions_of(forms[rarest])).astype(np.int64) - rarest
    start = start[(start >= 0) & (start + len(forms) <= segment.n_tokens)]
    for at, wanted in enumerate(forms):
        if at != rarest and len(start):
            start = start[_is_one_of(segment.codes[start + at], wanted)]
    same_text = segment.text_of[start] == segment.text_of[start + len(forms) - 1]
    return start[same_text]


def _is_one_of(codes: np.ndarray, wanted: np.ndarray) -> np.ndarray:
    if len(wanted) == 1:
        return codes == wanted[0]
    if len(wanted) == wanted[-1] - wanted[0] + 1:
        return (codes >= wanted[0]) & (codes <= wanted[-1])
    at = np.minimum(np.searchsorted(wanted, codes), len(wanted) - 1)
    return wanted[at] == codes


def leftmost(start: np.ndarray, length: int) -> np.ndarray:
    """Of overlapping hits of one length, keep the leftmost, then the next that does not overlap it.

    ``start`` is sorted and without doubles.
    """
    if len(start) < 2 or not (np.diff(start) < length).any():
        return start
    close = np.concatenate([[False], np.diff(start) < length])
    keep = ~close
    end = -1
    for at in np.flatnonzero(close | np.concatenate([close[1:], [False]])):
        if keep[at]:
            end = start[at] + length
        elif start[at] >= end:
            keep[at], end = True, start[at] + length
    return start[keep]
