"""A codebook from rows: codes with their place in the tree, what they stand for, and the groups they are in.

Three layouts are read: the whole path in a column ("Livelihood > Losses"), a column for each level, or a column
that names the parent. A row a code; columns that are none of ours are groups, each code with something in the
cell being in it. Without a head the first column is the code, the second its description, all others are groups.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from winnower.core.errors import WinnowerError
from winnower.core.tree import MAX_NAME

LEVEL_SIGN = " > "
MAX_DEPTH = 8
WORDS = ("description", "rule", "example", "counter_example")
#: What columns may be called, besides their own names.
_CALLED = {
    "name": "code", "codes": "code", "path": "code", "definition": "description", "counter-example": "counter_example",
    "counterexample": "counter_example", "color": "colour", "emoji": "symbol", "parent code": "parent",
}  # fmt: skip
_KNOWN = {"code", "parent", "colour", "symbol", "technical", *WORDS}
#: Written by an export, and worked out anew here.
_PASSED_OVER = {"level", "passages", "texts", "words"}
_LEVEL = re.compile(r"level\s*(\d+)$")
_NO = {"", "0", "no", "false", "n", "-", "–"}


@dataclass(frozen=True)
class CodeGiven:
    """A code as a file gives it; ``values`` holds only what is said of it."""

    path: tuple[str, ...]
    values: Mapping[str, Any] = field(default_factory=dict)
    groups: tuple[str, ...] = ()


@dataclass(frozen=True)
class CodebookGiven:
    """What a file gave: codes, parents before children, each once; rows that were not taken, with the reason;
    names of the columns that were taken for groups; and how many rows said again what another had said."""

    codes: tuple[CodeGiven, ...]
    refused: tuple[tuple[int, str], ...] = ()
    groups: tuple[str, ...] = ()
    doubles: int = 0

    def without_groups(self) -> CodebookGiven:
        codes = tuple(replace(one, groups=()) for one in self.codes)
        return replace(self, codes=codes, groups=())


def has_head(names: Sequence[str]) -> bool:
    """Whether a first row names columns: one is called as a code's column may be."""
    plain = [_plain(name) for name in names]
    return any(name in ("code", "parent") or _LEVEL.match(name) for name in plain)


def _plain(name: str) -> str:
    low = " ".join(name.lower().split())
    return _CALLED.get(low, low)


def codebook_from_rows(
    columns: Sequence[str], rows: Iterable[tuple[int, Sequence[str]]], head: bool | None = None
) -> CodebookGiven:
    """Read rows (number, cells). ``head`` says whether ``columns`` are names or the first row; None: find out.

    Raises WinnowerError where no column holds codes, or no row could be taken.
    """
    if head is None:
        head = has_head(columns)
    if head:
        names = [_plain(name) for name in columns]
    else:
        rows = [(1, list(columns)), *rows]
        names = ["code", "description", *columns[2:]][: len(columns)]
    levels = sorted((int(found[1]), at) for at, name in enumerate(names) if (found := _LEVEL.match(name)))
    if "code" not in names and not levels:
        raise WinnowerError(
            f"No column of the file holds codes. Columns found: {', '.join(columns)}. A codebook table needs a column "
            "“code”, or “level 1”, “level 2” and so on."
        )
    group_at = _group_columns(names, columns if head else [f"Column {at + 1}" for at in range(len(columns))])
    refused: list[tuple[int, str]] = []
    read: list[tuple[int, CodeGiven, str]] = []
    for number, cells in rows:
        row = {name: cell.strip() for name, cell in zip(names, cells, strict=False) if cell and cell.strip()}
        if not row:
            continue
        groups = tuple(
            title
            for at, title in group_at.items()
            if at < len(cells) and cells[at].strip().lower() not in _NO
        )
        written = [cells[at] for _, at in levels if at < len(cells) and cells[at].strip()]
        path = _path(written if written else row.get("code", "").split(LEVEL_SIGN.strip()))
        reason = _refusal(path)
        if reason:
            refused.append((number, reason))
        else:
            read.append((number, CodeGiven(path, _values(row), groups), row.get("parent", "")))
    placed = (
        _under_parents(read, refused) if "parent" in names else [(number, one) for number, one, _ in read]
    )
    codes, doubles = _once(placed)
    if not codes:
        why = f" First reason: row {refused[0][0]}: {refused[0][1]}" if refused else ""
        raise WinnowerError(f"No row of the file could be taken for a code.{why}")
    return CodebookGiven(codes, tuple(sorted(refused)), tuple(group_at.values()), doubles)


def _group_columns(names: Sequence[str], titles: Sequence[str]) -> dict[int, str]:
    return {
        at: " ".join(titles[at].split())[:MAX_NAME]
        for at, name in enumerate(names)
        if name not in _KNOWN | _PASSED_OVER and not _LEVEL.match(name) and titles[at].strip()
    }


def _path(written: Iterable[str]) -> tuple[str, ...]:
    return tuple(" ".join(part.split()) for part in written)


def _refusal(path: tuple[str, ...]) -> str:
    if not any(path):
        return "There is no code in this row."
    if not all(path):
        return "A level of this code has no name."
    long = next((part for part in path if len(part) > MAX_NAME), None)
    if long:
        return f"“{long[:40]}…” has {len(long)} characters; a code's name can have at most {MAX_NAME}."
    if len(path) > MAX_DEPTH:
        return f"This code lies {len(path)} levels deep; codes can lie at most {MAX_DEPTH} levels deep."
    return ""


def _values(row: Mapping[str, str]) -> dict[str, Any]:
    out: dict[str, Any] = {name: row[name] for name in WORDS if name in row}
    if row.get("symbol"):
        out["symbol"] = row["symbol"][:16]
    colour = row.get("colour", "")
    if colour.isdecimal() and 1 <= int(colour) <= 10:
        out["colour"] = int(colour) - 1
    if "technical" in row:
        out["technical"] = row["technical"].lower() not in _NO
    return out


def _under_parents(
    read: Sequence[tuple[int, CodeGiven, str]], refused: list[tuple[int, str]]
) -> list[tuple[int, CodeGiven]]:
    """Codes with the names of all above them, where a column names the parent of each."""
    parent_of: dict[str, str] = {}
    for _, one, parent in read:
        parent_of.setdefault(one.path[-1], parent)
    out = []
    for number, one, parent in read:
        names, above = [*reversed(one.path)], parent
        while above and above not in names:
            names.append(above)
            above = parent_of.get(above, "")
        if above:
            refused.append((number, f"“{one.path[-1]}” lies in itself, by way of “{above}”."))
            continue
        path = tuple(reversed(names))
        reason = _refusal(path)
        if reason:
            refused.append((number, reason))
        else:
            out.append((number, CodeGiven(path, one.values, one.groups)))
    return out


def _once(placed: Iterable[tuple[int, CodeGiven]]) -> tuple[tuple[CodeGiven, ...], int]:
    """Each code once, with what several rows say of it together; those above it that had no row of their own
    come before it."""
    found: dict[tuple[str, ...], CodeGiven] = {}
    said: set[tuple[str, ...]] = set()
    doubles = 0
    for _, one in placed:
        for depth in range(1, len(one.path)):
            found.setdefault(one.path[:depth], CodeGiven(one.path[:depth]))
        before = found.get(one.path, CodeGiven(one.path))
        doubles += one.path in said
        said.add(one.path)
        groups = tuple(dict.fromkeys((*before.groups, *one.groups)))
        found[one.path] = CodeGiven(one.path, {**one.values, **before.values}, groups)
    return tuple(found.values()), doubles
