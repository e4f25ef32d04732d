"""What a file is by its first bytes, whatever its ending says."""

from __future__ import annotations

import zipfile
from dataclasses import replace

from winnower.core.errors import ReadError
from winnower.readers.archives import DAMAGED
from winnower.readers.containers import OLE_MARK
from winnower.readers.files import Origin, read_up_to
from winnower.readers.html_tables import MAX_BYTES, may_be_a_table, table_of
from winnower.readers.marked_up import is_marked_up

HEAD_BYTES, PAGE_HEAD_BYTES = 4096, 64_000
_ZIP = b"PK\x03\x04"
_CONTAINERS = ("word", "opendocument", "epub", "sheets")
_NAMES = {
    "word": "a Word document",
    "opendocument": "an OpenDocument text",
    "epub": "an electronic book",
    "sheets": "a workbook",
    "pdf": "a PDF",
    "rtf": "rich text",
    "html": "a web page",
    "table": "a table of delimited text",
    "htmltable": "a table in a web page",
    "markedup": "an article, edition or record in XML",
}


#: Files that are no texts, whatever they are called, by their first bytes.
_NO_TEXT = {
    b"\x89PNG": "an image",
    b"\xff\xd8\xff": "an image",
    b"GIF8": "an image",
    b"BM6": "an image",
    b"ID3": "a sound recording",
    b"OggS": "a sound recording",
    b"fLaC": "a sound recording",
    b"RIFF": "a sound or film recording",
    b"\x7fELF": "a program",
    b"MZ\x90": "a program",
    b"7z\xbc\xaf": "an archive",
    b"Rar!": "an archive",
    b"\x1f\x8b": "a packed file",
    b"SQLite format 3": "a database",
}
_TEXTS = (
    "text",
    "markdown",
    "html",
    "table",
    "json",
    "jsonl",
    "ris",
    "bibtex",
    "feed",
    "xml",
    "subtitles",
    "mail",
)


def no_text(origin: Origin) -> str:
    """What a file under the name of a text is in truth, where it holds none; empty where it may."""
    if origin.kind not in _TEXTS:
        return ""
    try:
        with origin.open() as raw:
            head = raw.read(HEAD_BYTES)
    except DAMAGED:
        return ""
    known = next((what for mark, what in _NO_TEXT.items() if head.startswith(mark)), "")
    if not known and head[4:8] == b"ftyp":
        known = "a film recording"
    return known


def true_kind(origin: Origin) -> tuple[Origin, str]:
    """The origin under the kind its bytes speak of, and a sentence where that differs from its ending."""
    try:
        with origin.open() as raw:
            head = raw.read(HEAD_BYTES)
        kind = _kind(origin, head)
    except DAMAGED:
        return origin, ""  # whoever reads it will say why
    if kind == origin.kind:
        return origin, ""
    if (origin.kind, kind) == ("xml", "markedup"):  # its ending says no more than that it is XML
        return replace(origin, kind=kind), ""
    return replace(origin, kind=kind), f"By its content this is {_NAMES[kind]}; it was read as one."


def _kind(origin: Origin, head: bytes) -> str:
    declared = origin.kind
    if b"%PDF-" in head:
        return "pdf"
    if head.startswith(b"{\\rtf"):
        return "rtf"
    if head.startswith(_ZIP):
        return declared if declared in _CONTAINERS else _container(origin) or declared
    if declared == "xml" and is_marked_up(head):
        return "markedup"
    if head.startswith(OLE_MARK):
        return "sheets" if declared == "table" else declared
    if declared in ("word", "opendocument", "pdf", "epub", "sheets") and _is_text(head):
        lower = head.lstrip().lower()
        if lower.startswith((b"<!doctype html", b"<html")):
            return _page(origin)
        return "table" if declared == "sheets" else declared
    return _page(origin) if declared == "html" else declared


def _page(origin: Origin) -> str:
    """A page of words, or one that is a table."""
    with origin.open() as raw:
        head = raw.read(PAGE_HEAD_BYTES)
        if not may_be_a_table(head):
            return "html"
        content = head + read_up_to(raw, MAX_BYTES)
    try:
        return "html" if table_of(content) is None else "htmltable"
    except ReadError:
        return "html"  # whoever reads it will say why


def _is_text(head: bytes) -> bool:
    return bool(head.strip()) and b"\x00" not in head and sum(byte < 9 for byte in head) == 0


def _container(origin: Origin) -> str | None:
    """Which kind of document a zip file is, by the parts it holds."""
    with origin.open() as raw, zipfile.ZipFile(raw) as archive:
        names = set(archive.namelist())
        if "xl/workbook.xml" in names or "xl/workbook.bin" in names:
            return "sheets"
        if any(name.startswith("word/document") for name in names):
            return "word"
        mime = archive.read("mimetype")[:100] if "mimetype" in names else b""
    if b"opendocument.spreadsheet" in mime:
        return "sheets"
    if b"opendocument.text" in mime:
        return "opendocument"
    return "epub" if b"epub" in mime else None
