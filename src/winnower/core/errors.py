"""One tree of the errors a user can act on.

WinnowerError
├── TermError        a term that cannot be searched, with the place in it
├── ScopeError       a condition that does not fit the corpus
├── DictionaryError  a dictionary or category that cannot be used
├── TreeError        a category or code that cannot be put there
├── ComparisonError  a comparison that cannot be computed
├── IndexDamaged     the token index on disk cannot be read (it can be rebuilt)
├── ReadError        a file or row that cannot be read
├── NotFound         something named does not exist
├── Conflict         somebody else changed it first, or the name is taken
└── Unavailable      the database or a file system is away for the moment
    └── DiskFull     there is no room for what should be written
"""

from __future__ import annotations

from typing import Any


class WinnowerError(Exception):
    """An error with a sentence a user can act on."""

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


class TermError(WinnowerError):
    """A term that cannot be searched. ``position`` counts code points from 0."""

    def __init__(self, message: str, term: str, position: int = 0) -> None:
        super().__init__(message)
        self.term = term
        self.position = position


class ScopeError(WinnowerError):
    """A condition names a field or value that the corpus does not have."""


class DictionaryError(WinnowerError):
    """A dictionary, category or dictionary file that cannot be used as it is."""


class TreeError(WinnowerError):
    """A node of a tree that cannot be put there."""


class ComparisonError(WinnowerError):
    """A comparison that cannot be computed, with the reason."""


class IndexDamaged(WinnowerError):
    """The token index on disk cannot be read; it is a derived copy and can be rebuilt."""


class ReadError(WinnowerError):
    """A file that cannot be read, with the reason."""


class NotFound(WinnowerError):
    """What was named does not exist, or is not shared with this account."""


class Conflict(WinnowerError):
    """A stale write or a taken name. ``current`` holds what is stored now, where there is such a thing."""

    def __init__(self, message: str, current: dict[str, Any] | None = None) -> None:
        super().__init__(message)
        self.current = current


class Unavailable(WinnowerError):
    """A service that is needed is away for the moment; nothing was changed."""


class DiskFull(Unavailable):
    """There is no room on a disk; the message names the folder, and how much is needed."""
