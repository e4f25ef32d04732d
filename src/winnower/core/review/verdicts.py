"""Bring verdicts, which are kept by their words in a text, together with the hits there are now."""

from __future__ import annotations

import numpy as np
import polars as pl

from winnower.core.index import TokenIndex
from winnower.core.places import Places, places_in_texts

PLACE = ("text_id", "start", "end")
SHOWS = ("all", "right", "wrong", "differ", "idle")


def agreed(verdicts: pl.DataFrame, extra: tuple[str, ...] = ()) -> pl.DataFrame:
    """One verdict for each stretch of words: that of most people; where they are even, wrong.

    ``verdicts`` with text_id, start, end, verdict (0 or 1); gives the same columns, beside them ``judges``
    and ``differ``, whether people gave different verdicts. ``extra`` columns tell words of several subjects apart.
    """
    return verdicts.group_by(*extra, "text_id", "start", "end", maintain_order=True).agg(
        (pl.col("verdict").mean() > 0.5).cast(pl.Int8).alias("verdict"),
        pl.len().alias("judges"),
        (pl.col("verdict").n_unique() > 1).alias("differ"),
    )


def _in_judged_texts(hits: Places, index: TokenIndex, verdicts: pl.DataFrame) -> np.ndarray:
    """Which hits lie in texts with verdicts: only these can have been judged."""
    judged_texts = np.isin(index.text_id[hits.text], verdicts["text_id"].unique().to_numpy())
    return np.flatnonzero(judged_texts)


def standing(verdicts: pl.DataFrame, hits: Places, index: TokenIndex) -> pl.DataFrame:
    """What ``agreed`` gives with ``stands``: whether the very same words are one of the hits now."""
    some = _in_judged_texts(hits, index, verdicts)
    part = hits.some(some)
    now = places_in_texts(part, index).with_columns(stands=pl.lit(True))
    joined = agreed(verdicts).join(now, on=["text_id", "start", "end"], how="left", maintain_order="left")
    return joined.with_columns(pl.col("stands").fill_null(False))


def texts_without(hits: Places | None, index: TokenIndex, mask: np.ndarray) -> np.ndarray:
    """bool per text: in ``mask``, with words, and with none of the hits. There something can be missed."""
    without = mask & (index.words > 0)
    if hits is not None:
        without[hits.text] = False
    return without


def standing_texts(verdicts: pl.DataFrame, without: np.ndarray, index: TokenIndex) -> pl.DataFrame:
    """What ``agreed`` gives for texts that were judged as a whole, with ``stands``: whether they are still
    among those without a hit (bool per text)."""
    texts = agreed(verdicts)
    still = np.isin(texts["text_id"].to_numpy(), index.text_id[without])
    return texts.with_columns(stands=pl.Series(still, dtype=pl.Boolean))


def said_by(places: pl.DataFrame, verdicts: pl.DataFrame, judge: int) -> pl.DataFrame:
    """The places this person judged, with this person's verdict in place of the one agreed on."""
    own = agreed(verdicts.filter(pl.col("made_by") == judge)).select(*PLACE, "verdict")
    return places.drop("verdict").join(own, on=PLACE, how="inner", maintain_order="left")


def shown(places: pl.DataFrame, show: str) -> pl.DataFrame:
    """Of places with ``stands`` those of one of SHOWS; "idle" do not stand, all the others do."""
    stands, yes = pl.col("stands"), pl.col("verdict") == 1
    which = {
        "all": stands,
        "right": stands & yes,
        "wrong": stands & ~yes,
        "differ": stands & pl.col("differ"),
        "idle": ~stands,
    }
    return places.filter(which[show])


def judged_hits(hits: Places, index: TokenIndex, verdicts: pl.DataFrame) -> np.ndarray:
    """int8 per hit: 1 right, 0 wrong, -1 not judged. Only verdicts on the very same words count."""
    if not len(verdicts):
        return np.full(hits.hits, -1, np.int8)
    some = _in_judged_texts(hits, index, verdicts)
    part = hits.some(some)
    joined = places_in_texts(part, index).join(
        agreed(verdicts), on=["text_id", "start", "end"], how="left", maintain_order="left"
    )
    out = np.full(hits.hits, -1, np.int8)
    out[some] = joined["verdict"].fill_null(-1).to_numpy()
    return out


def right_hits(hits: Places, index: TokenIndex, verdicts: pl.DataFrame) -> Places:
    """The hits that were judged right."""
    right = judged_hits(hits, index, verdicts) == 1
    return hits.some(right)
