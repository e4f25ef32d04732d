"""Numbers of the texts as a target: fields of numbers, and the tone that runs found; what is asked of them is a mean."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Annotated, ClassVar, Literal

import numpy as np
from annotated_types import Ge, Len
from pydantic import Discriminator

from winnower.core.compare.targets.arranged import ArrangedTarget
from winnower.core.compare.targets.base import Corpus, Known, MethodPart, Reference, Row, RunFound, Target
from winnower.core.compare.targets.length import whole_texts
from winnower.core.compare.targets.run import RunTarget
from winnower.core.errors import ComparisonError
from winnower.core.places import Places
from winnower.core.scope import Condition, NumberColumn
from winnower.core.tone import BANDS

MOST_NUMBERS = 10


@dataclass(frozen=True)
class FieldNumber:
    """A field of numbers, by its key."""

    __pydantic_config__: ClassVar = {"extra": "forbid"}

    field: Annotated[str, Len(1, 60)]
    kind: Literal["field"] = "field"

    @property
    def key(self) -> str:
        return self.field


@dataclass(frozen=True)
class ToneNumber:
    """The tone of the sentences that a run of tone found, -1 to 1; without those judged wrong."""

    __pydantic_config__: ClassVar = {"extra": "forbid"}

    run: Annotated[int, Ge(1)]
    kind: Literal["tone"] = "tone"

    @property
    def key(self) -> str:
        return f"tone {self.run}"


AnyNumber = Annotated[FieldNumber | ToneNumber, Discriminator("kind")]


@dataclass(frozen=True)
class OfNumbers(Reference):
    """Each number is a row; ``revision`` is the state of the coding tones were taken from, as in ``OfCodes``."""

    numbers: Annotated[tuple[AnyNumber, ...], Len(1, MOST_NUMBERS)]
    revision: int | None = None
    kind: Literal["numbers"] = "numbers"

    @property
    def of_coding(self) -> bool:
        return any(isinstance(one, ToneNumber) for one in self.numbers)

    def resolve(self, known: Known, corpus: Corpus) -> NumbersTarget:
        keys = [one.key for one in self.numbers]
        if len(set(keys)) < len(keys):
            raise ComparisonError("Each number is a row once.")
        found = [
            _of_field(one, corpus) if isinstance(one, FieldNumber) else _of_tone(one, known.run(one.run))
            for one in self.numbers
        ]
        revision = max((one.revision for one in found if one.revision is not None), default=None)
        return NumbersTarget(tuple(found), revision)

    def pinned(self, target: Target) -> OfNumbers:
        assert isinstance(target, NumbersTarget)
        return replace(self, revision=target.revision)


@dataclass(frozen=True)
class NumberRow:
    """``values`` float per text, NaN where there is none; or the ``tone`` of sentences, with the ``scores`` of its
    passages in their order. ``says`` is how it is counted, ``note`` what to know of it at once, or nothing."""

    key: str
    label: str
    says: str
    note: str = ""
    values: np.ndarray | None = field(default=None, repr=False)
    tone: RunTarget | None = field(default=None, repr=False)
    scores: np.ndarray | None = field(default=None, repr=False)

    @property
    def revision(self) -> int | None:
        return None if self.tone is None else self.tone.revision

    def by_text(self, corpus: Corpus) -> tuple[np.ndarray, np.ndarray]:
        """float per text: the sum of its numbers, and how many they are."""
        n = corpus.index.n_texts
        if self.values is not None:
            known = np.isfinite(self.values)
            return np.where(known, self.values, 0.0), known.astype(float)
        places, scores = self.placed(corpus, np.ones(n, bool))
        size = np.bincount(places.text, minlength=n).astype(float)
        return np.bincount(places.text, weights=scores, minlength=n), size

    def placed(self, corpus: Corpus, wanted: np.ndarray) -> tuple[Places, np.ndarray]:
        """What has a number in the ``wanted`` texts (bool per text), and the number of each."""
        if self.values is not None:
            found = whole_texts(np.isfinite(self.values) & wanted, corpus.index)
            return found, self.values[found.text]
        assert self.tone is not None and self.scores is not None
        places, which = self.tone.placed(range(len(self.tone.rows)), corpus, wanted)
        return places, self.scores[which]

    def without_words(self, corpus: Corpus, wanted: np.ndarray) -> int:
        """Of the ``wanted`` texts how many have a number but no word, and so no place."""
        if self.values is None:
            return 0
        return int((np.isfinite(self.values) & wanted & (corpus.index.words == 0)).sum())

    def number_at(self, text: int, text_id: int, start: int) -> float | None:
        """The number of a text (its place and its id), of tone that of the passage that begins at a code point."""
        if self.values is not None:
            return float(self.values[text])
        assert self.tone is not None and self.scores is not None
        passages = self.tone.passages
        low, high = np.searchsorted(passages.text_id, [text_id, text_id + 1])
        at = int(low + np.searchsorted(passages.start[low:high], start))
        there = at < high and passages.start[at] == start
        return float(self.scores[at]) if there else None


def _of_field(one: FieldNumber, corpus: Corpus) -> NumberRow:
    column, name = corpus.columns.field(one.field), corpus.columns.names[one.field]
    if not isinstance(column, NumberColumn):
        raise ComparisonError(f"“{name}” does not hold numbers, so it has no mean.")
    says = f"{name}: the number of each text that has one; texts without one are left out."
    return NumberRow(one.key, name, says, values=column.values.astype(float))


def _of_tone(one: ToneNumber, found: RunFound) -> NumberRow:
    if found.scores is None:
        raise ComparisonError(f"Run “{found.name}” did not look for tone, so its passages have none.")
    target = RunTarget(
        found.nodes, found.passages, found.revision, name=f"Run “{found.name}”", note=found.note
    )
    bands = ", ".join(node.path[-1] for node in found.nodes)
    says = (
        f"Tone: that of each sentence the run “{found.name}” found, from -1 to 1, a text weighing by how many it has. The run "
        f"looked for: {bands}; sentences of other tone, and those judged wrong, are in no mean. {found.note} Irony and reported "
        "speech are not detected."
    )
    label = f"Tone (run “{found.name}”)"
    left = len(found.nodes) < len(BANDS)
    note = f"{label} is that of sentences the run looked for: {bands}; others are in no mean." if left else ""
    return NumberRow(one.key, label, says, note, tone=target, scores=found.scores)


@dataclass(frozen=True)
class NumbersTarget:
    """A text is a hit of a number it has, at its first word; of tone each sentence is one."""

    numbers: tuple[NumberRow, ...]
    revision: int | None = None
    nouns: tuple[str, str] = ("number", "numbers")
    version: int | None = None
    conditions: tuple[Condition, ...] = ()

    @property
    def name(self) -> str:
        return "Numbers: " + ", ".join(one.label for one in self.numbers)

    @property
    def fields(self) -> frozenset[str]:
        return frozenset(one.key for one in self.numbers if one.tone is None)

    @cached_property
    def rows(self) -> tuple[Row, ...]:
        return tuple(
            Row(one.key, one.label, one.label, colour=at % 10) for at, one in enumerate(self.numbers)
        )

    @property
    def tested_rows(self) -> tuple[int, ...]:
        return tuple(range(len(self.numbers)))

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        return self.numbers[row].placed(corpus, np.ones(corpus.index.n_texts, bool))[0].text

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        parts = [
            self.numbers[row].placed(corpus, wanted)[0] for row in rows if self.numbers[row].tone is not None
        ]
        texts = np.zeros(corpus.index.n_texts, bool)
        for one in (self.numbers[row] for row in rows):
            if one.values is not None:
                texts |= np.isfinite(one.values)
        return Places.joined([*parts, whole_texts(texts & wanted, corpus.index)])

    def subject(self, row: int) -> str:
        return f"Values of {self.rows[row].label}"

    def method(self, texts: int) -> list[MethodPart]:
        said = " ".join(one.says for one in self.numbers)
        return [MethodPart("What was taken", f"{said} Over {texts:,} texts.")]


def numbers_of(target: Target) -> list[NumberRow] | None:
    """The numbers its rows stand for, where it is a target of numbers, with some rows left out or not."""
    if isinstance(target, ArrangedTarget) and isinstance(target.of, NumbersTarget):
        return [target.of.numbers[rows[0]] for _, rows in target.members]
    return list(target.numbers) if isinstance(target, NumbersTarget) else None
