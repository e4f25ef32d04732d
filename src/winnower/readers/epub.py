"""Electronic books (.epub): the chapters in reading order."""

from __future__ import annotations

import posixpath
from urllib.parse import unquote

from winnower.core.errors import ReadError
from winnower.readers.containers import local, member, open_container, parse_xml
from winnower.readers.document import Assembler, Document
from winnower.readers.html import html_blocks, parse_page

_PAGES = ("application/xhtml+xml", "text/html")


def read_epub(content: bytes, name: str, limit_chars: int) -> Document:
    """A book; chapters that cannot be read are named and left out. Raises ReadError."""
    container = open_container(content, "an electronic book (.epub)")
    if member(container, "META-INF/encryption.xml") and member(container, "META-INF/rights.xml"):
        raise ReadError("The book is protected against copying.")
    entry = member(container, "META-INF/container.xml")
    if entry is None:
        raise ReadError("This is not an electronic book (.epub): it has no table of its parts.")
    path = next(
        (e.get("full-path", "") for e in parse_xml(entry, "book").iter() if local(e) == "rootfile"), ""
    )
    raw = member(container, path)
    if raw is None:
        raise ReadError("The book names no list of its chapters.")
    package = parse_xml(raw, "list of chapters")
    items = {
        e.get("id", ""): e.get("href", "")
        for e in package.iter()
        if local(e) == "item"
        and e.get("media-type", "") in _PAGES
        and "nav" not in e.get("properties", "").split()
    }
    out = Assembler(limit_chars)
    for reference in (e for e in package.iter() if local(e) == "itemref"):
        href = items.get(reference.get("idref", ""))
        if not href or reference.get("linear") == "no":
            continue
        place = posixpath.normpath(posixpath.join(posixpath.dirname(path), unquote(href.split("#")[0])))
        chapter = member(container, place)
        if chapter is None:
            out.notices.append(f"The chapter {href} is missing in the book.")
            continue
        try:
            html_blocks(parse_page(chapter.decode("utf-8", "replace")), out)
        except ReadError as error:
            out.notices.append(f"The chapter {href} was left out. {error.message}")
    about = {
        local(e): (e.text or "").strip() for e in package.iter() if local(e) in ("title", "creator", "date")
    }
    return out.document(about.get("title", ""), about.get("creator", ""), about.get("date", "")[:10])
