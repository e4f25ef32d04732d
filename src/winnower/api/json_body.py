"""JSON from outside: its depth and number of values are known before any of it is read.

A parser builds a Python value for each of millions of brackets and commas before it can be asked how many there
are; here they are counted in the bytes, as array work, and what is over a limit is refused unread.
"""

from __future__ import annotations

import re

import numpy as np
import orjson

from winnower.api.schemas.base import MOST_INT

DEEPEST = 64
#: More than the longest list any call takes (200,000 ids).
MOST_VALUES = 400_000
TOO_LARGE_A_NUMBER = "A number in the request is larger than any that is used here."
_LONG_NUMBER = re.compile(rb"\d{19,}")
_QUOTE, _BACKSLASH, _COMMA = 0x22, 0x5C, 0x2C


class BadBody(Exception):
    """A body that no call takes; its words say why."""


def read_json(body: bytes) -> object:
    """The value of a JSON body. Raises BadBody where it is nested too deep, holds too many values, or is no JSON."""
    deepest, values = measured(body)
    if deepest > DEEPEST:
        raise BadBody(f"The request is nested more than {DEEPEST} deep.")
    if values > MOST_VALUES:
        raise BadBody(f"The request holds more than {MOST_VALUES:,} values.")
    try:
        value: object = orjson.loads(body)
    except orjson.JSONDecodeError:
        raise BadBody("The request is not valid JSON, or holds a number or character that is none.") from None
    if _LONG_NUMBER.search(body) and _largest(value) > MOST_INT:
        raise BadBody(TOO_LARGE_A_NUMBER)
    return value


def measured(body: bytes) -> tuple[int, int]:
    """How deep brackets are nested outside strings, and how many values there are at the most (commas and brackets)."""
    signs = np.frombuffer(body, np.uint8)
    if not len(signs):
        return 0, 0
    quotes = signs == _QUOTE
    if (escapes := signs == _BACKSLASH).any():
        quotes &= ~_escaped(escapes)
    outside = np.cumsum(quotes, dtype=np.int32) % 2 == 0
    steps = np.zeros(len(signs), np.int8)
    steps[(signs == 0x5B) | (signs == 0x7B)] = 1
    steps[(signs == 0x5D) | (signs == 0x7D)] = -1
    steps *= outside
    values = int(np.count_nonzero((signs == _COMMA) & outside)) + int(np.count_nonzero(steps == 1)) + 1
    return int(np.cumsum(steps, dtype=np.int32).max(initial=0)), values


def _escaped(escapes: np.ndarray) -> np.ndarray:
    """Which signs have an odd number of backslashes before them."""
    at = np.arange(len(escapes), dtype=np.int32)
    last_other = np.maximum.accumulate(np.where(escapes, np.int32(-1), at))
    before = np.empty(len(escapes), np.int32)
    before[0] = 0
    before[1:] = at[:-1] - last_other[:-1]
    odd: np.ndarray = before % 2 == 1
    return odd


def _largest(value: object) -> float:
    """The largest number, whatever its sign."""
    found, level = 0.0, [value]
    while level:
        one = level.pop()
        if isinstance(one, (int, float)):
            found = max(found, abs(one))
        elif isinstance(one, dict):
            level += one.values()
        elif isinstance(one, list):
            level += one
    return found
