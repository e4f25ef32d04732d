"""What an import tells at its end."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

from winnower.jobs.again import Again, Met
from winnower.readers.prepare import PreparedTexts
from winnower.readers.problems import Problem

MAX_LISTED = 5_000
#: Of one reason in one file or archive so many are listed, so that they leave room for the others.
MOST_ALIKE = 500
_COUNTS = (
    "new", "known", "other_values", "changed", "taken", "refused", "words", "remarks_total",
)  # fmt: skip


@dataclass
class ImportReport:
    """Counts of texts, and each refusal and remark with its place and reason.

    new           stored now
    known         in the project before and the same, or earlier in this delivery
    other_values  in the project before with the same text and other values
    changed       in the project before, or earlier in this delivery, with another text
    taken         texts that were there and were given newer words or values
    refused       rows and files that could not be taken
    alike         texts without a key that agree with another of this delivery; they are kept
    """

    new: int = 0
    known: int = 0
    other_values: int = 0
    changed: int = 0
    taken: int = 0
    refused: int = 0
    alike: int = 0
    words: int = 0
    files: int = 0
    refusals: list[dict[str, Any]] = field(default_factory=list)
    changes: list[dict[str, Any]] = field(default_factory=list)
    remarks: list[dict[str, Any]] = field(default_factory=list)
    remarks_total: int = 0
    notices: list[str] = field(default_factory=list)
    times: dict[str, int] = field(default_factory=dict)

    def add(self, problems: list[Problem]) -> None:
        """Take over problems; only the first MAX_LISTED of a sort are listed, all are counted."""
        for problem in problems:
            place = {"file": problem.file, "row": problem.row, "reason": problem.reason}
            if problem.kept:
                self.remarks_total += 1
                _list(self.remarks, place)
            else:
                self.refused += 1
                group = f"{problem.file.split('/')[0]}\0{problem.reason}"
                self.times[group] = self.times.get(group, 0) + 1
                if self.times[group] <= MOST_ALIKE:
                    _list(self.refusals, place)

    def add_twice(self, file: str, row: int, key: str) -> None:
        """A key that came earlier in this delivery with another text."""
        self.changed += 1
        reason = f"“{key[:80]}” came before in this delivery with another text; the first one was taken."
        _list(self.changes, {"file": file, "row": row, "reason": reason})

    def add_met(self, texts: PreparedTexts, met: Sequence[Met], again: Again) -> None:
        """Rows that are in the project already, and what is done with them."""
        for one in met:
            takes = again.takes_text(one)
            values = [name for name in one.values if again.takes_value(one, name)]
            self.taken += bool(takes or values)
            if one.same:
                self.known += 1
                continue
            self.changed += one.other_text
            self.other_values += not one.other_text
            told = told_of(one, takes, values, texts.key[one.at] or texts.title[one.at])
            _list(self.changes, {"file": texts.file[one.at], "row": texts.line[one.at], "reason": told})

    def merge(self, other: ImportReport) -> None:
        """Add the counts and lists of another part of the same import."""
        for name in _COUNTS:
            setattr(self, name, getattr(self, name) + getattr(other, name))
        for name in ("refusals", "changes", "remarks"):
            mine = getattr(self, name)
            mine.extend(getattr(other, name)[: MAX_LISTED - len(mine)])
        self.notices += other.notices
        for group, times in other.times.items():
            self.times[group] = self.times.get(group, 0) + times

    def folded(self) -> list[str]:
        """What was refused more often than is listed, by archive or file and reason."""
        often = ((group.split("\0"), n) for group, n in self.times.items() if n > MOST_ALIKE)
        return [
            f"{file}: {n:,} refused for the same reason, of which the first are listed: {reason}"
            for (file, reason), n in often
        ]

    def plain(self) -> dict[str, Any]:
        """As plain values, with ``truncated`` where a list was cut."""
        values = asdict(self)
        values["truncated"] = (
            self.refused > len(self.refusals)
            or self.changed + self.other_values > len(self.changes)
            or self.remarks_total > len(self.remarks)
        )
        return values

    @classmethod
    def from_plain(cls, values: dict[str, Any]) -> ImportReport:
        return cls(**{name: value for name, value in values.items() if name != "truncated"})


def told_of(met: Met, takes_text: bool, values: Sequence[str], name: str) -> str:
    """What differs in a row that is there already, and what was done."""
    parts = []
    if met.other_text:
        done = "the newer one was taken" if takes_text else "the stored one was left"
        parts.append(f"is there with another text; {done}")
    kept = [field for field in met.values if field not in values]
    if values:
        parts.append(f"new values of {', '.join(values)} were taken")
    if kept:
        parts.append(f"other values of {', '.join(kept)} were left as stored")
    return f"“{name[:80]}” {', '.join(parts)}."


def _list(places: list[dict[str, Any]], place: dict[str, Any]) -> None:
    if len(places) < MAX_LISTED:
        places.append(place)
