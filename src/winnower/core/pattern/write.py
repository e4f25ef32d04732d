"""Write a term as text that reads back as the same term."""

from __future__ import annotations

import re
from functools import lru_cache

from winnower.core.pattern.lexemes import MAX_GAP
from winnower.core.pattern.term import Choice, Condition, Piece, Sequence, Term
from winnower.core.tokens import is_unspaced

_PLAIN = re.compile(r"[^\s\"“”„()|\[\]/*?:]+\Z")
_OPEN = re.compile(r"[^\s\"“”„()|\[\]/:]+\Z")


def write_term(term: Term, *, options: bool = True) -> str:
    """The text of a term; with ``options`` also what the options say."""
    parts = []
    if options:
        parts += ["exact-case:"] * term.match_case + ["any-accents:"] * term.ignore_accents
        parts += [f"all-forms:{term.forms_of}"] * bool(term.forms_of)
    parts.append(write_choice(term.head))
    parts += [f"{write_relation(c)} {write_choice(c.what)}" for c in term.conditions]
    return " ".join(parts)


def write_relation(condition: Condition) -> str:
    """The instruction of a condition, such as near:5."""
    name = ("unless-" if condition.unless else "") + condition.relation + ":"
    return name if condition.relation == "part-of" else f"{name}{condition.within or 'sentence'}"


def write_choice(choice: Choice) -> str:
    return " | ".join(write_sequence(option) for option in choice.options)


def write_sequence(sequence: Sequence) -> str:
    parts = []
    for at, item in enumerate(sequence.items):
        if at and any(sequence.gaps[at - 1]):
            parts.append(write_gap(sequence.gaps[at - 1]))
        parts.append(f"({write_choice(item)})" if isinstance(item, Choice) else write_piece(item))
    return " ".join(parts)


def write_gap(gap: tuple[int, int]) -> str:
    least, most = gap
    if least == most:
        return f"[{least}]"
    return f"[{least}-]" if most == MAX_GAP else f"[{least}-{most}]"


@lru_cache(maxsize=20_000)
def write_piece(piece: Piece) -> str:
    if piece.kind == "expression":
        return "/" + piece.form.replace("/", "\\/") + "/"
    if piece.kind == "characters":
        return piece.form
    if piece.kind == "word" and is_unspaced(piece.form[0]):
        return f'"{piece.form}"'  # without the marks it would be found inside other words, too
    if (_OPEN if piece.open else _PLAIN).match(piece.form):
        return piece.form
    if re.match(r"(?:https?://|www\.)[^\s()|\[\"“”„*?]+\Z", piece.form):
        return piece.form
    return f'"{piece.form}"'
