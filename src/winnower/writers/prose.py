"""Markdown of people as HTML, and as plain nodes for who draws it otherwise."""

from __future__ import annotations

from typing import Any

from markdown_it import MarkdownIt
from markdown_it.tree import SyntaxTreeNode

#: Pictures in the words would be fetched from elsewhere; HTML in them is shown as it is written.
_markdown = MarkdownIt("commonmark", {"html": False}).enable(["strikethrough", "table"]).disable("image")

Node = dict[str, Any]


def prose_html(body: str) -> str:
    """Markdown as HTML in which nothing is fetched or run."""
    made: str = _markdown.render(body)
    return made


def prose_nodes(body: str) -> list[Node]:
    """The blocks of a Markdown text, each with its ``kind``: paragraphs, headings, tables, lists, quotes, code and
    rules; with what is ``inside``, down to ``words``."""
    return [_block(node) for node in SyntaxTreeNode(_markdown.parse(body)).children]


def _block(node: SyntaxTreeNode) -> Node:
    if node.type in ("paragraph", "heading"):
        return {"kind": node.type, "inside": _inline(node)}
    if node.type in ("bullet_list", "ordered_list"):
        items = [[_block(child) for child in item.children] for item in node.children]
        if node.type == "bullet_list":
            return {"kind": "bullets", "items": items}
        return {"kind": "numbers", "start": int(node.attrs.get("start", 1)), "items": items}
    if node.type == "blockquote":
        return {"kind": "quote", "inside": [_block(child) for child in node.children]}
    if node.type == "table":
        rows = [row for part in node.children for row in part.children]
        cells = [_inline(cell) for row in rows for cell in row.children]
        return {"kind": "table", "across": len(rows[0].children), "cells": cells}
    if node.type == "hr":
        return {"kind": "rule"}
    return {"kind": "code", "words": node.content.rstrip("\n")}


def _inline(node: SyntaxTreeNode) -> list[Node]:
    """What stands in a paragraph, a heading or a cell."""
    return [found for inline in node.children for child in inline.children for found in _run(child)]


def _run(node: SyntaxTreeNode) -> list[Node]:
    if node.type in ("strong", "em", "s", "link"):
        inside = [found for child in node.children for found in _run(child)]
        if node.type != "link":
            return [{"kind": node.type, "inside": inside}]
        address = str(node.attrs.get("href") or "")
        # other addresses mean nothing on paper
        outward = address.startswith(("http://", "https://", "mailto:"))
        return [{"kind": "link", "address": address, "inside": inside}] if outward else inside
    if node.type == "hardbreak":
        return [{"kind": "break"}]
    if node.type == "softbreak":
        return [{"kind": "words", "words": " "}]
    if node.type == "code_inline":
        return [{"kind": "code", "words": node.content}]
    return [{"kind": "words", "words": node.content}] if node.content else []
