"""How typical words are of one side: customary measures, and p that respects texts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import special

from winnower.core.keyness.occurrences import Occurrences
from winnower.core.measure import log_likelihood

#: Texts with the word that each side needs for a test.
LEAST_TEXTS = 5
#: Added to a count of nought, so that a ratio can be given.
HALF = 0.5
ORDERS = ("g2", "ratio", "odds", "p", "hits", "texts", "evenness", "name")


@dataclass(frozen=True)
class Keyness:
    """R rows that have enough hits; all arrays (R), or (R, 2) by side.

    row        place among the names of the occurrences
    hits, texts   int64 (R, 2)
    g2         Dunning's G2, below 0 where the row is rarer in the group
    ratio      log2 of the ratio of the rates, 0.5 standing for no hit
    odds       z of the log-odds ratio with an informative prior
    t, df, p   of the difference of the logs of the rates, over texts; NaN with fewer than LEAST_TEXTS texts on a side
    adjusted   p adjusted over all rows that were tested
    evenness   DP over the texts of the group; NaN without hits there
    most       the part of the group's hits that stands in one text
    words      int64 (2): words of each side
    n_texts    int64 (2)
    """

    row: np.ndarray
    hits: np.ndarray
    texts: np.ndarray
    g2: np.ndarray
    ratio: np.ndarray
    odds: np.ndarray
    t: np.ndarray
    df: np.ndarray
    p: np.ndarray
    adjusted: np.ndarray
    evenness: np.ndarray
    most: np.ndarray
    words: np.ndarray
    n_texts: np.ndarray

    @property
    def tested(self) -> int:
        return int(np.isfinite(self.p).sum())

    def rates(self, per: float) -> np.ndarray:
        """float (R, 2)."""
        found: np.ndarray = self.hits / np.maximum(self.words, 1) * per
        return found


@dataclass(frozen=True)
class _Sums:
    """Of every row by side (R, 2): hits, texts with it, squared hits, hits times words of the text; and of each side
    (2): texts, words, squared words."""

    y: np.ndarray
    n: np.ndarray
    yy: np.ndarray
    xy: np.ndarray
    texts: np.ndarray
    x: np.ndarray
    xx: np.ndarray


@dataclass(frozen=True)
class _Own:
    """What stands in the group: row, hits and words of the text of each pair; words of every text of it."""

    row: np.ndarray
    hits: np.ndarray
    size: np.ndarray
    words: np.ndarray


def keyness(
    found: Occurrences, side: np.ndarray, words: np.ndarray, least_hits: int = 1, least_texts: int = 1
) -> Keyness:
    """``side`` int8 per text: 0 in the group, 1 against it, -1 neither; ``words`` int per text.

    G2 on the full 2 by 2 table (Dunning 1993, Computational Linguistics 19); log ratio (Hardie 2014); log-odds ratio
    with the counts of both sides together as the prior (Monroe, Colaresi and Quinn 2008, Political Analysis 16, eq. 22);
    p from the difference of the logs of the rates over the root of their linearised variances over texts (Cochran 1977,
    ch. 6), Student's t with Welch and Satterthwaite's degrees of freedom, those of a side being its texts with the row
    less one; adjusted by Benjamini and Hochberg (1995, JRSS B 57) over all rows tested; DP: Gries (2008), normalised as in
    Lijffijt and Gries (2012).
    """
    sums, own = _sums(found, side, words)
    y, n = sums.y, sums.n
    kept = np.flatnonzero((y.sum(1) >= max(least_hits, 1)) & (n.sum(1) >= least_texts))
    y, n = y[kept], n[kept]
    total = y.sum(1)
    x = sums.x
    g2 = log_likelihood(y[:, 0], x[0], total, x.sum()) if len(kept) else np.empty(0)
    with np.errstate(divide="ignore", invalid="ignore"):
        rate = np.where(y > 0, y, HALF) / x
        ratio = np.log2(rate[:, 0] / rate[:, 1])
    t, df, p = _tested(sums, kept)
    adjusted = np.full(len(p), np.nan)
    known = np.isfinite(p)
    if known.any():
        from scipy.stats import false_discovery_control  # half a second to load, and only wanted here

        adjusted[known] = false_discovery_control(p[known])
    evenness, most = _within(own, len(found.names), kept, sums.y[:, 0], float(x[0]))
    return Keyness(
        kept, y.astype(np.int64), n.astype(np.int64), g2, ratio, _odds(y, x), t, df, p, adjusted, evenness, most,
        x.astype(np.int64), sums.texts.astype(np.int64),
    )  # fmt: skip


def _sums(found: Occurrences, side: np.ndarray, words: np.ndarray) -> tuple[_Sums, _Own]:
    on = side.take(found.text)
    row, text, hits = found.row, found.text, found.hits
    if (side < 0).any():
        inside = np.flatnonzero(on >= 0)
        row, text, hits, on = row[inside], text[inside], hits[inside], on[inside]
    key = row * 2
    key += on
    size = words.astype(float)[text]
    r = len(found.names)

    def summed(key: np.ndarray, weights: np.ndarray | None) -> np.ndarray:
        return np.bincount(key, weights=weights, minlength=2 * r).reshape(r, 2).astype(float)

    # most texts that have a word have it once: what the others have more is added
    more = np.flatnonzero(hits > 1)
    key_more, times = key[more], hits[more].astype(float)
    n, of_size = summed(key, None), summed(key, size)
    here = [np.flatnonzero(side == at) for at in (0, 1)]
    own = [words[texts].astype(float) for texts in here]
    sums = _Sums(
        n + summed(key_more, times - 1),
        n,
        n + summed(key_more, times * times - 1),
        of_size + summed(key_more, (times - 1) * size[more]),
        np.asarray([len(texts) for texts in here], float),
        np.asarray([some.sum() for some in own]),
        np.asarray([(some**2).sum() for some in own]),
    )
    group = np.flatnonzero(on == 0)
    return sums, _Own(row[group], hits[group].astype(float), size[group], own[0])


def _tested(sums: _Sums, kept: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """t, degrees of freedom and p of the rows; NaN where a side has too few texts with the row."""
    y, n = sums.y[kept], sums.n[kept]
    with np.errstate(divide="ignore", invalid="ignore"):
        rate = y / sums.x
        spread = sums.yy[kept] - 2 * rate * sums.xy[kept] + rate**2 * sums.xx
        variance = sums.texts / (sums.texts - 1) * np.maximum(spread, 0) / y**2
        df = variance.sum(1) ** 2 / (variance**2 / np.maximum(n - 1, 1)).sum(1)
        t = (np.log(rate[:, 0]) - np.log(rate[:, 1])) / np.sqrt(variance.sum(1))
    enough = (n >= LEAST_TEXTS).all(1) & np.isfinite(t) & np.isfinite(df)
    t, df = np.where(enough, t, np.nan), np.where(enough, df, np.nan)
    with np.errstate(invalid="ignore"):
        p = 2 * special.stdtr(df, -np.abs(t))
    return t, df, p


def _odds(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    """z of the log-odds ratio; the prior of each row is its count in both sides."""
    prior = y.sum(1, keepdims=True)
    whole = x + x.sum()
    with np.errstate(divide="ignore", invalid="ignore"):
        odds = np.log((y + prior) / np.maximum(whole - y - prior, HALF))
        error = np.sqrt((1 / (y + prior)).sum(1))
        return np.where(prior[:, 0] > 0, (odds[:, 0] - odds[:, 1]) / error, np.nan)


def _within(own: _Own, rows: int, kept: np.ndarray, y: np.ndarray, x: float) -> tuple[np.ndarray, np.ndarray]:
    """DP over the texts of the group, and the largest part one of them has; ``y`` hits of every row in the group, ``x``
    its words."""
    sizes = own.words[own.words > 0]
    if not len(sizes) or not len(kept):
        return np.full(len(kept), np.nan), np.zeros(len(kept))
    with np.errstate(divide="ignore", invalid="ignore"):
        share, of_words = (1 / y).take(own.row), own.size / x
        share *= own.hits
        beyond = share - of_words
        np.abs(beyond, out=beyond)
        beyond -= of_words
        # texts without the row are off by their words, the others by what they have more or less than these
        off = 1 + np.bincount(own.row, weights=beyond, minlength=rows)
        most = np.zeros(rows)
        np.maximum.at(most, own.row, share)
        least = 1 - sizes.min() / x if len(sizes) > 1 else np.nan
        even = np.where(y > 0, off / 2 / least, np.nan)
    return even[kept], most[kept]


def most_typical(found: Keyness, order: str, descending: bool = True, rare: bool = False) -> np.ndarray:
    """Places of the rows in an order of ORDERS; those more frequent in the group, or with ``rare`` those rarer there."""
    rows = np.flatnonzero(found.ratio < 0 if rare else found.ratio > 0)
    if order == "name":
        return rows[::-1] if descending else rows  # rows ascend by name
    value = {
        "g2": np.abs(found.g2),
        "ratio": np.abs(found.ratio),
        "odds": np.abs(found.odds),
        "p": -found.adjusted,
        "hits": found.hits[:, 0],
        "texts": found.texts[:, 0],
        "evenness": found.evenness,
    }[order][rows].astype(float)
    value = -value if descending else value
    ties = -np.abs(found.g2[rows])
    chosen: np.ndarray = rows[np.lexsort((ties, np.where(np.isnan(value), np.inf, value)))]
    return chosen
