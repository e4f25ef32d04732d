"""What pairs of rows have in common, text by text: sums over all texts, without a list of all pairs at once."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

#: Pairs of rows in units, or in texts, at most that are gone through one by one, and at once.
MOST_PAIRS = 60_000_000
AT_ONCE = 1_000_000


@dataclass(frozen=True)
class Held:
    """Which units hold which rows: one entry each, in the order of units, then rows; units stand in the order of their
    texts. ``text_of`` int per unit, ``in_text`` int64 (T): units of each text of the scope."""

    row: np.ndarray
    unit: np.ndarray
    rows: int
    text_of: np.ndarray
    in_text: np.ndarray

    @cached_property
    def of_texts(self) -> bool:
        """Whether the units are the texts."""
        return np.array_equal(self.text_of, np.arange(len(self.in_text)))


@dataclass(frozen=True)
class Entries:
    """Rows of texts: one entry for each row a text has, in the order of texts, then rows; ``times`` float: in how many
    of its units. ``of_held`` int: which of these each entry of ``Held`` is."""

    text: np.ndarray
    row: np.ndarray
    times: np.ndarray
    of_held: np.ndarray

    @classmethod
    def of(cls, held: Held) -> Entries:
        if held.of_texts:
            return cls(held.unit, held.row, np.ones(len(held.row)), np.arange(len(held.row)))
        width = np.int64(max(held.rows, 1))
        key = held.text_of[held.unit] * width + held.row
        order = np.argsort(key, kind="stable")  # nearly in order, so that this is quick
        sorted_key = key[order]
        begins = np.append(True, sorted_key[1:] != sorted_key[:-1]) if len(key) else np.empty(0, bool)
        place = np.cumsum(begins) - 1
        of_held = np.empty(len(key), np.int64)
        of_held[order] = place
        found = sorted_key[begins]
        times = np.bincount(place, minlength=len(found)).astype(float)
        return cls(found // width, found % width, times, of_held)


@dataclass(frozen=True)
class PairSums:
    """Of pairs of rows, the first below the second; float (W, W), 0 where there is none. With a and b the units of a text
    that have the first and the second, ab those that have both, n all it has: ``both`` is the sum of ab, ``texts`` how many
    have such a unit, the others are sums of the products they are named by."""

    both: np.ndarray
    texts: np.ndarray
    ab_ab: np.ndarray
    ab_a: np.ndarray
    ab_b: np.ndarray
    ab_n: np.ndarray
    a_b: np.ndarray


def pair_sums(held: Held, entries: Entries) -> PairSums | None:
    """None where there are too many pairs to go through."""
    w = held.rows
    later, later_held = _later(entries.text), _later(held.unit)
    if max(int(later.sum()), int(later_held.sum())) > MOST_PAIRS:
        return None
    sums = np.zeros((7, w * w))
    n = held.in_text.astype(float)
    for low, high in _stretches(entries.text, later):
        one, other = _pairs(later, low, high)
        cell = entries.row[one] * w + entries.row[other]
        a, b = entries.times[one], entries.times[other]
        sums[6] += np.bincount(cell, weights=a * b, minlength=w * w)
        if held.of_texts:
            ab = np.ones(len(one))
        else:
            ab = _in_one_unit(held, entries, later, later_held, (low, high), len(one))
            some = np.flatnonzero(ab)
            one, cell, a, b, ab = one[some], cell[some], a[some], b[some], ab[some]
        for at, weights in enumerate((ab, None, ab * ab, ab * a, ab * b, ab * n[entries.text[one]])):
            sums[at] += np.bincount(cell, weights=weights, minlength=w * w)
    return PairSums(*sums.reshape(7, w, w))


def _later(group: np.ndarray) -> np.ndarray:
    """int64: of each entry how many follow it in its group; groups stand together."""
    n = len(group)
    if not n:
        return np.empty(0, np.int64)
    last = np.append(np.flatnonzero(group[1:] != group[:-1]), n - 1)
    size = np.diff(last, prepend=-1)
    return np.repeat(last, size) - np.arange(n)


def _stretches(text: np.ndarray, later: np.ndarray) -> Iterator[tuple[int, int]]:
    """From an entry to before another one: whole texts, with about AT_ONCE pairs each."""
    done = np.cumsum(later)
    low, n = 0, len(text)
    while low < n:
        before = done[low] - later[low]
        high = int(np.searchsorted(done, before + AT_ONCE, "right"))
        high = min(max(high, low + 1), n)
        # to the end of the text
        high = int(np.searchsorted(text, text[high - 1], "right"))
        yield low, high
        low = high


def _pairs(later: np.ndarray, low: int, high: int) -> tuple[np.ndarray, np.ndarray]:
    """Every entry of a stretch with each that follows it in its group."""
    some = later[low:high]
    one = np.repeat(np.arange(low, high), some)
    done = np.cumsum(some)
    return one, np.arange(len(one)) - np.repeat(done - some, some) + one + 1


def _in_one_unit(
    held: Held,
    entries: Entries,
    later: np.ndarray,
    later_held: np.ndarray,
    stretch: tuple[int, int],
    n_pairs: int,
) -> np.ndarray:
    """float per pair of a stretch: in how many units both are. Where the pairs of an entry begin is known, so none is
    looked for."""
    low, high = stretch
    some = later[low:high]
    first = np.cumsum(some) - some
    # of this stretch's texts; entries of both kinds stand in the order of texts
    begin, end = np.searchsorted(held.text_of[held.unit], [entries.text[low], entries.text[high - 1] + 1])
    one, other = _pairs(later_held, int(begin), int(end))
    i, j = entries.of_held[one], entries.of_held[other]
    return np.bincount(first[i - low] + j - i - 1, minlength=n_pairs).astype(float)
