"""Lines of an example that somebody pointed at: which line of a text is its headline, and which say outlet and date."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import NamedTuple

from winnower.readers.document import Document, part_of
from winnower.readers.origin_lines import date_in, parse_origin, without_date_and_page

#: What a line can be pointed at as. Its place is its number, from 0, among the lines of a text that hold words.
#: "skip" says nothing and is left out.
ROLES = ("title", "source", "date", "skip")
#: A word before the value, as in "Outlet: Orrin Courier".
_LABEL = re.compile(r"^[^\W\d_]{1,12}:\s+")
Marks = tuple[tuple[str, int], ...]


class MarkCount(NamedTuple):
    """In how many texts the line of a role says what it was pointed at for."""

    role: str
    found: int
    texts: int


def with_marked_lines(piece: Document, marks: Marks) -> Document:
    """A text with what its marked lines say. The lines from its first one on that are marked are no words of it."""
    said = read_marks(piece.body, marks)
    fields = dict(piece.fields) | ({"Source": said["source"]} if "source" in said else {})
    words = part_of(piece, _words_begin(piece.body, marks), len(piece.body))
    return replace(
        words,
        title=said.get("title", piece.title),
        date=said.get("date", piece.date),
        author=piece.author,
        fields=tuple(fields.items()),
        notices=piece.notices,
        reason=piece.reason
        if words.body
        else "There is nothing in this text but the lines that say what it is.",
    )


def read_marks(body: str, marks: Marks) -> dict[str, str]:
    """What the marked lines of a text say, by role; a role whose line says nothing of the kind is left out."""
    filled = [line.strip() for line in body.split("\n") if line.strip()]
    out: dict[str, str] = {}
    for role, number in marks:
        line = filled[number] if 0 <= number < len(filled) else ""
        if value := _value(line, role):
            out[role] = value
    return out


def _value(line: str, role: str) -> str:
    if role == "date":
        return date_in(line)
    if role == "source":
        origin = parse_origin(line)
        return origin.source if origin else without_date_and_page(_LABEL.sub("", line))
    return line


def _words_begin(body: str, marks: Marks) -> int:
    """Where the words of a text begin: after the marked lines it begins with."""
    marked = {number for _, number in marks}
    offset, number = 0, 0
    for line in body.split("\n"):
        if line.strip():
            if number not in marked:
                return offset
            number += 1
        offset += len(line) + 1
    return len(body)


def count_marks(bodies: Iterable[str], marks: Marks) -> list[MarkCount]:
    """Of texts as they were cut, with their marked lines: in how many each role was found."""
    said: Sequence[dict[str, str]] = [read_marks(body, marks) for body in bodies]
    return [MarkCount(role, sum(role in one for one in said), len(said)) for role, _ in marks]
