"""Who texts could be from, where no column says it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath

from winnower.readers.documents import HEADER as DOCUMENT_HEADER
from winnower.readers.lots import Lot
from winnower.readers.prepare import domain_of

#: Columns of documents that are no statement about who they are from, or are offered as file and folder.
_NOT_OF_DOCUMENTS = frozenset(DOCUMENT_HEADER) - {"Author", "Source", "Section"}
MOST_SOURCES = 200


@dataclass(frozen=True)
class SourceChoice:
    """Where the source could come from, as in Mapping.source_from or "column:" and its name; some of what
    it would be."""

    way: str
    examples: tuple[str, ...]


def source_choices(lot: Lot, rows: Sequence[Sequence[str]]) -> list[SourceChoice]:
    """Columns with few values that come again, domains of addresses, names of files and folders."""
    out = []
    for at, name in enumerate(lot.header):
        if not lot.is_table and name in _NOT_OF_DOCUMENTS:
            continue
        values = [row[at].strip() for row in rows if row[at].strip()]
        different = list(dict.fromkeys(values))
        short = all(len(value) <= 60 for value in different)
        if short and 2 <= len(different) <= min(MOST_SOURCES, len(values) // 2):
            out.append(SourceChoice(f"column:{name}", tuple(different[:3])))
        domains = list(dict.fromkeys(d for v in values if "://" in v and (d := domain_of(v))))
        if len(domains) > (1 if lot.is_table else 0):
            out.append(SourceChoice(f"domain:{name}", tuple(domains[:3])))
    paths = [PurePosixPath(origin.name) for origin in lot.origins]
    for way, names in (("file", [p.stem for p in paths]), ("folder", [p.parent.name for p in paths])):
        different = list(dict.fromkeys(name for name in names if name))
        if len(different) > 1 or (way == "file" and different):
            out.append(SourceChoice(way, tuple(different[:3])))
    return out
