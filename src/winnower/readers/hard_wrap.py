"""Lines that end where a page or a screen did: joined to the paragraphs they are pieces of.

A text that was wrapped at 70 to 80 signs would otherwise have a paragraph for each line, and a phrase that runs over
the end of one would not be found.
"""

from __future__ import annotations

import re
from dataclasses import replace
from statistics import quantiles

from winnower.readers.document import Document
from winnower.readers.speakers import begins_turn

#: Widths at which texts are wrapped, and how many lines must be there to tell.
WIDTHS = range(45, 111)
LEAST_LINES, FEW_LINES = 6, 3
#: A wrapped line is at least so much of the width: the next word did not fit.
FULL = 0.75
#: So many of the lines that are followed by another must be full, and end within a sentence.
MOSTLY, WITHIN = 0.7, 0.5
_ENDS = re.compile(r"[.!?:;…][\"'”’»)\]]*$")
_ITEM = re.compile(r"\s*(?:[-*•–—·]|\d{1,3}[.)]|[a-z]\))\s")
_HYPHEN = re.compile(r"([^\W\d_]+)-$")
_NEXT = re.compile(r"[^\W\d_]+")


def wrap_width(body: str) -> int:
    """The width at which the lines of a text were wrapped; 0 where a line is a paragraph or something else."""
    lines = [line.rstrip() for line in body.split("\n")]
    followed = [one for one, after in zip(lines, lines[1:], strict=False) if one.strip() and after.strip()]
    if len(followed) < FEW_LINES:
        return 0
    lengths = sorted(map(len, followed))
    width = int(quantiles(lengths, n=20)[-1])
    if width not in WIDTHS or lengths[-1] > width * 1.25:
        return 0
    full = [line for line in followed if len(line) >= width * FULL]
    within = [line for line in full if not _ENDS.search(line)]
    if len(followed) < LEAST_LINES:  # few lines must say it one and all
        nexts = [after for one, after in zip(lines, lines[1:], strict=False) if one.strip() and after.strip()]
        lower = sum(after.lstrip()[:1].islower() for after in nexts)
        return width if len(within) == len(followed) and lower * 3 >= len(nexts) * 2 else 0
    if len(full) < MOSTLY * len(followed) or len(within) < WITHIN * len(full):
        return 0
    return width


def join_lines(document: Document, width: int = 0) -> Document:
    """The document with the lines of each paragraph joined, where they were wrapped; unchanged else. ``width`` is that
    of the file it was cut from, 0 where that has none."""
    width = wrap_width(document.body) or width
    if not width:
        return document
    # what stands at a place in the text must go on standing there: then a line's end becomes one space
    exact = bool(document.places or document.remarks)
    lines = document.body.split("\n")
    vocabulary = set() if exact else {word.casefold() for word in _NEXT.findall(document.body)}
    out = [lines[0]]
    for before, line in zip(lines, lines[1:], strict=False):
        if not _goes_on(before, line, width):
            out.append(f"\n{line}")
        elif exact:
            out.append(f" {line}")
        else:
            _join(out, line.lstrip(), vocabulary)
    return replace(document, body="".join(out))


def _goes_on(before: str, line: str, width: int) -> bool:
    """Whether a line is more of the paragraph before it."""
    if not before.strip() or not line.strip():
        return False
    if begins_turn(line) or _ITEM.match(line):
        return False
    first = line.split(maxsplit=1)[0]
    if len(before.rstrip()) + 1 + len(first) > width:
        return True  # its first word had no room there
    return not _ENDS.search(before.rstrip()) and len(before.rstrip()) >= width * FULL


def _join(out: list[str], line: str, vocabulary: set[str]) -> None:
    """Put a line behind what is there; a word that was parted becomes one where the text has it as one elsewhere."""
    parted, rest = _HYPHEN.search(out[-1]), _NEXT.match(line)
    if parted and rest and rest[0][0].islower():
        if f"{parted[1]}{rest[0]}".casefold() in vocabulary:
            out[-1] = out[-1][:-1]
        out.append(line)
    else:
        out[-1] = out[-1].rstrip()
        out.append(f" {line}")
