"""How names, p and levels are written in sentences."""

from __future__ import annotations

from collections.abc import Sequence

#: So many names stand in a sentence.
NAMED = 3


def names(labels: Sequence[str]) -> str:
    """The first of some names, and how many more.

    >>> names(["A", "B"]), names(["A", "B", "C", "D", "E"])
    ('A and B', 'A, B, C and 2 others')
    """
    if len(labels) <= NAMED:
        return " and ".join([", ".join(labels[:-1]), labels[-1]] if len(labels) > 1 else labels)
    rest = len(labels) - NAMED
    return f"{', '.join(labels[:NAMED])} and {rest:,} other{'s' if rest > 1 else ''}"


def p_text(p: float, least: float = 0) -> str:
    """p below 0.001 as such; at ``least``, the smallest that so many permutations can give, as an upper bound.

    >>> p_text(0.0004), p_text(0.032), p_text(0.001, least=0.001), p_text(0.0)
    ('p < 0.001', 'p = 0.032', 'p < 0.001', 'p < 0.001')
    """
    if 0 < p <= least * (1 + 1e-9):
        return f"p < {p:.3f}"
    return "p < 0.001" if p < 0.001 else f"p = {p:.3f}"


def level_text(level: float) -> str:
    """The level of an interval: 95%."""
    return f"{level * 100:g}%"
