"""Passages of a project as columns, and what is counted of them."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

#: From this part of all passages on, some are gathered by a mask instead of by sorting.
SPARSE = 50


class CodeCount(NamedTuple):
    """Of a code with all below it: passages, and texts with one. The same words of one coder under several of
    its codes count once. ``own`` are those under the code itself."""

    passages: int
    texts: int
    own: int


@dataclass(frozen=True)
class Passages:
    """Columns of one length, sorted by text, start, end, coder, id; places in code points, ``strength`` 0 where none
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
        order = np.lexsort([columns[name] for name in ("id", "made_by", "end", "start", "text_id")])
        return cls(**{one.name: columns[one.name][order] for one in fields(cls)})

    def columns(self) -> dict[str, np.ndarray]:
        return {one.name: getattr(self, one.name) for one in fields(self)}

    def taken(self, which: np.ndarray) -> Passages:
        """Those a mask or places say, in order."""
        return Passages(**{name: values[which] for name, values in self.columns().items()})

    @cached_property
    def by_code(self) -> dict[int, np.ndarray]:
        """Places of the passages of each code, in order."""
        if not len(self):
            return {}
        code = self.code_id - self.code_id.min()
        if int(code.max()) < 2**16:
            code = code.astype(np.uint16)  # sorted by counting, many times as fast
        order = np.argsort(code, kind="stable")
        in_order = code[order]
        first = np.concatenate([[0], np.flatnonzero(in_order[1:] != in_order[:-1]) + 1])
        return dict(zip(self.code_id[order[first]].tolist(), np.split(order, first[1:]), strict=True))

    @cached_property
    def words_of_coder(self) -> np.ndarray:
        """int32 per passage, ascending: the same for the same words of the same coder."""
        steps = [_begins(getattr(self, name)) for name in ("text_id", "start", "end", "made_by")]
        return np.cumsum(np.logical_or.reduce(steps), dtype=np.int32)

    @cached_property
    def text_number(self) -> np.ndarray:
        """int32 per passage: its text, numbered in their order."""
        return np.cumsum(_begins(self.text_id), dtype=np.int32)

    @cached_property
    def texts(self) -> np.ndarray:
        """int64: each text with a passage once, in their order; ``text_number`` counts them from 1."""
        found: np.ndarray = self.text_id[_begins(self.text_id)]
        return found

    def under(self, codes: Collection[int]) -> np.ndarray:
        """Places of the passages of some codes, in order; of several the same words of one coder once."""
        parts = [self.by_code[code] for code in codes if code in self.by_code]
        if not parts:
            return np.empty(0, np.int64)
        if len(parts) == 1:
            return parts[0]
        if sum(map(len, parts)) * SPARSE > len(self):
            mask = np.zeros(len(self), bool)
            for part in parts:
                mask[part] = True
            at = np.flatnonzero(mask)
        else:
            at = np.sort(np.concatenate(parts))
        found: np.ndarray = at[_begins(self.words_of_coder[at])]
        return found

    def with_texts(self, text_ids: Collection[int], fresh: Passages) -> Passages:
        """All passages of some texts replaced by ``fresh`` ones."""
        stay = self.taken(~np.isin(self.text_id, np.fromiter(text_ids, np.int64, len(text_ids))))
        both = {
            name: np.concatenate([values, getattr(fresh, name)]) for name, values in stay.columns().items()
        }
        return Passages.of(both)


def _begins(values: np.ndarray) -> np.ndarray:
    """bool: differs from the one before it, as the first does."""
    found = np.ones(len(values), bool)
    np.not_equal(values[1:], values[:-1], out=found[1:])
    return found


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
    counted, texts = count_in_groups(passages, np.zeros(len(passages), np.int64), 1, below)
    rows = zip(below, counted[:, 0].tolist(), texts[:, 0].tolist(), strict=True)
    return {code: CodeCount(n, of, len(passages.by_code.get(code, ()))) for code, n, of in rows}


def count_in_groups(
    passages: Passages, group: np.ndarray, n_groups: int, below: Mapping[int, Collection[int]]
) -> tuple[np.ndarray, np.ndarray]:
    """Passages and texts of each code in each group, (codes, groups); ``group`` of each passage, -1 for none."""
    counted = np.zeros((len(below), n_groups), np.int64)
    texts = np.zeros_like(counted)
    group = group.astype(np.int64, copy=False)
    single = [row for row, under in enumerate(below.values()) if len(under) == 1]
    codes = list(below)
    _count_single(passages, group, [codes[row] for row in single], single, counted, texts)
    all_grouped = not len(group) or int(group.min()) >= 0
    for row, under in enumerate(below.values()):
        if len(under) == 1:
            continue
        at = passages.under(under)
        at = at if all_grouped else at[group[at] >= 0]
        of_group = group[at]
        counted[row] = np.bincount(of_group, minlength=n_groups)
        texts[row] = np.bincount(of_group[_begins(passages.text_number[at])], minlength=n_groups)
    return counted, texts


def _count_single(
    passages: Passages,
    group: np.ndarray,
    codes: list[int],
    rows: list[int],
    counted: np.ndarray,
    texts: np.ndarray,
) -> None:
    """Fill the rows of codes with none below them, all at once: there is nothing to count only once but texts."""
    row_of = {code: row for code, row in zip(codes, rows, strict=True) if code in passages.by_code}
    if not row_of:
        return
    parts = [passages.by_code[code] for code in row_of]
    at = np.concatenate(parts)
    row = np.repeat(np.fromiter(row_of.values(), np.int64), [len(part) for part in parts])
    of_group = group[at]
    if len(of_group) and int(of_group.min()) < 0:
        keep = of_group >= 0
        at, row, of_group = at[keep], row[keep], of_group[keep]
    cell = row * counted.shape[1] + of_group
    new = _begins(passages.text_number[at])
    new |= _begins(row)
    counted += np.bincount(cell, minlength=counted.size).reshape(counted.shape)
    texts += np.bincount(cell[new], minlength=counted.size).reshape(counted.shape)
