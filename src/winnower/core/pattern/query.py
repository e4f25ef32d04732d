"""Searches: terms joined by AND, OR, NOT over whole texts.

    lamb AND price                 texts with both
    (lamb | ewe*) near:5 price OR "vet bill"
    stock AND NOT laughing stock
    NOT (wool OR hay)
    deer AND (lamb near:5 price)

AND binds more closely than OR; NOT speaks of what follows it. The words are upper case; in
quotation marks they are words like others. Everything else is read as in a dictionary.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from winnower.core.errors import TermError
from winnower.core.index import TokenIndex
from winnower.core.pattern.find import find_term
from winnower.core.pattern.lexemes import Lexeme, lexemes
from winnower.core.pattern.parse import parse_term
from winnower.core.pattern.term import Term
from winnower.core.pattern.write import write_term

JOINERS = ("AND", "OR", "NOT")
MAX_QUERY_CHARS = 2_000


@dataclass(frozen=True)
class Leaf:
    term: Term


@dataclass(frozen=True)
class Not:
    part: Query


@dataclass(frozen=True)
class Joined:
    """``how`` is "and" or "or"."""

    how: str
    parts: tuple[Query, ...]


Query = Leaf | Not | Joined


@lru_cache(maxsize=2_000)
def parse_query(source: str) -> Query:
    """Read a search. Raises TermError with the place of what cannot be read."""
    if not source.strip():
        raise TermError("Type at least one word.", source)
    if len(source) > MAX_QUERY_CHARS:
        message = f"A search can have at most {MAX_QUERY_CHARS:,} characters; this one has {len(source):,}."
        raise TermError(message, source, MAX_QUERY_CHARS)
    parser = _Parser(source)
    found = parser.either(0)
    if parser.here is not None:
        raise TermError(
            "This bracket closes nothing; add its partner or take it away.", source, parser.here.at
        )
    return found


def terms_of(query: Query) -> tuple[Term, ...]:
    """The terms that a matching text may have: those not ruled out."""
    if isinstance(query, Leaf):
        return (query.term,)
    if isinstance(query, Not):
        return ()
    return tuple(dict.fromkeys(term for part in query.parts for term in terms_of(part)))


def only_or(query: Query) -> bool:
    """Whether the search is the same as its terms side by side."""
    if isinstance(query, Joined):
        return query.how == "or" and all(only_or(part) for part in query.parts)
    return isinstance(query, Leaf)


def as_one_term(query: Query) -> str | None:
    """The search as the text of one term, with its options; None where no one term says the same."""
    terms = terms_of(query)
    if not only_or(query):
        return None
    if len(terms) > 1 and any(t.conditions or t.match_case or t.ignore_accents or t.forms_of for t in terms):
        return None
    return " | ".join(write_term(term) for term in terms)


def matching_texts(query: Query, index: TokenIndex) -> np.ndarray:
    """bool per text of the index."""
    if isinstance(query, Not):
        return ~matching_texts(query.part, index)
    if isinstance(query, Joined):
        join = np.logical_and if query.how == "and" else np.logical_or
        answer: np.ndarray = join.reduce([matching_texts(part, index) for part in query.parts])
        return answer
    found = np.zeros(index.n_texts, bool)
    for segment, base in zip(index.segments, index.base, strict=False):
        found[segment.text_of[find_term(query.term, segment).start] + base] = True
    return found


def with_alternatives(source: str, added: Mapping[str, Sequence[str]]) -> str:
    """The search with alternatives beside some of its words: lamb becomes (lamb | lamm | mutton)."""
    out, at = [], 0
    for sign in lexemes(source, source):
        others = added.get(sign.value.lower().strip(".,;!"), ()) if sign.kind == "words" else ()
        if others:
            word = sign.value
            out += [source[at : sign.at], f"({' | '.join([word, *others])})"]
            at = sign.at + len(word)
    return "".join([*out, source[at:]])


class _Parser:
    def __init__(self, source: str) -> None:
        self.source = source
        self.found = lexemes(source, source)
        self.next = 0

    @property
    def here(self) -> Lexeme | None:
        return self.found[self.next] if self.next < len(self.found) else None

    def joiner(self, word: str) -> bool:
        """Take the joining word if it comes next."""
        if self.here is not None and self.here.kind == "words" and self.here.value == word:
            self.next += 1
            return True
        return False

    def either(self, depth: int) -> Query:
        parts = [self.both(depth)]
        while self.joiner("OR"):
            parts.append(self.both(depth))
        return parts[0] if len(parts) == 1 else Joined("or", tuple(parts))

    def both(self, depth: int) -> Query:
        parts = [self.one(depth)]
        while self.joiner("AND"):
            parts.append(self.one(depth))
        return parts[0] if len(parts) == 1 else Joined("and", tuple(parts))

    def one(self, depth: int) -> Query:
        if depth > 20:
            raise TermError("Brackets lie too deep in one another.", self.source, 0)
        if self.joiner("NOT"):
            return Not(self.one(depth + 1))
        here = self.here
        if here is not None and here.kind == "(" and self._joined_inside():
            self.next += 1
            inside = self.either(depth + 1)
            if self.here is None or self.here.kind != ")":
                raise TermError("This bracket is not closed; add its partner.", self.source, here.at)
            self.next += 1
            after = self.here
            if after is not None and after.kind != ")" and after.value not in JOINERS:
                raise TermError("After this bracket stands AND or OR.", self.source, after.at)
            return inside
        return self.leaf()

    def _joined_inside(self) -> bool:
        """Whether the bracket that opens here holds what no bracket of a term does: a joining word, a
        condition or an option."""
        depth = 0
        for sign in self.found[self.next :]:
            depth += (sign.kind == "(") - (sign.kind == ")")
            if sign.kind in ("condition", "option") or (sign.kind == "words" and sign.value in JOINERS):
                return True
            if depth == 0:
                return False
        return False

    def leaf(self) -> Leaf:
        begin, depth = self.here, 0
        while (sign := self.here) is not None:
            if sign.kind == "words" and sign.value in JOINERS:
                if depth:
                    message = f"{sign.value} cannot stand inside the brackets of a term."
                    raise TermError(message, self.source, sign.at)
                break
            depth += (sign.kind == "(") - (sign.kind == ")")
            if depth < 0:
                break
            self.next += 1
        end = self.here.at if self.here is not None else len(self.source)
        if begin is None or begin is self.here:
            where = begin.at if begin is not None else max(len(self.source) - 1, 0)
            raise TermError("A word is missing here.", self.source, where)
        low = begin.at - (begin.kind == "quoted")
        try:
            return Leaf(parse_term(self.source[low:end].rstrip()))
        except TermError as error:
            raise TermError(error.message, self.source, low + error.position) from error
