"""Stretches of texts with a label, such as turns or sections, as what a run finds."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import polars as pl

from winnower.core.index import TokenIndex
from winnower.core.places.stretches import as_places
from winnower.core.runs.found import Found


def find_stretches(
    stretches: pl.DataFrame, place: np.ndarray, labels: Sequence[str], index: TokenIndex
) -> Found:
    """``stretches`` with label, start, end (code points), ``place`` the place of the text of each, -1 where it is not
    in the corpus; the label is target and reason. Stretches without a word are left out."""
    number = {label: at for at, label in enumerate(labels)}
    of = np.asarray([number.get(label, -1) for label in stretches["label"].to_list()], np.int64)
    start, end = stretches["start"].to_numpy(), stretches["end"].to_numpy()
    keep = (of >= 0) & (place >= 0) & (start < end)
    keep[keep] = index.words[place[keep]] > 0
    parts = []
    for target in np.unique(of[keep]).tolist():
        at = np.flatnonzero(keep & (of == target))
        found = as_places(place[at], start[at], end[at], index)
        same = np.full(found.hits, target, np.int64)
        one = np.ones(found.hits, np.int64)
        parts.append(
            Found.plain(
                found.text, found.start, found.start + found.length, same, same,
                found.start, found.start, one,
            )
        )  # fmt: skip
    whole = Found.joined(parts)
    return whole.some(np.lexsort((whole.start, whole.target, whole.text)))


def until_next(begins: pl.DataFrame, level: int = 0) -> pl.DataFrame:
    """Where places of texts end: before the next one of the same text. ``begins`` with text_id, label, start, level
    and length, the length of the text. Of a ``level`` (not 0) only its own are given, each to before the next one
    of that level or a higher one: what stands under lower headings belongs to it. Headings without a level end
    none."""
    if level:
        begins = begins.filter(pl.col("level").is_between(1, level))
    ends = (
        begins.sort("text_id", "start", maintain_order=True)
        .with_columns(end=pl.col("start").shift(-1).over("text_id").fill_null(pl.col("length")))
        .drop("length")
    )
    return ends.filter(pl.col("level") == level) if level else ends
