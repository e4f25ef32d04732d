"""Characters that went wrong on the way: read in a wrong encoding, or escaped for a page."""

from __future__ import annotations

import re
from dataclasses import dataclass

import ftfy

#: Texts without any of these are whole; the others are looked at closely.
SIGNS_OF_DAMAGE = r"[ÃÂ][\u0080-\u00bf\u0152-\u2122]|â€|â‚¬|ï»¿|ï¿½|\ufffd|[\u0080-\u009f]|&(?:[a-z]{2,8}|#\d{2,6}|#x[0-9a-f]{2,6});"
_REPLACED = "\ufffd"
_CHANGED = re.compile(r"\S+")
MOST_SHOWN = 5


@dataclass(frozen=True)
class Repair:
    """A text as it would be after a repair; ``lost`` characters cannot be got back. ``examples`` are
    words before and after."""

    body: str
    lost: int
    examples: tuple[tuple[str, str], ...]


def repair(body: str) -> Repair | None:
    """What is damaged and how it would be mended (ftfy), None where nothing is.

    >>> repair("The cafÃ© is closed.").body
    'The café is closed.'
    """
    lost = body.count(_REPLACED)
    fixed = "\n".join(
        ftfy.fix_text(
            line,
            uncurl_quotes=False,
            fix_latin_ligatures=False,
            fix_character_width=False,
            unescape_html=True,
        )
        for line in body.split("\n")
    )
    if fixed == body:
        return Repair(body, lost, ()) if lost else None
    before, after = _CHANGED.findall(body), _CHANGED.findall(fixed)
    pairs = [(old, new) for old, new in zip(before, after, strict=False) if old != new]
    if len(before) != len(after):
        pairs = pairs[:1]
    return Repair(fixed, lost, tuple(dict.fromkeys(pairs))[:MOST_SHOWN])
