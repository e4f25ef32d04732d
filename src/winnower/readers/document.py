"""A document as it was read: its text with what is known about places in it."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from winnower.core.tokens import clean

#: Longer paragraphs than this are not headings, whatever their style says.
MAX_HEADING = 300
#: Around words in bold while a document is read; never part of a body.
BOLD_ON, BOLD_OFF = "\ue000", "\ue001"
_MARKS = {ord(BOLD_ON): None, ord(BOLD_OFF): None}
_JOINED = re.compile(f"{BOLD_OFF}(\\s*){BOLD_ON}")
_LEAD = re.compile(f"\\s*{BOLD_ON}([^{BOLD_OFF}]*)")
#: Bold words a paragraph begins with may be the name of who speaks, up to so many.
LEAD_WORDS = 5


class Place(NamedTuple):
    """Something that begins in a text: a page, section, heading, a speaker's turn, a time (of BOLD only until
    the file is cut). ``start`` counts code points; ``level`` is that of a heading, 1 the highest, 0 where it has
    none."""

    kind: str
    start: int
    label: str
    level: int = 0


#: Kinds of places that help to cut a file and find who speaks: a paragraph in bold, bold words at its start.
BOLD = ("bold", "lead")


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
        """Add a paragraph; where it begins, or None where it is empty. ``heading`` is its level; words in bold
        stand between BOLD_ON and BOLD_OFF."""
        text, lead = _without_marks(text)
        text = tidy(text)
        if not text or (not self.parts and text == self.omit):
            return None
        start = self.chars + (2 if self.parts else 0)
        if heading and len(text) <= MAX_HEADING:
            self.places.append(Place("heading", start, text, heading))
        elif lead:
            self._bold(text, tidy(lead), start)
        self.parts.append(text)
        self.chars = start + len(text)
        return start

    def _bold(self, text: str, lead: str, start: int) -> None:
        if lead == text and len(text) <= MAX_HEADING:
            self.places.append(Place("bold", start, " ".join(text.split())))
        elif text.startswith(lead) and lead and len(lead.split()) <= LEAD_WORDS:
            self.places.append(Place("lead", start, lead))

    def page(self, label: str) -> None:
        """What follows stands on this page."""
        self.places.append(Place("page", self.chars + (2 if self.parts else 0), label))

    def remark(self, body: str, author: str = "", start: int | None = None, end: int | None = None) -> None:
        body = tidy(visible([body]))
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


def part_of(document: Document, low: int, high: int, title: str = "") -> Document:
    """The stretch of a document from ``low`` to before ``high`` (code points), with what stands in it."""
    body = document.body[low:high]
    low += len(body) - len(body.lstrip())
    body = body.strip()
    high = low + len(body)
    places = [p._replace(start=max(p.start - low, 0)) for p in document.places if low <= p.start < high]
    page = next((p for p in reversed(document.places) if p.kind == "page" and p.start <= low), None)
    if page is not None and not any(p.kind == "page" and p.start == 0 for p in places):
        places.insert(0, Place("page", 0, page.label))
    remarks = [
        Remark(r.body, r.author, r.start - low, min(r.end, high) - low)
        for r in document.remarks
        if r.start is not None and r.end is not None and low <= r.start < high
    ]
    return Document(
        body, title or document.title, document.author, document.date, tuple(places), tuple(remarks)
    )


def without_stretches(
    document: Document, cuts: Sequence[tuple[int, int]], body: str | None = None, added: Sequence[Place] = ()
) -> Document:
    """The document without stretches of its body (start, length, in order): what stands in it moves along. ``body`` is
    what is left where more was changed than that; ``added`` are places in it."""
    if body is None:
        edges = [0, *(edge for low, gone in cuts for edge in (low, low + gone)), len(document.body)]
        body = "".join(document.body[a:b] for a, b in zip(edges[::2], edges[1::2], strict=True))
    lead = len(body) - len(body.lstrip())

    def moved(place: int) -> int:
        return max(place - sum(min(gone, max(place - low, 0)) for low, gone in cuts) - lead, 0)

    places = [p._replace(start=moved(p.start)) for p in document.places]
    places += [a._replace(start=max(a.start - lead, 0)) for a in added]
    remarks = [
        r if r.start is None or r.end is None else Remark(r.body, r.author, moved(r.start), moved(r.end))
        for r in document.remarks
    ]
    end = len(body.strip())
    inside = sorted((p for p in places if p.start < end), key=lambda p: p.start)
    return replace(document, body=body.strip(), places=tuple(inside), remarks=tuple(remarks))


def visible(pieces: list[str]) -> str:
    """Pieces of a paragraph as one, without the marks around words in bold."""
    return "".join(pieces).translate(_MARKS)


def _without_marks(text: str) -> tuple[str, str]:
    """A paragraph without its marks, and the words in bold it begins with."""
    if BOLD_ON not in text:
        return text.translate(_MARKS) if BOLD_OFF in text else text, ""
    found = _LEAD.match(_JOINED.sub(r"\1", text))
    return text.translate(_MARKS), found[1] if found else ""


def tidy(text: str) -> str:
    """A paragraph cleaned, without outer white space; tabs and runs of spaces become one space."""
    text, _ = clean(text)
    if "\u00ad" in text:
        text = text.replace("\u00ad", "")
    lines = [" ".join(line.split()) for line in text.split("\n")]
    return unicodedata.normalize("NFC", "\n".join(line for line in lines if line))
