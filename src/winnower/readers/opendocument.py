"""OpenDocument texts (.odt): paragraphs, headings, lists, tables, notes, annotations."""

from __future__ import annotations

from lxml import etree

from winnower.core.errors import ReadError
from winnower.readers.containers import local, member, open_container, parse_xml
from winnower.readers.document import BOLD_OFF, BOLD_ON, Assembler, Document, visible

OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"
STYLE = "{urn:oasis:names:tc:opendocument:xmlns:style:1.0}"
WEIGHT = "{urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0}font-weight"
TEXT = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
_SKIP = {"tracked-changes", "bookmark", "note-citation", "forms", "sequence-decls", "title", "desc"}


def read_opendocument(content: bytes, name: str, limit_chars: int) -> Document:
    """An OpenDocument text. Raises ReadError."""
    container = open_container(content, "an OpenDocument text (.odt)")
    manifest = member(container, "META-INF/manifest.xml") or b""
    if b"encryption-data" in manifest:
        raise ReadError("The file is protected with a password.")
    raw = member(container, "content.xml")
    if raw is None:
        raise ReadError("This is not an OpenDocument text (.odt): it holds no content part.")
    root = parse_xml(raw, "document")
    body = root.find(f"{OFFICE}body/{OFFICE}text")
    styles = member(container, "styles.xml")
    bold = _bold_styles([root, parse_xml(styles, "styles")] if styles else [root])
    reader = _Reader(Assembler(limit_chars), bold)
    if body is not None:
        reader.blocks(body)
    for note in reader.notes:
        reader.out.paragraph(note)
    title, author = _properties(member(container, "meta.xml"))
    return reader.out.document(title, author)


class _Reader:
    def __init__(self, out: Assembler, bold: set[str]) -> None:
        self.out, self.bold = out, bold
        self.notes: list[str] = []
        self.boxes: list[etree._Element] = []

    def blocks(self, parent: etree._Element) -> None:
        for child in parent:
            tag = local(child)
            if tag in ("p", "h"):
                self._paragraph(child, tag)
            elif tag == "table":
                self._table(child)
            elif tag not in _SKIP:
                self.blocks(child)

    def _paragraph(self, element: etree._Element, tag: str) -> None:
        begins = self.out.chars + (2 if self.out.parts else 0)
        pieces: list[str] = []
        found: list[tuple[int, etree._Element]] = []
        self._marked(element, pieces, found)
        level = int(element.get(f"{TEXT}outline-level") or 1) if tag == "h" else 0
        start = self.out.paragraph("".join(pieces), level)
        for at, annotation in found:
            words = ["".join(p.itertext()) for p in annotation.iter(f"{TEXT}p")]
            author = next((e.text or "" for e in annotation if local(e) == "creator"), "")
            place = begins + at if start is not None else None
            end = None if place is None else min(place + 1, self.out.chars)
            self.out.remark("\n".join(words), author, place if end and end > (place or 0) else None, end)
        boxes, self.boxes = self.boxes, []
        for box in boxes:
            self.blocks(box)

    def _marked(self, element: etree._Element, pieces: list[str], found: list) -> None:
        """As ``_inline``, with marks around what its style makes bold."""
        bold = element.get(f"{TEXT}style-name") in self.bold
        pieces.append(BOLD_ON if bold else "")
        self._inline(element, pieces, found)
        pieces.append(BOLD_OFF if bold else "")

    def _inline(self, element: etree._Element, pieces: list[str], found: list) -> None:
        if element.text:
            pieces.append(element.text.replace("\n", " "))
        for child in element:
            tag = local(child)
            if tag == "s":
                pieces.append(" " * min(int(child.get(f"{TEXT}c") or 1), 1000))
            elif tag == "tab":
                pieces.append("\t")
            elif tag == "line-break":
                pieces.append("\n")
            elif tag == "note":
                body = child.find(f"{TEXT}note-body")
                if body is not None:
                    self.notes.append(" ".join("".join(p.itertext()) for p in body.iter(f"{TEXT}p")))
            elif tag == "annotation":
                found.append((len(" ".join(visible(pieces).split(" ")).lstrip()), child))
            elif tag == "text-box":
                self.boxes.append(child)
            elif tag and tag not in _SKIP:
                self._marked(child, pieces, found)
            if child.tail:
                pieces.append(child.tail.replace("\n", " "))

    def _table(self, table: etree._Element) -> None:
        lines = []
        for row in (e for e in table.iter() if local(e) == "table-row"):
            cells = []
            for cell in (e for e in row if local(e) == "table-cell"):
                pieces: list[str] = []
                for paragraph in cell.iter(f"{TEXT}p", f"{TEXT}h"):
                    if pieces:
                        pieces.append(" ")
                    self._inline(paragraph, pieces, [])
                cells.append(" ".join("".join(pieces).split()))
            if any(cells):
                lines.append(" | ".join(cells))
        self.out.paragraph("\n".join(lines))


def _bold_styles(roots: list[etree._Element]) -> set[str]:
    """Names of the styles that make words bold, by themselves or by what they are based on."""
    weights: dict[str, str] = {}
    parents: dict[str, str] = {}
    for root in roots:
        for style in root.iter(f"{STYLE}style"):
            name = style.get(f"{STYLE}name", "")
            parents[name] = style.get(f"{STYLE}parent-style-name", "")
            properties = style.find(f"{STYLE}text-properties")
            if properties is not None and WEIGHT in properties.attrib:
                weights[name] = properties.attrib[WEIGHT]
    out = set()
    for name in parents:
        at, seen = name, set()
        while at not in weights and at in parents and at not in seen:
            seen.add(at)
            at = parents[at]
        if weights.get(at) in ("bold", "600", "700", "800", "900"):
            out.add(name)
    return out


def _properties(content: bytes | None) -> tuple[str, str]:
    if content is None:
        return "", ""
    found = {local(e): (e.text or "").strip() for e in parse_xml(content, "properties").iter() if local(e)}
    return found.get("title", ""), found.get("initial-creator", "") or found.get("creator", "")
