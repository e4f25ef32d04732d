"""Cut a written term into its signs and words, each with its place."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from winnower.core.errors import TermError

MAX_GAP = 20
MAX_WITHIN = 100
#: Instructions that ask for or rule out something near the head, and whether they take a distance.
CONDITIONS = {
    "near": True,
    "before": True,
    "after": True,
    "unless-near": True,
    "unless-before": True,
    "unless-after": True,
    "unless-part-of": False,
}
OPTIONS = ("exact-case", "any-accents", "all-forms")
_INSTRUCTION = re.compile(r"([A-Za-z][A-Za-z-]*):(?!//)([A-Za-z0-9-]*)")
_GAP = re.compile(r"\[\s*(\d{1,4})?\s*(?:([-–])\s*(\d{1,4})?)?\s*\]")
_EXPRESSION = re.compile(r"/((?:[^/\\]|\\.)+)/(?=[\s()|]|$)")
_WORDS_END = re.compile(r"[\s\"“”„()|\[]")

Kind = Literal["words", "quoted", "expression", "gap", "(", ")", "|", "condition", "option"]


@dataclass(frozen=True)
class Lexeme:
    """``value`` is the text of words, quotes and expressions, the name of an instruction; ``given``
    what it was given: (least, most) of a gap, the distance of a condition (0: the sentence), a language."""

    kind: Kind
    at: int
    value: str = ""
    given: tuple[int, int] | int | str | None = None


def lexemes(text: str, source: str) -> list[Lexeme]:
    """The signs and words of ``text``. Raises TermError with the place of what cannot be read."""
    out, at = [], 0
    while at < len(text):
        char = text[at]
        if char.isspace():
            at += 1
            continue
        if char in '"“„':
            found = _quoted(text, at, source)
        elif char == "”":
            raise TermError("This quotation mark has no partner; add one or take it away.", source, at)
        elif char in "()|":
            found = Lexeme(char, at), at + 1  # type: ignore[arg-type]
        elif char == "[":
            found = _gap(text, at, source)
        elif char == "/" and at + 1 < len(text) and not text[at + 1].isspace():
            found = _expression(text, at, source)
        elif match := _INSTRUCTION.match(text, at):
            found = _instruction(match, source), match.end()
        else:
            end = _WORDS_END.search(text, at)
            stop = end.start() if end else len(text)
            found = Lexeme("words", at, text[at:stop]), stop
        out.append(found[0])
        at = found[1]
    return out


def _quoted(text: str, at: int, source: str) -> tuple[Lexeme, int]:
    partner = text.find('"' if text[at] == '"' else "”", at + 1)
    if partner < 0 and text[at] == "„":
        partner = text.find("“", at + 1)
    if partner < 0:
        raise TermError("This quotation mark has no partner; add one or take it away.", source, at)
    return Lexeme("quoted", at + 1, text[at + 1 : partner]), partner + 1


def _gap(text: str, at: int, source: str) -> tuple[Lexeme, int]:
    match = _GAP.match(text, at)
    if match is None or not (match[1] or match[3]):
        raise TermError(
            "Between square brackets stands how many words may lie in between: [2] for two, [0-3] for "
            "up to three. Put brackets that belong to the words into quotation marks.",
            source,
            at,
        )
    least = int(match[1] or 0)
    most = int(match[3]) if match[3] else MAX_GAP if match[2] else least
    if most > MAX_GAP or least > most:
        reason = f"at most {MAX_GAP}" if most > MAX_GAP else "the smaller number first"
        raise TermError(f"A gap can have {reason}: [{least}-{most}] cannot be used.", source, at)
    return Lexeme("gap", at, given=(least, most)), match.end()


def _expression(text: str, at: int, source: str) -> tuple[Lexeme, int]:
    match = _EXPRESSION.match(text, at)
    if match is None:
        raise TermError(
            "An expression begins and ends with a slash, as in /sub(sid|ven).*/; the second one is missing.",
            source,
            at,
        )
    return Lexeme("expression", at, match[1].replace("\\/", "/")), match.end()


def _instruction(match: re.Match[str], source: str) -> Lexeme:
    name, given, at = match[1].lower(), match[2].lower(), match.start()
    if name in OPTIONS:
        if name != "all-forms" and given:
            raise TermError(f"Put a space after “{name}:”.", source, match.end(1) + 1)
        return Lexeme("option", at, name, given)
    if name not in CONDITIONS:
        known = ", ".join(f"{one}:" for one in (*CONDITIONS, *OPTIONS))
        raise TermError(
            f"“{name}:” is no instruction. Instructions: {known}. A colon that belongs to the words "
            "goes into quotation marks.",
            source,
            at,
        )
    if not CONDITIONS[name]:
        if given:
            raise TermError(f"Put a space after “{name}:”.", source, match.end(1) + 1)
        return Lexeme("condition", at, name)
    if given == "sentence":
        return Lexeme("condition", at, name, 0)
    if not given.isdecimal() or not 1 <= int(given[:6]) <= MAX_WITHIN:
        raise TermError(
            f"“{name}:” needs a number of words from 1 to {MAX_WITHIN}, or the sentence: {name}:5 or "
            f"{name}:sentence.",
            source,
            match.start(2),
        )
    return Lexeme("condition", at, name, int(given))
