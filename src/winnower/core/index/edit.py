"""A segment with some of its texts, or some of its words, only, without reading them again."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from winnower.core.index.build import with_inversion, write_segment
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


def take_tokens(segment: Segment, keep: np.ndarray) -> Segment:
    """All texts of a segment with these tokens only (bool per token), in memory.

    Words on both sides of a gap are not neighbours: a sentence and a stretch begin after each. A paragraph keeps
    its number in its text.
    """
    codes = segment.codes[keep]
    used = np.zeros(segment.n_forms, bool)
    used[codes] = True
    place = np.cumsum(used, dtype=np.int32) - np.int32(1)
    before = np.concatenate([[0], np.cumsum(keep)])
    text_start = before[segment.text_start].astype(np.int64)
    begins = keep & ~np.concatenate([[False], keep[:-1]])
    begins[segment.text_start[:-1][np.diff(segment.text_start) > 0]] = True
    stretches = np.unique(before[np.flatnonzero(begins & keep)])
    sentences = np.union1d(before[segment.sentence_start], stretches)
    # a paragraph without a word left is where the next one begins, as long as that is in its text
    paragraphs = before[segment.paragraph_start]
    inside = paragraphs < text_start[segment.text_of[segment.paragraph_start] + 1]
    arrays = {
        "text_id": np.asarray(segment.text_id),
        "text_start": text_start,
        "codes": place[codes],
        "char_start": segment.char_start[keep],
        "sentence_start": sentences[sentences < len(codes)].astype(np.int32),
        "paragraph_start": paragraphs[inside].astype(np.int32),
    }
    vocabulary = segment.vocabulary.filter(used)
    return Segment.part_of(segment, used, with_inversion(vocabulary, arrays), stretches)
