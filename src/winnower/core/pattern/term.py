"""The written form of a term, and what it means.

A term is one or more words in a row. Inside a word ``*`` stands for any number of characters, none
included, and ``?`` for exactly one. Words between straight or curly double quotes are taken as they
are. Case is ignored and accents count unless the term's options say otherwise.

    lamb            the word, as lamb, Lamb, LAMB
    compensat*      any word that begins so
    market price    the two words in a row
    #night*         hashtags that begin so
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from winnower.core.errors import TermError
from winnower.core.tokens import clean, split_texts

MAX_CHARS = 500
MAX_PIECES = 20
_STAR, _ONE = "\uab30", "\uab31"  # two letters that no text is expected to hold
_QUOTES = '"“”„«»'
_HARMLESS = set(" \t\u00a0.,;:!?*/()[]{}'’‘–—-…" + _QUOTES)


@dataclass(frozen=True)
class Piece:
    """One word of a term. ``open`` says that ``*`` and ``?`` in ``form`` stand for other characters."""

    form: str
    open: bool = False


@dataclass(frozen=True)
class Term:
    """A term as it is searched: words in a row, and how letters are compared."""

    source: str
    pieces: tuple[Piece, ...]
    match_case: bool = False
    ignore_accents: bool = False

    @property
    def length(self) -> int:
        """How many tokens a hit spans."""
        return len(self.pieces)


@lru_cache(maxsize=20_000)
def parse_term(source: str, *, match_case: bool = False, ignore_accents: bool = False) -> Term:
    """Read a term.

    Raises TermError, with the place in ``source``, where it cannot be searched.
    """
    text = clean(source)[0].strip()
    if not text:
        raise TermError("Type at least one word.", source)
    if len(text) > MAX_CHARS:
        message = f"A term can have at most {MAX_CHARS} characters; this one has {len(text):,}."
        raise TermError(message, source, MAX_CHARS)
    if "\n" in text:
        raise TermError("A term stands on one line.", source, text.index("\n"))
    marked, quoted = _mark_wildcards(text, source)
    batch = split_texts([marked])
    _refuse_stray_signs(marked, batch, source)
    forms = batch.vocabulary.gather(batch.codes).to_list()
    pieces = tuple(
        _piece(form, int(at), marked, quoted, source)
        for form, at in zip(forms, batch.char_start, strict=True)
    )
    if not pieces:
        raise TermError("There is no word in this term.", source)
    if len(pieces) > MAX_PIECES:
        message = f"A term can have at most {MAX_PIECES} words; this one has {len(pieces)}."
        raise TermError(message, source)
    return Term(text, pieces, match_case, ignore_accents)


def _mark_wildcards(text: str, source: str) -> tuple[str, list[bool]]:
    """The text with * and ? outside quotes as letters; and for each place whether it is quoted."""
    straight = text.count('"')
    if straight % 2:
        at = text.rindex('"')
        raise TermError("This quotation mark has no partner; add one or take it away.", source, at)
    out, quoted, inside = [], [], False
    for char in text:
        if char == '"':
            inside = not inside
        elif char in "“„":
            inside = True
        elif char == "”":
            inside = False
        quoted.append(inside)
        out.append({"*": _STAR, "?": _ONE}.get(char, char) if not inside else char)
    if inside:
        at = max(text.rfind("“"), text.rfind("„"))
        raise TermError("This quotation mark has no partner; add one or take it away.", source, at)
    return "".join(out), quoted


def _refuse_stray_signs(marked: str, batch, source: str) -> None:
    """A sign that is never part of a word would be dropped in silence; say so instead."""
    forms = batch.vocabulary.gather(batch.codes).to_list()
    covered = set()
    for form, at in zip(forms, batch.char_start, strict=True):
        covered.update(range(int(at), int(at) + len(form)))
    for at, char in enumerate(marked):
        if at not in covered and char not in _HARMLESS and not char.isspace():
            words = " ".join(forms).replace(_STAR, "*").replace(_ONE, "?")
            hint = f" Without it the term is “{words}”." if words else ""
            raise TermError(f"“{char}” is never part of a word, so it finds nothing.{hint}", source, at)


def _piece(form: str, at: int, marked: str, quoted: list[bool], source: str) -> Piece:
    if _STAR not in form and _ONE not in form:
        return Piece(form)
    written = form.replace(_STAR, "*").replace(_ONE, "?")
    if not any(c.isalnum() for c in written):
        message = f"“{written}” alone would find every word. Put at least one letter beside it."
        raise TermError(message, source, at)
    return Piece(written, open=True)
