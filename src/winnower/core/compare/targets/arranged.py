"""A target with some of its rows taken together or left out."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from winnower.core.compare.targets.base import Corpus, MethodPart, Row, Target
from winnower.core.errors import ComparisonError
from winnower.core.places import Places
from winnower.core.scope import Condition


def arranged_rows(target: Target, joined: Mapping[str, Sequence[str]], leave: Sequence[str]) -> Target:
    """The target with the rows in ``joined`` (name to keys) as one row each, without those in ``leave`` (keys).

    A row taken together stands where its first one stood, at the top level. Keys that are not there (any more) change
    nothing. Raises ComparisonError where no row is left, or a name is taken.
    """
    if not joined and not leave:
        return target
    name_of = {key: name for name, keys in joined.items() for key in keys}
    members: dict[tuple[bool, str], list[int]] = {}
    for at, row in enumerate(target.rows):
        if row.key not in leave:
            key = (True, name_of[row.key]) if row.key in name_of else (False, row.key)
            members.setdefault(key, []).append(at)
    if not members:
        raise ComparisonError(f"All {target.nouns[1]} are left out; take some of them back.")
    labels = {target.rows[places[0]].label for (one, _), places in members.items() if not one}
    taken = [name for one, name in members if one and name in labels]
    if taken:
        raise ComparisonError(
            f"There is a row “{taken[0]}” already; give what is taken together another name."
        )
    return ArrangedTarget(
        target, tuple((name if one else None, tuple(at)) for (one, name), at in members.items())
    )


@dataclass(frozen=True)
class ArrangedTarget:
    """Rows are groups of rows of the target they come from; the name is None for a row as it was."""

    of: Target = field(repr=False)
    members: tuple[tuple[str | None, tuple[int, ...]], ...]

    @property
    def name(self) -> str:
        return self.of.name

    @property
    def version(self) -> int | None:
        return self.of.version

    @property
    def nouns(self) -> tuple[str, str]:
        return self.of.nouns

    @property
    def conditions(self) -> tuple[Condition, ...]:
        return self.of.conditions

    @property
    def fields(self) -> frozenset[str]:
        return self.of.fields

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        place = {at: new for new, (name, rows) in enumerate(self.members) if name is None for at in rows}
        out = []
        for name, rows in self.members:
            row = self.of.rows[rows[0]]
            if name is not None:
                out.append(Row(name, name, name, 0, None, row.colour))
                continue
            parent = row.parent
            while parent is not None and parent not in place:
                parent = self.of.rows[parent].parent
            depth = 0 if parent is None else out[place[parent]].depth + 1
            out.append(replace(row, parent=None if parent is None else place[parent], depth=depth))
        return tuple(out)

    @cached_property
    def tested_rows(self) -> tuple[int, ...]:
        tested = set(self.of.tested_rows)
        found = tuple(at for at, (_, rows) in enumerate(self.members) if tested & set(rows))
        return found or tuple(at for at, row in enumerate(self.rows) if row.depth == 0)

    def _of(self, rows: Sequence[int]) -> list[int]:
        return [one for row in rows for one in self.members[row][1]]

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        rows = self._of([row])
        if len(rows) == 1:
            return self.of.texts_of_hits(rows[0], corpus)
        return self.of.places(rows, corpus, np.ones(corpus.index.n_texts, bool)).text

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        return self.of.places(self._of(rows), corpus, wanted)

    def subject(self, row: int) -> str:
        name, rows = self.members[row]
        return self.of.subject(rows[0]) if name is None else f"Hits of {name}"

    def method(self, texts: int) -> list[MethodPart]:
        gone = len(self.of.rows) - sum(len(rows) for _, rows in self.members)
        together = [f"“{name}” ({len(rows)} rows)" for name, rows in self.members if name is not None]
        said = []
        if together:
            said.append(f"Taken together: {', '.join(together)}; what several of them hit counts once.")
        if gone:
            said.append(f"{gone:,} {self.nouns[0] if gone == 1 else self.nouns[1]} left out.")
        return [*self.of.method(texts), *([MethodPart("Rows", " ".join(said))] if said else [])]
