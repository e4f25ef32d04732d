"""Texts as Word files in which codings and notes are comments on their words."""

from __future__ import annotations

import datetime as dt
import io
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import docx
from docx.oxml import OxmlElement
from docx.oxml.ns import qn

from winnower.writers.flow import fit

#: A comment holds no more; longer notes are cut, and it is said.
MOST_COMMENT = 20_000


@dataclass(frozen=True)
class Remark:
    """A comment on the words from ``start`` to before ``end`` (code points): who made it and when, and its lines."""

    start: int
    end: int
    author: str
    made_at: dt.datetime
    lines: tuple[str, ...]


@dataclass(frozen=True)
class CodedText:
    """A text with where it is from, and what was remarked on its words."""

    title: str
    origin: str
    body: str
    remarks: tuple[Remark, ...]
    #: Who speaks from a code point on.
    speakers: tuple[tuple[int, str], ...] = ()


def coded_docx(title: str, texts: Iterable[CodedText]) -> bytes:
    """One Word file: each text under its title, its paragraphs as they are, its remarks as comments."""
    document = docx.Document()
    document.core_properties.title = fit(title)[:255]
    document.core_properties.author = "Winnower"
    comments: Any = document.comments._comments_elm
    numbers = iter(range(10**9))
    # paragraphs go before the last element of the body; looking for that place each time would take ever longer
    last = document.element.body[-1]
    heading, origin = document.styles["Heading 1"].style_id, document.styles["Subtitle"].style_id
    for text in texts:
        _paragraph(last, heading).append(_run(text.title if fit(text.title).strip() else "Untitled"))
        if text.origin:
            _paragraph(last, origin).append(_run(text.origin))
        _write(last, comments, text, numbers)
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def _paragraph(last: Any, style: str = "") -> Any:
    """A new paragraph before the last element of the body."""
    paragraph = OxmlElement("w:p")
    if style:
        properties, named = OxmlElement("w:pPr"), OxmlElement("w:pStyle")
        named.set(qn("w:val"), style)
        properties.append(named)
        paragraph.append(properties)
    last.addprevious(paragraph)
    return paragraph


def _write(end_of_body: Any, comments: Any, text: CodedText, numbers: Iterator[int]) -> None:
    """The paragraphs of a text. A comment that reaches over several begins in one and ends in another."""
    coming = sorted(
        (one for one in text.remarks if one.start < one.end), key=lambda one: (one.start, -one.end)
    )
    coming.reverse()
    spoken = sorted(text.speakers, reverse=True)
    open_: list[tuple[int, int]] = []  # (end, number)
    edges = sorted({edge for one in coming for edge in (one.start, one.end)})
    at = place = 0
    lines = text.body.split("\n")
    for number, line in enumerate(lines):
        last = number == len(lines) - 1
        if not line.strip() and not last:
            at += len(line) + 1
            continue
        paragraph = _paragraph(end_of_body)
        end = at + len(line)
        while spoken and spoken[-1][0] <= end:
            paragraph.append(_bold(f"{spoken.pop()[1]}: "))
        while place < len(edges) and edges[place] <= at:
            place += 1
        cuts = [at]
        while place < len(edges) and edges[place] < end:
            cuts.append(edges[place])
            place += 1
        for low, high in zip(cuts, [*cuts[1:], end], strict=True):
            open_ = _ended(paragraph, open_, low)
            while coming and coming[-1].start <= low:
                one = coming.pop()
                own = next(numbers)
                comments.append(_comment(own, one))
                paragraph.append(_edge("w:commentRangeStart", own))
                open_.append((one.end, own))
            if high > low:
                paragraph.append(_run(line[low - at : high - at]))
        open_ = _ended(paragraph, open_, end)
        at = end + 1
        if last:  # what reaches beyond the last words ends with them
            _ended(paragraph, open_, at + 1 + max((one for one, _ in open_), default=0))


def _bold(words: str) -> Any:
    run = _run(words)
    properties = OxmlElement("w:rPr")
    properties.append(OxmlElement("w:b"))
    run.insert(0, properties)
    return run


def _ended(paragraph: Any, open_: Sequence[tuple[int, int]], at: int) -> list[tuple[int, int]]:
    """Close the comments that end up to a place; those that stay open."""
    for end, number in open_:
        if end <= at:
            paragraph.append(_edge("w:commentRangeEnd", number))
            run = OxmlElement("w:r")
            run.append(_edge("w:commentReference", number))
            paragraph.append(run)
    return [one for one in open_ if one[0] > at]


def _edge(tag: str, number: int) -> Any:
    edge = OxmlElement(tag)
    edge.set(qn("w:id"), str(number))
    return edge


def _run(words: str) -> Any:
    run, text = OxmlElement("w:r"), OxmlElement("w:t")
    text.text = fit(words)
    text.set("{http://www.w3.org/XML/1998/namespace}space", "preserve")
    run.append(text)
    return run


def _comment(number: int, remark: Remark) -> Any:
    comment = _edge("w:comment", number)
    author = fit(remark.author) or "Winnower"
    comment.set(qn("w:author"), author)
    comment.set(qn("w:initials"), "".join(part[0] for part in author.split()[:3]))
    comment.set(qn("w:date"), remark.made_at.strftime("%Y-%m-%dT%H:%M:%SZ"))
    for line in _cut(remark.lines):
        paragraph = OxmlElement("w:p")
        paragraph.append(_run(line))
        comment.append(paragraph)
    return comment


def _cut(lines: Sequence[str]) -> list[str]:
    whole = "\n".join(lines)
    if len(whole) <= MOST_COMMENT:
        return whole.split("\n")
    return [*whole[:MOST_COMMENT].split("\n"), f"(cut: {len(whole) - MOST_COMMENT:,} more signs)"]
