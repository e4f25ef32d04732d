"""A term as a value: what is looked for, under which conditions, and how letters are compared.

Term        head + conditions + options
Choice      one of several sequences                        (lamb | ewe*)
Sequence    items in a row, with gaps of so many words      market [0-2] price
Piece       one word, with * and ?, or an expression        compensat*   /sub(sid|ven).*/
Condition   what must, or must not, stand near the head     near:5 price   unless-part-of: stock cube
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, TypeGuard

PieceKind = Literal["word", "open", "expression", "characters"]
Relation = Literal["near", "before", "after", "part-of"]


@dataclass(frozen=True)
class Piece:
    """What one token must be, or which characters must stand in a row.

    ``kind`` is "word" (as it stands), "open" (* any characters, none included, ? exactly one) or
    "expression" (a regular expression for the whole token). "characters" are those of a script without spaces
    (? any one), which may begin and end inside words: where words end there is nothing a reader sees.
    """

    form: str
    kind: PieceKind = "word"

    @property
    def open(self) -> bool:
        return self.kind == "open"


@dataclass(frozen=True)
class Sequence:
    """Items in a row. ``gaps[i]`` says how many words, least and most, lie between items i and i + 1."""

    items: tuple[Piece | Choice, ...]
    gaps: tuple[tuple[int, int], ...]

    @property
    def is_phrase(self) -> bool:
        """Only words, each next to the other."""
        return all(map(is_one_token, self.items)) and not any(map(any, self.gaps))


def is_one_token(item: Piece | Choice) -> TypeGuard[Piece]:
    """Whether what an item stands for is one token."""
    return isinstance(item, Piece) and item.kind != "characters"


@dataclass(frozen=True)
class Choice:
    """Any one of the sequences."""

    options: tuple[Sequence, ...]

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """All words in it, in reading order."""
        return tuple(_pieces(self))


def _pieces(choice: Choice) -> Iterator[Piece]:
    for option in choice.options:
        for item in option.items:
            if isinstance(item, Piece):
                yield item
            else:
                yield from _pieces(item)


@dataclass(frozen=True)
class Condition:
    """A condition on a hit of the head.

    near, before, after    the head has a hit of ``what`` near it, stands before one, or after one:
                           within ``within`` words, or in the same sentence where that is None
    part-of                the head lies inside a hit of ``what``; only with ``unless``
    """

    relation: Relation
    within: int | None
    unless: bool
    what: Choice


@dataclass(frozen=True)
class Term:
    """A term as it is searched. A hit stands at the words of the head; conditions only choose.

    ``forms_of`` is a language code: each plain word then stands for all forms of its lemma.
    """

    source: str
    head: Choice
    conditions: tuple[Condition, ...] = ()
    match_case: bool = False
    ignore_accents: bool = False
    forms_of: str = ""

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The words of the head, in reading order."""
        return self.head.pieces

    @property
    def single(self) -> bool:
        """Every hit is one token, and no condition must be looked at."""
        return not self.conditions and all(
            len(option.items) == 1 and is_one_token(option.items[0]) for option in self.head.options
        )


def in_a_row(pieces: tuple[Piece, ...]) -> Sequence:
    """A phrase of these words."""
    return Sequence(pieces, ((0, 0),) * (len(pieces) - 1))
