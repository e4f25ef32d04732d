"""Read a written term.

    lamb                               the word, as lamb, Lamb, LAMB
    compensat*   wom?n                 any characters, none included; exactly one
    market price                       words in a row
    market [0-2] price                 with up to two words in between; [2] for exactly two
    lamb | lambs | ewe*                any of these
    (sheep | lamb*) price              any of these, then the next word
    /sub(sid|ven).*/                   a regular expression for a whole word
    #night*   @office   🐑             hashtags, mentions, emoji
    "who?"   "near:5"                  as it stands, without instructions
    lamb near:5 price                  lamb with price within five words, on either side
    lamb before:3 price                the same, lamb first;  after:3  lamb last
    lamb near:sentence price           in one sentence
    stock unless-near:5 laughing       not where laughing is that near; unless-before:, unless-after:
    stock unless-part-of: stock cube   not where it is part of that
    exact-case: Hill                   also  any-accents:  and  all-forms:en  (each form of the lemma)

A hit stands at the words before the first condition. Case is ignored and accents count unless the
options say otherwise. Parentheses, slashes, brackets and colons in quotation marks are plain signs.
"""

from __future__ import annotations

import re
from functools import lru_cache

import polars as pl

from winnower.core.errors import TermError
from winnower.core.pattern.lexemes import Lexeme, lexemes
from winnower.core.pattern.term import Choice, Condition, Piece, PieceKind, Sequence, Term, in_a_row
from winnower.core.tokens import clean, is_unspaced, tokens_of
from winnower.core.tokens.elision import with_their_signs
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES

MAX_CHARS = 700
MAX_PIECES = 60
MAX_ROW = 20
MAX_DEPTH = 4
MAX_CONDITIONS = 10
_STAR, _ONE = "\uab30", "\uab31"  # two letters that no text is expected to hold
_HARMLESS = set(" \t\u00a0.,;:!?*/()[]{}'’‘–—-…\"“”„«»|")
# an apostrophe can part words, see core/tokens/elision.py
_PLAIN_WORD = re.compile(r"[a-z0-9]+(?:-[a-z0-9]+)*\Z", re.IGNORECASE)
_PLAIN_BEGINNING = re.compile(r"[a-z0-9]+(?:-[a-z0-9]+)*\*\Z", re.IGNORECASE)


@lru_cache(maxsize=40_000)
def parse_term(
    source: str, *, match_case: bool = False, ignore_accents: bool = False, forms_of: str = ""
) -> Term:
    """Read a term; options written in it are added to those given.

    ``Term.source`` is the text without its options. Raises TermError, with the place in ``source``,
    where it cannot be searched.
    """
    if not forms_of and (kind := _plain(source)):
        head = Choice((Sequence((Piece(source, kind),), ()),))
        return Term(source, head, (), match_case, ignore_accents)
    text = clean(source)[0]
    if not text.strip():
        raise TermError("Type at least one word.", source)
    if len(text) > MAX_CHARS:
        message = f"A term can have at most {MAX_CHARS} characters; this one has {len(text):,}."
        raise TermError(message, source, MAX_CHARS)
    if "\n" in text.strip():
        raise TermError("A term stands on one line.", source, text.index("\n"))
    return _Parser(text, source).term(match_case, ignore_accents, forms_of)


def _plain(source: str) -> PieceKind | None:
    """What a term of one plain word or beginning is: the bulk of large dictionaries, read at once."""
    if len(source) > MAX_CHARS:
        return None
    if _PLAIN_WORD.match(source):
        return "word"
    return "open" if _PLAIN_BEGINNING.match(source) else None


class _Parser:
    """Recursive descent over lexemes; knows its place for errors."""

    def __init__(self, text: str, source: str) -> None:
        self.text, self.source = text, source
        self.found = lexemes(text, source)
        self.next = 0
        self.pieces = 0

    def fail(self, message: str, at: int) -> TermError:
        return TermError(message, self.source, min(at, max(len(self.text) - 1, 0)))

    @property
    def here(self) -> Lexeme | None:
        return self.found[self.next] if self.next < len(self.found) else None

    def take(self) -> Lexeme:
        self.next += 1
        return self.found[self.next - 1]

    def term(self, match_case: bool, ignore_accents: bool, forms_of: str) -> Term:
        begin = 0
        while self.here is not None and self.here.kind == "option":
            option = self.take()
            match_case |= option.value == "exact-case"
            ignore_accents |= option.value == "any-accents"
            if option.value == "all-forms":
                forms_of = self._language(option)
            begin = self.here.at if self.here is not None else len(self.text)
            begin -= self._here_is_quoted()
        if forms_of and forms_of not in LEMMA_LANGUAGES:
            raise self.fail(f"There is no list of word forms for the language “{forms_of}”.", 0)
        if forms_of and match_case:
            raise self.fail("Exact case and all forms of a word cannot go together.", 0)
        head = self.choice(0, "There is no word in this term.")
        conditions = []
        while self.here is not None and self.here.kind == "condition":
            conditions.append(self.condition())
        if self.here is not None:
            self._refuse_leftover(self.here)
        if len(conditions) > MAX_CONDITIONS:
            raise self.fail(f"A term can have at most {MAX_CONDITIONS} conditions.", 0)
        source = self.text[begin:].strip()
        return Term(source, head, tuple(conditions), match_case, ignore_accents, forms_of)

    def _refuse_leftover(self, left: Lexeme) -> None:
        if left.kind == ")":
            raise self.fail("This bracket closes nothing; add its partner or take it away.", left.at)
        raise self.fail(f"“{left.value}:” stands at the beginning of a term.", left.at)

    def _here_is_quoted(self) -> bool:
        return self.here is not None and self.here.kind == "quoted"

    def _language(self, option: Lexeme) -> str:
        given = str(option.given)
        if given not in LEMMA_LANGUAGES:
            known = ", ".join(LEMMA_LANGUAGES)
            what = f"no list of word forms for “{given}”" if given else "no language named"
            message = f"There is {what}. Write it as in all-forms:en; languages: {known}."
            raise self.fail(message, option.at)
        return given

    def condition(self) -> Condition:
        sign = self.take()
        unless = sign.value.startswith("unless-")
        relation = sign.value.removeprefix("unless-")
        message = f"After “{sign.value}:” stands what it speaks of, such as {sign.value}: … price."
        if sign.given is not None:
            message = f"After “{sign.value}:{sign.given or 'sentence'}” stands at least one word."
        what = self.choice(0, message)
        return Condition(relation, sign.given or None, unless, what)  # type: ignore[arg-type]

    def choice(self, depth: int, when_empty: str) -> Choice:
        if depth > MAX_DEPTH:
            at = self.found[self.next - 1].at
            raise self.fail(f"Brackets can lie in one another at most {MAX_DEPTH} deep.", at)
        begin = self.here.at if self.here is not None else len(self.text)
        options = [self.sequence(depth)]
        while self.here is not None and self.here.kind == "|":
            bar = self.take()
            options.append(self.sequence(depth))
            if options[-1] is None:
                raise self.fail("After this bar a word is missing.", bar.at)
        if options[0] is None:
            if len(options) > 1:
                raise self.fail("Before the bar a word is missing.", begin)
            raise self.fail(when_empty, begin)
        return Choice(tuple(dict.fromkeys(_flat(options))))

    def sequence(self, depth: int) -> Sequence | None:
        """Items up to the next bar, closing bracket or instruction; None where there is none."""
        items: list[Piece | Choice] = []
        gaps: list[tuple[int, int]] = []
        waiting: Lexeme | None = None
        begin = self.here.at if self.here is not None else 0
        while self.here is not None and self.here.kind not in ("|", ")", "condition", "option"):
            sign = self.take()
            if sign.kind == "gap":
                if not items or waiting:
                    raise self.fail("A gap stands between two words.", sign.at)
                waiting = sign
                continue
            found = self.items(sign, depth)
            for item in found:
                if items and not waiting and (joined := _joined(items[-1], item)):
                    items[-1] = joined
                    continue
                if items:
                    gaps.append(waiting.given if waiting else (0, 0))  # type: ignore[arg-type]
                    waiting = None
                items.append(item)
        if waiting:
            raise self.fail("After this gap a word is missing.", waiting.at)
        if len(items) > MAX_ROW:
            message = f"A term can have at most {MAX_ROW} words in a row; this one has {len(items)}."
            raise self.fail(message, begin)
        return Sequence(tuple(items), tuple(gaps)) if items else None

    def items(self, sign: Lexeme, depth: int) -> list[Piece | Choice]:
        if sign.kind == "(":
            inside = self.choice(depth + 1, "There is no word in these brackets.")
            if self.here is not None and self.here.kind in ("condition", "option"):
                message = (
                    f"“{self.here.value}:” cannot stand inside brackets; a condition is for the whole term."
                )
                raise self.fail(message, self.here.at)
            if self.here is None or self.here.kind != ")":
                raise self.fail("This bracket is not closed; add its partner.", sign.at)
            self.take()
            return [inside]
        if sign.kind == "expression":
            found = [Piece(self._checked(sign), "expression")]
        else:
            found = _words(sign, self.source)
        self.pieces += len(found)
        if self.pieces > MAX_PIECES:
            message = f"A term can have at most {MAX_PIECES} words; this one has more."
            raise self.fail(message, sign.at)
        return list(found)

    def _checked(self, sign: Lexeme) -> str:
        if problem := expression_problem(sign.value):
            raise self.fail(f"The expression cannot be used: {problem}", sign.at + 1)
        return sign.value


def _joined(before: Piece | Choice, item: Piece | Choice) -> Piece | None:
    """Characters next to characters are one run: a space between them is none in the texts."""
    if not isinstance(before, Piece) or not isinstance(item, Piece):
        return None
    if before.kind != "characters" or item.kind != "characters":
        return None
    return Piece(before.form + item.form, "characters")


def _flat(options: list[Sequence | None]) -> list[Sequence]:
    """A bracket that is all there is of an option gives its options to the choice around it."""
    out: list[Sequence] = []
    for option in options:
        assert option is not None
        only = option.items[0] if len(option.items) == 1 else None
        out.extend(only.options if isinstance(only, Choice) else [option])
    return out


@lru_cache(maxsize=2_000)
def expression_problem(expression: str) -> str | None:
    """Why an expression cannot be used, or None. The engine is linear: none runs away."""
    try:
        for written in (expression, f"^(?is:{expression})$"):  # alone first: it may not close our bracket
            pl.Series([""]).str.contains(written, strict=True)
    except pl.exceptions.ComputeError as error:
        lines = [line.strip() for line in str(error).splitlines() if line.strip()]
        reason = next((line for line in lines if line.startswith("error:")), lines[-1] if lines else "")
        if "size limit" in str(error):
            return "it unfolds to something too large. Use smaller numbers of repetitions."
        reason = reason.removeprefix("error:").strip() or "it is not complete"
        return f"{reason}."
    return None


def _words(sign: Lexeme, source: str) -> list[Piece]:
    """The words of a run or of a quoted stretch."""
    if _PLAIN_WORD.match(sign.value):
        return [Piece(sign.value)]
    if sign.kind == "words" and _PLAIN_BEGINNING.match(sign.value):
        return [Piece(sign.value, "open")]
    marked = sign.value
    if sign.kind == "words":
        marked = marked.replace("*", _STAR).replace("?", _ONE)
    words = with_their_signs(tokens_of(marked), marked)
    _refuse_stray_signs(marked, words, sign.at, source)
    if sign.kind == "quoted":
        return [Piece(form) for form, _ in words]
    found = _with_their_signs(words)
    return [_piece(form, sign.at + at, source) for form, at in found]


def _with_their_signs(words: list[tuple[str, int]]) -> list[tuple[str, int]]:
    """Signs belong to the word they touch: 1.5* begins like a number. Words of a script without spaces are joined again,
    since what is found may begin and end inside words; a star there stands for nothing: 経済* is 経済 and whatever
    follows."""
    out: list[tuple[str, int]] = []
    for form, at in words:
        before, where = out[-1] if out else ("", 0)
        if not before or where + len(before) != at:
            out.append((form, at))
        elif set(form) <= {_STAR, _ONE}:
            out[-1] = (before + (form.replace(_STAR, "") if _is_characters(before) else form), where)
        elif is_unspaced(form[0]) and (_is_characters(before) or set(before) <= {_STAR, _ONE}):
            out[-1] = (before.replace(_STAR, "") + form, where)
        else:
            out.append((form, at))
    return out


def _is_characters(form: str) -> bool:
    """Whether it is a run of a script without spaces, with ? in it perhaps."""
    letters = form.replace(_ONE, "")
    return bool(letters) and is_unspaced(letters[0])


def _refuse_stray_signs(marked: str, words: list[tuple[str, int]], base: int, source: str) -> None:
    """A sign that is never part of a word would be dropped in silence; say so instead."""
    covered: set[int] = set()
    for form, at in words:
        covered.update(range(at, at + len(form)))
    for at, char in enumerate(marked):
        if at not in covered and char not in _HARMLESS and not char.isspace():
            rest = " ".join(form for form, _ in words).replace(_STAR, "*").replace(_ONE, "?")
            hint = f" Without it the term is “{rest}”." if rest else ""
            raise TermError(
                f"“{char}” is never part of a word, so it finds nothing.{hint}", source, base + at
            )


def _piece(form: str, at: int, source: str) -> Piece:
    if _is_characters(form):
        return Piece(form.replace(_ONE, "?"), "characters")
    if _STAR not in form and _ONE not in form:
        return Piece(form)
    written = form.replace(_STAR, "*").replace(_ONE, "?")
    if not any(c.isalnum() for c in written) and written not in ("#*", "@*"):
        message = f"“{written}” alone would find every word. Put at least one letter beside it."
        raise TermError(message, source, at)
    return Piece(written, "open")


def term_of_words(source: str, pieces: tuple[Piece, ...]) -> Term:
    """A term of words in a row, made without reading."""
    return Term(source, Choice((in_a_row(pieces),)))
