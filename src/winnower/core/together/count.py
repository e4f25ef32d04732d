"""How often rows go together, whether that is more than chance, and where."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl
from scipy import sparse, special

from winnower.core.compare.targets import Corpus, Target
from winnower.core.errors import ComparisonError
from winnower.core.measure import holm
from winnower.core.places import Places
from winnower.core.places.units import units_of
from winnower.core.together.near import near_pairs
from winnower.core.together.request import Within

MOST_ROWS = 300
#: Pairs of rows in units at most that a test, or overlap, goes through one by one.
MOST_PAIRS = 30_000_000
#: Texts that both rows need for a test.
LEAST_TEXTS = 5


@dataclass(frozen=True)
class Matrix:
    """Rows K by columns L; arrays (K, L) unless said.

    together      int64: units with both; of overlap and nearness the row's places that have one of the column
    texts         int64: texts with such a unit; -1 where it is not known
    of_row, of_column   int64 (K), (L): units (places) of each
    jaccard       float: units with both over units with either
    lift          float: times as often as if they did not know of each other; NaN of overlap and nearness
    z, p, adjusted   of the difference from chance, over texts; NaN where it is not tested
    kin           bool: a row with itself, or with one it is part of
    units         how many there are in all; 0 of overlap and nearness
    n_texts       texts of the scope
    """

    together: np.ndarray
    texts: np.ndarray
    of_row: np.ndarray
    of_column: np.ndarray
    jaccard: np.ndarray
    lift: np.ndarray
    z: np.ndarray
    p: np.ndarray
    adjusted: np.ndarray
    kin: np.ndarray
    units: int
    n_texts: int
    same: bool


@dataclass(frozen=True)
class _Held:
    """Which units hold which rows: one entry each, and each unit's text. ``in_text`` int64 (T): units of each text of
    the scope, numbered through."""

    row: np.ndarray
    unit: np.ndarray
    rows: int
    text_of: np.ndarray
    in_text: np.ndarray


def count_together(
    rows: Target, columns: Target | None, corpus: Corpus, mask: np.ndarray, within: Within, words: int = 10
) -> Matrix:
    """In the texts of the scope (bool per text). Raises ComparisonError where there are too many rows or pairs."""
    for target in (rows, columns):
        if target is not None and len(target.rows) > MOST_ROWS:
            raise ComparisonError(
                f"{target.name} has {len(target.rows):,} {target.nouns[1]}; at most {MOST_ROWS} can be set against each "
                "other. Leave some out."
            )
    kin = _kin(rows, columns)
    if within in ("overlap", "near"):
        return _by_places(rows, columns, corpus, mask, words if within == "near" else 0, kin)
    first, second = _held(rows, columns, corpus, mask, within)
    return _by_units(first, second, kin, columns is None, int(mask.sum()))


def _kin(rows: Target, columns: Target | None) -> np.ndarray:
    """bool (K, L): the same row, or one that is part of the other."""
    if columns is not None:
        return np.zeros((len(rows.rows), len(columns.rows)), bool)
    found = np.eye(len(rows.rows), dtype=bool)
    for at, row in enumerate(rows.rows):
        above = row.parent
        while above is not None:
            found[at, above] = found[above, at] = True
            above = rows.rows[above].parent
    return found


def _held(
    rows: Target, columns: Target | None, corpus: Corpus, mask: np.ndarray, within: Within
) -> tuple[_Held, _Held]:
    targets = [rows] if columns is None else [rows, columns]
    if within == "text":
        unit = np.cumsum(mask) - 1
        found = [
            [np.unique(unit[texts[mask[texts]]]) for texts in _texts(target, corpus)] for target in targets
        ]
        text_of = np.arange(int(mask.sum()))
        return _joined(found, text_of, np.ones(len(text_of), np.int64))
    places = [[target.places([row], corpus, mask) for row in range(len(target.rows))] for target in targets]
    if within == "passage":
        return _same_passages(places, mask)
    units = units_of(corpus.index, within)
    inside = mask[units.text]
    number = np.cumsum(inside) - 1
    found = [
        [number[np.flatnonzero(units.touched(some, corpus.index) & inside)] for some in parts]
        for parts in places
    ]
    place = np.cumsum(mask) - 1
    text_of = place[units.text[inside]]
    return _joined(found, text_of, np.bincount(text_of, minlength=int(mask.sum())))


def _texts(target: Target, corpus: Corpus) -> list[np.ndarray]:
    return [target.texts_of_hits(row, corpus) for row in range(len(target.rows))]


def _joined(found: list[list[np.ndarray]], text_of: np.ndarray, in_text: np.ndarray) -> tuple[_Held, _Held]:
    held = []
    for parts in found:
        row = np.repeat(np.arange(len(parts)), [len(some) for some in parts])
        unit = np.concatenate(parts) if parts else np.empty(0, np.int64)
        held.append(_Held(row, unit, len(parts), text_of, in_text))
    return held[0], held[-1]


def _same_passages(places: list[list[Places]], mask: np.ndarray) -> tuple[_Held, _Held]:
    """The units are the stretches that anything stands on."""
    flat = [some for parts in places for some in parts]
    whole = Places.joined(flat)
    key = np.stack([whole.text, whole.start, whole.length])
    distinct, number = np.unique(key, axis=1, return_inverse=True)
    cuts = np.cumsum([some.hits for some in flat])[:-1]
    numbers = iter(np.split(number.ravel(), cuts) if flat else [])
    found = [[np.unique(next(numbers)) for _ in parts] for parts in places]
    place = np.cumsum(mask) - 1
    text_of = place[distinct[0]]
    return _joined(found, text_of, np.bincount(text_of, minlength=int(mask.sum())))


def _by_units(first: _Held, second: _Held, kin: np.ndarray, same: bool, n_texts: int) -> Matrix:
    n = len(first.text_of)
    one, other = (
        sparse.csr_matrix((np.ones(len(held.row)), (held.row, held.unit)), shape=(held.rows, n))
        for held in (first, second)
    )
    both = np.asarray((one @ other.T).toarray())
    of_row, of_column = (np.bincount(held.row, minlength=held.rows).astype(float) for held in (first, second))
    either = of_row[:, None] + of_column[None, :] - both
    with np.errstate(divide="ignore", invalid="ignore"):
        jaccard = np.where(either > 0, both / either, np.nan)
        lift = both * n / (of_row[:, None] * of_column[None, :])
    texts, z, p = _tested(first, second, both, of_row, of_column, kin)
    return Matrix(
        both.astype(np.int64), texts, of_row.astype(np.int64), of_column.astype(np.int64), jaccard, lift, z, p,
        _adjusted(p, same), kin, n, n_texts, same,
    )  # fmt: skip


def _adjusted(p: np.ndarray, same: bool) -> np.ndarray:
    """Holm over all pairs; of a target with itself each pair once."""
    if not same:
        return holm(p.ravel()).reshape(p.shape)
    out = np.full(p.shape, np.nan)
    upper = np.triu_indices(len(p), 1)
    out[upper] = holm(p[upper])
    out.T[upper] = out[upper]
    return out


def _tested(
    first: _Held, second: _Held, both: np.ndarray, of_row: np.ndarray, of_column: np.ndarray, kin: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Texts with both in a unit, z and p that units with both are as many as if each did not know of the other.

    theta = p_ab - p_a p_b over all units. Its variance is that of ratios over texts, linearised: with a, b, ab units of
    a text with each and both, n its units, e = ab - p_b a - p_a b + (2 p_a p_b - p_ab) n, and T / (T - 1) sum(e^2) / N^2
    over T texts. Student's t, the degrees of freedom being the texts of the rarer row less one.

    Source: Cochran (1977), Sampling Techniques, ch. 6; Binder (1983), International Statistical Review 51.
    """
    shape = both.shape
    nothing = np.full(shape, np.nan)
    pairs = _pairs_by_text(first, second)
    if pairs is None:
        return np.full(shape, -1, np.int64), nothing, nothing
    row, column, text, times = pairs
    t, n = len(first.in_text), first.in_text.astype(float)
    whole = n.sum()
    a, b = (_by_text(held, t) for held in (first, second))
    cell = row * shape[1] + column
    size = shape[0] * shape[1]

    def summed(weights: np.ndarray) -> np.ndarray:
        return np.bincount(cell, weights=weights, minlength=size).reshape(shape)

    texts = summed(np.ones(len(cell))).astype(np.int64)
    with np.errstate(divide="ignore", invalid="ignore"):
        pa, pb, pab = of_row[:, None] / whole, of_column[None, :] / whole, both / whole
        c = 2 * pa * pb - pab
        aa, bb = (np.asarray(part.multiply(part).sum(1)).ravel() for part in (a, b))
        an, bn = a @ n, b @ n
        ab_a = summed(times * _looked_up(a, row, text))
        ab_b = summed(times * _looked_up(b, column, text))
        spread = (
            summed(times**2) + pb**2 * aa[:, None] + pa**2 * bb[None, :] + c**2 * (n**2).sum()
            - 2 * pb * ab_a - 2 * pa * ab_b + 2 * c * summed(times * n[text])
            + 2 * pa * pb * np.asarray((a @ b.T).toarray()) - 2 * pb * c * an[:, None] - 2 * pa * c * bn[None, :]
        )  # fmt: skip
        error = np.sqrt(t / (t - 1) * np.maximum(spread, 0)) / whole
        z = (pab - pa * pb) / error
    with_row, with_column = (np.diff(part.indptr) for part in (a, b))
    least = np.minimum(with_row[:, None], with_column[None, :])
    z = np.where((least >= LEAST_TEXTS) & ~kin & np.isfinite(z), z, np.nan)
    with np.errstate(invalid="ignore"):
        p = 2 * special.stdtr(np.maximum(least - 1, 1).astype(float), -np.abs(z))
    return texts, z, p


def _by_text(held: _Held, t: int) -> sparse.csr_matrix:
    found = sparse.csr_matrix(
        (np.ones(len(held.row)), (held.row, held.text_of[held.unit])), shape=(held.rows, t)
    )
    found.sum_duplicates()
    return found


def _looked_up(counts: sparse.csr_matrix, row: np.ndarray, text: np.ndarray) -> np.ndarray:
    """Entries that are known to be there."""
    counts.sort_indices()
    width = np.int64(counts.shape[1])
    keys = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr)) * width + counts.indices
    found: np.ndarray = counts.data[np.searchsorted(keys, row * width + text)]
    return found


def _pairs_by_text(first: _Held, second: _Held) -> tuple[np.ndarray, ...] | None:
    """(row, column, text, units) of every pair in a unit; None where there are too many to go through."""
    n = len(first.text_of)
    of_unit = [np.bincount(held.unit, minlength=n) for held in (first, second)]
    if int((of_unit[0].astype(np.int64) * of_unit[1]).sum()) > MOST_PAIRS:
        return None
    one, other = (
        pl.DataFrame({"unit": held.unit, name: held.row})
        for held, name in ((first, "row"), (second, "column"))
    )
    both = one.join(other, on="unit")
    found = (
        both.with_columns(text=pl.Series(first.text_of[both["unit"].to_numpy()]))
        .group_by("row", "column", "text")
        .len()
    )
    row, column, text = (found[name].to_numpy().astype(np.int64) for name in ("row", "column", "text"))
    return row, column, text, found["len"].to_numpy().astype(float)


def _by_places(
    rows: Target, columns: Target | None, corpus: Corpus, mask: np.ndarray, words: int, kin: np.ndarray
) -> Matrix:
    places, label = _all_places(rows, columns, corpus, mask)
    one, other = near_pairs(places, corpus.index, words, MOST_PAIRS)
    k, whole = len(rows.rows), int(label.max(initial=0)) + 1
    # each place once for every row it has near it
    key = np.unique(one * np.int64(max(whole, k + len(kin[0]))) + label[other])
    base = max(whole, k + len(kin[0]))
    of, with_row = label[key // base], key % base
    shape = kin.shape
    offset = 0 if columns is None else k
    inside = (of < k) & (with_row >= offset) & (with_row < offset + shape[1])
    both = np.bincount(
        of[inside] * shape[1] + with_row[inside] - offset, minlength=shape[0] * shape[1]
    ).reshape(shape)
    back = (of >= offset) & (of < offset + shape[1]) & (with_row < k)
    turned = np.bincount(
        with_row[back] * shape[1] + of[back] - offset, minlength=shape[0] * shape[1]
    ).reshape(shape)
    counts = np.bincount(label, minlength=base)
    of_row, of_column = counts[:k], counts[offset : offset + shape[1]]
    if columns is None:
        both[np.arange(k), np.arange(k)] = of_row
        turned = both.T
    mean = (both + turned) / 2
    with np.errstate(divide="ignore", invalid="ignore"):
        jaccard = mean / (of_row[:, None] + of_column[None, :] - mean)
    nothing = np.full(shape, np.nan)
    unknown = np.full(shape, -1, np.int64)
    return Matrix(
        both, unknown, of_row, of_column, jaccard, nothing, nothing, nothing, nothing, kin, 0, int(mask.sum()),
        columns is None,
    )  # fmt: skip


def _all_places(
    rows: Target, columns: Target | None, corpus: Corpus, mask: np.ndarray
) -> tuple[Places, np.ndarray]:
    """All places, and the row of each; columns are numbered on after the rows."""
    parts = [
        target.places([at], corpus, mask)
        for target in (rows, columns)
        if target
        for at in range(len(target.rows))
    ]
    return Places.joined(parts), np.repeat(np.arange(len(parts)), [some.hits for some in parts])


def places_together(
    row: int, rows: Target, column: int, columns: Target | None, corpus: Corpus, mask: np.ndarray, within: Within,
    words: int = 10,
) -> Places:  # fmt: skip
    """The places of both under a cell, where they are together, by text."""
    target = columns or rows
    first, second = rows.places([row], corpus, mask), target.places([column], corpus, mask)
    if within in ("overlap", "near"):
        both = Places.joined([first, second])
        of_first = np.arange(both.hits) < first.hits
        one, other = near_pairs(both, corpus.index, words if within == "near" else 0, MOST_PAIRS)
        across = of_first[one] != of_first[other]
        return both.some(np.unique(one[across]))
    if within == "passage":
        keys = [
            some.text * (1 << 40) + some.start * (1 << 16) + np.minimum(some.length, (1 << 16) - 1)
            for some in (first, second)
        ]
        return first.some(np.isin(keys[0], keys[1]))
    units = units_of(corpus.index, within)
    shared = units.touched(first, corpus.index) & units.touched(second, corpus.index)
    segment_base = units.base
    both = Places.joined([first, second])
    of_segment = np.searchsorted(corpus.index.base, both.text, side="right") - 1
    begin = segment_base[of_segment] + both.start
    low = np.searchsorted(units.start, begin, "right") - 1
    high = np.searchsorted(units.start, begin + np.maximum(both.length, 1) - 1, "right")
    seen = np.concatenate([[0], np.cumsum(shared)])
    kept = both.some(seen[high] > seen[low])
    return kept.some(np.lexsort((kept.start, kept.text)))
