"""How passages lie to one another: by array work on places sorted by text and start.

A place is written as one number, text * STEP + code point, so that comparing numbers compares places and no
place of one text lies before one of an earlier text.
"""

from __future__ import annotations

import numpy as np

from winnower.core.coding.passages import Passages

#: More than any text has code points.
STEP = 1 << 32
RELATIONS = ("overlapping", "inside", "around", "followed by", "after", "in one text")


def _at(text_id: np.ndarray, place: np.ndarray) -> np.ndarray:
    found: np.ndarray = text_id.astype(np.int64) * STEP + place
    return found


def overlapping(of: Passages, others: Passages) -> np.ndarray:
    """bool: shares at least a letter with one of ``others``."""
    starts = np.sort(_at(others.text_id, others.start))
    ends = np.sort(_at(others.text_id, others.end))
    begun = np.searchsorted(starts, _at(of.text_id, of.end), "left")
    over = np.searchsorted(ends, _at(of.text_id, of.start), "right")
    found: np.ndarray = begun > over
    return found


def inside(of: Passages, others: Passages) -> np.ndarray:
    """bool: lies within one of ``others``, or on the same words."""
    if not len(others):
        return np.zeros(len(of), bool)
    starts = _at(others.text_id, others.start)
    furthest = np.maximum.accumulate(_at(others.text_id, others.end))
    at = np.searchsorted(starts, _at(of.text_id, of.start), "right") - 1
    found: np.ndarray = (at >= 0) & (furthest[np.maximum(at, 0)] >= _at(of.text_id, of.end))
    return found


def around(of: Passages, others: Passages) -> np.ndarray:
    """bool: one of ``others`` lies within it, or on the same words."""
    if not len(others):
        return np.zeros(len(of), bool)
    starts = _at(others.text_id, others.start)
    nearest = np.minimum.accumulate(_at(others.text_id, others.end)[::-1])[::-1]
    at = np.searchsorted(starts, _at(of.text_id, of.start), "left")
    found: np.ndarray = (at < len(starts)) & (
        nearest[np.minimum(at, len(starts) - 1)] <= _at(of.text_id, of.end)
    )
    return found


def followed_by(of: Passages, others: Passages) -> np.ndarray:
    """bool: one of ``others`` begins after it in the same text."""
    starts = np.sort(_at(others.text_id, others.start))
    begun = np.searchsorted(starts, _at(of.text_id, of.end), "left")
    of_text = np.searchsorted(starts, (of.text_id.astype(np.int64) + 1) * STEP, "left")
    found: np.ndarray = of_text > begun
    return found


def after(of: Passages, others: Passages) -> np.ndarray:
    """bool: one of ``others`` ends before it begins, in the same text."""
    ends = np.sort(_at(others.text_id, others.end))
    over = np.searchsorted(ends, _at(of.text_id, of.start), "right")
    of_text = np.searchsorted(ends, of.text_id.astype(np.int64) * STEP, "left")
    found: np.ndarray = over > of_text
    return found


def in_one_text(of: Passages, others: Passages) -> np.ndarray:
    """bool: one of ``others`` is in the same text."""
    found: np.ndarray = np.isin(of.text_id, others.text_id)
    return found


def near(
    text_id: np.ndarray, span: tuple[np.ndarray, np.ndarray], other_text: np.ndarray,
    other_span: tuple[np.ndarray, np.ndarray], within: int,
) -> np.ndarray:  # fmt: skip
    """bool: at most ``within`` units lie between it and one of the others in the same text, before or after.

    ``span`` holds the first unit of each and the one after its last, ``other_span`` the same of the others.
    """
    starts = np.sort(_at(other_text, other_span[0]))
    ends = np.sort(_at(other_text, other_span[1]))
    begun = np.searchsorted(starts, _at(text_id, span[1].astype(np.int64) + within), "right")
    over = np.searchsorted(ends, _at(text_id, span[0].astype(np.int64) - within), "left")
    found: np.ndarray = begun > over
    return found


def related(relation: str, of: Passages, others: Passages) -> np.ndarray:
    """bool per passage of ``of``: stands so to one of ``others``. Raises KeyError for no relation."""
    return _BY_NAME[relation](of, others)


_BY_NAME = dict(zip(RELATIONS, (overlapping, inside, around, followed_by, after, in_one_text), strict=True))
