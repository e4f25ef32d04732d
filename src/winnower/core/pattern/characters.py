"""Find characters of a script without spaces, wherever they stand: inside one word or over several in a row."""

from __future__ import annotations

import re

import numpy as np
import polars as pl

from winnower.core.index import Segment
from winnower.core.pattern.resolve import Letters
from winnower.core.pattern.spans import Hits, in_one_sentence, positions_in_order, union
from winnower.core.tokens import bare, fold
from winnower.core.tokens.expressions import UNSPACED


def find_characters(segment: Segment, written: str, letters: Letters) -> Hits:
    """The words in which the characters stand, sorted; ``?`` is any one of them.

    A hit is all words that hold one of the characters: 学 hits 大学 as a word. Words are followed from the one in which the
    characters begin: after each it is known how many of them are behind (``reached``), and the last word begins with
    those that are left.
    """
    return _Characters(segment, written, letters.ignore_accents).find()


class _Characters:
    def __init__(self, segment: Segment, written: str, ignore_accents: bool) -> None:
        self.segment = segment
        self.forms, self.rows = _unspaced_forms(segment, "bare" if ignore_accents else "fold")
        compared = bare(written) if ignore_accents else fold(written)
        self.parts = ["." if sign == "?" else re.escape(sign) for sign in compared]
        #: No word holds more characters than this in a row.
        self.longest = int(self.forms.str.len_chars().max() or 0)  # type: ignore[arg-type]

    def find(self) -> Hits:
        n = len(self.parts)
        inside = positions_in_order(self.segment, self.having(0, n, "", ""))
        found = [Hits(inside, np.ones(len(inside), np.int64))]
        # the first word, by how many of the characters it ends with
        reached = {
            k: [(start, start)]
            for k in range(1, min(n, self.longest + 1))
            if len(start := positions_in_order(self.segment, self.having(0, k, "", "$")))
        }
        for k in range(1, n):
            states = reached.get(k)
            if not states:
                continue
            first, last = (np.concatenate(side) for side in zip(*states, strict=True))
            following = last + 1
            kept = following < self.segment.n_tokens
            first, following = first[kept], following[kept]
            kept = in_one_sentence(self.segment, first, following)
            first, following = first[kept], following[kept]
            ends = self.are(following, self.having(k, n, "^", ""))
            found.append(Hits(first[ends], following[ends] - first[ends] + 1))
            for m in range(k + 1, min(n, k + self.longest + 1)):
                if not len(first):
                    break
                goes_on = self.are(following, self.having(k, m, "^", "$"))
                if goes_on.any():
                    reached.setdefault(m, []).append((first[goes_on], following[goes_on]))
        return union(found)

    def having(self, low: int, high: int, before: str, after: str) -> np.ndarray:
        """Rows of the vocabulary with these of the characters at the place that the signs around say."""
        if high - low > self.longest:
            return self.rows[:0]
        expression = f"(?s){before}{''.join(self.parts[low:high])}{after}"
        found: np.ndarray = self.rows[self.forms.str.contains(expression).to_numpy()]
        return found

    def are(self, positions: np.ndarray, rows: np.ndarray) -> np.ndarray:
        """Whether the tokens at these positions are of one of the rows."""
        wanted = np.zeros(self.segment.n_forms, bool)
        wanted[rows] = True
        found: np.ndarray = wanted[self.segment.codes[positions]]
        return found


def _unspaced_forms(segment: Segment, column: str) -> tuple[pl.Series, np.ndarray]:
    """The forms of the segment that are written without spaces, as ``column`` of its vocabulary has them, and their
    rows. These scripts have no case."""

    def forms() -> tuple[pl.Series, np.ndarray]:
        surface = segment.vocabulary["surface"]
        rows = np.flatnonzero(surface.str.contains(f"^[{UNSPACED}]").to_numpy())
        return segment.vocabulary[column].gather(rows), rows

    found: tuple[pl.Series, np.ndarray] = segment.remember(("unspaced", column), forms)
    return found
