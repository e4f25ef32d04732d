"""Passages of a project as columns, and what is counted of them."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, fields
from typing import Any, NamedTuple

import numpy as np


class CodeCount(NamedTuple):
    """Of a code with all below it: passages, and texts with one. The same words of one coder under several of
    its codes count once. ``own`` are those under the code itself."""

    passages: int
    texts: int
    own: int


@dataclass(frozen=True)
class Passages:
    """Columns of one length, sorted by text, start, end, id; places in code points, ``strength`` 0 where none
    is given."""

    id: np.ndarray
    text_id: np.ndarray
    code_id: np.ndarray
    start: np.ndarray
    end: np.ndarray
    made_by: np.ndarray
    strength: np.ndarray

    def __len__(self) -> int:
        return len(self.id)

    @classmethod
    def of(cls, columns: Mapping[str, np.ndarray]) -> Passages:
        """From columns in any order."""
        order = np.lexsort([columns[name] for name in ("id", "end", "start", "text_id")])
        return cls(**{one.name: columns[one.name][order] for one in fields(cls)})

    def columns(self) -> dict[str, np.ndarray]:
        return {one.name: getattr(self, one.name) for one in fields(self)}

    def taken(self, which: np.ndarray) -> Passages:
        """Those a mask or places say, in order."""
        return Passages(**{name: values[which] for name, values in self.columns().items()})

    def with_texts(self, text_ids: Collection[int], fresh: Passages) -> Passages:
        """All passages of some texts replaced by ``fresh`` ones."""
        stay = self.taken(~np.isin(self.text_id, np.fromiter(text_ids, np.int64, len(text_ids))))
        both = {
            name: np.concatenate([values, getattr(fresh, name)]) for name, values in stay.columns().items()
        }
        return Passages.of(both)


NAMES = tuple(one.name for one in fields(Passages))
KINDS: dict[str, Any] = dict.fromkeys(NAMES, np.int64) | {
    "start": np.int32,
    "end": np.int32,
    "strength": np.int8,
}


def empty() -> Passages:
    return Passages(**{name: np.empty(0, kind) for name, kind in KINDS.items()})


def count_codes(passages: Passages, below: Mapping[int, Collection[int]]) -> dict[int, CodeCount]:
    """Counts for each code; ``below`` lists it with all codes under it."""
    own_ids, own_counts = np.unique(passages.code_id, return_counts=True)
    own = dict(zip(own_ids.tolist(), own_counts.tolist(), strict=True))
    by_code = np.argsort(passages.code_id, kind="stable")
    edges = np.searchsorted(passages.code_id[by_code], own_ids, "left").tolist() + [len(by_code)]
    rows = {
        code: by_code[low:high] for code, low, high in zip(own_ids.tolist(), edges, edges[1:], strict=False)
    }
    out = {}
    for code, under in below.items():
        parts = [rows[one] for one in under if one in rows]
        if not parts:
            out[code] = CodeCount(0, 0, 0)
        elif len(parts) == 1:
            texts = passages.text_id[parts[0]]
            out[code] = CodeCount(len(texts), _different(texts), own.get(code, 0))
        else:
            at = np.sort(np.concatenate(parts))
            texts, start = passages.text_id[at], passages.start[at]
            end, by = passages.end[at], passages.made_by[at]
            order = np.lexsort([by, end, start, texts])
            steps = [np.diff(one[order]) != 0 for one in (texts, start, end, by)]
            once = 1 + int(np.logical_or.reduce(steps).sum())
            out[code] = CodeCount(once, _different(texts), own.get(code, 0))
    return out


def _different(in_order: np.ndarray) -> int:
    """How many values there are in a sorted column."""
    return int((np.diff(in_order) != 0).sum()) + bool(len(in_order))
