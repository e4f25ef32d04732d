"""A segment with some of its texts only, without reading them again."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from winnower.core.index.build import write_segment
from winnower.core.index.segment import Segment


def take_texts(folder: Path, segment: Segment, texts: np.ndarray) -> Segment:
    """The texts at these places (int, ascending) of a segment, written into ``folder``.

    Forms that only the others had are left out of the vocabulary.
    """
    keep = np.zeros(segment.n_texts, bool)
    keep[texts] = True
    token = np.repeat(keep, np.diff(segment.text_start))
    codes = segment.codes[token]
    used = np.zeros(segment.n_forms, bool)
    used[codes] = True
    place = np.cumsum(used, dtype=np.int32) - np.int32(1)
    lengths = np.diff(segment.text_start)[keep]

    def starts(name: str) -> np.ndarray:
        begins = np.zeros(segment.n_tokens, bool)
        begins[getattr(segment, name)] = True
        return np.flatnonzero(begins[token]).astype(np.int32)

    return write_segment(
        folder,
        segment.vocabulary.filter(used),
        {
            "text_id": segment.text_id[keep],
            "text_start": np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64),
            "codes": place[codes],
            "char_start": segment.char_start[token],
            "sentence_start": starts("sentence_start"),
            "paragraph_start": starts("paragraph_start"),
        },
    )
