"""Markdown of people as HTML."""

from __future__ import annotations

from markdown_it import MarkdownIt

#: Pictures in the words would be fetched from elsewhere; HTML in them is shown as it is written.
_markdown = MarkdownIt("commonmark", {"html": False}).enable(["strikethrough", "table"]).disable("image")


def prose_html(body: str) -> str:
    """Markdown as HTML in which nothing is fetched or run."""
    made: str = _markdown.render(body)
    return made
