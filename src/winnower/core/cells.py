"""Cells of exported tables that a spreadsheet must not take for formulas.

Spreadsheets run a cell of a CSV file that begins with one of these signs; an apostrophe before it makes it
text again (OWASP, CSV injection). What is read back in loses just that apostrophe.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import TypeVar

T = TypeVar("T")
_LIVE = re.compile(r"'*[=+\-@\t\r＝＋－＠]")


def harmless(cell: T) -> T | str:
    """A cell as it stands in an exported file; numbers and None as they are.

    >>> harmless("=1+1"), harmless("-lamb"), harmless(-3), harmless("wool"), harmless("'=x")
    ("'=1+1", "'-lamb", -3, 'wool', "''=x")
    """
    return f"'{cell}" if isinstance(cell, str) and _LIVE.match(cell) else cell


def harmless_row(cells: Iterable[object]) -> list[object]:
    """A row of an exported file; empty where there is nothing."""
    return ["" if cell is None else harmless(cell) for cell in cells]


def as_given(cell: str) -> str:
    """The cell that ``harmless`` was given.

    >>> as_given("'=1+1"), as_given("''=x"), as_given("'tis")
    ('=1+1', "'=x", "'tis")
    """
    return cell[1:] if cell.startswith("'") and _LIVE.match(cell) else cell
