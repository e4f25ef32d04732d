"""A dictionary from a CSV."""

from __future__ import annotations

import io
from pathlib import Path

from winnower.core.dictionary import DictionaryRows, dictionary_from_rows
from winnower.core.errors import DictionaryError, ReadError
from winnower.readers.tables import TableReader


def read_dictionary_file(path: Path) -> DictionaryRows:
    """Read a dictionary file. Raises DictionaryError or ReadError."""
    try:
        content = path.read_bytes()
    except OSError as error:
        raise ReadError(f"{path.name} cannot be read: {error.strerror}.") from error
    return read_dictionary_bytes(content, path.name)


def read_dictionary_bytes(content: bytes, name: str) -> DictionaryRows:
    """The same from the bytes of a file; unreadable rows are listed with the others."""
    if not content.strip():
        raise DictionaryError(f"{name} is empty.")
    reader = TableReader(io.BytesIO(content), name)
    rows = []
    for batch in reader.batches():
        rows += [
            (line, dict(zip(reader.header, cells, strict=True)))
            for line, cells in zip(batch.lines, batch.rows, strict=True)
        ]
    read = dictionary_from_rows(Path(name).stem, reader.header, rows)
    refused = [(p.row, p.reason) for p in reader.problems]
    return DictionaryRows(
        read.dictionary, tuple(sorted([*read.refused, *refused])), read.doubles, read.unknown_columns
    )
