"""Rich text (.rtf)."""

from __future__ import annotations

import re

from striprtf.striprtf import rtf_to_text

from winnower.core.errors import ReadError
from winnower.readers.document import BOLD_OFF, BOLD_ON, Assembler, Document
from winnower.readers.reasons import why

_TITLE = re.compile(rb"\{\\title ([^{}\\]{1,300})\}")
_AUTHOR = re.compile(rb"\{\\author ([^{}\\]{1,200})\}")
#: Pictures as hexadecimal digits; taken out first, since they can be most of a file.
_PICTURE = re.compile(rb"\{(?:\\\*)?\\(?:pict|object|themedata|datastore)\b[^{}]*(?:\{[^{}]*\}[^{}]*)*\}")
#: What opens and closes groups, and the words that say how letters look; the rest is passed over.
_STATE = re.compile(r"\\\\|\\[{}]|[{}]|\\(?:b|deleted|plain)(?:-?\d+)?(?![a-zA-Z]) ?")


def read_rtf(content: bytes, name: str, limit_chars: int) -> Document:
    """A rich text file. Raises ReadError."""
    if not content.lstrip().startswith(b"{\\rtf"):
        raise ReadError("This is not a rich text file (.rtf).")
    slim = _PICTURE.sub(b"", content)
    out = Assembler(limit_chars)
    try:
        text = rtf_to_text(_marked(slim.decode("latin-1")), errors="replace")
    except (ValueError, IndexError, KeyError, LookupError, RecursionError) as error:
        raise ReadError(f"The rich text is damaged: {why(error)}.") from error
    if slim.count(b"}") < slim.count(b"{"):
        out.notices.append("The file seems cut off at its end; what was there was read.")
    # cells come parted by bars, each row on a line of its own that ends with one
    bold = ""
    for paragraph in re.sub(r"\n+\|", "|", text).split("\n"):
        marked = bold + re.sub(r"\s*\|\s*", " | ", paragraph.strip().removesuffix("|"))
        out.paragraph(marked)
        bold = BOLD_ON if marked.rfind(BOLD_ON) > marked.rfind(BOLD_OFF) else ""
    return out.document(_property(_TITLE, content), _property(_AUTHOR, content))


def _marked(rtf: str) -> str:
    """The source with marks around letters in bold, and without what tracked changes have deleted."""
    out: list[str] = []
    states = [(False, False)]
    at = 0
    for found in _STATE.finditer(rtf):
        bold, deleted = states[-1]
        if not deleted:
            out.append(rtf[at : found.start()])
        sign, at = found[0], found.end()
        if sign == "{":
            states.append(states[-1])
        elif sign == "}":
            if len(states) > 1:
                states.pop()
            # before the brace: what a passed over group says of itself goes with it
            out.append(BOLD_OFF if bold and not states[-1][0] else "")
        elif sign[1] not in "\\{}":
            states[-1] = _changed(sign.strip(), bold, deleted)
        if sign in "{}" or not deleted:
            out.append(sign)
        if sign not in "{}" and states[-1][0] != bold:
            out.append(BOLD_ON if states[-1][0] else BOLD_OFF)
    return "".join([*out, "" if states[-1][1] else rtf[at:]])


def _changed(word: str, bold: bool, deleted: bool) -> tuple[bool, bool]:
    """(bold, deleted) after a control word."""
    on = not word.endswith("0")
    if word.startswith("\\b"):
        return on, deleted
    return (bold, on) if word.startswith("\\deleted") else (False, False)


def _property(pattern: re.Pattern[bytes], content: bytes) -> str:
    found = pattern.search(content, 0, 20_000)
    return found[1].decode("cp1252", "replace").strip() if found else ""
