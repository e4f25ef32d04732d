"""Two texts side by side: what both say, and what only one does."""

from __future__ import annotations

import re
from dataclasses import dataclass
from difflib import SequenceMatcher

_WORDS = re.compile(r"^\s+|\S+\s*")
#: Longer texts are compared by their first words only, and it is told.
MOST_WORDS = 20_000


@dataclass(frozen=True)
class Difference:
    """``kind`` is same, removed (only in the first) or added (only in the second)."""

    kind: str
    text: str


def differences(first: str, second: str) -> tuple[list[Difference], bool]:
    """The second text as changes to the first; whether both were compared to their ends.

    White space is that of either text, whichever has more of it.
    """
    a, b = _WORDS.findall(first)[:MOST_WORDS], _WORDS.findall(second)[:MOST_WORDS]
    whole = len(a) < MOST_WORDS and len(b) < MOST_WORDS
    out: list[Difference] = []
    bare_a, bare_b = [w.strip() for w in a], [w.strip() for w in b]
    for kind, low_a, high_a, low_b, high_b in SequenceMatcher(
        None, bare_a, bare_b, autojunk=False
    ).get_opcodes():
        if kind == "equal":
            pairs = zip(a[low_a:high_a], b[low_b:high_b], strict=True)
            out.append(Difference("same", "".join(max(pair, key=len) for pair in pairs)))
            continue
        if high_a > low_a:
            out.append(Difference("removed", "".join(a[low_a:high_a])))
        if high_b > low_b:
            out.append(Difference("added", "".join(b[low_b:high_b])))
    return out, whole
