"""Lines at the top of a text that say what it is: "Source: Orrin Courier", "Date: 3 March 2031", "Age: 34"."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from typing import NamedTuple

from winnower.core.dates import parse_date
from winnower.readers.document import Document, without_stretches
from winnower.readers.fieldlines import MAX_LABEL_CHARS, MOST_FIELDS, label_of, role_of
from winnower.readers.speakers import FIELD_WORDS, find_speakers, labelled_lines

MAX_TITLE_CHARS = 200
#: Such a block is looked for in so much of a text.
HEAD_CHARS = 20_000
_ENDS = (".", "!", "?", ":", ";", ",", "”", '"', "»", "。", "！", "？")
#: Roles that become columns of the same name beside title, author and date.
_COLUMNS = ("source", "section", "page", "language")


class HeadLine(NamedTuple):
    """A line at the top of a text: ``name`` as it is written, its ``role`` in small letters ("" for a variable of its
    own, "title" also for a line without a label that is the headline), where it stands in the body."""

    name: str
    value: str
    role: str
    start: int
    end: int


def head_lines(document: Document, speakers: bool) -> list[HeadLine]:
    """The lines at the top of a text that are fields, in order; none where they say too little to be sure.

    In a transcript they end with the first turn. Elsewhere they stand together in one block, the headline above it
    or right under it, and one of them must be a date, a source or another known field.
    """
    names = set(find_speakers(document)) if speakers else set()
    if names:
        return _once(_of_transcript(document, names))
    # what a reader has found out by itself is surer than such lines; in a mail they are those of another one
    if document.fields or document.date:
        return []
    return _once(_of_article(document.body))


def _once(lines: list[HeadLine]) -> list[HeadLine]:
    """The first line of each field: what is said a second time stays in the words."""
    first: dict[str, HeadLine] = {}
    for line in lines:
        first.setdefault(line.role or line.name, line)
    return list(first.values())


def with_head_fields(document: Document, names: Collection[str] | None, speakers: bool = False) -> Document:
    """The text without its head lines of these names (all where None), which are its fields then."""
    if names is not None and not names:
        return document
    lines = head_lines(document, speakers)
    if names is not None:
        lines = [line for line in lines if line.name in names or not line.name]
    if not any(line.name for line in lines):
        return document
    fields = dict(document.fields)
    known = {"title": document.title, "author": document.author, "date": document.date}
    cuts: list[tuple[int, int]] = []
    for line in lines:
        if line.role in known:
            if known[line.role] and line.role != "title":
                continue  # the reader has found it elsewhere
            known[line.role] = line.value
        else:
            column = line.role.capitalize() if line.role in _COLUMNS else line.name
            fields[column] = line.value
        cuts.append((line.start, line.end - line.start))
    found = without_stretches(document, cuts)
    reason = found.reason if found.body else "There are lines with fields here and no text."
    return replace(
        found,
        title=known["title"],
        author=known["author"],
        date=known["date"],
        fields=tuple(fields.items()),
        reason=reason,
    )


def _of_transcript(document: Document, speakers: Collection[str]) -> list[HeadLine]:
    out: list[HeadLine] = []
    at = 0
    for line, label in labelled_lines(document):
        start, at = at, at + len(line)
        if label is None:
            continue
        if label.name in speakers:
            break
        value = line[label.chars :].strip()
        if label.field and value and len(value.split()) <= FIELD_WORDS:
            out.append(_line(label.name, value, start, at))
    return out[:MOST_FIELDS]


def _line(name: str, value: str, start: int, end: int) -> HeadLine:
    label = label_of(f"{name}: {value}")
    role = role_of(label) if label else ""
    if role == "text" or (role == "date" and parse_date(value) is None and parse_date(value, False) is None):
        role = ""
    return HeadLine(name, value, role, start, end)


def _of_article(body: str) -> list[HeadLine]:
    rows: list[tuple[int, int, str]] = []
    at = 0
    for line in body[:HEAD_CHARS].splitlines(keepends=True):
        if line.strip():
            rows.append((at, at + len(line), line.strip()))
        at += len(line)
        if len(rows) > MOST_FIELDS + 2:
            break
    first = 0 if rows and _field(rows[0]) else 1
    fields: list[HeadLine] = []
    for row in rows[first:]:
        found = _field(row)
        if found is None:
            break
        fields.append(found)
    roles = [line.role for line in fields if line.role]
    if len(fields) < 2 or not any(role != "title" for role in roles) or len(set(roles)) < len(roles):
        return []
    after = rows[first + len(fields) :]
    if not after:
        return []
    if "title" in roles:
        return fields if first == 0 else []
    if first:
        return [_title(rows[0]), *fields] if _is_title(rows[0], rows[1:]) else []
    gap = body[after[0][0] : after[1][0]].count("\n") > 1 if len(after) > 1 else False
    return [*fields, _title(after[0])] if gap and _is_title(after[0], after[1:]) else fields


def _field(row: tuple[int, int, str]) -> HeadLine | None:
    start, end, text = row
    name, sign, value = text.partition("：" if "：" in text and ":" not in text else ":")
    name, value = name.strip(), value.strip()
    if not sign or not value or label_of(text) is None or len(name) > MAX_LABEL_CHARS:
        return None
    found = _line(name, value, start, end)
    return found if found.role == "title" or len(value.split()) <= FIELD_WORDS * 2 else None


def _title(row: tuple[int, int, str]) -> HeadLine:
    return HeadLine("", row[2], "title", row[0], row[1])


def _is_title(row: tuple[int, int, str], following: Sequence[tuple[int, int, str]]) -> bool:
    """A short line that is no sentence, with others after it."""
    return bool(following) and len(row[2]) <= MAX_TITLE_CHARS and not row[2].endswith(_ENDS)
