"""What all verdicts on a subject say: its precision, what is missed, and on what people differ."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.index import TokenIndex
from winnower.core.places import Places
from winnower.core.review.quality import Missed, Quality, missed_texts, precision, quality_of, text_quality_of
from winnower.core.review.verdicts import judged_hits, standing, standing_texts, texts_without


@dataclass(frozen=True)
class Summary:
    """``whole`` precision of the hits, ``missed`` texts, how many words people judged differently; texts of
    the scope with a hit and without one."""

    whole: Quality
    missed: Missed
    disagreements: int
    with_hit: int
    without_hit: int


def summarise(
    hits: Places | None,
    on_hits: pl.DataFrame,
    on_texts: pl.DataFrame,
    index: TokenIndex,
    mask: np.ndarray,
    stratum: np.ndarray,
) -> Summary:
    """Only verdicts on words that are hits now, and on texts that still have none, count.

    ``on_hits`` and ``on_texts`` hold text_id, start, end, verdict and made_by; ``mask`` bool and
    ``stratum`` int per text, such as its source: what samples are balanced over.
    """
    whole = of_texts = precision(0, 0)
    if hits is not None:
        judged = judged_hits(hits, index, on_hits)
        whole = quality_of(judged, stratum[hits.text])
        of_texts = text_quality_of(judged, hits.text, stratum[hits.text])
    places = texts_without(hits, index, mask)
    said = standing_texts(on_texts, places, index).filter("stands")["verdict"]
    without = int(places.sum())
    with_hit = int((mask & (index.words > 0)).sum()) - without
    differ = 0
    if hits is not None and len(on_hits):
        now = standing(on_hits, hits, index)
        differ = int((now["stands"] & now["differ"]).sum())
    missed = missed_texts(int(said.sum()), len(said), without, with_hit, of_texts)
    return Summary(whole, missed, differ, with_hit, without)
