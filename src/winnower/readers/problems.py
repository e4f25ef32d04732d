"""What could not be taken as it is, with its place and reason."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Problem:
    """``row`` is the line of the file at which the record begins (1 for the first), 0 for the whole file.

    ``kept`` says that the text came in all the same, only not quite as it was given.
    """

    file: str
    row: int
    reason: str
    kept: bool = False
