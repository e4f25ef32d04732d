"""Word documents (.docx): paragraphs, headings, lists, tables, notes, text boxes, comments.

The text is taken as if all tracked changes were accepted: deletions are left out, insertions taken.
"""

from __future__ import annotations

import posixpath
import re
from functools import lru_cache

from lxml import etree

from winnower.core.errors import ReadError
from winnower.readers.containers import local, member, open_container, parse_xml
from winnower.readers.document import BOLD_OFF, BOLD_ON, Assembler, Document, visible

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
_CORE = "docProps/core.xml"
_SKIP = {"del", "moveFrom", "delText", "delInstrText", "instrText", "Fallback", "pPr", "rPr", "sectPr"}
_PLACEHOLDERS = {"title", "document1", "word document", "microsoft word document"}


def read_word(content: bytes, name: str, limit_chars: int) -> Document:
    """A Word document. Raises ReadError."""
    container = open_container(content, "a Word document (.docx)")
    main = _main_part(container)
    raw = member(container, main)
    if raw is None:
        raise ReadError("This is not a Word document (.docx): it holds no document part.")
    root = parse_xml(raw, "document")
    folder = posixpath.dirname(main)
    body = root.find(f"{W}body")
    reader = _Reader(Assembler(limit_chars), _heading_styles(member(container, f"{folder}/styles.xml")))
    if body is not None:
        reader.blocks(body)
    for part in _note_parts(container, main):
        if extra := member(container, part):
            reader.footnotes(parse_xml(extra, "notes"))
    if extra := member(container, f"{folder}/comments.xml"):
        reader.comments(parse_xml(extra, "comments"))
    title, author = _properties(member(container, _CORE))
    return reader.out.document(title, author)


def _main_part(container) -> str:
    """Where the document part lies: usually word/document.xml, but the relations decide."""
    relations = member(container, "_rels/.rels")
    if relations:
        for relation in parse_xml(relations, "list of parts"):
            if str(relation.get("Type", "")).endswith("/officeDocument"):
                return str(relation.get("Target", "")).lstrip("/")
    return "word/document.xml"


def _note_parts(container, main: str) -> list[str]:
    """The parts that hold notes at the foot of a page or at the end, as the document's relations say."""
    folder, name = posixpath.split(main)
    raw = member(container, f"{folder}/_rels/{name}.rels")
    if raw is None:
        return []
    relations = parse_xml(raw, "list of parts")
    wanted = [r for r in relations if str(r.get("Type", "")).rsplit("/", 1)[-1].endswith("notes")]
    return [posixpath.join(folder, str(r.get("Target", ""))) for r in wanted]


@lru_cache(maxsize=64)
def _heading_styles(content: bytes | None) -> dict[str, int]:
    """Style id to heading level, by name or outline level, through what styles are based on.

    Files of one office share their styles, which take longer to read than the words: they are
    remembered.
    """
    if content is None:
        return {}
    own: dict[str, int] = {}
    based: dict[str, str] = {}
    for style in parse_xml(content, "styles").iter(f"{W}style"):
        key = style.get(f"{W}styleId", "")
        name = style.find(f"{W}name")
        label = (name.get(f"{W}val", "") if name is not None else "").lower()
        outline = style.find(f"{W}pPr/{W}outlineLvl")
        parent = style.find(f"{W}basedOn")
        if match := re.fullmatch(r"heading (\d)", label):
            own[key] = int(match[1])
        elif label in ("title", "subtitle"):
            own[key] = 1
        elif outline is not None and (outline.get(f"{W}val") or "9").isdecimal():
            level = int(outline.get(f"{W}val") or 9) + 1
            own[key] = level if level <= 9 else 0
        if parent is not None:
            based[key] = parent.get(f"{W}val", "")
    out = {}
    for key in own.keys() | based.keys():
        at, seen = key, set()
        while at not in own and at in based and at not in seen:
            seen.add(at)
            at = based[at]
        if own.get(at):
            out[key] = own[at]
    return out


class _Reader:
    """Walks the blocks of a document; ``out`` grows."""

    def __init__(self, out: Assembler, headings: dict[str, int]) -> None:
        self.out, self.headings = out, headings
        self.boxes: list[etree._Element] = []
        self.spans: dict[str, list[int | None]] = {}

    def blocks(self, parent: etree._Element) -> None:
        for child in parent:
            tag = local(child)
            if tag == "p":
                self.block_paragraph(child)
            elif tag == "tbl":
                self.table(child)
            elif tag in ("sdt", "sdtContent", "ins", "moveTo", "customXml", "smartTag"):
                self.blocks(child)

    def block_paragraph(self, paragraph: etree._Element) -> None:
        begins = self.out.chars + (2 if self.out.parts else 0)
        pieces: list[str] = []
        self._inline(paragraph, pieces, begins)
        style = paragraph.find(f"{W}pPr/{W}pStyle")
        level = self.headings.get(style.get(f"{W}val", ""), 0) if style is not None else 0
        self.out.paragraph("".join(pieces), level)
        boxes, self.boxes = self.boxes, []
        for box in boxes:
            self.blocks(box)

    def _inline(self, element: etree._Element, pieces: list[str], begins: int) -> None:
        for child in element:
            tag = local(child)
            if tag in _SKIP:
                continue
            if tag == "t":
                pieces.append(child.text or "")
            elif tag in ("tab", "ptab"):
                pieces.append("\t")
            elif tag in ("br", "cr"):
                pieces.append("\n")
            elif tag == "noBreakHyphen":
                pieces.append("-")
            elif tag == "txbxContent":
                self.boxes.append(child)
            elif tag in ("commentRangeStart", "commentRangeEnd"):
                # outer spaces are trimmed and runs of spaces joined, so this may be off by a few
                at = begins + len(" ".join(visible(pieces).split(" ")).lstrip())
                span = self.spans.setdefault(child.get(f"{W}id", ""), [None, None])
                span[tag == "commentRangeEnd"] = at
            elif tag == "r" and _is_bold(child):
                pieces.append(BOLD_ON)
                self._inline(child, pieces, begins)
                pieces.append(BOLD_OFF)
            else:
                self._inline(child, pieces, begins)

    def table(self, table: etree._Element) -> None:
        """A line for each row, cells parted by a bar; tables inside cells are words of their cell."""
        lines = []
        for row in table.iter(f"{W}tr"):
            if next(row.iterancestors(f"{W}tbl")) is not table:
                continue  # of a table inside a cell; its words come with the cell
            cells = []
            for cell in row.findall(f"{W}tc"):
                pieces: list[str] = []
                for paragraph in cell.iter(f"{W}p"):
                    if pieces:
                        pieces.append(" ")
                    self._inline(paragraph, pieces, self.out.chars)
                cells.append(" ".join("".join(pieces).split()))
            if any(cells):
                lines.append(" | ".join(cells))
        self.out.paragraph("\n".join(lines))
        boxes, self.boxes = self.boxes, []
        for box in boxes:
            self.blocks(box)

    def footnotes(self, root: etree._Element) -> None:
        for note in root:
            if note.get(f"{W}type") in ("separator", "continuationSeparator", "continuationNotice"):
                continue
            pieces: list[str] = []
            for paragraph in note.iter(f"{W}p"):
                if pieces:
                    pieces.append(" ")
                self._inline(paragraph, pieces, self.out.chars)
            self.out.paragraph("".join(pieces))

    def comments(self, root: etree._Element) -> None:
        for comment in root.findall(f"{W}comment"):
            pieces: list[str] = []
            for paragraph in comment.iter(f"{W}p"):
                if pieces:
                    pieces.append("\n")
                self._inline(paragraph, pieces, 0)
            start, end = self.spans.get(comment.get(f"{W}id", ""), [None, None])
            if start is None or end is None or end <= start:
                start = end = None
            self.out.remark("".join(pieces), comment.get(f"{W}author", ""), start, end)


def _is_bold(run: etree._Element) -> bool:
    """Whether a run is bold by itself, as headlines and names are that have no style."""
    mark = run.find(f"{W}rPr/{W}b")
    return mark is not None and mark.get(f"{W}val", "1") not in ("0", "false")


def _properties(content: bytes | None) -> tuple[str, str]:
    """Title and author of the file's properties."""
    if content is None:
        return "", ""
    found = {local(child): (child.text or "").strip() for child in parse_xml(content, "properties")}
    title = found.get("title", "")
    return ("" if title.lower() in _PLACEHOLDERS else title), found.get("creator", "")
