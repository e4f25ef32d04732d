"""Web pages: the article without navigation, adverts and comments; nothing in them is ever run."""

from __future__ import annotations

import logging
import re
from html import unescape
from typing import Any

from lxml import etree
from lxml import html as lxml_html
from lxml.html.defs import tags

from winnower.core.errors import ReadError
from winnower.readers.containers import local
from winnower.readers.document import BOLD_OFF, BOLD_ON, Assembler, Document
from winnower.readers.plain import decoded
from winnower.readers.reasons import why

logging.getLogger("trafilatura").setLevel(logging.CRITICAL)
logging.getLogger("htmldate").setLevel(logging.CRITICAL)

#: The date a page names for itself; pages may be dated ahead of this machine's clock.
_DATES = {"original_date": True, "extensive_search": False, "max_date": "2200-01-01"}
_DATE_NAMES = ("date", "dcterms.date", "dc.date", "article:published_time")
_CHARSET = re.compile(rb"<meta[^>]+charset=[\"']?\s*([a-zA-Z0-9_-]{2,30})", re.IGNORECASE)
#: What is never read; ``del`` are tracked deletions.
_NEVER = {
    "script", "style", "noscript", "template", "svg", "iframe", "object", "head", "nav", "form", "del",
}  # fmt: skip
#: What only pages of the web have: their words are more than the article.
_WEB = ("nav", "header", "footer", "aside", "article", "main", "form", "iframe", "script")
_LINKED = 0.3
#: A line across the page, as it parts texts.
_RULE = "-----"
_BLOCKS = {
    "p", "div", "section", "article", "main", "blockquote", "li", "dd", "dt", "figcaption", "pre",
    "address", "aside", "header", "footer", "body", "html", "center", "ul", "ol", "dl", "figure", "tr", "table",
}  # fmt: skip
#: Numbers and arrows that lead to a note and back; the note itself is taken.
_NOTE_LINKS = {"doc-noteref", "doc-backlink", "footnote-ref", "footnote-back"}
#: Depth to which elements are followed; deeper ones are taken as they stand in their parent.
MAX_DEPTH = 200


_UNSEEN = re.compile(r"<(script|style|noscript|template)\b.*?</\1\s*>|<!--.*?-->", re.IGNORECASE | re.DOTALL)
_BREAK = re.compile(rf"</?(?:{'|'.join(_BLOCKS)}|br|h[1-6])\b[^<>]*>", re.IGNORECASE)
_MARK = re.compile(r"<[/!a-z][^<>]*>", re.IGNORECASE)


class TooDeep(ReadError):
    """Marks are nested more deeply than a tree can be made of them."""


def read_html(content: bytes, name: str, limit_chars: int, encoding: str | None = None) -> Document:
    """The article of a web page; where none stands out, all its visible words."""
    text, notices = decoded(content, encoding or declared_encoding(content))
    if not text.strip():
        return Document("", reason="The page holds no text.")
    out = Assembler(limit_chars, notices=list(notices))
    try:
        root = parse_page(text)
    except TooDeep:
        return _without_marks(text, out)
    if _is_document(root):
        return _whole(root, out)
    found = _article(text)
    title = author = date = ""
    if found is not None:
        title, author, date = found.title or "", found.author or "", found.date or ""
        out.omit = " ".join(title.split())
        _article_blocks(found.body, out)
    if not out.parts:
        title = title or (root.findtext(".//title") or "")
        html_blocks(root, out)
        if out.parts:
            out.notices.append("No article stands out on this page; all its visible words were taken.")
    return out.document(title, author, date, "The page holds no text.")


def _without_marks(text: str, out: Assembler) -> Document:
    """The words of a page whose marks make no tree: as they stand, a paragraph for each block."""
    plain = unescape(_MARK.sub("", _BREAK.sub("\n", _UNSEEN.sub("", text))))
    for line in plain.split("\n"):
        if words := " ".join(line.split()):
            out.paragraph(words)
    out.notices.append("The marks of this page are nested very deeply; its words were read without them.")
    return out.document("", "", "", "The page holds no text.")


def _is_document(root: lxml_html.HtmlElement) -> bool:
    """Whether a page is a document somebody wrote or a program put out: nothing stands around its words."""
    if any(not _is_title_block(element) for element in root.iter(*_WEB)):
        return False
    words = sum(len(piece) for piece in root.itertext())
    linked = sum(len(piece) for link in root.iter("a") for piece in link.itertext())
    return linked <= words * _LINKED


def _is_title_block(element: lxml_html.HtmlElement) -> bool:
    """Whether a header holds the title of a document, its authors and date, and leads nowhere."""
    if element.tag != "header" or next(element.iter("a", "img", "ul", "form"), None) is not None:
        return False
    return next(element.iter("h1"), None) is not None


def _whole(root: lxml_html.HtmlElement, out: Assembler) -> Document:
    named = {
        (meta.get("name") or meta.get("property") or "").lower(): meta.get("content") or ""
        for meta in root.iter("meta")
    }
    title = " ".join((root.findtext(".//title") or "").split())
    out.omit = title
    html_blocks(root, out, rules=True)
    date = next((named[name] for name in _DATE_NAMES if named.get(name)), "")
    author = named.get("author") or named.get("dc.creator") or ""
    return out.document(title, author, date, "The page holds no text.")


def declared_encoding(content: bytes) -> str | None:
    """The encoding a page names for itself, where there is such an encoding."""
    found = _CHARSET.search(content, 0, 4096)
    if not found or content[:3] == b"\xef\xbb\xbf":
        return None
    name = found[1].decode("ascii").lower()
    try:
        b"".decode(name)
    except LookupError:
        return None
    # browsers read these two as Windows-1252
    return "cp1252" if name in ("iso-8859-1", "latin-1", "latin1", "ascii", "us-ascii") else name


def _article(text: str):
    import trafilatura

    try:
        found: Any = trafilatura.bare_extraction(
            text,
            include_comments=False,
            include_tables=True,
            with_metadata=True,
            date_extraction_params=_DATES,
        )
    except (ValueError, TypeError, AttributeError, RecursionError, etree.LxmlError):
        return None  # a page it cannot cope with is read whole instead
    return found if found is not None and found.body is not None else None


def _article_blocks(body: etree._Element, out: Assembler) -> None:
    """The article's blocks: head, p, list, quote, table."""
    for child in body:
        tag = local(child)
        if tag == "head":
            level = (child.get("rend") or "h2")[-1]
            out.paragraph(_words(child), int(level) if level.isdecimal() else 2)
        elif tag == "table":
            # rows of tables inside cells come with their cell
            own = [row for row in child.iter("row") if next(row.iterancestors("table")) is child]
            rows = [[" ".join(_words(cell).split()) for cell in row] for row in own]
            out.paragraph("\n".join(" | ".join(row) for row in rows if any(row)))
        elif tag in ("list", "div", "body") and len(child):
            _article_blocks(child, out)
        elif tag:
            out.paragraph(_words(child))


def _words(element: etree._Element) -> str:
    """The words of an element; breaks and inner blocks part them."""
    pieces = [element.text or ""]
    for child in element:
        parts = local(child) in ("lb", "p", "row", "cell", "item", "list", "quote")
        pieces.append("\n" if parts else "")
        if isinstance(child.tag, str):
            pieces.append(_words(child))
        pieces.append("\n" if parts and local(child) != "lb" else "")
        pieces.append(child.tail or "")
    return "".join(pieces)


def parse_page(text: str) -> lxml_html.HtmlElement:
    """The element tree of a page or a piece of one. Raises ReadError, TooDeep where the tree would end before the
    page does."""
    parser = _parser()
    try:
        root = lxml_html.document_fromstring(text.encode("utf-8"), parser=parser)
    except (etree.LxmlError, ValueError) as error:
        raise ReadError(f"The page cannot be read: {why(error)}.") from error
    if any("depth" in entry.message.lower() for entry in parser.error_log):
        raise TooDeep("The marks of the page are nested too deeply.")
    return root


def _parser() -> lxml_html.HTMLParser:
    return lxml_html.HTMLParser(encoding="utf-8", huge_tree=True, no_network=True)


def html_blocks(root: etree._Element, out: Assembler, rules: bool = False) -> None:
    """All visible words of a tree, a paragraph for each block; with ``rules`` lines across the page stay."""
    pieces: list[str] = []

    def flush(heading: int = 0) -> None:
        out.paragraph("".join(pieces), heading)
        pieces.clear()

    def walk(element: etree._Element, depth: int) -> None:
        tag = local(element).lower()
        if not tag or tag in _NEVER or _NOTE_LINKS & {element.get("role"), element.get("class")}:
            return
        heading = int(tag[1]) if re.fullmatch(r"h[1-6]", tag) else 0
        block = heading or tag in _BLOCKS
        if block:
            flush()
        if tag == "br":
            pieces.append("\n")
        bold = tag in ("b", "strong") and not heading
        if tag == "hr" and rules:
            flush()
            out.paragraph(_RULE)
        pieces.append(BOLD_ON if bold else "")
        if tag in ("td", "th") and pieces:
            pieces.append(" | ")
        if element.text:
            pieces.append(
                element.text if tag == "pre" else " ".join(element.text.replace("\n", " ").split(" "))
            )
        for child in element:
            if depth < MAX_DEPTH:
                walk(child, depth + 1)
            elif isinstance(child.tag, str):
                pieces.append(" ".join(child.itertext()))
            if child.tail:
                pieces.append(child.tail.replace("\n", " "))
        pieces.append(BOLD_OFF if bold else "")
        if block:
            flush(heading)

    walk(root, 0)
    flush()


def words_of_html(fragment: str) -> str:
    """A piece of a page, as feeds carry it, as text with a blank line between paragraphs."""
    if "<" not in fragment and "&" not in fragment:
        return fragment.strip()
    out = Assembler()
    try:
        html_blocks(parse_page(f"<body>{_only_tags(fragment)}</body>"), out)
    except TooDeep:
        _without_marks(fragment, out)
    return "\n\n".join(out.parts)


#: What follows the name of a tag: attributes with a value, or those that have none.
_ATTRIBUTES = (
    r"(?:\s+[\w:.-]+\s*=\s*(?:\"[^\"]*\"|'[^']*'|[^\s\"'>]+)|"
    r"\s+(?:hidden|disabled|checked|selected|readonly|required|open|controls|noshade|nowrap|ismap|compact|async|defer))*"
)
_TAG = re.compile(
    rf"<(?:!--.*?--|!DOCTYPE[^<>]*|/?(?:{'|'.join(sorted(tags, key=len, reverse=True))}){_ATTRIBUTES}\s*/?)>",
    re.IGNORECASE | re.DOTALL,
)


def _only_tags(fragment: str) -> str:
    """The fragment with every "<" that begins no tag of HTML as a sign: "<Interviewer>" and "a < b" are words."""
    if "<" not in fragment:
        return fragment
    out, at = [], 0
    for tag in _TAG.finditer(fragment):
        out += [fragment[at : tag.start()].replace("<", "&lt;"), tag[0]]
        at = tag.end()
    return "".join([*out, fragment[at:].replace("<", "&lt;")])
