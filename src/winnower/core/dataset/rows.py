"""Rows of a table for statistics: texts, sentences, coded passages, or decisions of coders, with where they stand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from winnower.core.coding import Passages
from winnower.core.coding.passages import count_in_groups
from winnower.core.errors import ComparisonError
from winnower.core.index import TokenIndex
from winnower.core.places.stretches import token_spans
from winnower.core.places.units import units_of

#: Of so many decisions and more a table is not made.
MOST_DECISIONS = 50_000_000


@dataclass(frozen=True)
class DataRows:
    """int64 arrays of one length, in the order of the corpus.

    text   the place of the row's text
    low    its first token, counted over all segments
    high   the token after its last; ``low`` where it has none
    own    what only rows of this kind have, by name: whole numbers, 0 and 1, or keys of what is looked up
    """

    text: np.ndarray
    low: np.ndarray
    high: np.ndarray
    own: Mapping[str, np.ndarray] = field(default_factory=dict)

    def __len__(self) -> int:
        return len(self.text)


def text_bounds(index: TokenIndex) -> tuple[np.ndarray, np.ndarray]:
    """int64 per text: its first token over all segments, and the one after its last."""
    lows, highs, base = [np.empty(0, np.int64)], [np.empty(0, np.int64)], 0
    for segment in index.segments:
        start = segment.text_start.astype(np.int64) + base
        lows.append(start[:-1])
        highs.append(start[1:])
        base += segment.n_tokens
    return np.concatenate(lows), np.concatenate(highs)


def text_rows(index: TokenIndex, mask: np.ndarray) -> DataRows:
    """One row a text of ``mask`` (bool per text)."""
    text = np.flatnonzero(mask)
    low, high = text_bounds(index)
    return DataRows(text, low[text], high[text])


def sentence_rows(index: TokenIndex, mask: np.ndarray) -> DataRows:
    """One row a sentence of the texts of ``mask``, numbered within its text from 1, with its paragraph."""
    units, paragraphs = units_of(index, "sentence"), units_of(index, "paragraph")
    at = np.flatnonzero(mask[units.text])
    paragraph = np.searchsorted(paragraphs.start, units.start[at], "right") - 1
    first_sentence = np.searchsorted(units.text, units.text[at])
    first_paragraph = np.searchsorted(paragraphs.text, units.text[at])
    own = {"sentence": at - first_sentence + 1, "paragraph": paragraph - first_paragraph + 1, "unit": at}
    return DataRows(units.text[at], units.start[at], units.after[at], own)


def passage_rows(index: TokenIndex, passages: Passages, text: np.ndarray) -> DataRows:
    """One row a passage; ``text`` is the place of each one's text, -1 for those that are left out."""
    order = np.argsort(text, kind="stable")
    order = order[text[order] >= 0]
    passages, text = passages.taken(order), text[order].astype(np.int64)
    first, length = token_spans(text, passages.start, passages.end, index)
    sizes = np.concatenate([[0], np.cumsum([segment.n_tokens for segment in index.segments])])
    low = first + sizes[np.searchsorted(index.base, text, side="right") - 1]
    own = {
        "passage": passages.id,
        "code": passages.code_id,
        "coder": passages.made_by,
        "start": passages.start.astype(np.int64),
        "end": passages.end.astype(np.int64),
        "strength": passages.strength.astype(np.int64),
    }
    return DataRows(text, low, low + length, own)


def decision_rows(
    index: TokenIndex,
    passages: Passages,
    text: np.ndarray,
    worked: tuple[np.ndarray, np.ndarray],
    below: Mapping[int, Sequence[int]],
) -> DataRows:
    """One row for each code and each person who coded in a text or said to be through with it: how many passages.

    ``text`` is the place of each passage's text, -1 for those left out; ``worked`` texts (places) and people who are
    through with them; ``below`` each code with all under it. What runs found decides nothing. Raises
    ComparisonError for more than MOST_DECISIONS rows.
    """
    by_hand = (text >= 0) & (passages.made_by > 0)
    passages, text = passages.taken(by_hand), text[by_hand].astype(np.int64)
    people = np.unique(np.concatenate([passages.made_by, worked[1]]))
    step = max(len(people), 1)
    own = text * step + np.searchsorted(people, passages.made_by)
    done = worked[0].astype(np.int64) * step + np.searchsorted(people, worked[1])
    pairs = np.unique(np.concatenate([own, done]))
    if len(pairs) * len(below) > MOST_DECISIONS:
        raise ComparisonError(
            f"{len(pairs):,} texts and coders with {len(below):,} codes are too many rows. Narrow the scope."
        )
    counted, _ = count_in_groups(passages, np.searchsorted(pairs, own), len(pairs), below)
    where, who = np.divmod(pairs, step)
    codes = len(below)
    low, high = text_bounds(index)
    at = np.repeat(where, codes)
    found = counted.T.reshape(-1)
    return DataRows(
        at,
        low[at],
        high[at],
        {
            "coder": np.repeat(people[who] if len(people) else who, codes),
            "code": np.tile(np.fromiter(below, np.int64, codes), len(pairs)),
            "coded": (found > 0).astype(np.int64),
            "passages": found,
        },
    )
