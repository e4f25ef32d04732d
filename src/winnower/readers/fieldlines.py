"""Field lines as press archives, agencies and mail write them: "Headline: Nine pages", "Date: 3 June"."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from winnower.core.dates import parse_date
from winnower.readers.guess import NAMES, plain_name

_LINE = re.compile(r"\s*([^\W\d_][^\W_]*(?:[ /.\-][^\W_]+){0,3})\s?[:：]\s*(.*)$")
#: Labels and what they name, in the languages of readers/guess.py.
_ROLES = {
    "title": NAMES["title"],
    "date": NAMES["date"] + r"|load date|erscheinungsdatum|publication date|date of publication|publiziert",
    "source": NAMES["source"],
    "author": r"by(?:line)?|author|autor(?:in|en)?|von|par|auteurs?|por|autore|di|door|verfasser",
    "section": r"section|rubrik|ressort|rubrique|secci[óo]n|sezione|rubriek|sec[çc][ãa]o|dzia[łl]",
    "page": r"pages?|seiten?|p[áa]ginas?|pagin[ae]|strona|s",
    "language": r"language|sprache|langue|idioma|lingua|taal|l[íi]ngua|j[ęe]zyk",
    "text": r"text|body|full text|volltext|texte|texto|testo|tekst|content|inhalt",
}
MOST_FIELDS = 20
MAX_LABEL_CHARS = 40


class Fields(NamedTuple):
    """What field lines say: by role, and by label where they have none; where the words begin after them."""

    roles: dict[str, str]
    others: dict[str, str]
    end: int


def label_of(line: str) -> str | None:
    """The label of a field line in small letters; None where it is none."""
    found = _LINE.match(line)
    if not found or len(found[1]) > MAX_LABEL_CHARS or "://" in line[: found.end(1) + 3]:
        return None
    return plain_name(found[1])


def role_of(label: str) -> str:
    """What a label names, empty where it is a field of its own."""
    return next((role for role, words in _ROLES.items() if re.fullmatch(f"(?:{words})", label)), "")


def read_fields(body: str) -> Fields:
    """The block of field lines a text begins with; a first line without a label before them is its title."""
    roles: dict[str, str] = {}
    others: dict[str, str] = {}
    at = end = 0
    title = ""
    for line in body.splitlines(keepends=True):
        text, at = line.strip(), at + len(line)
        label = label_of(text)
        if not text:
            continue
        if label is None or len(roles) + len(others) >= MOST_FIELDS:
            byline = re.match(r"(?:by|von|par|por|di|door) ([^\W\d_].{2,60})$", text, re.IGNORECASE)
            if byline and (roles or title) and "author" not in roles:
                roles["author"], end = byline[1], at
                continue
            if not roles and not others and not title and len(text) <= 200:
                title = text
                continue
            break
        value = _LINE.match(text)[2].strip()  # type: ignore[index]
        role = role_of(label)
        if role == "text":
            end = at - len(line) + line.index(value) if value else at
            break
        if role and role not in roles and not (role == "date" and parse_date(value) is None):
            roles[role] = value
        else:
            others[_LINE.match(text)[1].strip()] = value  # type: ignore[index]
        end = at
    if title and end and "title" not in roles:
        roles["title"] = title
    return Fields(roles, others, end) if _is_block(roles, others) else Fields({}, {}, 0)


def _is_block(roles: dict[str, str], others: dict[str, str]) -> bool:
    """One line with a colon is a sentence; two, one of them known, are fields."""
    known = [role for role in roles if role != "title"] or [r for r in roles if r == "title" and others]
    return bool(known) and len(roles) + len(others) >= 2


def block_starts(lines: Sequence[str]) -> list[int]:
    """Places of the lines at which the same block of field lines begins again, its first label first."""
    labels = [label_of(line) for line in lines]
    counted: dict[str, list[int]] = {}
    for at, label in enumerate(labels):
        if label and role_of(label):
            counted.setdefault(label, []).append(at)
    best: list[int] = []
    for label, places in counted.items():
        others = [set(filter(None, labels[at + 1 : at + 8])) - {label} for at in places]
        again = sum(bool(o & others[0]) for o in others)
        block = len(places) >= 2 and again == len(places) and others[0]
        if block and (len(places), -places[0]) > (len(best), -best[0] if best else 0):
            best = places
    return [_title_above(lines, labels, at) for at in best]


def _title_above(lines: Sequence[str], labels: Sequence[str | None], at: int) -> int:
    """A lone line right above a block, after an empty one, belongs to it as its title."""
    above = at - 1
    while above >= 0 and not lines[above].strip() and at - above <= 2:
        above -= 1
    short = above >= 0 and 0 < len(lines[above].strip()) <= 200 and labels[above] is None
    alone = short and (above == 0 or not lines[above - 1].strip())
    ends = lines[above].strip().endswith((".", "!", "”", '"')) if short else True
    return above if alone and not ends else at
