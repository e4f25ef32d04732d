"""What a project knows of earlier deliveries, and how a table is taken by it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from winnower.readers.lots import Lot
from winnower.readers.mapping import Mapping, Target


@dataclass(frozen=True)
class Line:
    """A kind of delivery the project has had, and how it was taken."""

    token: str
    name: str
    mapping: Mapping


@dataclass(frozen=True)
class Known:
    """The kinds of deliveries, and the kinds of variables by their names."""

    lines: Sequence[Line] = ()
    kinds: dict[str, str] = field(default_factory=dict)


def as_before(lot: Lot, guessed: Mapping, known: Known) -> Mapping:
    """How a table is taken in a project that is not new to such."""
    return with_kinds(_like_before(lot, guessed, known.lines), known.kinds)


def with_kinds(mapping: Mapping, kinds: dict[str, str]) -> Mapping:
    """Columns that bear the name of a variable become what that variable is."""

    def fitting(target: Target) -> Target:
        kind = kinds.get(target.name or target.column, target.kind)
        return replace(target, kind=kind) if target.role == "variable" and kind != target.kind else target

    return replace(mapping, targets=tuple(fitting(target) for target in mapping.targets))


def _like_before(lot: Lot, guessed: Mapping, lines: Sequence[Line]) -> Mapping:
    """A table with the same key column and mostly the columns of an earlier delivery is taken as more of
    it; columns that are new are taken as guessed."""
    for line in lines:
        before = line.mapping
        columns = {target.column for target in before.targets}
        if not line.token and guessed.column("key"):
            return replace(guessed, line="")  # the project is older than kinds of deliveries
        key = before.column("key")
        shared = columns & set(lot.header)
        if key not in shared or len(shared) * 2 < max(len(columns), len(lot.header)):
            continue
        if any(t.role == "text" and t.column not in shared for t in before.targets):
            continue
        kept = {target.column: target for target in before.targets}
        fresh = {t.column: t for t in guessed.targets if t.column not in kept}
        for name, target in fresh.items():
            if target.role not in ("variable", "note", "skip"):
                fresh[name] = replace(target, role="variable", name=target.name or name)
        targets = tuple(kept.get(name) or fresh[name] for name in lot.header)
        return replace(before, targets=targets, line=line.token)
    return guessed
