"""What is counted, as a protocol: anything with rows, counts per text, and places."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import ClassVar, NamedTuple, Protocol, Self

import numpy as np

from winnower.core.coding import Passages
from winnower.core.dictionary import Dictionary
from winnower.core.index import Lexicon, TokenIndex
from winnower.core.places import Places
from winnower.core.scope import Columns, Condition


class MethodPart(NamedTuple):
    """A part of "How this was counted": a heading, sentences, and their source or ""."""

    heading: str
    words: str
    source: str = ""


class Corpus(Protocol):
    """What targets are counted on."""

    @property
    def index(self) -> TokenIndex: ...
    @property
    def columns(self) -> Columns: ...
    @property
    def lexicon(self) -> Lexicon: ...
    @property
    def stories(self) -> np.ndarray | None:
        """int32 per text: its group of texts nearly alike, -1 for none; None where nobody looked for them."""
        ...


@dataclass(frozen=True)
class CodeNode:
    """A code: its id, its names from the top down, its colour."""

    id: int
    path: tuple[str, ...]
    colour: int


@dataclass(frozen=True)
class RunFound:
    """What a run found: its name, what it looked for, the passages that were not judged wrong (their codes are the ids
    of the nodes), the state of the coding, and what to say of it. ``scores`` float per passage: its tone, -1 to 1; None
    where the run did not look for tone."""

    name: str
    nodes: tuple[CodeNode, ...]
    passages: Passages
    revision: int
    note: str
    scores: np.ndarray | None = None


class Known(Protocol):
    """What a reference may look up when it is resolved."""

    def dictionary(self, dictionary_id: int, version: int | None) -> tuple[Dictionary, int | None]:
        """A dictionary as it is now (None) or was at a version, and the version that is, None where it is
        not kept as one. Raises NotFound."""
        ...

    def codes(self) -> tuple[tuple[CodeNode, ...], Passages, int]:
        """The codes in the order of their tree, all passages, and the state of the coding."""
        ...

    def coders(self) -> dict[str, int]:
        """Those who code, by their names among the values of the field of coders."""
        ...

    def run(self, run_id: int) -> RunFound:
        """What a run of automatic coding found. Raises NotFound."""
        ...


@dataclass(frozen=True)
class Row:
    """A row of a table. ``key`` names it within its target; ``parent`` is the place of the row it is in."""

    key: str
    label: str
    name: str
    depth: int = 0
    parent: int | None = None
    colour: int = 0


class Target(Protocol):
    """A target that was looked up: what a comparison counts.

    name         what it is called, with its kind: "Dictionary “Frames”"
    version      of the instrument, None where there is none or it is not kept
    nouns        what a row is called, one and many: ("category", "categories")
    rows         in their order; a parent stands before its children
    tested_rows  places of the rows a test compares
    conditions   texts for which these do not hold have no hit
    fields       keys of the fields of the corpus the counts depend on; none for what only looks at words
    """

    @property
    def name(self) -> str: ...
    @property
    def version(self) -> int | None: ...
    @property
    def nouns(self) -> tuple[str, str]: ...
    @property
    def rows(self) -> tuple[Row, ...]: ...
    @property
    def tested_rows(self) -> tuple[int, ...]: ...
    @property
    def conditions(self) -> tuple[Condition, ...]: ...
    @property
    def fields(self) -> frozenset[str]: ...

    def texts_of_hits(self, row: int, corpus: Corpus) -> np.ndarray:
        """int64: the text of every hit of a row in the whole corpus, one entry a hit, in no order."""
        ...

    def places(self, rows: Sequence[int], corpus: Corpus, wanted: np.ndarray) -> Places:
        """The hits of some rows taken together in the ``wanted`` texts (bool per text), by text."""
        ...

    def subject(self, row: int) -> str:
        """The hits of a row as they begin a sentence, in the plural: "Ecology terms"."""
        ...

    def method(self, texts: int) -> list[MethodPart]:
        """What was counted over so many texts, and what a hit is."""
        ...


@dataclass(frozen=True)
class Reference:
    """Base of what names a target in a comparison; in its plain form it takes no other keys than its own."""

    __pydantic_config__: ClassVar = {"extra": "forbid"}

    @property
    def of_coding(self) -> bool:
        """Whether what is counted changes with the coding."""
        return False

    def resolve(self, known: Known, corpus: Corpus) -> Target:
        """Look the target up. Raises NotFound, TermError or ComparisonError."""
        raise NotImplementedError

    def pinned(self, target: Target) -> Self:
        """The reference to the very state of the target that was looked up."""
        return self


def single_rows(keys: Sequence[str]) -> tuple[Row, ...]:
    """Rows of one level named by their keys, coloured in turn."""
    return tuple(Row(key, key, key, colour=at % 10) for at, key in enumerate(keys))
