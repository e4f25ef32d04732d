"""A term as fields of a form, for people who would rather not write it as text.

The two forms say the same: ``to_fields`` and ``from_fields`` undo each other.
"""

from __future__ import annotations

from collections.abc import Sequence as Row
from dataclasses import dataclass
from typing import Literal

from winnower.core.errors import TermError
from winnower.core.pattern.lexemes import MAX_WITHIN, lexemes
from winnower.core.pattern.parse import parse_term
from winnower.core.pattern.term import Choice, Condition, Piece, Relation, Sequence, Term
from winnower.core.pattern.write import write_gap, write_relation, write_sequence


@dataclass(frozen=True)
class Cell:
    """Words that stand next to each other, or one expression; ``gap`` is what lies before it in its row:
    least and most words, None in the first cell."""

    text: str
    kind: Literal["words", "expression"] = "words"
    gap: tuple[int, int] | None = None


@dataclass(frozen=True)
class FieldCondition:
    """A condition; ``within`` in words, None for the sentence. ``rows`` are what it speaks of, any of them."""

    relation: Relation
    unless: bool
    within: int | None
    rows: tuple[tuple[Cell, ...], ...]


@dataclass(frozen=True)
class TermFields:
    """``rows`` are the ways in which the head can stand in a text: any of them is a hit."""

    rows: tuple[tuple[Cell, ...], ...]
    conditions: tuple[FieldCondition, ...] = ()
    match_case: bool = False
    ignore_accents: bool = False
    forms_of: str = ""


def to_fields(term: Term) -> TermFields:
    """The form's fields for a term."""
    return TermFields(
        _rows(term.head),
        tuple(FieldCondition(c.relation, c.unless, c.within, _rows(c.what)) for c in term.conditions),
        term.match_case,
        term.ignore_accents,
        term.forms_of,
    )


def _rows(choice: Choice) -> tuple[tuple[Cell, ...], ...]:
    return tuple(_row(option) for option in choice.options)


def _row(sequence: Sequence) -> tuple[Cell, ...]:
    cells: list[Cell] = []
    begin = 0
    for at in range(1, len(sequence.items) + 1):
        if at < len(sequence.items) and not any(sequence.gaps[at - 1]):
            continue
        items, gap = sequence.items[begin:at], sequence.gaps[begin - 1] if begin else None
        only = items[0]
        if len(items) == 1 and isinstance(only, Piece) and only.kind == "expression":
            cells.append(Cell(only.form, "expression", gap))
        else:
            cells.append(Cell(write_sequence(Sequence(items, sequence.gaps[begin : at - 1])), gap=gap))
        begin = at
    return tuple(cells)


def from_fields(fields: TermFields) -> Term:
    """The term that the fields describe; empty rows are left out. Raises TermError."""
    parts = [_choice(fields.rows)]
    for condition in fields.conditions:
        if condition.within is not None and not 1 <= condition.within <= MAX_WITHIN:
            raise TermError(f"A distance is a number of words from 1 to {MAX_WITHIN}.", parts[0])
        sign = Condition(condition.relation, condition.within, condition.unless, Choice(()))
        parts.append(f"{write_relation(sign)} {_choice(condition.rows)}")
    return parse_term(
        " ".join(parts),
        match_case=fields.match_case,
        ignore_accents=fields.ignore_accents,
        forms_of=fields.forms_of,
    )


def _choice(rows: Row[Row[Cell]]) -> str:
    written = (" ".join(_cell(cell, at) for at, cell in enumerate(row)) for row in rows)
    return " | ".join(row for row in written if row.strip())


def _cell(cell: Cell, at: int) -> str:
    text = cell.text.strip()
    if cell.kind == "expression" and text:
        text = "/" + text.replace("\\/", "/").replace("/", "\\/") + "/"
    elif _several(text):
        text = f"({text})"
    if at and cell.gap and any(cell.gap):
        return f"{write_gap(cell.gap)} {text}"
    return text


def _several(text: str) -> bool:
    """Whether the words of a cell are several to choose from: a bar outside all brackets."""
    depth = 0
    for sign in lexemes(text, text):
        depth += (sign.kind == "(") - (sign.kind == ")")
        if sign.kind == "|" and depth == 0:
            return True
    return False
