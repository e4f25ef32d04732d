"""How names, p and levels are written in sentences."""

from __future__ import annotations

from collections.abc import Sequence

from winnower.core.dates import period_text

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


def as_often(ratio: float) -> str:
    """A ratio of rates in words: times from twice on, else how many percent more or less.

    >>> as_often(4.07), as_often(2.0), as_often(1.38), as_often(0.556), as_often(0.004)
    ('about 4.1 times as frequent', 'about 2 times as frequent', '38% more frequent', '44% less frequent', '99.6% less frequent')
    """
    if ratio >= 1.95:
        return f"about {float(f'{ratio:.2g}'):,g} times as frequent"
    percent = abs(ratio - 1) * 100
    rounded = f"{percent:.1f}" if percent >= 99 else f"{percent:.0f}"
    return f"{rounded}% {'more' if ratio >= 1 else 'less'} frequent"


def within(group: str) -> str:
    """A group after a preposition; what is called by one needs none.

    >>> within("Posts"), within("before Release"), within("from Release on"), within("2031-10")
    ('in Posts', 'before Release', 'from Release on', 'in October 2031')
    """
    return group if group.startswith(("before ", "from ")) else f"in {period_text(group)}"


def capitalised(words: str) -> str:
    """Words as they begin a sentence; the rest of them stays."""
    return f"{words[:1].upper()}{words[1:]}"
