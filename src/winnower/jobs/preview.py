"""A first look at files before anything is stored."""

from __future__ import annotations

import time
from dataclasses import dataclass, field
from pathlib import Path

from winnower.core.errors import ReadError
from winnower.jobs.sources import TEXT_FILES_MAPPING
from winnower.readers import Mapping, Origin, Problem, TableReader, TextFiles, guess_mapping, list_files
from winnower.readers.prepare import PreparedTexts, Preparer
from winnower.readers.texts import HEADER
from winnower.settings import Settings

ROWS_SHOWN = 20
ROWS_GUESSED_FROM = 500
SAMPLES = 6
SECONDS = 1.5
MOST_PROBLEMS = 200


@dataclass
class FirstLook:
    """What was found; ``checked`` rows were looked over within SECONDS, ``everything`` if those were all."""

    table: Origin | None = None
    encoding: str = ""
    delimiter: str = ""
    header: list[str] = field(default_factory=list)
    rows: list[list[str]] = field(default_factory=list)
    mapping: Mapping | None = None
    text_mapping: Mapping = TEXT_FILES_MAPPING
    other_tables: list[str] = field(default_factory=list)
    text_files: int = 0
    samples: list[PreparedTexts] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)
    problems_total: int = 0
    checked: int = 0
    everything: bool = True
    notices: list[str] = field(default_factory=list)

    def add(self, problems: list[Problem]) -> None:
        self.problems_total += len(problems)
        self.problems += problems[: MOST_PROBLEMS - len(self.problems)]
        problems.clear()


def first_look(
    paths: list[tuple[str, Path]],
    settings: Settings,
    *,
    encoding: str | None = None,
    delimiter: str | None = None,
    mapping: Mapping | None = None,
    text_mapping: Mapping | None = None,
) -> FirstLook:
    """Read as far as SECONDS allow, guess the mapping unless one is given, list what will not go in."""
    look = FirstLook(text_mapping=text_mapping or TEXT_FILES_MAPPING)
    origins, problems = list_files(paths, settings.limit_archive_bytes)
    look.add(problems)
    tables = [origin for origin in origins if origin.kind == "table"]
    texts = [origin for origin in origins if origin.kind == "text"]
    look.text_files = len(texts)
    deadline = time.monotonic() + SECONDS
    for table in tables:
        if look.table is not None:
            look.other_tables.append(table.name)
            continue
        try:
            _look_at_table(look, table, settings, deadline, encoding, delimiter, mapping)
        except ReadError as error:
            look.add([Problem(table.name, 0, error.message)])
    if texts:
        _look_at_texts(look, texts, settings, encoding)
    look.everything &= not look.other_tables
    return look


def _look_at_table(
    look: FirstLook,
    table: Origin,
    settings: Settings,
    deadline: float,
    encoding: str | None,
    delimiter: str | None,
    mapping: Mapping | None,
) -> None:
    with table.open() as raw:
        reader = TableReader(
            raw, table.name, encoding=encoding, delimiter=delimiter, limit_chars=settings.limit_text_chars
        )
        look.header, look.encoding, look.delimiter = reader.header, reader.encoding, reader.delimiter
        preparer: Preparer | None = None
        for batch in reader.batches():
            if look.table is None:
                look.table, look.rows = table, batch.rows[:ROWS_SHOWN]
                fits = mapping is not None and all(t.column in reader.header for t in mapping.targets)
                look.mapping = (
                    mapping if fits else guess_mapping(reader.header, batch.rows[:ROWS_GUESSED_FROM])
                )
                if look.mapping is not None and look.mapping.column("text"):
                    preparer = Preparer(reader.header, look.mapping, settings.limit_text_chars)
            if preparer:
                texts = preparer.prepare(batch.rows, batch.lines, [table.name] * len(batch.rows))
                if not look.samples:
                    look.samples.append(texts)
                look.add(preparer.problems)
            look.add(reader.problems)
            look.checked += len(batch.rows)
            if time.monotonic() > deadline:
                look.everything = False
                break
        look.add(reader.problems)
        look.notices += reader.notices
    if look.table is None:
        look.add([Problem(table.name, 0, "The table has column names but no rows.")])


def _look_at_texts(look: FirstLook, texts: list[Origin], settings: Settings, encoding: str | None) -> None:
    some = texts[:50]
    reader = TextFiles(some, encoding=encoding)
    preparer = Preparer(HEADER, look.text_mapping, settings.limit_text_chars)
    for batch in reader.batches():
        look.samples.append(preparer.prepare(batch.rows, batch.lines, reader.names))
    look.add(reader.problems)
    look.add(preparer.problems)
    look.checked += len(some)
    look.everything &= len(some) == len(texts)
