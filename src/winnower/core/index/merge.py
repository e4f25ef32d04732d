"""Join small segments into one, without reading the texts again."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import numpy as np
import polars as pl

from winnower.core.index.build import write_segment
from winnower.core.index.segment import Segment


def merge_segments(folder: Path, parts: Sequence[Segment]) -> Segment:
    """One segment with the texts of ``parts`` in their order, written into ``folder``."""
    vocabulary, places = _join_vocabularies([part.vocabulary for part in parts])
    token_base = np.concatenate([[0], np.cumsum([part.n_tokens for part in parts])])
    starts = [part.text_start[:-1] + base for part, base in zip(parts, token_base, strict=False)]

    def shifted(name: str) -> np.ndarray:
        pairs = zip(parts, token_base, strict=False)
        return np.concatenate([getattr(part, name) + np.int32(base) for part, base in pairs])

    def joined(name: str) -> np.ndarray:
        return np.concatenate([getattr(part, name) for part in parts])

    return write_segment(
        folder,
        vocabulary,
        {
            "text_id": joined("text_id"),
            "text_start": np.concatenate([*starts, token_base[-1:]]).astype(np.int64),
            "codes": np.concatenate([place[part.codes] for part, place in zip(parts, places, strict=True)]),
            "char_start": joined("char_start"),
            "sentence_start": shifted("sentence_start").astype(np.int32),
            "paragraph_start": shifted("paragraph_start").astype(np.int32),
        },
    )


def _join_vocabularies(tables: list[pl.DataFrame]) -> tuple[pl.DataFrame, list[np.ndarray]]:
    """The union of vocabularies, and for each of them the new row of each of its forms."""
    whole = pl.concat(tables).unique(subset="surface", maintain_order=False).sort("fold", "surface")
    numbered = whole.select("surface").with_row_index("place")
    places = [
        table.select("surface")
        .join(numbered, on="surface", how="left", maintain_order="left")["place"]
        .to_numpy()
        .astype(np.int32)
        for table in tables
    ]
    return whole, places
