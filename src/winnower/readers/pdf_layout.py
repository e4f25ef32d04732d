"""From lines on pages to paragraphs: columns, running heads, page numbers, hyphens at line ends."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from statistics import median

import numpy as np

#: Running heads and page numbers stand in the outer parts of a page.
EDGE = 0.11
#: So far, as a share of the page, edges may lie over the line between two columns.
NEAR = 0.005
#: Letters of headings are larger than the usual ones by so much; bold headings of usual size are so long at most.
LARGER, BOLD_HEADING = 1.12, 120
#: A step from line to line is that of paragraphs where so many are like it.
OFTEN = 0.15
#: With a larger share of bold lines than this, bold marks no headings.
MOST_BOLD = 0.4
#: Places in the middle of a page at which two columns may part.
_STEPS = np.arange(30, 71) / 100
_NUMBER = re.compile(
    r"(?:page |p\. ?|– ?|- ?)?(?:\d{1,4}|[ivxlc]{1,6})(?: ?(?:of|/) ?\d{1,4})?(?: ?–| ?-)?", re.IGNORECASE
)
_HYPHENS = "-\u00ad\u0002\ufffe\u2010"
_WORD = re.compile(r"[\w-]+")
_ENDS, _CLOSERS = ".!?:…", "\"'”’)]"


@dataclass(frozen=True)
class Line:
    """A line: left, right, top, bottom and letter size as shares of the page; ``gaps`` are wide
    spaces inside it as (place in the text, left, right), ``bold`` is how many letters it begins with are bold."""

    text: str
    left: float
    right: float
    top: float
    bottom: float
    size: float
    gaps: tuple[tuple[int, float, float], ...] = ()
    bold: int = 0
    #: Where its letters stand; letters of a line reach over it and below it by what they are.
    baseline: float = 0.0

    @property
    def place(self) -> float:
        return self.baseline or self.top


@dataclass(frozen=True)
class Paragraph:
    """``page`` counts from 0: the page it begins on. ``level`` is that of a heading, 1 the highest, 0 for none;
    ``bold`` is how many letters it begins with are bold."""

    text: str
    page: int
    level: int = 0
    bold: int = 0


def paragraphs(pages: Sequence[Sequence[Line]]) -> list[Paragraph]:
    """The text of a document in reading order."""
    heads = _running(pages)
    body = [[line for line in page if not _is_furniture(line, page, heads)] for page in pages]
    sizes: Counter[float] = Counter()
    for page in body:
        for line in page:
            sizes[round(line.size, 4)] += len(line.text)
    usual = sizes.most_common(1)[0][0] if sizes else 0.0
    words = _written_words(body)
    lines = [line for page in body for line in page]
    # where much is bold, bold says nothing
    sparing = sum(_wholly_bold(line) for line in lines) > len(lines) * MOST_BOLD
    out: list[Paragraph] = []
    sizes_of: list[float] = []
    for number, page in enumerate(body):
        for column in _columns(page):
            for lines in _blocks(column, usual):
                text = _join(lines, words)
                size = _heading_size(lines, text, usual)
                if size and sparing:
                    size = 0.0 if size == usual else size
                if out and not size and not sizes_of[-1] and _goes_on(out[-1].text, text):
                    joined = _join_two(out[-1].text, text, words)
                    out[-1] = Paragraph(joined, out[-1].page, bold=out[-1].bold)
                else:
                    out.append(Paragraph(text, number, bold=lines[0].bold))
                    sizes_of.append(size)
    levels = _levels(sizes_of)
    return [replace(one, level=levels.get(size, 0)) for one, size in zip(out, sizes_of, strict=True)]


def _heading_size(lines: Sequence[Line], text: str, usual: float) -> float:
    """The letters' size where a paragraph is a heading: larger than usual, or in bold from end to end; else 0."""
    if len(text) >= 160 or text.endswith("."):
        return 0.0
    size = lines[0].size
    if size > usual * LARGER:
        return size
    bold = all(_wholly_bold(line) for line in lines)
    return usual if bold and len(text) <= BOLD_HEADING and text[-1:] not in ".?!:;," else 0.0


def _levels(sizes: Sequence[float]) -> dict[float, int]:
    """Levels of headings by their size, the largest 1; sizes that differ by less than LARGER are one level."""
    levels: dict[float, int] = {}
    level, top = 0, 0.0
    for size in sorted({size for size in sizes if size}, reverse=True):
        if not top or size * LARGER <= top:
            level, top = level + 1, size
        levels[size] = level
    return levels


def _cut_word(text: str) -> bool:
    """Whether a line ends inside a word."""
    return text[-1:] in _HYPHENS and text[-2:-1].isalnum()


def _ends_sentence(text: str) -> bool:
    return text.rstrip(_CLOSERS)[-1:] in _ENDS


def _written_words(body: Sequence[Sequence[Line]]) -> Counter[str]:
    """How often each word is written out; only needed where a line ends in a hyphen."""
    if not any(_cut_word(line.text) for page in body for line in page):
        return Counter()
    return Counter(_WORD.findall("\n".join(line.text for page in body for line in page).lower()))


def _pattern(text: str) -> str:
    return re.sub(r"\d+", "#", " ".join(text.lower().split()))


def _running(pages: Sequence[Sequence[Line]]) -> set[str]:
    """Lines in the outer parts of pages that come again on many of them, numbers apart."""
    if len(pages) < 2:
        return set()
    seen: Counter[str] = Counter()
    for page in pages:
        seen.update({_pattern(line.text) for line in page if _outer(line) and _apart(line, page)})
    return {text for text, times in seen.items() if times >= max(2, len(pages) * 0.4)}


def _outer(line: Line) -> bool:
    return line.bottom < EDGE or line.top > 1 - EDGE


def _apart(line: Line, page: Sequence[Line]) -> bool:
    """Whether a line stands apart from those above and below, as text that goes on does not."""
    low, high = line.size * 0.5, line.size * 1.75
    return not any(low < abs(other.top - line.top) <= high for other in page)


def _is_furniture(line: Line, page: Sequence[Line], heads: set[str]) -> bool:
    if not _outer(line) or not _apart(line, page):
        return False
    return _pattern(line.text) in heads or bool(_NUMBER.fullmatch(line.text.strip()))


def _columns(page: Sequence[Line]) -> list[list[Line]]:
    """Lines in reading order, as stretches of one column each."""
    gutter = _gutter(page)
    if gutter is None:
        return [sorted(page, key=lambda line: (round(line.top, 3), line.left))] if page else []
    lines = sorted((part for line in page for part in _split(line, gutter)), key=lambda line: line.top)
    out: list[list[Line]] = []
    left: list[Line] = []
    right: list[Line] = []

    def close() -> None:
        out.extend(column for column in (left[:], right[:]) if column)
        left.clear()
        right.clear()

    wide: list[Line] = []
    for line in lines:
        if line.left < gutter - NEAR and line.right > gutter + NEAR:
            close()
            wide.append(line)
            continue
        if wide:
            out.append(wide[:])
            wide.clear()
        (left if line.left < gutter - NEAR else right).append(line)
    close()
    if wide:
        out.append(wide)
    return out


def _gutter(page: Sequence[Line]) -> float | None:
    """Where two columns part: a place in the middle that lines end before or begin after."""
    if len(page) < 6:
        return None
    left = np.fromiter((line.left for line in page), float, len(page))
    right = np.fromiter((line.right for line in page), float, len(page))
    before = right[:, None] <= _STEPS + NEAR
    after = left[:, None] >= _STEPS - NEAR
    gapped = np.zeros_like(before)
    for at, line in enumerate(page):
        for _, low, high in line.gaps:
            gapped[at] |= (low - NEAR <= _STEPS) & (high + NEAR >= _STEPS)
    sides = np.minimum((before | gapped).sum(0), (after | gapped).sum(0))
    crossing = (~(before | after | gapped)).sum(0)
    clear = np.where(sides >= 3, (sides - crossing) / (len(page) + 1), 0.0)
    best = np.flatnonzero(clear == clear.max())
    # the middle of the widest clear stretch
    return float(_STEPS[best[len(best) // 2]]) if clear.max() > 0.15 else None


def _split(line: Line, x: float) -> list[Line]:
    """A line across both columns in two, where it has a gap between them."""
    for place, low, high in line.gaps:
        if low - NEAR <= x <= high + NEAR:
            first, second = line.text[:place].rstrip(), line.text[place:].lstrip()
            bold_after = len(second) if line.bold >= len(line.text) else 0
            left = replace(line, text=first, right=low, gaps=(), bold=min(line.bold, len(first)))
            right = replace(line, text=second, left=high, gaps=(), bold=bold_after)
            return [part for part in (left, right) if part.text]
    return [line]


def _blocks(column: Sequence[Line], usual: float) -> list[list[Line]]:
    """Lines gathered into paragraphs by the space between them, indents and short last lines."""
    if not column:
        return []
    step = _line_step(column)
    edge, end = min(line.left for line in column), max(line.right for line in column)
    width = max(end - edge, 0.01)
    out = [[column[0]]]
    for before, line in zip(column, column[1:], strict=False):
        same_row = abs(line.top - before.top) < before.size * 0.4
        apart = line.place - before.place > max(step * 1.35, before.size * 1.5)
        other = abs(line.size - before.size) > usual * 0.12 or _wholly_bold(line) != _wholly_bold(before)
        indented = line.left > before.left + width * 0.02 and line.left < edge + width * 0.15
        short = before.right < end - width * 0.12 and _ends_sentence(before.text)
        indented = indented and (_ends_sentence(before.text) or before.left <= edge + width * 0.01)
        if not same_row and (apart or other or short or indented):
            out.append([line])
        else:
            out[-1].append(line)
    return out


def _line_step(column: Sequence[Line]) -> float:
    """How far lines of one paragraph stand below each other. Where paragraphs are short most steps are between them:
    the smallest step that comes again often counts."""
    steps = sorted(
        b.place - a.place
        for a, b in zip(column, column[1:], strict=False)
        if b.place - a.place > a.size * 0.8
    )
    least = max(2, len(steps) * OFTEN)
    for at, step in enumerate(steps):
        alike = steps[at : bisect_right(steps, step * 1.08)]
        if len(alike) >= least:
            return median(alike)
    return steps[0] if steps else 0.0


def _wholly_bold(line: Line) -> bool:
    return line.bold >= len(line.text) > 0


def _join(lines: Sequence[Line], words: Counter[str]) -> str:
    text = lines[0].text
    for line in lines[1:]:
        text = _join_two(text, line.text, words)
    return text


def _join_two(first: str, second: str, words: Counter[str]) -> str:
    """Two lines as one; a word cut at the line's end is made whole unless it is written with a hyphen."""
    if _cut_word(first) and second[:1].islower():
        stem, rest = re.findall(r"\w+", first)[-1].lower(), re.match(r"\w+", second)
        after = rest[0].lower() if rest else ""
        if words[f"{stem}-{after}"] > words[stem + after]:
            return first[:-1] + "-" + second
        return first[:-1] + second
    return f"{first} {second}"


def _goes_on(before: str, text: str) -> bool:
    """Whether a paragraph goes on in the next column or on the next page."""
    return (text[:1].islower() and not _ends_sentence(before)) or bool(
        _cut_word(before) and text[:1].islower()
    )
