"""A dictionary to CSV; it reads back the same."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from winnower.core.dictionary import Dictionary, dictionary_to_rows
from winnower.core.dictionary.rows import COLUMNS


def dictionary_csv(dictionary: Dictionary) -> str:
    """One row a term, with all columns."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    writer.writerows(dictionary_to_rows(dictionary))
    return out.getvalue()


def write_dictionary_file(path: Path, dictionary: Dictionary) -> None:
    """UTF-8 with a mark, so that spreadsheets open it right."""
    path.write_text(dictionary_csv(dictionary), encoding="utf-8-sig")
