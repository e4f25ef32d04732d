"""RSS and Atom feeds as tables, one row an entry."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import BinaryIO

import feedparser

from winnower.core.errors import ReadError
from winnower.readers.containers import parse_xml
from winnower.readers.files import read_up_to
from winnower.readers.html import words_of_html
from winnower.readers.problems import Problem
from winnower.readers.tables import Batch

HEADER = ["title", "published", "author", "link", "categories", "source", "id", "text"]
MAX_BYTES = 500_000_000


class FeedReader:
    """Entries of a feed; text is the full content where the feed has it, else its summary."""

    delimiter = ""

    def __init__(self, raw: BinaryIO, file: str) -> None:
        self.file, self.header = file, HEADER
        self.problems: list[Problem] = []
        self.notices: list[str] = []
        content = read_up_to(raw, MAX_BYTES)
        if b"<!ENTITY" in content[:100_000]:
            parse_xml(content, "feed")  # refuses a feed that brings entities of its own
        found = feedparser.parse(io.BytesIO(content), sanitize_html=False, resolve_relative_uris=False)
        if not found.entries and not found.get("version"):
            raise ReadError(f"{file} is not a feed (RSS or Atom).")
        if found.bozo and not isinstance(found.bozo_exception, feedparser.CharacterEncodingOverride):
            self.notices.append(
                f"The feed is not well formed ({found.bozo_exception}); all that could be read was taken."
            )
        self.encoding = str(found.get("encoding") or "utf-8")
        self._entries, self._source = found.entries, str(found.feed.get("title", ""))

    def batches(self) -> Iterator[Batch]:
        batch = Batch()
        for number, entry in enumerate(self._entries, 1):
            full = max((part.get("value", "") for part in entry.get("content", [])), key=len, default="")
            text = words_of_html(full or entry.get("summary", ""))
            categories = "; ".join(tag.get("term") or "" for tag in entry.get("tags", []) if tag.get("term"))
            batch.rows.append(
                [
                    words_of_html(entry.get("title", "")),
                    entry.get("published", "") or entry.get("updated", ""),
                    entry.get("author", ""),
                    entry.get("link", ""),
                    categories,
                    self._source,
                    entry.get("id", "") or entry.get("link", ""),
                    text,
                ]
            )
            batch.lines.append(number)
        if batch.rows:
            yield batch


def looks_like_feed(head: bytes) -> bool:
    """Whether an XML file is a feed, from its first bytes."""
    lower = head.lower()
    return b"<rss" in lower or b"<feed" in lower or b"<rdf:rdf" in lower
