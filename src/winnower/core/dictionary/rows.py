"""A dictionary as rows of a table: one row a term, the category with its levels parted by " > "."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from winnower.core.dictionary.dictionary import (
    LEVEL_SIGN,
    Category,
    Dictionary,
    TermEntry,
    in_tree_order,
)
from winnower.core.errors import DictionaryError, TermError
from winnower.core.tokens import clean

COLUMNS = ("category", "term", "case", "accents", "forms", "note", "description", "colour")
MAX_NAME = 120
_YES = {"1", "yes", "true", "y", "x", "match", "ignore"}


@dataclass(frozen=True)
class DictionaryRows:
    """What a table of terms gave: the dictionary, and each row that was not taken, with its reason."""

    dictionary: Dictionary
    refused: tuple[tuple[int, str], ...]
    doubles: int
    unknown_columns: tuple[str, ...]


def dictionary_from_rows(
    name: str, columns: Iterable[str], rows: Iterable[tuple[int, Mapping[str, str]]]
) -> DictionaryRows:
    """Read rows (row number, cells by column). Bad rows are listed, the others taken.

    Columns ``category`` and ``term`` are needed; ``case`` ("match"), ``accents`` ("ignore"), ``forms``
    (a language code), ``note``, and ``description`` and ``colour`` (1 to 10) of the category are
    optional, all others are reported.
    Raises DictionaryError where a needed column is missing or no row can be taken.
    """
    given = [column.strip().lower() for column in columns]
    missing = [column for column in COLUMNS[:2] if column not in given]
    if missing:
        found = ", ".join(c for c in given if c) or "none"
        raise DictionaryError(
            f"The file has no column “{missing[0]}”. Columns found: {found}. "
            "A dictionary table needs the columns “category” and “term”."
        )
    terms: dict[tuple[str, ...], dict[tuple[Any, ...], TermEntry]] = {}
    described: dict[tuple[str, ...], str] = {}
    coloured: dict[tuple[str, ...], int] = {}
    refused, doubles = [], 0
    for number, cells in rows:
        row = {key.strip().lower(): clean(value or "")[0].strip() for key, value in cells.items()}
        if not any(row.values()):
            continue
        try:
            path = read_path(row.get("category", ""))
            entry = _entry(row)
        except (DictionaryError, TermError) as error:
            refused.append((number, error.message))
            continue
        if row.get("description"):
            described[path] = row["description"]
        if row.get("colour", "").isdecimal() and 1 <= int(row["colour"]) <= 10:
            coloured[path] = int(row["colour"]) - 1
        inside = terms.setdefault(path, {})
        if entry is None:
            continue
        doubles += entry.key in inside
        inside.setdefault(entry.key, entry)
    if not terms:
        reason = f" First reason: row {refused[0][0]}: {refused[0][1]}" if refused else ""
        raise DictionaryError(f"No row of the file could be taken.{reason}")
    categories = in_tree_order(
        Category(path, tuple(entries.values()), described.get(path, "")) for path, entries in terms.items()
    )
    categories = tuple(replace(c, colour=coloured.get(c.path, at % 10)) for at, c in enumerate(categories))
    unknown = tuple(c for c in given if c and c not in COLUMNS)
    return DictionaryRows(Dictionary(name, categories), tuple(refused), doubles, unknown)


def read_path(written: str) -> tuple[str, ...]:
    """A category path from "Level > Level"."""
    path = tuple(part.strip() for part in written.split(">"))
    if not all(path):
        raise DictionaryError(
            "The category is empty." if not written.strip() else f"“{written}” has an empty level."
        )
    if any(len(part) > MAX_NAME for part in path):
        raise DictionaryError(f"A category name can have at most {MAX_NAME} characters.")
    return path


def _entry(row: Mapping[str, str]) -> TermEntry | None:
    if not row.get("term"):
        return None
    entry = TermEntry(
        row["term"],
        match_case=row.get("case", "").lower() in _YES - {"ignore"},
        ignore_accents=row.get("accents", "").lower() in _YES - {"match"},
        note=row.get("note", ""),
        forms_of=row.get("forms", "").lower(),
    )
    return entry.settled()


def dictionary_to_rows(dictionary: Dictionary) -> list[dict[str, str]]:
    """One row a term, and one without a term for a category that has none; reads back the same."""
    rows = []
    for category in dictionary.categories:
        start = {
            "category": LEVEL_SIGN.join(category.path),
            "description": category.description,
            "colour": str(category.colour + 1),
        }
        for term in category.terms or [TermEntry("")]:
            rows.append(
                {
                    **start,
                    "term": term.source,
                    "case": "match" if term.match_case else "",
                    "accents": "ignore" if term.ignore_accents else "",
                    "forms": term.forms_of,
                    "note": term.note,
                }
            )
    return rows
