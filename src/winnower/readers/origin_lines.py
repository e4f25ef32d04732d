"""Lines in which outlet, date and page of an article stand together: "Orrin Courier | 6 May 2031 | p. 4".

Digests and archives write them under or over the headline, in any order and with many signs between.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from winnower.core.dates import parse_date
from winnower.readers.fieldlines import label_of

MOST_CHARS, MOST_OUTLET_CHARS, MOST_OUTLET_WORDS = 140, 60, 7
MOST_HEADLINE_CHARS = 220
MOST_SECTION_WORDS = 5
#: The origin is looked for in so many of the lines a text begins with.
FIRST_LINES = 4
#: A text of fewer words is an entry of a contents page.
LEAST_WORDS = 8
#: A line that counts the texts of a list: "3 of 12", "Dokument 3 von 12".
COUNTER = re.compile(
    r"\W*(?:[^\W\d_]+\s+){0,2}(?:nr\.?\s*|no\.?\s*)?(\d{1,6})\s*(?:of|von|de|di|du|van|z|af|/)\s*(\d{1,6})\W*"
    r"(?:documents?|dokumenten?|artikel|articles?)?\W*$",
    re.IGNORECASE,
)
_DAY = r"(?:\d{1,2}(?:st|nd|rd|th|er|º|\.)?)"
_MONTH = r"(?:de |of |d’|d')?[^\W\d_]{3,10}\.?"
_YEAR = r"(?:\d{4})"
_DATES = re.compile(
    rf"\b(?:\d{{4}}-\d{{2}}-\d{{2}}|\d{{1,2}}[./-]\d{{1,2}}[./-](?:\d{{4}}|\d{{2}})\b|"
    rf"{_DAY} {_MONTH},? (?:de |del )?{_YEAR}|[^\W\d_]{{3,10}}\.? {_DAY},? {_YEAR})"
)
_PAGE = re.compile(
    r"(?:\b(?:pages?|pp?\.|seiten?|s\.|p[áa]gs?\.|p[áa]ginas?|pagin[ae]|str\.|sid\.|blz\.)\s*)([A-Z]?\d{1,4}(?:\s?[-–]\s?\d{1,4})?)",
    re.IGNORECASE,
)
_BETWEEN = re.compile(r"\s*[|•·;\t/]\s*|\s+[-–—]\s+|,\s*|\s{2,}|\s+\(|\)\s*")
_JOINING = re.compile(r"\b(?:vom|dated|du|del|van|dal|z dnia|nr\.?|no\.?|issue|ausgabe)\b\s*$", re.IGNORECASE)
#: What stands before the date of a sentence.
_SENTENCE = re.compile(
    r"\b(?:on|in|at|since|until|till|by|of|from|am|im|seit|bis|le|depuis|el|desde|il|op)$", re.IGNORECASE
)
_WEEKDAY = re.compile(
    r"^(?:mon|tues|wednes|thurs|fri|satur|sun)day$|^(?:montag|dienstag|mittwoch|donnerstag|freitag|samstag|sonnabend|"
    r"sonntag|lundi|mardi|mercredi|jeudi|vendredi|samedi|dimanche|lunes|martes|mi[ée]rcoles|jueves|viernes|s[áa]bado|"
    r"domingo)$|^(?:mo|di|mi|do|fr|sa|so)\.?$",
    re.IGNORECASE,
)
#: Where a dateline was written, up to its date, and what parts it from the text.
_PLACE = re.compile(
    r"[(]?(?:[^\W\d_a-z][\w.’'-]*)(?:[ /-](?:[^\W\d_a-z][\w.’'-]*|am|an|der|du|de|la|upon|on|in|am)){0,4}"
    r"\s*[,./(–—-]+\s*(?:[^\W\d_]{2,10},? )?(?:den |le |el )?"
)
_RULE = re.compile(r"[)]?[.,]?\s*(?:[–—:]|--?\s|\([A-Za-z/. ]{2,12}\)\s*[–—:-])\s*\S")
_TIME = re.compile(r"^\d{1,2}[:.]\d{2}(?: ?(?:uhr|h|am|pm))?$", re.IGNORECASE)


class ArticleOrigin(NamedTuple):
    """What such a line says: outlet and date always, page and section where they are there."""

    source: str
    date: str
    page: str = ""
    section: str = ""


def parse_origin(line: str) -> ArticleOrigin | None:
    """The origin in a line, None where it is a sentence or says only one of the two.

    >>> parse_origin("Orrin Courier vom 06.05.2031, Seite 4")
    ArticleOrigin(source='Orrin Courier', date='06.05.2031', page='4', section='')
    """
    text = " ".join(line.split())
    if not 8 <= len(text) <= MOST_CHARS or label_of(text) is not None:
        return None
    dated = _date_match(text)
    if dated is None:
        return None
    paged, parts = _parts(text, dated)
    if not parts or len(parts) > 3:
        return None
    if any(len(part.split()) > MOST_SECTION_WORDS for part in parts[1:]):
        return None  # a line that goes on with the words of the text
    source = parts[0]
    words = source.split()
    if len(source) > MOST_OUTLET_CHARS or len(words) > MOST_OUTLET_WORDS or source[0].islower():
        return None
    if _SENTENCE.search(source) or (
        text.endswith((".", "!", "?")) and not paged and text[dated.end() :].strip(" .)")
    ):
        return None
    return ArticleOrigin(source, dated[0], paged[1] if paged else "", " ".join(parts[1:]))


def _date_match(text: str) -> re.Match[str] | None:
    return next((m for m in _DATES.finditer(text) if parse_date(m[0]) or parse_date(m[0], False)), None)


def _parts(text: str, dated: re.Match[str] | None) -> tuple[re.Match[str] | None, list[str]]:
    """The page in a line, and what is left of it beside date, page, weekday and time."""
    rest = f"{_JOINING.sub('', text[: dated.start()])}|{text[dated.end() :]}" if dated else text
    paged = _PAGE.search(rest)
    if paged:
        rest = f"{rest[: paged.start()]}|{rest[paged.end() :]}"
    parts = [part.strip(' .,:()[]"“”') for part in _BETWEEN.split(rest)]
    parts = [part for part in parts if part and not _WEEKDAY.match(part) and not _TIME.match(part)]
    return paged, [part for part in parts if not part.isdecimal()]


def date_in(line: str) -> str:
    """The first date in a line as it is written; empty where there is none."""
    text = " ".join(line.split())
    found = _date_match(text)
    if found:
        return found[0]
    return text if parse_date(text) or parse_date(text, False) else ""


def dateline(body: str) -> str:
    """The date of a dateline a text begins with, as it is written; empty where there is none. Its words stay words of
    the text.

    >>> dateline("ORRIN, 6 May 2031 – The board met.")
    '6 May 2031'
    """
    line = next((one.strip() for one in body.split("\n") if one.strip()), "")[:MOST_CHARS]
    dated = _date_match(line)
    if dated is None or not _PLACE.fullmatch(line[: dated.start()]) or not _RULE.match(line[dated.end() :]):
        return ""
    return dated[0]


def without_date_and_page(line: str) -> str:
    """The first part of a line beside its date and page, such as the outlet in "Orrin Courier – 6 May 2031"."""
    text = " ".join(line.split())
    _, parts = _parts(text, _date_match(text))
    return parts[0] if parts else ""


def origin_starts(lines: Sequence[str]) -> list[int]:
    """Lines at which texts with an origin line begin: at the headline, wherever it stands to that line."""
    found = [at for at, line in enumerate(lines) if parse_origin(line)]
    if len(found) < 2 or not _recur(lines, found):
        return []
    above = sum(_headline_above(lines, at) is not None for at in found)
    if above * 2 <= len(found):
        return found
    starts = [_headline_above(lines, at) for at in found]
    return [at if start is None else start for at, start in zip(found, starts, strict=True)]


def _recur(lines: Sequence[str], found: Sequence[int]) -> bool:
    """Whether the lines are of a list of articles: with pages, or outlets that come again, or texts between them."""
    between = [
        len(" ".join(lines[a + 1 : b]).split()) for a, b in zip(found, [*found[1:], len(lines)], strict=True)
    ]
    return sum(words >= LEAST_WORDS for words in between) * 2 >= len(found)


def _headline_above(lines: Sequence[str], at: int) -> int | None:
    """The line of the headline over an origin line: a short one that follows a gap and is no sentence's end."""
    above = at - 1
    while above >= 0 and not lines[above].strip() and at - above <= 2:
        above -= 1
    if above < 0 or not _is_headline(lines[above]):
        return None
    gap = above == 0 or not _is_words(lines[above - 1])
    return above if gap else None


def _is_words(line: str) -> bool:
    return any(sign.isalpha() for sign in line) and not COUNTER.match(line)


def _is_headline(line: str) -> bool:
    text = line.strip()
    return (
        0 < len(text) <= MOST_HEADLINE_CHARS
        and _is_words(text)
        and not text.endswith((".", ":", ";", ","))
        and parse_origin(text) is None
    )


class FoundOrigin(NamedTuple):
    """An origin among the first lines of a text: how many lines with words stand before it, the headline beside it, and
    the offset at which the words of the text begin."""

    order: int
    title: str
    begins: int
    origin: ArticleOrigin


def find_origin(body: str) -> FoundOrigin | None:
    """The origin line among the first of a text, with the headline over or under it; None where there is none."""
    lines = body.split("\n")
    filled = [at for at, line in enumerate(lines) if _is_words(line)][:FIRST_LINES]
    for order, at in enumerate(filled):
        origin = parse_origin(lines[at])
        if origin is None:
            continue
        title, end = "", at + 1
        if order and _is_headline(lines[filled[order - 1]]):
            title = lines[filled[order - 1]].strip()
        elif order + 1 < len(filled) and _is_headline(lines[filled[order + 1]]):
            title, end = lines[filled[order + 1]].strip(), filled[order + 1] + 1
        return FoundOrigin(order, title, sum(len(line) + 1 for line in lines[:end]), origin)
    return None


def is_marked(line_of: FoundOrigin, body: str) -> bool:
    """Whether an origin speaks for itself, without others like it: it has a page, or bars between its parts."""
    line = body[: line_of.begins]
    return bool(line_of.origin.page) or any(sign in line for sign in "|•·")
