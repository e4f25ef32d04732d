"""Rows of cells to texts with variables, by a mapping."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass, field

from winnower.core.errors import ReadError
from winnower.core.tokens import clean
from winnower.readers.dates import parse_date
from winnower.readers.mapping import Mapping, Target
from winnower.readers.problems import Problem

MAX_TITLE = 500
MAX_LABEL = 300
MAX_VALUES = 200
TITLE_WORDS = 10


@dataclass
class PreparedTexts:
    """Texts ready to be stored, as columns of one length; ``values`` by the variable's name.

    A value is a label (category), a tuple of labels (several), a float, a date or a string by the
    variable's kind, None where there is none.
    """

    file: list[str] = field(default_factory=list)
    line: list[int] = field(default_factory=list)
    key: list[str | None] = field(default_factory=list)
    title: list[str] = field(default_factory=list)
    source: list[str | None] = field(default_factory=list)
    date: list[dt.date | None] = field(default_factory=list)
    body: list[str] = field(default_factory=list)
    values: dict[str, list] = field(default_factory=dict)

    def __len__(self) -> int:
        return len(self.body)


class Preparer:
    """Applies a mapping to batches of one header; collects problems."""

    def __init__(self, header: Sequence[str], mapping: Mapping, limit_chars: int) -> None:
        self.mapping, self.limit_chars = mapping, limit_chars
        self.problems: list[Problem] = []
        self._place = {name: at for at, name in enumerate(header)}
        missing = [t.column for t in mapping.targets if t.role != "skip" and t.column not in self._place]
        if missing:
            raise ReadError(f"There is no column “{missing[0]}”. Columns found: {', '.join(header)}.")
        if mapping.column("text") is None:
            raise ReadError(f"Say which column holds the text. Columns found: {', '.join(header)}.")
        self._dates: dict[str, dt.date | None] = {}

    def prepare(
        self, rows: Sequence[Sequence[str]], lines: Sequence[int], files: Sequence[str]
    ) -> PreparedTexts:
        """Texts of a batch; a row without text is refused, a value that cannot be read left empty."""
        out = PreparedTexts(values={t.name or t.column: [] for t in self.mapping.variables})
        at = {role: self._at(role) for role in ("text", "title", "source", "date", "key")}
        variables = [
            (self._place[t.column], t, out.values[t.name or t.column]) for t in self.mapping.variables
        ]
        fixed = self.mapping.source_name
        text_at = at["text"]
        assert text_at is not None
        for cells, line, file in zip(rows, lines, files, strict=True):
            body, changes = clean(cells[text_at])
            body = body.strip()
            if not body:
                self.problems.append(Problem(file, line, "There is no text in this row."))
                continue
            if len(body) > self.limit_chars:
                reason = f"The text has {len(body):,} characters; the limit is {self.limit_chars:,} (WINNOWER_LIMIT_TEXT_CHARS)."
                self.problems.append(Problem(file, line, reason))
                continue
            for change in changes:
                if not change.startswith("letters"):
                    self.problems.append(Problem(file, line, f"{change[0].upper()}{change[1:]}.", kept=True))
            out.file.append(file)
            out.line.append(line)
            out.body.append(body)
            out.key.append(self._cell(cells, at["key"]))
            out.title.append(self._title(self._cell(cells, at["title"]), body))
            out.source.append(fixed or self._label(self._cell(cells, at["source"]), "source", file, line))
            out.date.append(self._date(self._cell(cells, at["date"]), file, line))
            for place, target, column in variables:
                column.append(self._value(cells[place], target, file, line))
        return out

    def _at(self, role: str) -> int | None:
        column = self.mapping.column(role)
        return None if column is None else self._place[column]

    def _cell(self, cells: Sequence[str], at: int | None) -> str | None:
        if at is None:
            return None
        cell = cells[at].strip()
        return (cell if cell.isascii() else clean(cell)[0]) or None

    def _title(self, title: str | None, body: str) -> str:
        if title:
            return " ".join(title.split())[:MAX_TITLE]
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
            if len(self._dates) > 100_000:
                self._dates.clear()
            self._dates[written] = parse_date(written, self.mapping.day_first)
        found = self._dates[written]
        if found is None:
            reason = f"“{written[:60]}” cannot be read as a date; the text is kept without it."
            self.problems.append(Problem(file, line, reason, kept=True))
        return found

    def _value(self, cell: str, target: Target, file: str, line: int):
        written = cell.strip()
        if not written:
            return None
        written = written if written.isascii() else clean(written)[0]
        if target.kind == "category":
            return self._label(written, f"value of {target.column}", file, line)
        if target.kind == "several":
            parts = dict.fromkeys(p.strip()[:MAX_LABEL] for p in written.split(target.separator or ";"))
            return tuple(p for p in parts if p)[:MAX_VALUES] or None
        if target.kind == "date":
            return self._date(written, file, line)
        if target.kind == "number":
            return self._number(written, target, file, line)
        return written

    def _number(self, written: str, target: Target, file: str, line: int) -> float | None:
        try:
            value = float(
                written.replace(",", ".")
                if written.count(",") == 1 and "." not in written
                else written.replace(",", "")
            )
        except ValueError:
            value = float("nan")
        if value != value or value in (float("inf"), float("-inf")):
            reason = f"“{written[:60]}” in {target.column} is not a number; the text is kept without it."
            self.problems.append(Problem(file, line, reason, kept=True))
            return None
        return value
