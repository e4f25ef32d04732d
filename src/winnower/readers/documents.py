"""Which reader takes which document, and documents as rows of a table, so that all go one way."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from pathlib import PurePosixPath

from winnower.core.errors import ReadError
from winnower.readers.document import Document, Place, Remark
from winnower.readers.reasons import why

HEADER = ["File", "Folder", "Title", "Author", "Date", "First line", "Text"]
KINDS = {
    "text": ("Plain text", (".txt", ".text", ".log")),
    "markdown": ("Markdown", (".md", ".markdown")),
    "html": ("Web pages", (".html", ".htm", ".xhtml")),
    "word": ("Word documents", (".docx", ".docm", ".dotx")),
    "opendocument": ("OpenDocument texts", (".odt", ".ott")),
    "rtf": ("Rich text", (".rtf",)),
    "pdf": ("PDF", (".pdf",)),
    "epub": ("Electronic books", (".epub",)),
}
#: Kinds whose encoding is not said in the file and may be guessed wrong.
WITH_ENCODING = ("text", "markdown", "html")


def reader_of(kind: str) -> Callable[..., Document]:
    """The function that reads a kind; its module is loaded when it is first needed."""
    if kind in ("text", "markdown"):
        from winnower.readers import plain

        return plain.read_plain if kind == "text" else plain.read_markdown
    if kind == "html":
        from winnower.readers.html import read_html

        return read_html
    if kind == "word":
        from winnower.readers.word import read_word

        return read_word
    if kind == "opendocument":
        from winnower.readers.opendocument import read_opendocument

        return read_opendocument
    if kind == "rtf":
        from winnower.readers.rtf import read_rtf

        return read_rtf
    if kind == "pdf":
        from winnower.readers.pdf import read_pdf

        return read_pdf
    from winnower.readers.epub import read_epub

    return read_epub


def read_document(
    kind: str, content: bytes, name: str, limit_chars: int, encoding: str | None = None
) -> Document:
    """A document of any kind. Raises ReadError with a sentence for people, whatever went wrong."""
    read = reader_of(kind)
    try:
        if kind in WITH_ENCODING:
            return read(content, name, limit_chars, encoding)
        return read(content, name, limit_chars)
    except ReadError:
        raise
    except RecursionError as error:
        raise ReadError("It is nested too deeply to be read.") from error
    except MemoryError as error:
        raise ReadError("It needs more memory than there is.") from error
    except Exception as error:
        # readers are given files of any origin: whatever a library trips over is that file's reason
        raise ReadError(f"It is damaged or not what its name says: {why(error)}.") from error


def cut_document(document: Document, cut: str, line: str = "") -> list[Document]:
    """One text for a file, or several: at its top headings, its pages, or lines that are ``line``."""
    if cut == "heading":
        starts = [place for place in document.places if place.kind == "heading"]
    elif cut == "page":
        starts = [place for place in document.places if place.kind == "page"]
    elif cut == "line" and line.strip():
        return _at_lines(document, line.strip())
    else:
        return [document]
    if not starts or not document.body:
        return [document]
    edges = [place.start for place in starts] + [len(document.body)]
    labels = [place.label for place in starts]
    if edges[0] > 0:
        edges, labels = [0, *edges], ["", *labels]
    out = []
    for low, high, label in zip(edges, edges[1:], labels, strict=False):
        name = label if cut == "heading" else f"{document.title}, page {label}".lstrip(", ")
        piece = _piece(document, low, high, name or document.title)
        if cut == "heading" and piece.body.strip() == label and high < len(document.body):
            continue  # a heading over another heading is no text
        out.append(piece)
    return [piece for piece in out if piece.body]


def _at_lines(document: Document, line: str) -> list[Document]:
    out, at, low = [], 0, 0
    for written in document.body.splitlines(keepends=True):
        if written.strip() == line:
            out.append(_piece(document, low, at, ""))
            low = at + len(written)
        at += len(written)
    out.append(_piece(document, low, len(document.body), ""))
    return [piece for piece in out if piece.body]


def _piece(document: Document, low: int, high: int, title: str) -> Document:
    body = document.body[low:high]
    low += len(body) - len(body.lstrip())
    body = body.strip()
    high = low + len(body)
    places = [Place(p.kind, max(p.start - low, 0), p.label) for p in document.places if low <= p.start < high]
    page = next((p for p in reversed(document.places) if p.kind == "page" and p.start <= low), None)
    if page is not None and not any(p.kind == "page" and p.start == 0 for p in places):
        places.insert(0, Place("page", 0, page.label))
    remarks = [
        Remark(r.body, r.author, r.start - low, min(r.end, high) - low)
        for r in document.remarks
        if r.start is not None and r.end is not None and low <= r.start < high
    ]
    return Document(
        body, title or document.title, document.author, document.date, tuple(places), tuple(remarks)
    )


def row_of(document: Document, name: str, number: int = 0) -> list[str]:
    """A document as the cells of HEADER."""
    path = PurePosixPath(name)
    stem = path.name[: -len(path.suffix)] if path.suffix else path.name
    title = document.title or (f"{stem} {number}" if number else stem)
    first = next((line.strip() for line in document.body.splitlines() if line.strip()), "")
    return [stem, path.parent.name, title, document.author, document.date, first[:300], document.body]


def cut_rows(documents: Sequence[Document], name: str) -> Iterator[tuple[list[str], Document]]:
    many = len(documents) > 1
    for number, document in enumerate(documents, 1):
        yield row_of(document, name, number if many else 0), document
