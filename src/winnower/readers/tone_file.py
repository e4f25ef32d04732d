"""A list of words for tone from a table (CSV, Excel, OpenDocument)."""

from __future__ import annotations

import io
from pathlib import Path

from winnower.core.cells import as_given
from winnower.core.errors import ReadError
from winnower.core.tone.rows import ToneRows, tone_words_from_rows
from winnower.readers.codebook_file import WORKBOOKS, workbook_reader
from winnower.readers.tables import TableReader


def read_tone_bytes(content: bytes, name: str) -> ToneRows:
    """Raises ReadError or WinnowerError."""
    if not content.strip():
        raise ReadError(f"{name} is empty.")
    is_book = Path(name).suffix.lower() in WORKBOOKS
    reader = workbook_reader(content, name) if is_book else TableReader(io.BytesIO(content), name)
    rows = [
        (line, [as_given(cell) for cell in cells])
        for batch in reader.batches()
        for line, cells in zip(batch.lines, batch.rows, strict=True)
    ]
    read = tone_words_from_rows(reader.header, rows)
    bad = [(problem.row, problem.reason) for problem in reader.problems]
    return ToneRows(read.words, tuple(sorted([*read.refused, *bad])))
