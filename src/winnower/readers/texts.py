"""Plain text files as a table of one row a file, so that they go the same way as tables."""

from __future__ import annotations

import zipfile
import zlib
from collections.abc import Iterator, Sequence
from pathlib import PurePosixPath

from winnower.readers.encoding import open_text, stray_notice
from winnower.readers.files import Origin
from winnower.readers.problems import Problem
from winnower.readers.tables import CHARS_AT_ONCE, Batch

HEADER = ["File", "Folder", "First line", "Text"]
FILES_AT_ONCE = 2_000


class TextFiles:
    """Text files as rows: name without ending, folder, first line, text."""

    def __init__(self, origins: Sequence[Origin], *, encoding: str | None = None) -> None:
        self.header = HEADER
        self.problems: list[Problem] = []
        self.notices: list[str] = []
        self._origins, self._encoding = origins, encoding
        self.names: list[str] = []

    def batches(self) -> Iterator[Batch]:
        """One row a file; ``names`` holds the file of every row of the newest batch."""
        batch, chars, names = Batch(), 0, []
        for origin in self._origins:
            row = self._read(origin)
            if row is None:
                continue
            batch.rows.append(row)
            batch.lines.append(1)
            names.append(origin.name)
            chars += len(row[-1])
            if len(batch.rows) >= FILES_AT_ONCE or chars > CHARS_AT_ONCE:
                self.names = names
                yield batch
                batch, chars, names = Batch(), 0, []
        if batch.rows:
            self.names = names
            yield batch

    def _read(self, origin: Origin) -> list[str] | None:
        try:
            with origin.open() as raw:
                decoded = open_text(raw, self._encoding)
                text = decoded.lines.read()
        except (OSError, zipfile.BadZipFile, zlib.error, EOFError, UnicodeError) as error:
            self.problems.append(Problem(origin.name, 0, f"The file cannot be read: {error}."))
            return None
        if notice := stray_notice(decoded):
            self.problems.append(Problem(origin.name, 0, notice, kept=True))
        path = PurePosixPath(origin.name)
        first = next((line.strip() for line in text.splitlines() if line.strip()), "")
        return [path.stem, path.parent.name, first[:300], text]
