"""The files of an import as a stream of prepared texts."""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import BinaryIO

from winnower.core.errors import ReadError
from winnower.readers import Mapping, Origin, Problem, TableReader, Target, TextFiles, list_files
from winnower.readers.prepare import PreparedTexts, Preparer
from winnower.readers.texts import HEADER
from winnower.settings import Settings

TEXT_FILES_MAPPING = Mapping((Target("File", "title"), Target("Text", "text")))


@dataclass
class Piece:
    """A batch of texts with the mapping that made them, and what could not be taken on the way."""

    texts: PreparedTexts
    mapping: Mapping
    problems: list[Problem] = field(default_factory=list)
    notices: list[str] = field(default_factory=list)


class _Counted(io.RawIOBase):
    """A binary file that counts what was read of it."""

    def __init__(self, raw: BinaryIO, count: Callable[[int], None]) -> None:
        self._raw, self._count = raw, count

    def readable(self) -> bool:
        return True

    def readinto(self, buffer) -> int:
        data = self._raw.read(len(buffer))
        buffer[: len(data)] = data
        self._count(len(data))
        return len(data)


class Pieces:
    """Files of an import job as batches; ``bytes_done`` grows while they are read."""

    def __init__(self, params: dict, settings: Settings) -> None:
        paths = [(name, Path(path)) for name, path in params["paths"]]
        origins, self._unreadable = list_files(paths, settings.limit_archive_bytes)
        self.tables = [o for o in origins if o.kind == "table"]
        self.texts = [o for o in origins if o.kind == "text"]
        self.files = len(origins)
        self.params, self.settings = params, settings
        self.bytes_total = sum(o.size for o in origins)
        self.bytes_done = 0

    def __iter__(self) -> Iterator[Piece]:
        """Tables first, then loose files; the same pieces in the same order each time."""
        if self._unreadable:
            yield _nothing(self._unreadable)
        given = self.params.get("mapping")
        for origin in self.tables:
            if given is None:
                yield _nothing([Problem(origin.name, 0, "Nobody said which column holds the text.")])
            else:
                yield from self._table(origin, mapping_from_plain(given))
        if self.texts:
            given = self.params.get("text_mapping")
            yield from self._texts(mapping_from_plain(given) if given else TEXT_FILES_MAPPING)

    def _count(self, size: int) -> None:
        self.bytes_done = min(self.bytes_done + size, self.bytes_total)

    def _table(self, origin: Origin, mapping: Mapping) -> Iterator[Piece]:
        limit = self.settings.limit_text_chars
        try:
            with origin.open() as raw:
                reader = TableReader(
                    io.BufferedReader(_Counted(raw, self._count), 1 << 18),
                    origin.name,
                    encoding=self.params.get("encoding"),
                    delimiter=self.params.get("delimiter"),
                    limit_chars=limit,
                )
                preparer = Preparer(reader.header, mapping, limit)
                for batch in reader.batches():
                    texts = preparer.prepare(batch.rows, batch.lines, [origin.name] * len(batch.rows))
                    yield Piece(texts, mapping, _drain(reader.problems, preparer.problems))
                notices = [f"{origin.name}: {notice}" for notice in reader.notices]
                yield _nothing(_drain(reader.problems), notices)
        except ReadError as error:
            yield _nothing([Problem(origin.name, 0, error.message)])
        except (OSError, zipfile.BadZipFile, zlib.error, EOFError, UnicodeError) as error:
            yield _nothing([Problem(origin.name, 0, f"The file cannot be read to its end: {error}.")])

    def _texts(self, mapping: Mapping) -> Iterator[Piece]:
        reader = TextFiles(self.texts, encoding=self.params.get("encoding"))
        preparer = Preparer(HEADER, mapping, self.settings.limit_text_chars)
        for batch in reader.batches():
            texts = preparer.prepare(batch.rows, batch.lines, reader.names)
            self._count(sum(len(row[-1]) for row in batch.rows))
            yield Piece(texts, mapping, _drain(reader.problems, preparer.problems))
        yield _nothing(_drain(reader.problems))


def _nothing(problems: list[Problem], notices: list[str] | None = None) -> Piece:
    return Piece(PreparedTexts(), Mapping(()), problems, notices or [])


def _drain(*lists: list[Problem]) -> list[Problem]:
    out = [problem for problems in lists for problem in problems]
    for problems in lists:
        problems.clear()
    return out


def mapping_to_plain(mapping: Mapping) -> dict:
    return asdict(mapping)


def mapping_from_plain(values: dict) -> Mapping:
    targets = tuple(Target(**target) for target in values["targets"])
    return Mapping(targets, values.get("source_name"), values.get("day_first", True))
