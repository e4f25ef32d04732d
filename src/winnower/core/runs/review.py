"""What people said of the passages of a run: which are open, in what order they are looked at, how many are right."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl

from winnower.core.measure.agreement import nominal_alpha
from winnower.core.review import Quality, agreed, quality_of

Order = Literal["text", "source", "score", "chance"]
Show = Literal["all", "open", "right", "wrong", "differ"]
PLACE = ["target", "text_id", "start", "end"]


@dataclass(frozen=True)
class Tally:
    """Passages of a run, or of one target: how many, how many are judged right, wrong, or differently; in how many
    texts; and the precision that follows from them."""

    places: int
    texts: int
    right: int
    wrong: int
    differ: int
    precision: Quality


def with_verdicts(places: pl.DataFrame, verdicts: pl.DataFrame) -> pl.DataFrame:
    """Places (id, text_id, target, start, end, ...) with ``said``: int8 1 right, 0 wrong, -1 open, and ``differ``,
    whether people judged differently. ``verdicts`` with the columns of PLACE, verdict and made_by."""
    if not len(verdicts):
        return places.with_columns(said=pl.lit(-1, pl.Int8), differ=pl.lit(False))
    said = agreed(verdicts, ("target",)).select(*PLACE, said="verdict", differ="differ")
    joined = places.join(said, on=PLACE, how="left", maintain_order="left")
    return joined.with_columns(pl.col("said").fill_null(-1).cast(pl.Int8), pl.col("differ").fill_null(False))


def tally(judged: pl.DataFrame, stratum: np.ndarray) -> Tally:
    """Of places as ``with_verdicts`` gives them; ``stratum`` int per place, such as its source: verdicts are weighted
    by the passages they stand for."""
    said = judged["said"].to_numpy()
    return Tally(
        len(judged),
        judged["text_id"].n_unique(),
        int((said == 1).sum()),
        int((said == 0).sum()),
        int(judged["differ"].sum()),
        quality_of(said, stratum),
    )


@dataclass(frozen=True)
class Judges:
    """How far judges agree: places that at least two of them judged, how many of those all see alike, and
    Krippendorff's alpha for right and wrong (see core/measure/agreement.py); NaN where it is not defined."""

    several: int
    alike: int
    alpha: float


def agreement_of(verdicts: pl.DataFrame) -> Judges:
    """``verdicts`` with the columns of PLACE, verdict and made_by."""
    if not len(verdicts):
        return Judges(0, 0, float("nan"))
    place = verdicts.select(pl.struct(*PLACE).rank("dense").cast(pl.Int64) - 1).to_series().to_numpy()
    judge = verdicts["made_by"].rank("dense").cast(pl.Int64).to_numpy() - 1
    values = np.full((int(judge.max()) + 1, int(place.max()) + 1), np.nan)
    values[judge, place] = verdicts["verdict"].to_numpy()
    several = values[:, (~np.isnan(values)).sum(0) > 1]
    with np.errstate(all="ignore"):
        alike = np.nanmin(several, 0) == np.nanmax(several, 0) if several.size else np.empty(0, bool)
    return Judges(
        several.shape[1], int(alike.sum()), nominal_alpha(several) if several.size else float("nan")
    )


def queue(
    judged: pl.DataFrame, show: Show, order: Order, seed: int, source: np.ndarray | None = None
) -> np.ndarray:
    """Rows of ``judged`` to look at, in order: of texts as they stand, by their ``source`` (int per row), of the strongest
    score and the most hits first, or by chance. The order
    by chance is the same for a seed whatever was judged since, so that its beginning is a sample."""
    said = judged["said"].to_numpy()
    which = {
        "all": np.ones(len(said), bool),
        "open": said < 0,
        "right": said == 1,
        "wrong": said == 0,
        "differ": judged["differ"].to_numpy(),
    }[show]
    if order == "chance":
        rows = np.random.default_rng(seed).permutation(len(said))
    elif order == "score":
        score, hits = (judged[name].to_numpy().astype(np.int64) for name in ("score", "hits"))
        rows = np.lexsort((-hits, -np.abs(score)))
    elif order == "source" and source is not None:
        rows = np.argsort(source, kind="stable")
    else:
        rows = np.arange(len(said))
    found: np.ndarray = rows[which[rows]]
    return found
