"""Plain text and Markdown."""

from __future__ import annotations

import io
import re

from winnower.core.tokens import clean
from winnower.readers.document import BOLD_OFF, BOLD_ON, Assembler, Document, visible
from winnower.readers.encoding import open_text, stray_notice
from winnower.readers.speakers import begins_turn

_FRONT = re.compile(r"\A---\n(.*?)\n---\n", re.DOTALL)
_FIELD = re.compile(r"^(title|author|date):\s*[\"']?(.*?)[\"']?\s*$", re.IGNORECASE | re.MULTILINE)


def read_plain(content: bytes, name: str, limit_chars: int, encoding: str | None = None) -> Document:
    """A text as it stands, line by line. Raises UnicodeError for an unknown encoding."""
    text, notices = decoded(content, encoding)
    text, changes = clean(text)
    text = text.strip()
    told = [f"{change[0].upper()}{change[1:]}." for change in changes if not change.startswith("letters")]
    return Document(text, notices=(*notices, *told), reason="" if text else "The file holds no text.")


def read_markdown(content: bytes, name: str, limit_chars: int, encoding: str | None = None) -> Document:
    """Markdown as the words a reader sees: headings marked, links by their words, no signs."""
    from markdown_it import MarkdownIt

    text, notices = decoded(content, encoding)
    text = clean(text)[0]
    fields = {}
    if front := _FRONT.match(text):
        fields = {key.lower(): value for key, value in _FIELD.findall(front[1])}
        text = text[front.end() :]
    out = Assembler(limit_chars, notices=list(notices))
    heading = 0
    row: list[str] | None = None
    for token in MarkdownIt("commonmark").enable("table").parse(text):
        if token.type == "heading_open":
            heading = int(token.tag[1])
        elif token.type == "tr_open":
            row = []
        elif token.type == "tr_close":
            out.paragraph(" | ".join(row or []))
            row = None
        elif token.type == "inline":
            words = _words(token.children or [])
            if row is not None:
                row.append(words)
            else:
                out.paragraph(words, heading)
            heading = 0
        elif token.type in ("fence", "code_block"):
            out.paragraph(token.content)
    first = next((place.label for place in out.places if place.kind == "heading"), "")
    return out.document(fields.get("title", "") or first, fields.get("author", ""), fields.get("date", ""))


def _words(tokens: list) -> str:
    """The words of a paragraph. A line that begins as a turn or a field does stays a line of its own."""
    out = [""]
    for token in tokens:
        if token.type in ("text", "code_inline", "image"):
            out[-1] += token.content
        elif token.type == "softbreak":
            out.append("")
        elif token.type == "hardbreak":
            out[-1] += "\n"
        elif token.type in ("strong_open", "strong_close"):
            out[-1] += BOLD_ON if token.type == "strong_open" else BOLD_OFF
    joined = out[0]
    for line in out[1:]:
        joined += ("\n" if begins_turn(visible([line])) else " ") + line
    return joined


def decoded(content: bytes, encoding: str | None) -> tuple[str, list[str]]:
    """Text of a whole file, with what to tell about bytes that did not fit."""
    opened = open_text(io.BytesIO(content), encoding)
    text = opened.lines.read()
    notice = stray_notice(opened)
    return text, [notice] if notice else []


__all__ = ["decoded", "read_markdown", "read_plain"]
