"""Markdown to Word and plain Markdown files: notes, quotes, passages as running text."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import docx
from docx.document import Document
from docx.shared import Pt
from docx.text.paragraph import Paragraph
from markdown_it import MarkdownIt
from markdown_it.token import Token

from winnower.core.report.markdown import escaped
from winnower.writers.xml_text import xml_text

_markdown = MarkdownIt("commonmark", {"html": False}).enable(["strikethrough"])
_MARKS = {"strong": "bold", "em": "italic", "s": "strike"}


@dataclass(frozen=True)
class Piece:
    """A part of a document: a heading, lines that say where it is from, and its words as Markdown."""

    title: str
    lines: tuple[str, ...]
    body: str


def quoted(words: str, origin: str) -> str:
    """Words of a text as a quote in Markdown, with where they are from."""
    lines = [f"> {escaped(line)}" for line in words.strip().split("\n")]
    return "\n".join([*lines, ">", f"> — {escaped(origin)}"])


def pieces_markdown(title: str, pieces: Sequence[Piece]) -> str:
    """One file in Markdown."""
    parts = [f"# {escaped(title)}"]
    for piece in pieces:
        head = [f"## {escaped(piece.title)}"] if piece.title else []
        parts += [
            *head,
            "  \n".join(f"*{escaped(line)}*" for line in piece.lines if line),
            piece.body.strip(),
        ]
    return "\n\n".join(part for part in parts if part) + "\n"


def pieces_docx(title: str, pieces: Sequence[Piece]) -> bytes:
    """One Word document; headings, lists, quotes, bold and italic as such."""
    document = docx.Document()
    document.core_properties.title = fit(title)[:255]
    document.core_properties.author = "Winnower"
    document.add_heading(fit(title), 0)
    for piece in pieces:
        if piece.title:
            document.add_heading(fit(piece.title), 1)
        for line in piece.lines:
            if line:
                run = document.add_paragraph().add_run(fit(line))
                run.italic = True
                run.font.size = Pt(9)
        add_markdown(document, piece.body)
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def fit(words: str) -> str:
    """Words without the signs Word cannot hold."""
    return xml_text(words)


def add_markdown(document: Document, body: str) -> None:
    """The blocks of a Markdown text, each as a paragraph in the style it calls for."""
    styles: list[str] = []
    for token in _markdown.parse(body):
        if token.type == "bullet_list_open":
            styles.append("List Bullet")
        elif token.type == "ordered_list_open":
            styles.append("List Number")
        elif token.type == "blockquote_open":
            styles.append("Quote")
        elif token.type in ("bullet_list_close", "ordered_list_close", "blockquote_close"):
            styles.pop()
        elif token.type == "heading_open":
            styles.append(f"Heading {min(int(token.tag[1:]) + 1, 6)}")
        elif token.type == "heading_close":
            styles.pop()
        elif token.type == "inline":
            paragraph = document.add_paragraph(style=styles[-1] if styles else None)
            _runs(paragraph, token.children or [])
        elif token.type in ("fence", "code_block"):
            run = document.add_paragraph().add_run(fit(token.content.rstrip("\n")))
            run.font.name = "Courier New"


def _runs(paragraph: Paragraph, tokens: Sequence[Token]) -> None:
    marks: dict[str, int] = dict.fromkeys(_MARKS.values(), 0)
    links: list[str] = []
    for token in tokens:
        kind, _, side = token.type.rpartition("_")
        if kind in _MARKS:
            marks[_MARKS[kind]] += 1 if side == "open" else -1
        elif token.type == "link_open":
            links.append(str(token.attrGet("href") or ""))
        elif token.type == "link_close":
            address = links.pop()
            if address.startswith(("http://", "https://", "mailto:")):
                _run(paragraph, f" ({address})", marks)
        elif token.type in ("softbreak", "hardbreak"):
            paragraph.add_run().add_break()
        elif token.content:
            _run(paragraph, token.content, marks)


def _run(paragraph: Paragraph, words: str, marks: dict[str, int]) -> None:
    run: Any = paragraph.add_run(fit(words))
    run.bold, run.italic, run.font.strike = (marks[name] > 0 or None for name in ("bold", "italic", "strike"))
