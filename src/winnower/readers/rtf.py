"""Rich text (.rtf)."""

from __future__ import annotations

import re

from striprtf.striprtf import rtf_to_text

from winnower.core.errors import ReadError
from winnower.readers.document import Assembler, Document
from winnower.readers.reasons import why

_TITLE = re.compile(rb"\{\\title ([^{}\\]{1,300})\}")
_AUTHOR = re.compile(rb"\{\\author ([^{}\\]{1,200})\}")
#: Pictures as hexadecimal digits; taken out first, since they can be most of a file.
_PICTURE = re.compile(rb"\{(?:\\\*)?\\(?:pict|object|themedata|datastore)\b[^{}]*(?:\{[^{}]*\}[^{}]*)*\}")


def read_rtf(content: bytes, name: str, limit_chars: int) -> Document:
    """A rich text file. Raises ReadError."""
    if not content.lstrip().startswith(b"{\\rtf"):
        raise ReadError("This is not a rich text file (.rtf).")
    slim = _PICTURE.sub(b"", content)
    out = Assembler(limit_chars)
    try:
        text = rtf_to_text(slim.decode("latin-1"), errors="replace")
    except (ValueError, IndexError, KeyError, LookupError, RecursionError) as error:
        raise ReadError(f"The rich text is damaged: {why(error)}.") from error
    if slim.count(b"}") < slim.count(b"{"):
        out.notices.append("The file seems cut off at its end; what was there was read.")
    # cells come parted by bars, each row on a line of its own that ends with one
    for paragraph in re.sub(r"\n+\|", "|", text).split("\n"):
        paragraph = re.sub(r"\s*\|\s*", " | ", paragraph.strip().removesuffix("|"))
        out.paragraph(paragraph)
    return out.document(_property(_TITLE, content), _property(_AUTHOR, content))


def _property(pattern: re.Pattern[bytes], content: bytes) -> str:
    found = pattern.search(content, 0, 20_000)
    return found[1].decode("cp1252", "replace").strip() if found else ""
