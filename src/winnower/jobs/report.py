"""What an import tells at its end."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any

from winnower.readers.problems import Problem

MAX_LISTED = 5_000


@dataclass
class ImportReport:
    """Counts of texts, and each refusal and remark with its place and reason.

    new      stored now
    known    in the project before, or earlier in this delivery under the same key
    changed  known by their key with another content; the stored text stays as it is
    refused  rows and files that could not be taken
    alike    texts without a key that equal another of this delivery in every column; they are kept
    """

    new: int = 0
    known: int = 0
    changed: int = 0
    refused: int = 0
    alike: int = 0
    words: int = 0
    files: int = 0
    refusals: list[dict[str, Any]] = field(default_factory=list)
    changes: list[dict[str, Any]] = field(default_factory=list)
    remarks: list[dict[str, Any]] = field(default_factory=list)
    remarks_total: int = 0
    notices: list[str] = field(default_factory=list)

    def add(self, problems: list[Problem]) -> None:
        """Take over problems; only the first MAX_LISTED of a sort are listed, all are counted."""
        for problem in problems:
            place = {"file": problem.file, "row": problem.row, "reason": problem.reason}
            if problem.kept:
                self.remarks_total += 1
                _list(self.remarks, place)
            else:
                self.refused += 1
                _list(self.refusals, place)

    def add_changed(self, file: str, row: int, key: str) -> None:
        self.changed += 1
        reason = f"“{key[:80]}” is in the project with another content; the stored text was left as it is."
        _list(self.changes, {"file": file, "row": row, "reason": reason})

    def merge(self, other: ImportReport) -> None:
        """Add the counts and lists of another part of the same import."""
        for name in ("new", "known", "changed", "refused", "words", "remarks_total"):
            setattr(self, name, getattr(self, name) + getattr(other, name))
        for name in ("refusals", "changes", "remarks"):
            mine = getattr(self, name)
            mine.extend(getattr(other, name)[: MAX_LISTED - len(mine)])
        self.notices += other.notices

    def plain(self) -> dict[str, Any]:
        """As plain values, with ``truncated`` where a list was cut."""
        values = asdict(self)
        values["truncated"] = (
            self.refused > len(self.refusals)
            or self.changed > len(self.changes)
            or self.remarks_total > len(self.remarks)
        )
        return values

    @classmethod
    def from_plain(cls, values: dict[str, Any]) -> ImportReport:
        return cls(**{name: value for name, value in values.items() if name != "truncated"})


def _list(places: list[dict[str, Any]], place: dict[str, Any]) -> None:
    if len(places) < MAX_LISTED:
        places.append(place)
