"""A document as it was read: its text with what is known about places in it."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass, field
from typing import NamedTuple

from winnower.core.tokens import clean

#: Longer paragraphs than this are not headings, whatever their style says.
MAX_HEADING = 300


class Place(NamedTuple):
    """Something that begins in a text: a page, section, heading, a speaker's turn, a time ("bold" paragraphs
    only until the file is cut). ``start`` counts code points."""

    kind: str
    start: int
    label: str


class Remark(NamedTuple):
    """A note somebody left in the document; ``start`` and ``end`` are None where it is on the whole."""

    body: str
    author: str = ""
    start: int | None = None
    end: int | None = None


@dataclass(frozen=True)
class Document:
    """``fields`` are what the file says of the text beside title, author and date, by name; ``reason`` says
    why there is no text, where a file was whole but held none."""

    body: str
    title: str = ""
    author: str = ""
    date: str = ""
    places: tuple[Place, ...] = ()
    remarks: tuple[Remark, ...] = ()
    notices: tuple[str, ...] = ()
    reason: str = ""
    fields: tuple[tuple[str, str], ...] = ()


@dataclass
class Assembler:
    """Puts a body together paragraph by paragraph and keeps count of where things begin.

    Paragraphs are cleaned (NFC, no outer white space) before they are counted, so that places still
    hold for the text as it is stored. A first paragraph equal to ``omit``, a headline that is the title
    anyway, is left out.
    """

    limit_chars: int = 20_000_000
    omit: str = ""
    chars: int = 0
    parts: list[str] = field(default_factory=list)
    places: list[Place] = field(default_factory=list)
    remarks: list[Remark] = field(default_factory=list)
    notices: list[str] = field(default_factory=list)

    def paragraph(self, text: str, heading: int = 0) -> int | None:
        """Add a paragraph; where it begins, or None where it is empty. ``heading`` is its level."""
        text = tidy(text)
        if not text or (not self.parts and text == self.omit):
            return None
        start = self.chars + (2 if self.parts else 0)
        if heading and len(text) <= MAX_HEADING:
            self.places.append(Place("heading", start, text))
        self.parts.append(text)
        self.chars = start + len(text)
        return start

    def page(self, label: str) -> None:
        """What follows stands on this page."""
        self.places.append(Place("page", self.chars + (2 if self.parts else 0), label))

    def remark(self, body: str, author: str = "", start: int | None = None, end: int | None = None) -> None:
        body = tidy(body)
        if body:
            self.remarks.append(Remark(body, author.strip()[:120], start, end))

    def document(self, title: str = "", author: str = "", date: str = "", reason: str = "") -> Document:
        body = "\n\n".join(self.parts)
        # a page without words begins where the text ends; nothing stands on it
        places = [place for place in self.places if place.start < len(body)]
        return Document(
            body,
            " ".join(title.split())[:500],
            " ".join(author.split())[:300],
            date.strip()[:60],
            tuple(places),
            tuple(self.remarks),
            tuple(self.notices),
            "" if body else reason or "There is no text in this file.",
        )


def tidy(text: str) -> str:
    """A paragraph cleaned, without outer white space; tabs and runs of spaces become one space."""
    text, _ = clean(text)
    if "\u00ad" in text:
        text = text.replace("\u00ad", "")
    lines = [" ".join(line.split()) for line in text.split("\n")]
    return unicodedata.normalize("NFC", "\n".join(line for line in lines if line))
