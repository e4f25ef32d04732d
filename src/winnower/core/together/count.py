"""How often rows go together, whether that is more than chance, and where."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import sparse, special

from winnower.core.arrays import distinct
from winnower.core.compare.targets import CodesTarget, Corpus, Target
from winnower.core.errors import ComparisonError
from winnower.core.measure import holm
from winnower.core.places import Places
from winnower.core.places.units import units_of
from winnower.core.together.near import near_pairs
from winnower.core.together.pairs import Entries, Held, PairSums, pair_sums
from winnower.core.together.request import Within

MOST_ROWS = 300
#: Pairs of places that overlap, or are near, at most.
MOST_NEAR = 30_000_000
#: Texts that both rows need for a test.
LEAST_TEXTS = 5
#: Where fewer texts with both are expected, fewer than that must be unlikely by Poisson's distribution as well.
RARE = 10.0


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


def count_together(
    rows: Target, columns: Target | None, corpus: Corpus, mask: np.ndarray, within: Within, words: int = 10
) -> Matrix:
    """In the texts of the scope (bool per text). Raises ComparisonError where there are too many rows or pairs."""
    for target in (rows, columns):
        if target is not None and len(target.rows) > MOST_ROWS:
            raise ComparisonError(
                f"{target.name} has {len(target.rows):,} {target.nouns[1]}; at most {MOST_ROWS} can be compared with each "
                "other. Leave some out."
            )
    kin = _kin(rows, columns)
    if within in ("overlap", "near"):
        return _by_places(rows, columns, corpus, mask, words if within == "near" else 0, kin)
    held = _held(rows, columns, corpus, mask, within)
    return by_units(held, kin, columns is None)


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


def _held(rows: Target, columns: Target | None, corpus: Corpus, mask: np.ndarray, within: Within) -> Held:
    place, n_texts = np.cumsum(mask) - 1, int(mask.sum())
    if within == "text":
        found = [one[mask[one]] for target in (rows, columns) if target for one in _texts(target, corpus)]
        label = np.repeat(np.arange(len(found)), [len(one) for one in found])
        unit = place[np.concatenate(found)] if found else np.empty(0, np.int64)
        return _sorted(label, unit, len(found), np.arange(n_texts), np.ones(n_texts, np.int64))
    places, label = _all_places(rows, columns, corpus, mask)
    many = len(rows.rows) + (len(columns.rows) if columns else 0)
    if within == "passage":
        key = np.stack([places.text, places.start, places.length])
        distinct, number = np.unique(key, axis=1, return_inverse=True)
        text_of = place[distinct[0]]
        return _sorted(label, number.ravel(), many, text_of, np.bincount(text_of, minlength=n_texts))
    units = units_of(corpus.index, within)
    inside = mask[units.text]
    low, high = units.spans(places, corpus.index)
    size = high - low
    unit = np.arange(int(size.sum())) + np.repeat(low - (np.cumsum(size) - size), size)
    number = np.cumsum(inside) - 1
    text_of = place[units.text[inside]]
    return _sorted(
        np.repeat(label, size), number[unit], many, text_of, np.bincount(text_of, minlength=n_texts)
    )


def _texts(target: Target, corpus: Corpus) -> list[np.ndarray]:
    return [target.texts_of_hits(row, corpus) for row in range(len(target.rows))]


def _sorted(label: np.ndarray, unit: np.ndarray, rows: int, text_of: np.ndarray, in_text: np.ndarray) -> Held:
    """Each row once in a unit."""
    key = distinct(unit.astype(np.int64) * max(rows, 1) + label)
    return Held(key % max(rows, 1), key // max(rows, 1), rows, text_of, in_text)


def by_units(held: Held, kin: np.ndarray, same: bool) -> Matrix:
    """The matrix of rows (and columns after them, where these are not the ``same``) that units hold."""
    k = kin.shape[0]
    rows, columns = slice(0, k), slice(0, None) if same else slice(k, None)
    counts = np.bincount(held.row, minlength=held.rows).astype(float)
    of_row, of_column = counts[rows], counts[columns]
    entries = Entries.of(held)
    sums = pair_sums(held, entries)
    if sums is None:
        both, texts = _counted_apart(held)
        both, texts = both[rows, columns], texts[rows, columns]
    else:
        both, texts = ((part + part.T)[rows, columns] for part in (sums.both, sums.texts))
        if same:
            np.fill_diagonal(both, counts)
            np.fill_diagonal(texts, np.bincount(entries.row, minlength=held.rows))
    n = len(held.text_of)
    either = of_row[:, None] + of_column[None, :] - both
    with np.errstate(divide="ignore", invalid="ignore"):
        jaccard = np.where(either > 0, both / either, np.nan)
        lift = both * n / (of_row[:, None] * of_column[None, :])
    z, p = np.full(both.shape, np.nan), np.full(both.shape, np.nan)
    if sums is not None or held.of_texts:
        z, p = _tested(held, entries, both, sums, (rows, columns), kin)
    return Matrix(
        both.astype(np.int64), texts.astype(np.int64), of_row.astype(np.int64), of_column.astype(np.int64), jaccard, lift,
        z, p, _adjusted(p, same), kin, n, len(held.in_text), same,
    )  # fmt: skip


def _counted_apart(held: Held) -> tuple[np.ndarray, np.ndarray]:
    """float (W, W): units with both, and texts with such a unit, -1 where that is not known: of more pairs than can be
    gone through."""
    ones = np.ones(len(held.row))
    table = sparse.csr_matrix((ones, (held.row, held.unit)), shape=(held.rows, len(held.text_of)))
    both = np.asarray((table @ table.T).toarray())
    return both, both if held.of_texts else np.full(both.shape, -1.0)


def _tested(
    held: Held,
    entries: Entries,
    both: np.ndarray,
    sums: PairSums | None,
    part: tuple[slice, slice],
    kin: np.ndarray,
) -> tuple[np.ndarray, np.ndarray]:
    """z and p that units with both are as many as if each did not know of the other; without ``sums`` the units are
    the texts.

    theta = p_ab - p_a p_b over all units. Its variance is that of ratios over texts, linearised: with a, b, ab units of
    a text with each and both, n its units, e = ab - p_b a - p_a b + (2 p_a p_b - p_ab) n, and T / (T - 1) sum(e^2) / N^2
    over T texts. Student's t, the degrees of freedom being the texts of the rarer row less one. Of rare pairs (RARE) that are
    together less often than expected p is not below that of Poisson's distribution for the texts that have both.

    Source: Cochran (1977), Sampling Techniques, ch. 6; Binder (1983), International Statistical Review 51.
    """
    t, n = len(held.in_text), held.in_text.astype(float)
    rows, columns = part
    if t < LEAST_TEXTS:
        nothing = np.full(both.shape, np.nan)
        return nothing, nothing

    def by_row(weights: np.ndarray | None) -> np.ndarray:
        return np.bincount(entries.row, weights=weights, minlength=held.rows).astype(float)

    of, squares, with_n = (
        by_row(one) for one in (entries.times, entries.times**2, entries.times * n[entries.text])
    )
    # where units are texts, both are in one unit where they are in one text
    ab_ab = ab_a = ab_b = ab_n = a_b = both
    if sums is not None:
        ab_ab, ab_n, a_b = ((one + one.T)[part] for one in (sums.ab_ab, sums.ab_n, sums.a_b))
        ab_a, ab_b = (sums.ab_a + sums.ab_b.T)[part], (sums.ab_b + sums.ab_a.T)[part]
    whole = n.sum()
    with np.errstate(divide="ignore", invalid="ignore"):
        pa, pb, pab = of[rows, None] / whole, of[None, columns] / whole, both / whole
        c = 2 * pa * pb - pab
        spread = (
            ab_ab + pb**2 * squares[rows, None] + pa**2 * squares[None, columns] + c**2 * (n**2).sum()
            - 2 * pb * ab_a - 2 * pa * ab_b + 2 * c * ab_n + 2 * pa * pb * a_b
            - 2 * pb * c * with_n[rows, None] - 2 * pa * c * with_n[None, columns]
        )  # fmt: skip
        error = np.sqrt(t / (t - 1) * np.maximum(spread, 0)) / whole
        z = (pab - pa * pb) / error
    texts = by_row(None)
    least = np.minimum(texts[rows, None], texts[None, columns])
    z = np.where((least >= LEAST_TEXTS) & ~kin & np.isfinite(z), z, np.nan)
    with np.errstate(invalid="ignore"):
        p = 2 * special.stdtr(np.maximum(least - 1, 1).astype(float), -np.abs(z))
        # where few are expected, none at all shows no spread between texts, and would pass for certain
        met = both if sums is None else (sums.texts + sums.texts.T)[part]
        expected = np.minimum(whole * pa * pb, texts[rows, None] * texts[None, columns] / t)
        exact = np.minimum(2 * special.pdtr(met, expected), 1)
        p = np.where((z < 0) & (expected < RARE), np.maximum(p, exact), p)
    return z, p


def _adjusted(p: np.ndarray, same: bool) -> np.ndarray:
    """Holm over all pairs; of a target with itself each pair once."""
    if not same:
        return holm(p.ravel()).reshape(p.shape)
    out = np.full(p.shape, np.nan)
    upper = np.triu_indices(len(p), 1)
    out[upper] = holm(p[upper])
    out.T[upper] = out[upper]
    return out


def _by_places(
    rows: Target, columns: Target | None, corpus: Corpus, mask: np.ndarray, words: int, kin: np.ndarray
) -> Matrix:
    places, label = _all_places(rows, columns, corpus, mask)
    one, other = near_pairs(places, corpus.index, words, MOST_NEAR)
    k, whole = len(rows.rows), int(label.max(initial=0)) + 1
    # each place once for every row it has near it
    key = distinct(one * np.int64(max(whole, k + len(kin[0]))) + label[other])
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
    """All places, and the row of each, in no order; columns are numbered on after the rows."""
    parts, labels, first = [], [], 0
    for target in (rows, columns):
        if target is None:
            continue
        if isinstance(target, CodesTarget):
            places, label = target.places_by_row(corpus, mask)
        else:
            of_row = [target.places([at], corpus, mask) for at in range(len(target.rows))]
            places = Places.joined(of_row)
            label = np.repeat(np.arange(len(of_row)), [some.hits for some in of_row])
        parts.append(places)
        labels.append(label + first)
        first += len(target.rows)
    return Places.joined(parts), np.concatenate(labels)


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
        one, other = near_pairs(both, corpus.index, words if within == "near" else 0, MOST_NEAR)
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
