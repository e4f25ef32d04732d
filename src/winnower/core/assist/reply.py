"""What the assistant says: statements and proposals, each with the passages it rests on, and the check of both."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

NOT_TOLD = "The texts do not tell."
ProposalKind = Literal["name", "wording", "group", "coding"]


@dataclass(frozen=True)
class Cited:
    """A passage under its number: words of a text (code points) and where they are from."""

    number: int
    text_id: int
    start: int
    end: int
    paragraph: int
    words: str
    origin: str


@dataclass(frozen=True)
class Statement:
    """A sentence and the numbers of the passages it rests on. Words in quotes stand in one of them."""

    words: str
    passages: tuple[int, ...]


@dataclass(frozen=True)
class Proposal:
    """Something to take or leave: a name, a wording, a group of ``codes``, a code for ``passages``. ``why`` says what
    it rests on."""

    kind: ProposalKind
    words: str
    why: str
    passages: tuple[int, ...] = ()
    codes: tuple[int, ...] = ()


@dataclass(frozen=True)
class Reply:
    """``how`` says how it came about; ``refused`` are statements that did not hold, each with the reason."""

    passages: tuple[Cited, ...]
    statements: tuple[Statement, ...] = ()
    proposals: tuple[Proposal, ...] = ()
    how: str = ""
    refused: tuple[tuple[str, str], ...] = ()

    @property
    def tells(self) -> bool:
        return bool(self.statements or self.proposals)


_QUOTED = re.compile(r"“([^”]+)”|\"([^\"]+)\"|„([^“”]+)[“”]|«([^»]+)»")
_GAP = re.compile(r"\s*(?:…|\.\.\.|\[…\])\s*")


def quoted_in(words: str) -> list[str]:
    """What stands in quotes in a sentence; parts around an ellipsis one by one.

    >>> quoted_in('They say “we lost … forty lambs” and "why?".')
    ['we lost', 'forty lambs', 'why?']
    """
    whole = [next(part for part in found if part) for found in _QUOTED.findall(words)]
    return [part for one in whole for part in _GAP.split(one) if part.strip()]


def _plain(words: str) -> str:
    """Words as they are compared: spaces and kinds of quotes do not matter."""
    return " ".join(re.sub("[“”„\"‘’'«»]", "", words).split())


def checked(reply: Reply) -> Reply:
    """The reply without statements that rest on no passage, on one that is not there, or quote words that do not stand
    in a passage they name, whoever wrote them; these are among the refused."""
    words = {one.number: _plain(one.words) for one in reply.passages}
    kept, refused = [], list(reply.refused)
    for one in reply.statements:
        reason = _reason(one, words)
        if reason:
            refused.append((one.words, reason))
        else:
            kept.append(one)
    return replace(reply, statements=tuple(kept), refused=tuple(refused))


def _reason(one: Statement, words: dict[int, str]) -> str:
    if not one.words.strip():
        return "It says nothing."
    if not one.passages:
        return "It names no passage."
    gone = [number for number in one.passages if number not in words]
    if gone:
        return f"It names a passage {gone[0]}, which is not there."
    for quote in quoted_in(one.words):
        if not any(_plain(quote) in words[number] for number in one.passages):
            return f"Its quoted words “{quote[:80]}” do not stand in the passages it names."
    return ""


def renumbered(reply: Reply) -> Reply:
    """Passages that something rests on, numbered from 1 as they are first named; the others are left out."""
    order: dict[int, int] = {}
    named = [*(one.passages for one in reply.statements), *(one.passages for one in reply.proposals)]
    for number in (number for some in named for number in some):
        order.setdefault(number, len(order) + 1)
    by = {one.number: one for one in reply.passages}

    def moved(numbers: Sequence[int]) -> tuple[int, ...]:
        return tuple(order[number] for number in numbers)

    return replace(
        reply,
        passages=tuple(replace(by[number], number=now) for number, now in order.items()),
        statements=tuple(replace(one, passages=moved(one.passages)) for one in reply.statements),
        proposals=tuple(replace(one, passages=moved(one.passages)) for one in reply.proposals),
    )
