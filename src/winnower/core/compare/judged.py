"""What people's verdicts say of each cell: precision of its hits, texts that are missed, and rates corrected for both."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import polars as pl

from winnower.core.compare.targets import Corpus, Target
from winnower.core.errors import ScopeError
from winnower.core.measure import Interval, Rates, rate_interval, wilson_interval
from winnower.core.review import (
    Quality,
    judged_hits,
    precision,
    quality_of,
    standing_texts,
    text_quality_of,
    texts_without,
)
from winnower.core.scope import CategoryColumn, Ground

#: A cell with fewer verdicts is corrected with the precision of its whole row.
LEAST_JUDGED = 10


class RowVerdicts(NamedTuple):
    """Verdicts on hits of a row, and on texts without one: text_id, start, end, verdict, made_by."""

    on_hits: pl.DataFrame
    on_texts: pl.DataFrame


@dataclass(frozen=True)
class Shares:
    """Shares from verdicts; float arrays (K, G), and (K) for whole rows. NaN where nothing was judged.

    share, low, high   with Wilson's interval
    judged, effective  verdicts, and as many as an unweighted sample would need
    of_row             (share, judged, effective) of whole rows
    """

    share: np.ndarray
    low: np.ndarray
    high: np.ndarray
    judged: np.ndarray
    effective: np.ndarray
    of_row: np.ndarray

    @property
    def interval(self) -> Interval:
        return Interval(self.share, self.low, self.high)

    def best(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Share and effective verdicts of each cell: its own from LEAST_JUDGED verdicts on, else its row's, else NaN;
        and bool whether they are its own."""
        own = self.judged >= LEAST_JUDGED
        rows = np.where(self.of_row[1] >= LEAST_JUDGED, self.of_row[[0, 2]], np.nan)[:, :, None]
        return np.where(own, self.share, rows[0]), np.where(own, self.effective, rows[1]), own


@dataclass(frozen=True)
class Judged:
    """precision  of hits
    missed     of texts without a hit: that should have one
    of_texts   of texts with a hit: that rightly have one
    """

    precision: Shares
    missed: Shares
    of_texts: Shares


class _Filling:
    def __init__(self, rows: int, groups: int) -> None:
        self.cells, self.rows = np.full((5, rows, groups), np.nan), np.full((3, rows), np.nan)
        self.cells[3:], self.rows[1:] = 0, 0

    def put(self, row: int, group: int | None, found: Quality) -> None:
        if group is None:
            self.rows[:, row] = found.share, found.judged, found.effective
        else:
            self.cells[:, row, group] = found.share, found.low, found.high, found.judged, found.effective

    def shares(self) -> Shares:
        share, low, high, judged, effective = self.cells
        return Shares(share, low, high, judged, effective, self.rows)


def judged_of(
    target: Target, corpus: Corpus, ground: Ground, verdicts: Mapping[str, RowVerdicts], level: float
) -> Judged:
    """What the verdicts of rows, by their key, say of every cell. Raises ScopeError where texts are in several groups."""
    groups = ground.groups
    if groups.of_text is None:
        raise ScopeError("Some texts belong to several groups, so verdicts cannot be told for each of them.")
    stratum = _stratum(corpus)
    shape = len(target.rows), groups.n_groups
    hit, missed, of_texts = (_Filling(*shape) for _ in range(3))
    for row, named in enumerate(target.rows):
        if named.key not in verdicts:
            continue
        given = verdicts[named.key]
        places = target.places((row,), corpus, ground.mask)
        said = judged_hits(places, corpus.index, given.on_hits)
        group = groups.of_text[places.text]
        inside = group >= 0
        for at in (None, *np.unique(group[inside & (said >= 0)]).tolist()):
            some = inside if at is None else group == at
            hit.put(row, at, quality_of(said[some], stratum[places.text[some]], level))
            of_texts.put(
                row, at, text_quality_of(said[some], places.text[some], stratum[places.text[some]], level)
            )
        without = texts_without(places, corpus.index, ground.mask & (groups.of_text >= 0))
        texts = standing_texts(given.on_texts, without, corpus.index).filter("stands")
        of = groups.of_text[np.searchsorted(corpus.index.text_id, texts["text_id"].to_numpy())]
        verdict = texts["verdict"].to_numpy()
        for at in (None, *np.unique(of).tolist()):
            some = np.ones(len(of), bool) if at is None else of == at
            missed.put(row, at, precision(int(verdict[some].sum()), int(some.sum()), level))
    return Judged(hit.shares(), missed.shares(), of_texts.shares())


def _stratum(corpus: Corpus) -> np.ndarray:
    """What samples are balanced over: sources; int per text."""
    column = corpus.columns.fields.get("source")
    return column.codes if isinstance(column, CategoryColumn) else np.zeros(corpus.index.n_texts, np.int32)


def corrected_rates(rates: Rates, judged: Judged, level: float) -> Interval:
    """Rates times the precision of their hits; the interval holds what is not known of either.

    Errors of the logs are added up as variances (delta method), that of a precision P from n verdicts being
    (1 - P) / (P n) with half a verdict added to either side; degrees of freedom by Satterthwaite (1946).
    """
    share, effective, _ = judged.precision.best()
    with np.errstate(divide="ignore", invalid="ignore"):
        moved = (share * effective + 0.5) / (effective + 1)
        of_rate, of_share = rates.error**2, (1 - moved) / (moved * effective)
        df = (of_rate + of_share) ** 2 / (of_rate**2 / rates.df + of_share**2 / np.maximum(effective - 1, 1))
        error = np.sqrt(of_rate + of_share)
        return rate_interval(Rates(rates.value * share, np.where(share > 0, error, np.nan), df), level)


def corrected_texts(with_hit: np.ndarray, texts: np.ndarray, judged: Judged, level: float) -> Interval:
    """The share of texts that should have a hit: of those with one, that rightly have it, and of those without,
    that are missed. ``with_hit`` and ``texts`` float (K, G).

    With T of N texts hit, p of them right and m of the others missed: (p T + m (N - T)) / N. Its variance by the
    delta method, its interval Wilson's at the number of texts with that variance.
    """
    p, n_p, _ = judged.of_texts.best()
    m, n_m, _ = judged.missed.best()
    with np.errstate(divide="ignore", invalid="ignore"):
        t = with_hit / texts
        share = p * t + m * (1 - t)
        of_p, of_m = (
            one * (1 - one) / n
            for one, n in ((((p * n_p) + 0.5) / (n_p + 1), n_p), (((m * n_m) + 0.5) / (n_m + 1), n_m))
        )
        variance = t**2 * of_p + (1 - t) ** 2 * of_m + (p - m) ** 2 * t * (1 - t) / texts
        n = share * (1 - share) / variance
    known = np.isfinite(share) & np.isfinite(n) & (n > 0)
    n = np.where(known, n, 1.0)
    found = wilson_interval(np.where(known, share, 0) * n, n, level)
    return Interval(*(np.where(known, part, np.nan) for part in (share, found.low, found.high)))
