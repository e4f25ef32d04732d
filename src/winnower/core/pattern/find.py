"""Find the hits of a term in a segment by array work on positions."""

from __future__ import annotations

import numpy as np

from winnower.core.errors import TermError
from winnower.core.index import Segment
from winnower.core.pattern.characters import find_characters
from winnower.core.pattern.conditions import fulfilled
from winnower.core.pattern.resolve import Letters, resolve
from winnower.core.pattern.spans import Hits, in_one_sentence, nothing, place_in, positions_in_order, union
from winnower.core.pattern.term import Choice, Piece, Sequence, Term, is_one_token

#: So many ways to put the words of a gap together are worked out in one segment, not more.
MOST_READINGS = 25_000_000


def find_term(term: Term, segment: Segment) -> Hits:
    """All hits of the term in the segment, sorted by first token, then length.

    A hit of several words stands within one sentence. Hits may overlap here; what that means for counting is the
    dictionary's matter. Raises TermError where the term has too many readings to be worked out.
    """
    finder = _Finder(segment, Letters.of(term), term.source)
    found = finder.choice(term.head)
    for condition in term.conditions:
        if not len(found.start):
            break
        others = finder.choice(condition.what)
        keep = fulfilled(condition, found, others, segment) != condition.unless
        found = Hits(found.start[keep], found.length[keep])
    return found


def forms_of_single(term: Term, segment: Segment) -> np.ndarray:
    """The rows of the vocabulary that a term of single words stands for, sorted, each once."""
    letters = Letters.of(term)
    found = [resolve(segment, option.items[0], letters) for option in term.head.options]  # type: ignore[arg-type]
    return found[0] if len(found) == 1 else np.unique(np.concatenate(found))


class _Finder:
    def __init__(self, segment: Segment, letters: Letters, source: str) -> None:
        self.segment, self.letters, self.source = segment, letters, source

    def choice(self, choice: Choice) -> Hits:
        single, found = [], []
        for option in choice.options:
            first = option.items[0]
            if len(option.items) == 1 and is_one_token(first):
                single.append(first)
            else:
                found.append(self.sequence(option))
        if single:
            found.append(self.words(single))
        return union(found)

    def words(self, pieces: list[Piece]) -> Hits:
        """Every token that one of the words stands for."""
        forms = [resolve(self.segment, piece, self.letters) for piece in pieces]
        rows = forms[0] if len(forms) == 1 else np.unique(np.concatenate(forms))
        start = positions_in_order(self.segment, rows)
        return Hits(start, np.ones(len(start), np.int64))

    def sequence(self, sequence: Sequence) -> Hits:
        if sequence.is_phrase:
            return self.phrase(sequence)
        found = self.item(sequence.items[0])
        for item, (least, most) in zip(sequence.items[1:], sequence.gaps, strict=True):
            if not len(found.start):
                return found
            found = self.join(found, self.item(item), least, most)
        return found

    def item(self, item: Piece | Choice) -> Hits:
        if isinstance(item, Choice):
            return self.choice(item)
        if item.kind == "characters":
            return find_characters(self.segment, item.form, self.letters)
        return self.words([item])

    def phrase(self, sequence: Sequence) -> Hits:
        """Start from the rarest word and check its neighbours, so that work follows the rarest word."""
        segment = self.segment
        forms = [resolve(segment, item, self.letters) for item in sequence.items]  # type: ignore[arg-type]
        n = len(forms)
        if any(len(rows) == 0 for rows in forms):
            return nothing()
        rarest = min(range(n), key=lambda at: segment.count_of(forms[at]))
        start = positions_in_order(segment, forms[rarest]) - rarest
        start = start[(start >= 0) & (start + n <= segment.n_tokens)]
        for at, wanted in enumerate(forms):
            if at != rarest and len(start):
                start = start[_is_one_of(segment.codes[start + at], wanted, segment.n_forms)]
        start = start[in_one_sentence(segment, start, start + n - 1)]
        return Hits(start, np.full(len(start), n, np.int64))

    def join(self, left: Hits, right: Hits, least: int, most: int) -> Hits:
        """Every hit of ``left`` with every hit of ``right`` that begins after a gap of so many words."""
        if not len(right.start):
            return right
        end, n = left.start + left.length, self.segment.n_tokens
        low = place_in(right.start, end + least, n)
        times = place_in(right.start, end + most, n, "right") - low
        if len(right.start) * 8 < len(left.start):  # keep what lies in reach of the few on the right
            reached = np.flatnonzero(times)
            left, low, times = Hits(left.start[reached], left.length[reached]), low[reached], times[reached]
        total = int(times.sum())
        if total > MOST_READINGS:
            raise TermError(
                f"This term has more than {MOST_READINGS:,} readings: its words are too common for such "
                "gaps. Make a gap smaller or a word rarer.",
                self.source,
            )
        of_left = np.repeat(np.arange(len(left.start)), times)
        of_right = np.arange(total) - np.repeat(np.cumsum(times) - times, times) + np.repeat(low, times)
        start = left.start[of_left]
        stop = right.start[of_right] + right.length[of_right]
        together = in_one_sentence(self.segment, start, stop - 1)
        start, stop = start[together], stop[together]
        return union([Hits(start, stop - start)])


def _is_one_of(codes: np.ndarray, wanted: np.ndarray, n_forms: int) -> np.ndarray:
    if len(wanted) == 1:
        answer: np.ndarray = codes == wanted[0]
        return answer
    if len(wanted) == wanted[-1] - wanted[0] + 1:
        result: np.ndarray = (codes >= wanted[0]) & (codes <= wanted[-1])
        return result
    table = np.zeros(n_forms, bool)
    table[wanted] = True
    found: np.ndarray = table[codes]
    return found
