"""The signs that belong to words: a sentence is found by its words, and shown with its quotes and full stop."""

from __future__ import annotations

OPENING = "“„«‹([{‘‚\"'¿¡"


def with_signs(body: str, start: int, end: int) -> tuple[int, int]:
    """A stretch of words with the opening signs right before it and the closing ones right after it."""
    while start > 0 and body[start - 1] in OPENING:
        start -= 1
    while end < len(body) and not (body[end].isspace() or body[end].isalnum() or body[end] in "“„«‹([{‘‚"):
        end += 1
    return start, end
