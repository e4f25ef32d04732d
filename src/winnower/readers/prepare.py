"""Rows of cells to texts with variables, by a mapping."""

from __future__ import annotations

import datetime as dt
import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import PurePosixPath
from typing import Any

from winnower.core.dates import parse_date, parse_time
from winnower.core.errors import ReadError
from winnower.core.limits import MAX_LABEL, MAX_TITLE
from winnower.core.numbers import decimal_vote, parse_number
from winnower.core.reference import Reference, author_year
from winnower.core.tokens import clean
from winnower.readers.document import Document, Place, Remark
from winnower.readers.documents import HEADER as DOCUMENT_HEADER
from winnower.readers.guess import split_several
from winnower.readers.html import words_of_html
from winnower.readers.mapping import Mapping, Target
from winnower.readers.problems import Problem

MAX_VALUES = 200
#: So many ways of writing dates and numbers are remembered with what they mean.
MOST_REMEMBERED = 100_000
MAX_NOTE = 100_000
TITLE_WORDS = 10
_HTML = re.compile(
    r"</?(?:p|br|div|span|a|b|i|u|em|strong|ul|ol|li|h[1-6]|table|tr|td|blockquote|img|font)\b[^<>]*>|"
    r"&(?:[a-z]{2,8}|#\d{2,6}|#x[0-9a-f]{2,5});",
    re.IGNORECASE,
)
#: Columns of a reference list (readers/reference_lists.py) that make up a reference.
_REFERENCE = (
    "type", "title", "authors", "year", "container", "volume", "issue", "pages", "publisher", "place",
    "doi", "url",
)  # fmt: skip


@dataclass(frozen=True)
class Extra:
    """What a text brings besides its columns; ``reason`` says why it has no words yet."""

    places: tuple[Place, ...] = ()
    remarks: tuple[Remark, ...] = ()
    reference: Reference | None = None
    reason: str = ""


@dataclass
class PreparedTexts:
    """Texts ready to be stored, as columns of one length; ``values`` by the variable's name.

    A value is a label (category), a tuple of labels (several), a float, a date or a string by the
    variable's kind, None where there is none. A text without words is a placeholder.
    """

    file: list[str] = field(default_factory=list)
    line: list[int] = field(default_factory=list)
    key: list[str | None] = field(default_factory=list)
    title: list[str] = field(default_factory=list)
    source: list[str | None] = field(default_factory=list)
    date: list[dt.date | None] = field(default_factory=list)
    body: list[str] = field(default_factory=list)
    extra: list[Extra | None] = field(default_factory=list)
    values: dict[str, list] = field(default_factory=dict)
    #: Whether a title was made from the name of the file: it tells nothing of the text.
    named_by_file: list[bool] = field(default_factory=list)

    def __len__(self) -> int:
        return len(self.body)

    def take(self, keep: Sequence[int]) -> PreparedTexts:
        """The texts at these places."""
        if len(keep) == len(self):
            return self
        columns = ("file", "line", "key", "title", "source", "date", "body", "extra", "named_by_file")
        plain = {name: [getattr(self, name)[at] for at in keep] for name in columns}
        values = {name: [column[at] for at in keep] for name, column in self.values.items()}
        return PreparedTexts(**plain, values=values)


#: A value that fits only the other reading says that all of its column may have been read wrongly.
OTHER_ORDER = {
    True: "This date has its month first, and the column is read with the day first: other dates of it may be wrong. "
    "The text is kept without it.",
    False: "This date has its day first, and the column is read with the month first: other dates of it may be wrong. "
    "The text is kept without it.",
}
OTHER_SIGN = {
    ".": "A number in {} has a decimal comma, and the column is read with a decimal point: other numbers of it may be wrong.",
    ",": "A number in {} has a decimal point, and the column is read with a decimal comma: other numbers of it may be wrong.",
}


class Preparer:
    """Applies a mapping to batches of one header; collects problems."""

    def __init__(
        self, header: Sequence[str], mapping: Mapping, limit_chars: int, references: bool = False
    ) -> None:
        self.mapping, self.limit_chars, self.references = mapping, limit_chars, references
        self.problems: list[Problem] = []
        self.of_table = list(header[: len(DOCUMENT_HEADER)]) != DOCUMENT_HEADER
        self._place = {name: at for at, name in enumerate(header)}
        missing = [t.column for t in mapping.targets if t.role != "skip" and t.column not in self._place]
        if missing:
            raise ReadError(f"There is no column “{missing[0]}”. Columns found: {', '.join(header)}.")
        if not mapping.texts and not mapping.placeholders:
            raise ReadError(f"Say which column holds the text. Columns found: {', '.join(header)}.")
        self._dates: dict[str, dt.date | None] = {}
        #: Numbers by how they are written and their decimal sign; whether that is the other one than in their column.
        self._numbers: dict[tuple[str, str], tuple[float | None, bool]] = {}
        self._sources: dict[str, str | None] = {}
        self._texts = [(self._place[t.column], t) for t in mapping.texts]
        self._notes = [(self._place[t.column], t) for t in mapping.targets if t.role == "note"]
        way, _, column = mapping.source_from.partition(":")
        self._way = (way, column)
        self._at = {role: self._first(role) for role in ("title", "source", "date", "key")}

    def prepare(
        self,
        rows: Sequence[Sequence[str]],
        lines: Sequence[int],
        files: Sequence[str],
        documents: Sequence[Document] | None = None,
    ) -> PreparedTexts:
        """Texts of a batch; a row without text is refused unless placeholders are wanted, a value that
        cannot be read is left empty. ``documents`` stand beside the rows where they were read from some.
        """
        variables = self.mapping.variables
        out = PreparedTexts(values={t.name or t.column: [] for t in variables})
        columns = [(self._place.get(t.column, -1), t, out.values[t.name or t.column]) for t in variables]
        fixed = self.mapping.source_name or None
        for number, (cells, line, file) in enumerate(zip(rows, lines, files, strict=True)):
            document = documents[number] if documents else None
            for body, question, places in self._bodies(cells, line, file, document):
                out.file.append(file)
                out.line.append(line)
                out.body.append(body)
                out.key.append(self._key(cells, question))
                out.title.append(self._title(cells, body, question))
                out.named_by_file.append(document is not None and self._is_named_by_file(document))
                source = fixed or self._label(self._source(cells, file), "source", file, line)
                out.source.append(source)
                out.date.append(self._date(self._cell(cells, self._at["date"]), file, line))
                out.extra.append(self._extra(cells, places, document, bool(body)))
                for place, target, column in columns:
                    column.append(question if place < 0 else self._value(cells[place], target, file, line))
        return out

    def _bodies(
        self, cells: Sequence[str], line: int, file: str, document: Document | None
    ) -> list[tuple[str, str | None, tuple[Place, ...]]]:
        """(body, question, places) of the texts a row makes: none where it is refused."""
        found: list[tuple[str, str | None, tuple[Any, ...]]]
        if len(self._texts) == 1:
            body = self._body(cells[self._texts[0][0]], line, file)
            found = [(body, None, document.places if document else ())] if body is not None else []
        elif self.mapping.layout == "sections":
            found = self._sections(cells, line, file)
        else:
            bodies = [(self._body(cells[at], line, file), t) for at, t in self._texts]
            found = [(body, (t.name or t.column)[:MAX_LABEL], ()) for body, t in bodies if body]
            if not found:
                found = [("", None, ())]
        if any(body for body, _, _ in found):
            return [one for one in found if one[0]]
        if found or not self._texts:
            if self.mapping.placeholders:
                return [("", None, ())]
            reason = document.reason if document and document.reason else "There is no text in this row."
            self.problems.append(Problem(file, line, reason))
        return []

    def _sections(self, cells: Sequence[str], line: int, file: str) -> list:
        """One text; each filled column is a section under its name."""
        parts: list[str] = []
        places: list[Place] = []
        chars = 0
        for at, target in self._texts:
            body = self._body(cells[at], line, file)
            if not body:
                continue
            name = target.name or target.column
            start = chars + (2 if parts else 0)
            places.append(Place("section", start, name[:MAX_LABEL]))
            parts.append(f"{name}\n\n{body}")
            chars = start + len(parts[-1])
        return [("\n\n".join(parts), None, tuple(places))]

    def _body(self, cell: str, line: int, file: str) -> str | None:
        """The words of a cell as they are stored; None where they are over the limit."""
        cell = cleaned_of_html(cell) if self.of_table else cell
        body, changes = (
            (cell, []) if cell.isascii() and "\r" not in cell and "\x00" not in cell else clean(cell)
        )
        body = body.strip()
        if len(body) > self.limit_chars:
            reason = f"The text has {len(body):,} characters; the limit is {self.limit_chars:,} (WINNOWER_LIMIT_TEXT_CHARS)."
            self.problems.append(Problem(file, line, reason))
            return None
        for change in changes:
            if not change.startswith("letters"):
                self.problems.append(Problem(file, line, f"{change[0].upper()}{change[1:]}.", kept=True))
        return body

    def _extra(
        self, cells: Sequence[str], places: tuple[Place, ...], document: Document | None, has_body: bool
    ) -> Extra | None:
        remarks = list(document.remarks) if document else []
        for at, target in self._notes:
            words = clean(cells[at])[0].strip()
            if words:
                remarks.append(Remark(words[:MAX_NOTE], target.name or target.column))
        reference = None
        if self.references:
            given = {name: self._cell(cells, self._place.get(name)) or "" for name in _REFERENCE}
            reference = Reference(**given)
        if not (places or remarks or reference or not has_body):
            return None
        reason = "" if has_body else (document.reason if document else "")
        return Extra(places, tuple(remarks), reference, reason)

    def _key(self, cells: Sequence[str], question: str | None) -> str | None:
        key = self._cell(cells, self._at["key"])
        return f"{key}\0{question}" if key is not None and question is not None else key

    def _first(self, role: str) -> int | None:
        column = self.mapping.column(role)
        return None if column is None else self._place[column]

    def _cell(self, cells: Sequence[str], at: int | None) -> str | None:
        if at is None:
            return None
        cell = cells[at].strip()
        return (cell if cell.isascii() else clean(cell)[0]) or None

    def _is_named_by_file(self, document: Document) -> bool:
        """Whether its title is made from the name of its file (see readers/documents.py)."""
        column = self.mapping.column("title")
        return column == "File" or (column == "Title" and not document.title)

    def _title(self, cells: Sequence[str], body: str, question: str | None) -> str:
        title = self._cell(cells, self._at["title"])
        if title and self.of_table:
            title = cleaned_of_html(title)
        if self.mapping.naming == "author-year" and "authors" in self._place:
            authors, year = (self._cell(cells, self._place.get(name)) or "" for name in ("authors", "year"))
            title = author_year(authors, year, title or "") or title
        if title:
            return " ".join(title.split())[:MAX_TITLE]
        if not body:
            return "Without title"
        first = body.split("\n", 1)[0].split()
        return (" ".join(first[:TITLE_WORDS]) + ("…" if len(first) > TITLE_WORDS else ""))[:MAX_TITLE]

    def _label(self, label: str | None, what: str, file: str, line: int) -> str | None:
        if label is not None and len(label) > MAX_LABEL:
            self.problems.append(
                Problem(file, line, f"The {what} is cut to {MAX_LABEL} characters.", kept=True)
            )
            return label[:MAX_LABEL]
        return label

    def _date(self, written: str | None, file: str, line: int) -> dt.date | None:
        if written is None:
            return None
        if written not in self._dates:
            if len(self._dates) > MOST_REMEMBERED:
                self._dates.clear()
            self._dates[written] = parse_date(written, self.mapping.day_first)
        found = self._dates[written]
        if found is None:
            other = parse_date(written, not self.mapping.day_first)
            reason = (
                f"“{written[:60]}” cannot be read as a date; the text is kept without it."
                if other is None
                else OTHER_ORDER[self.mapping.day_first]
            )
            self.problems.append(Problem(file, line, reason, kept=True))
        return found

    def _value(self, cell: str, target: Target, file: str, line: int):
        written = cell.strip()
        if not written:
            return None
        if target.role == "time":
            return parse_time(written)
        written = written if written.isascii() else clean(written)[0]
        if target.kind == "category":
            return self._label(written, f"value of {target.column}", file, line)
        if target.kind == "several":
            parts = dict.fromkeys(p[:MAX_LABEL] for p in split_several(written, target.separator))
            return tuple(p for p in parts if p)[:MAX_VALUES] or None
        if target.kind == "date":
            return self._date(written, file, line)
        if target.kind == "number":
            return self._number(written, target, file, line)
        return written

    def _number(self, written: str, target: Target, file: str, line: int) -> float | None:
        decimal = target.separator if target.separator in (".", ",") else "."
        known = self._numbers.get((written, decimal))
        if known is None:
            if len(self._numbers) > MOST_REMEMBERED:
                self._numbers.clear()
            other = decimal_vote(written)[0] not in ("", decimal)
            known = self._numbers[written, decimal] = (parse_number(written, decimal), other)
        value, other = known
        if value is None:
            reason = f"“{written[:60]}” in {target.column} is not a number; the text is kept without it."
            self.problems.append(Problem(file, line, reason, kept=True))
        elif other:
            self.problems.append(Problem(file, line, OTHER_SIGN[decimal].format(target.column), kept=True))
        return value

    def _source(self, cells: Sequence[str], file: str) -> str | None:
        """Who a text is from: by its column, its file, its folder, or the domain of its address."""
        way, column = self._way
        if way in ("file", "folder"):
            if file not in self._sources:
                path = PurePosixPath(file.split(", sheet ")[0])
                self._sources[file] = (path.stem if way == "file" else path.parent.name) or None
            return self._sources[file]
        if way == "domain" and column in self._place:
            return domain_of(cells[self._place[column]])
        return self._cell(cells, self._at["source"])


def domain_of(address: str) -> str | None:
    """The domain of a web address, without www."""
    found = re.match(
        r"\s*(?:[a-z][a-z0-9+.-]*://)?(?:[^/@\s]*@)?([^/:?#\s]+\.[^/:?#\s]+)", address, re.IGNORECASE
    )
    return found[1].lower().removeprefix("www.") if found else None


def cleaned_of_html(cell: str) -> str:
    """A cell without tags and entities, where it has some."""
    marked = "<" in cell or "&" in cell
    return words_of_html(cell) if marked and _HTML.search(cell) else cell
