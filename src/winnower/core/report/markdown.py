"""Words in Markdown."""

from __future__ import annotations

import re

_SIGNS = re.compile(r"([\\`*_{}\[\]<>#+\-!|~])")


def escaped(words: str) -> str:
    """Words that mean nothing but themselves in Markdown.

    >>> escaped("1* [not] a <link>")
    '1\\\\* \\\\[not\\\\] a \\\\<link\\\\>'
    """
    return re.sub(r"^(\s*\d+)([.)])", r"\1\\\2", _SIGNS.sub(r"\\\1", words))
