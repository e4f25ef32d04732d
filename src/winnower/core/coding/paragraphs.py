"""Paragraphs of a text, numbered from 1: stretches with words between line ends."""

from __future__ import annotations


def paragraph_at(body: str, start: int) -> int:
    """The number of the paragraph in which a code point stands."""
    return sum(bool(line.strip()) for line in body[:start].split("\n")[:-1]) + 1
