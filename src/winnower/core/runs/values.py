"""Values of a field as what a run finds: whole texts that have them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from winnower.core.errors import WinnowerError
from winnower.core.index import TokenIndex
from winnower.core.runs.found import Found
from winnower.core.scope import CategoryColumn, SeveralColumn
from winnower.core.scope.columns import Column

NO_VALUES = "This field has no list of values to code by; choose one with categories."


def values_of(column: Column | None) -> tuple[str, ...]:
    """The values a run can code by. Raises WinnowerError for a field without a list of values."""
    if isinstance(column, (CategoryColumn, SeveralColumn)):
        return tuple(column.labels)
    raise WinnowerError(NO_VALUES)


def find_values(column: Column, values: Sequence[str], index: TokenIndex, mask: np.ndarray) -> Found:
    """Whole texts of ``mask`` (bool per text) with each of some values; the value is target and reason. Texts without
    a word cannot be coded."""
    if not isinstance(column, (CategoryColumn, SeveralColumn)):
        raise WinnowerError(NO_VALUES)
    labels = column.labels
    number = {label: at for at, label in enumerate(values)}
    target_of = np.asarray([number.get(label, -1) for label in labels] or [-1], np.int64)
    if isinstance(column, SeveralColumn):
        text = np.repeat(np.arange(len(column.start) - 1), np.diff(column.start))
        codes = column.codes.astype(np.int64)
    else:
        text = np.flatnonzero(column.codes >= 0)
        codes = column.codes[text].astype(np.int64)
    target = target_of[codes] if len(codes) else np.empty(0, np.int64)
    text_start, length = _bounds(index)
    keep = (target >= 0) & mask[text] & (length[text] > 0)
    text, target = text[keep], target[keep]
    start = text_start[text]
    end = start + length[text]
    found = Found.plain(text, start, end, target, target, start, start, np.ones(len(text), np.int64))
    return found.some(np.lexsort((target, text)))


def whole_texts(index: TokenIndex, mask: np.ndarray) -> Found:
    """All texts of ``mask`` with words, for the first target."""
    start, length = _bounds(index)
    text = np.flatnonzero(mask & (length > 0))
    none = np.zeros(len(text), np.int64)
    low = start[text]
    return Found.plain(text, low, low + length[text], none, none, low, low, none + 1)


def _bounds(index: TokenIndex) -> tuple[np.ndarray, np.ndarray]:
    """First token of each text within its segment, and how many it has."""
    starts = [segment.text_start.astype(np.int64) for segment in index.segments]
    if not starts:
        return np.empty(0, np.int64), np.empty(0, np.int64)
    return np.concatenate([one[:-1] for one in starts]), np.concatenate([np.diff(one) for one in starts])


def yes_no(column: Column, value: str) -> np.ndarray:
    """float64 per text: 1 where it has the value, 0 where it has others, NaN where it has none at all."""
    labels = values_of(column)
    assert isinstance(column, (CategoryColumn, SeveralColumn))
    number = labels.index(value)
    if isinstance(column, CategoryColumn):
        return np.where(column.codes < 0, np.nan, (column.codes == number).astype(float))
    sizes = np.diff(column.start)
    text = np.repeat(np.arange(len(sizes)), sizes)
    has = np.bincount(text, weights=column.codes == number, minlength=len(sizes)) > 0
    return np.where(sizes == 0, np.nan, has.astype(float))
